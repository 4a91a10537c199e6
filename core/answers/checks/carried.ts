import type { At } from '../../plan/at.ts';
import { cellRateWorked } from '../../behaviour/media/radio-link.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import type { Line, Site } from '../../site/model.ts';
import { figure, step, type Worked, worked } from '../../base/worked/worked.ts';
import { note } from './note.ts';

/** What was sold for a line, against what sync, signal, optical system and ports can carry. */
export const carried: Check = {
  name: 'carried',
  run: (site) => site.lines.flatMap((line) => limitsOf(site, line).flatMap((limit) => below(line, limit))),
};

interface Limit {
  readonly by: string;
  readonly downMbps: number | null;
  readonly upMbps: number | null;
  readonly at: At;
  readonly means: string;
  readonly source: string;
  readonly why?: Worked;
}

/** Rates of the optical systems on the fibre, shared by everybody on it. */
const optical: Readonly<Record<string, readonly [down: number, up: number, source: string]>> = {
  'gpon-b': [2488, 1244, 'ITU-T G.984.2 table 2a'],
  'gpon-c': [2488, 1244, 'ITU-T G.984.2 table 2a'],
  'xgs-n1': [9953, 9953, 'ITU-T G.9807.1 annex B'],
};

function limitsOf(site: Site, line: Line): Limit[] {
  const { at, medium, media } = line;
  const limits: Limit[] = [];
  if (medium === 'dsl')
    limits.push({
      by: 'the modem is in sync at',
      downMbps: media.dsl.syncDownMbps,
      upMbps: media.dsl.syncUpMbps,
      at: `${at}/media/dsl/syncDownMbps`,
      means:
        'The pair does not give more: ask the provider for the rate of this address, or for a lower contract.',
      source: 'ITU-T G.997.1 (actual data rate)',
    });
  const system = medium === 'fibre' ? optical[media.fibre.system] : undefined;
  if (system)
    limits.push({
      by: 'the whole optical system carries',
      downMbps: system[0],
      upMbps: system[1],
      at: `${at}/media/fibre/system`,
      means:
        'The contract is of another system, or the system is entered wrongly: read the label of the terminal.',
      source: system[2],
    });
  const signal = medium === 'cellular' ? signalOf(line) : undefined;
  if (signal)
    limits.push({
      by: 'the best place of the survey can carry at most',
      downMbps: signal.value,
      upMbps: null,
      at: `${at}/media/cellular/widthMHz`,
      means: 'Another place, an outside antenna or another band comes first; the contract does not help.',
      source: signal.source,
      why: signal,
    });
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

/** What the best reading of the survey can carry in one channel of the entered width. */
function signalOf({ media }: Line): Worked<number> | undefined {
  const { widthMHz, readings } = media.cellular;
  const sinr = readings.flatMap(({ sinrDb }) => (sinrDb === null ? [] : [sinrDb]));
  if (widthMHz === null || sinr.length === 0) return undefined;
  const nr = widthMHz > 20;
  const found = cellRateWorked({
    sinrDb: Math.max(...sinr),
    widthMHz,
    // Two streams are usual at a mast, and four on wide channels (common practice, no source).
    layers: nr ? 4 : 2,
    generation: nr ? 'nr' : 'lte',
    modulation: 256,
  });
  return found.ok ? found.value : undefined;
}

function below(line: Line, limit: Limit): Finding[] {
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
