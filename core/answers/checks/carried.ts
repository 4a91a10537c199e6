import { medium } from '../../behaviour/media/index.ts';
import type { RateLimit } from '../../behaviour/media/type.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import type { Line, Site } from '../../site/model.ts';
import { figure, step, worked } from '../../base/worked/worked.ts';
import { note } from './note.ts';

/** What was sold for a line, against what sync, signal, optical system and ports can carry. */
export const carried: Check = {
  name: 'carried',
  run: (site) => site.lines.flatMap((line) => limitsOf(site, line).flatMap((limit) => below(line, limit))),
};

function limitsOf(site: Site, line: Line): RateLimit[] {
  const { at, medium: name, media } = line;
  const own = medium(name).rateLimit?.(media[name], line, `${at}/media/${name}`);
  const limits = own ? [own] : [];
  for (const port of site.router.ports)
    if (port.line === line && port.rateMbps !== null)
      limits.push({
        by: `port ${port.name} of the router carries`,
        downMbps: port.rateMbps,
        upMbps: port.rateMbps,
        at: `${port.at}/rateMbps`,
        means: 'Plug the line into a faster port, or take a router that has one.',
        source: 'IEEE 802.3 (rate of the port)',
      });
  return limits;
}

function below(line: Line, limit: RateLimit): Finding[] {
  return (['down', 'up'] as const).flatMap((direction): Finding[] => {
    const sold = direction === 'down' ? line.rateDownMbps : line.rateUpMbps;
    const most = direction === 'down' ? limit.downMbps : limit.upMbps;
    if (sold === null || most === null || most >= sold) return [];
    return [
      {
        ...note(
          'sold-above-carried',
          'warning',
          `${line.at}/${direction === 'down' ? 'rateDownMbps' : 'rateUpMbps'}`,
          `${figure(sold)} Mb/s ${direction === 'down' ? 'download' : 'upload'} were sold for ${line.name}, and ${limit.by} ${figure(most)} Mb/s. ${limit.means}`,
          limit.why ??
            worked(
              'Sold and carried',
              Math.round((most / sold) * 100),
              '%',
              [
                step('sold', `${figure(sold)} Mb/s`),
                step(limit.by, `${figure(most)} Mb/s`),
                step(
                  'of what was sold',
                  `${figure(most)} / ${figure(sold)} ≈ ${Math.round((most / sold) * 100)} %`,
                ),
              ],
              limit.source,
            ),
        ),
        also: [limit.at],
      },
    ];
  });
}
