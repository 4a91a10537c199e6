import { type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { note, said } from './note.ts';

/** Forwards that stop with the first line. */
export const inboundBackup: Check = {
  name: 'inbound over the backup',
  run: (site) => inbound(site),
};

function inbound(site: Site): Finding[] {
  return site.forwards.flatMap((forward): Finding[] => {
    const first = forward.line;
    const backup = site.lines.find((line) => line !== first);
    if (!first || !backup || first !== site.lines[0]) return [];
    if (site.forwards.some((other) => other.line === backup && other.device === forward.device)) return [];
    const closed = backup.inbound !== 'direct' && backup.inbound !== 'by-box';
    return [
      note(
        closed ? 'forward-not-on-backup' : 'forward-one-line',
        'advice',
        `${forward.at}/uplink`,
        closed
          ? `${forward.name} does not answer while ${first.name} is down: no connection can be opened from outside over ${backup.name}. If that matters, let the device connect outward, or ask for a public address there.`
          : `${forward.name} exists on ${first.name} only. Add it on ${backup.name} too, and give its users a DNS name that follows the line in use.`,
        said(`Inbound over ${backup.name}`, backup.inbound),
      ),
    ];
  });
}
