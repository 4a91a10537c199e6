import { causeRates, linesAvailability } from '../../behaviour/failover/years.ts';
import { type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { availabilityOf, togetherWorked } from '../../base/worked/failover.ts';
import { note, said } from './note.ts';

/** What takes every line at once. */
export const sharedCause: Check = {
  name: 'shared causes',
  run: (site) => (site.lines.length < 2 ? [] : causes(site)),
};

function causes(site: Site): Finding[] {
  const found = causeRates(site).flatMap((cause, index): Finding[] => {
    if (site.lines.some((line) => !cause.lines.includes(line))) return [];
    const alone = site.lines.map((line) => linesAvailability(site, [line]));
    return [
      note(
        'shared-cause',
        'warning',
        `/failover/causes/${index}`,
        `${cause.name} takes every line down at once, ${cause.perYear} ${cause.perYear === 1 ? 'time' : 'times'} a year, and the second line does not help then. Use separate routes for the lines, or a battery supply.`,
        togetherWorked(alone, [availabilityOf(cause.perYear, cause.repairHours)]),
      ),
    ];
  });
  const { wattHours } = site.failover.power;
  if (wattHours === null && site.failover.promises.length > 0)
    found.push(
      note(
        'no-battery',
        'advice',
        '/failover/power/wattHours',
        'No battery supply is entered: a power cut takes down the router and both lines, whatever was promised. Mains work is for a licensed electrician.',
        said('Battery supply', 'none'),
      ),
    );
  return found;
}
