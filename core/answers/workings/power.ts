import { batteryTime } from '../../behaviour/router/battery.ts';
import { limitsOf } from '../../behaviour/router/limits.ts';
import type { Site } from '../../site/model.ts';
import { powerWorked } from '../../base/worked/packets.ts';
import type { Worked } from '../../base/worked/worked.ts';

/** What a box asks for at most, and what its supply gives. */
export function ofPower(site: Site, index: number): Worked[] {
  const item = site.kit[index];
  if (!item) return [];
  const { needVolts, needAmps, powerVolts, powerAmps } = item;
  return [
    ...(needVolts !== null && needAmps !== null
      ? [{ ...powerWorked(needVolts, needAmps), name: 'Power that the box asks for' }]
      : []),
    ...(powerVolts !== null && powerAmps !== null ? [powerWorked(powerVolts, powerAmps)] : []),
  ];
}

/** How long the batteries of the site carry its equipment. */
export function ofBattery(site: Site): Worked[] {
  const time = batteryTime(site);
  return time ? [time] : [];
}

/** How much of a limit of the router the plan uses. */
export const ofLimit = (site: Site, at: string): Worked[] =>
  limitsOf(site).flatMap((limit) => (limit.at === at ? [limit.why] : []));
