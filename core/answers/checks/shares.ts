import type { At } from '../../plan/at.ts';
import { replacing, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Line, Network, Site } from '../../site/model.ts';
import { carriedMbps, shapedWorked, shareWorked, type Direction } from '../../base/worked/shares.ts';
import { arithmetic, figure, step, worked } from '../../base/worked/worked.ts';
import { note } from './note.ts';

/** Rate limits and shaping: figures in the wrong unit, limits that never bind, and what is left for those that must work. */
export const shares: Check = {
  name: 'shares',
  run: (site) => [
    ...site.networks.flatMap((network) => limits(site, network)),
    ...site.lines.flatMap(shaping),
    ...directions.flatMap((direction) => left(site, direction)),
  ],
};

const directions: readonly Direction[] = ['down', 'up'];
const words = { down: 'download', up: 'upload' } as const;

const limitOf = (network: Network, direction: Direction): number | null =>
  direction === 'down' ? network.limitDownMbps : network.limitUpMbps;
const shapedAt = (line: Line, direction: Direction): number | null =>
  direction === 'down' ? line.shapeDownMbps : line.shapeUpMbps;

function limits({ lines }: Site, network: Network): Finding[] {
  return directions.flatMap((direction): Finding[] => {
    const limit = limitOf(network, direction);
    const carried = lines.flatMap((line) => carriedMbps(line, direction) ?? []);
    if (limit === null || carried.length === 0) return [];
    const most = Math.max(...carried);
    const at = `${network.at}/${direction === 'down' ? 'limitDownMbps' : 'limitUpMbps'}` as const;
    const why = worked(
      `Rate limit of ${network.name}, ${words[direction]}`,
      limit,
      'Mb/s',
      [
        step('fastest line', `${figure(most)} Mb/s`),
        step('read as kb/s', `${figure(limit)} / 1000 = ${figure(limit / 1000)} Mb/s`),
        step('read as MB/s', `${figure(limit)} × 8 = ${figure(limit * 8)} Mb/s`),
      ],
      arithmetic,
    );
    const kilobits = limit >= 4 * most && limit / 1000 <= most;
    if (limit < most) return [];
    return [
      note(
        'limit-idle',
        'warning',
        at,
        kilobits
          ? `${network.name} may take ${figure(limit)} Mb/s ${words[direction]}, and no line carries more than ${figure(most)} Mb/s: the limit does nothing. You probably meant ${figure(limit)} kb/s, which are ${figure(limit / 1000)} Mb/s.`
          : `${network.name} may take ${figure(limit)} Mb/s ${words[direction]}, and no line carries more than ${figure(most)} Mb/s: the limit does nothing.`,
        why,
        kilobits ? replacing(`Enter ${figure(limit / 1000)} Mb/s`, at, limit / 1000) : undefined,
      ),
    ];
  });
}

function shaping(line: Line): Finding[] {
  return directions.flatMap((direction): Finding[] => {
    const shaped = shapedAt(line, direction);
    const carried = carriedMbps(line, direction);
    if (shaped === null || carried === null || shaped < carried) return [];
    const why = shapedWorked(carried);
    return [
      note(
        'shaped-above-rate',
        'warning',
        `${line.at}/${direction === 'down' ? 'shapeDownMbps' : 'shapeUpMbps'}`,
        `${line.name} is shaped to ${figure(shaped)} Mb/s ${words[direction]} and carries ${figure(carried)} Mb/s: the queue builds up in the modem, where nobody sorts it, and calls wait behind downloads.`,
        why,
        replacing(
          `Shape to ${figure(why.value)} Mb/s`,
          `${line.at}/${direction === 'down' ? 'shapeDownMbps' : 'shapeUpMbps'}`,
          why.value,
        ),
      ),
    ];
  });
}

/** Purposes whose traffic is small and must not wait (common practice, no source). */
const mustWork = (network: Network): boolean => network.purpose === 'payment' || network.purpose === 'voice';

/** What calls and tills are left with when everybody else takes what he may, on each line that carries them alone. */
function left(site: Site, direction: Direction): Finding[] {
  const needy = site.networks.filter(mustWork);
  const others = site.networks.filter((network) => !mustWork(network));
  const limited = others.filter((network) => limitOf(network, direction) !== null);
  // Where nobody is limited, nobody has thought about shares: that is no mistake of this kind.
  if (needy.length === 0 || limited.length === 0) return [];
  return site.lines.flatMap((line): Finding[] => {
    const carried = shapedAt(line, direction) ?? carriedMbps(line, direction);
    if (carried === null) return [];
    const why = shareWorked(
      line.name,
      carried,
      others.map((network) => [network.name, limitOf(network, direction)]),
    );
    if (why.value > 0) return [];
    const free = others.filter((network) => limitOf(network, direction) === null);
    return [
      {
        ...note(
          'nothing-left',
          'warning',
          `${line.at}/${direction === 'down' ? 'rateDownMbps' : 'rateUpMbps'}`,
          `On ${line.name} nothing is kept free for ${needy.map(({ name }) => name).join(' and ')} (${words[direction]}): ${free.length > 0 ? `${free.map(({ name }) => name).join(', ')} may take all of it` : `the limits of the others come to more than the ${figure(carried)} Mb/s that it carries`}. Calls break up and cards wait when the line is full.`,
          why,
        ),
        also: others.map(({ at }): At => `${at}/${direction === 'down' ? 'limitDownMbps' : 'limitUpMbps'}`),
      },
    ];
  });
}
