import { figure } from '../worked/worked.ts';
import type { Kit, Site } from '../site/model.ts';
import { powerWorked } from '../worked/packets.ts';
import { entry, type Entry, type StepDraft } from '../terms/step.ts';

const itemName = (item: Kit): string => item.model || item.role;

/** Before anything is switched on: is everything here, and does the power fit. */
export function prepare({ kit }: Site): StepDraft[] {
  const labels = kit.flatMap((item): Entry[] => [
    ...(item.serial ? [entry(`${itemName(item)}, serial`, item.serial, ['S/N'], `${item.at}/serial`)] : []),
    ...(item.mac
      ? [entry(`${itemName(item)}, MAC`, item.mac, ['Ethernet address', 'WAN MAC'], `${item.at}/mac`)]
      : []),
  ]);
  const supplies = kit.flatMap((item): Entry[] =>
    item.powerVolts !== null && item.powerAmps !== null
      ? [
          entry(
            `${itemName(item)}, supply`,
            `${item.powerVolts} V, ${item.powerAmps} A or more (${figure(powerWorked(item.powerVolts, item.powerAmps).value)} W)`,
            ['Output'],
            `${item.at}/powerVolts`,
          ),
        ]
      : [],
  );
  return [
    {
      id: 'kit',
      phase: 'prepare',
      title: 'Check the equipment against its labels',
      entries: labels,
      why: 'A MAC address or serial number typed from the wrong device is found now, not when the provider refuses it.',
      lowSeconds: 120,
      highSeconds: 300,
      proof: 'Every label reads as written here.',
      ifNot: 'Correct the plan on the Site sheet: everything that uses the value follows.',
    },
    {
      id: 'power',
      phase: 'prepare',
      title: 'Match each power supply to its device',
      needs: ['kit'],
      entries: supplies,
      why: 'Supplies with the same plug and another voltage destroy devices.',
      lowSeconds: 60,
      highSeconds: 120,
      proof: 'Volts are equal, amperes equal or more, polarity as printed on the device.',
      ifNot: 'Do not plug it in. Ask for the right supply.',
      cautions: ['Mains wiring, sockets and earthing are for a licensed electrician; local codes decide.'],
      reading: 'Volts and amperes on each supply label',
    },
  ];
}
