import { type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { mssWorked } from '../../base/worked/packets.ts';
import { note } from './note.ts';

/** A backup that carries smaller packets than the first line. */
export const backupMtu: Check = {
  name: 'MTU of the backup',
  run: (site) => sizes(site),
};

function sizes(site: Site): Finding[] {
  const [first, ...others] = site.lines;
  return others.flatMap((line): Finding[] =>
    first && line.mtuBytes < first.mtuBytes
      ? [
          note(
            'backup-smaller',
            'advice',
            `${line.at}/mtuBytes`,
            `${line.name} carries ${line.mtuBytes} bytes where ${first.name} carries ${first.mtuBytes}: clamp TCP to ${mssWorked(line.mtuBytes).value} bytes on it, or pages begin to load and stop after a change. Tunnels keep to the smaller size from the start.`,
            mssWorked(line.mtuBytes),
          ),
        ]
      : [],
  );
}
