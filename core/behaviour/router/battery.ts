import type { Site } from '../../site/model.ts';
import { runTimeWorked } from '../../base/worked/power.ts';
import type { Worked } from '../../base/worked/worked.ts';

/** Losses of inverter and supplies, and the share of a battery that may be used (common practice, no source). */
const efficiencyPercent = 85;
const usablePercent = 80;

/**
 * How long the batteries of the site carry its equipment, every box at the most that its label asks for; undefined
 * while no battery or no load is entered.
 */
export function batteryTime({ kit }: Site): Worked<number> | undefined {
  const wattHours = kit.reduce((sum, item) => sum + (item.wattHours ?? 0), 0);
  const watts = kit.reduce(
    (sum, { needVolts, needAmps, powerVolts, powerAmps }) =>
      sum + (needVolts ?? powerVolts ?? 0) * (needAmps ?? powerAmps ?? 0),
    0,
  );
  return wattHours > 0 && watts > 0
    ? runTimeWorked(wattHours, efficiencyPercent, usablePercent, watts)
    : undefined;
}
