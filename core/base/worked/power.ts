import { bad, ok, type Result } from '../result.ts';
import { arithmetic, equals, exact, figure, practice, shown, step, type Worked, worked } from './worked.ts';

/**
 * Power of a device's class: what it may draw, and what its port has to give (IEEE 802.3af, at and bt, from memory).
 */
const poeClasses = [
  { class: 0, deviceWatts: 12.95, portWatts: 15.4, standard: 'IEEE 802.3af' },
  { class: 1, deviceWatts: 3.84, portWatts: 4, standard: 'IEEE 802.3af' },
  { class: 2, deviceWatts: 6.49, portWatts: 7, standard: 'IEEE 802.3af' },
  { class: 3, deviceWatts: 12.95, portWatts: 15.4, standard: 'IEEE 802.3af' },
  { class: 4, deviceWatts: 25.5, portWatts: 30, standard: 'IEEE 802.3at' },
  { class: 5, deviceWatts: 40, portWatts: 45, standard: 'IEEE 802.3bt' },
  { class: 6, deviceWatts: 51, portWatts: 60, standard: 'IEEE 802.3bt' },
  { class: 7, deviceWatts: 62, portWatts: 75, standard: 'IEEE 802.3bt' },
  { class: 8, deviceWatts: 71.3, portWatts: 90, standard: 'IEEE 802.3bt' },
] as const;

/** The least class of Power over Ethernet that feeds a device, over 100 m of cable. */
export function poeClassWorked(deviceWatts: number): Result<Worked<number>> {
  const found = poeClasses.find((each) => each.class > 0 && each.deviceWatts >= deviceWatts);
  if (!found)
    return bad(
      'poe',
      `${deviceWatts} W is more than Power over Ethernet gives a device: 71.3 W at most.`,
      'watts',
    );
  return ok(
    worked(
      'Class of Power over Ethernet',
      found.class,
      '',
      [
        step('the device draws', `${deviceWatts} W`),
        step(`class ${found.class} gives a device`, `${found.deviceWatts} W`),
        step('its port gives', `${found.portWatts} W`),
        step('class', found.class),
      ],
      `${found.standard} (from memory)`,
    ),
  );
}

/** What is left of a switch's power when it feeds devices of these classes. */
export function poeBudgetWorked(budgetWatts: number, classes: readonly number[]): Worked<number> {
  const ports = classes.map((each) => poeClasses.find((row) => row.class === each)!.portWatts);
  const all = ports.reduce((sum, watts) => sum + watts, 0);
  const left = budgetWatts - all;
  return worked(
    'Left of the power budget',
    left,
    'W',
    [
      step('budget of the switch', `${budgetWatts} W`),
      ...classes.map((each, index) => step(`port ${index + 1}, class ${each}`, `- ${ports[index]} W`)),
      step('left', shown(left, 'W')),
    ],
    'IEEE 802.3af, at, bt (from memory)',
    left < 0
      ? 'The switch does not feed them all: ports are switched off, mostly those with the highest numbers.'
      : undefined,
  );
}

/** How long so much energy carries a load, with the losses and the share that may be used. */
export function runTimeWorked(
  wattHours: number,
  efficiencyPercent: number,
  usablePercent: number,
  loadWatts: number,
  energy: string = `${figure(wattHours, 3)} Wh`,
): Worked<number> {
  const reaching = (wattHours * efficiencyPercent * usablePercent) / 10_000;
  const minutes = (reaching * 60) / loadWatts;
  return worked(
    'Run time of the battery',
    minutes,
    'minutes',
    [
      step('energy', energy),
      step(
        'reaches the load',
        `${figure(wattHours, 3)} × ${efficiencyPercent} / 100 × ${usablePercent} / 100 ${equals(reaching, 3, exact(wattHours, 3))} Wh`,
      ),
      step(
        'run time',
        `${figure(reaching, 3)} × 60 / ${figure(loadWatts, 3)} ${equals(minutes, 1, exact(reaching, 3) && exact(loadWatts, 3))} min`,
      ),
    ],
    `${arithmetic}; losses and usable share by the data sheets, else: ${practice}`,
    'A battery at its first day. Aged or cold ones hold less: test it once with the load on.',
  );
}

/** The same from what stands on a battery: volts and ampere hours. */
export function batteryWorked(
  volts: number,
  ampereHours: number,
  efficiencyPercent: number,
  usablePercent: number,
  loadWatts: number,
): Worked<number> {
  const wattHours = volts * ampereHours;
  return runTimeWorked(
    wattHours,
    efficiencyPercent,
    usablePercent,
    loadWatts,
    `${volts} × ${ampereHours} ${equals(wattHours, 3)} Wh`,
  );
}
