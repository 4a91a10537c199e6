import { replacing, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { returnWorked } from '../../base/worked/failover.ts';
import { note, said } from './note.ts';

/** When traffic returns to the first line, and who learns of it. */
export const switchingBack: Check = {
  name: 'switching back',
  run: (site) => (site.lines.length < 2 ? [] : wayBack(site)),
};

function wayBack(site: Site): Finding[] {
  const { back } = site.failover;
  const first = site.failover.watches[0];
  if (!first || first.targets.length === 0) return [];
  const believed = returnWorked(first.intervalSeconds, first.upAfter, first.holdSeconds);
  if (back === 'at-once' && first.holdSeconds < 30)
    return [
      note(
        'back-flaps',
        'warning',
        '/failover/back',
        `Traffic returns to ${first.line.name} after a hold of ${first.holdSeconds} s only: a line that comes and goes breaks every session each time.`,
        believed,
        replacing('Switch back after a hold', '/failover/back', 'hold'),
      ),
    ];
  if (back === 'by-hand' && site.failover.notification.trim() === '')
    return [
      note(
        'back-nobody',
        'warning',
        '/failover/notification',
        'It must be switched back by hand, and nobody is notified: the data of the backup is used up unnoticed.',
        said('Notified', 'nobody'),
      ),
    ];
  return [];
}
