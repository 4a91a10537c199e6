import { formatPrefix, overlaps } from '../../base/net/prefix.ts';
import { type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { step, worked } from '../../base/worked/worked.ts';
import { note } from './note.ts';

/** Two lines in one subnet. */
export const lineSubnets: Check = {
  name: 'line subnets',
  run: (site) => blocks(site),
};

function blocks(site: Site): Finding[] {
  return site.lines.flatMap((line, index) =>
    site.lines
      .slice(0, index)
      .flatMap((other): Finding[] =>
        line.prefix && other.prefix && overlaps(line.prefix, other.prefix)
          ? [
              note(
                'lines-one-block',
                'blocker',
                line.addressAt,
                `${line.name} and ${other.name} both use ${formatPrefix(line.prefix)}: the router cannot tell on which line a gateway is. Change the LAN subnet of one of the devices in front.`,
                worked(
                  'Subnets of the lines',
                  'overlap',
                  '',
                  [step(other.name, formatPrefix(other.prefix)), step(line.name, formatPrefix(line.prefix))],
                  'RFC 1812 section 5.2.4.3',
                ),
              ),
            ]
          : [],
      ),
  );
}
