import { joinRanges } from '../../base/net/range.ts';
import type { Passing } from './exposure.ts';

/** How much passes: nothing, single devices or named addresses, or more than that. */
export type Level = 'nothing' | 'named' | 'everything';

const order: readonly Level[] = ['nothing', 'named', 'everything'];
export const exceeds = (one: Level, other: Level): boolean => order.indexOf(one) > order.indexOf(other);
export const lower = (one: Level, other: Level): Level => (exceeds(one, other) ? other : one);

/** Larger than this, a set of addresses is not a list of names: a sixteenth of a millionth of IPv6, a /8 of IPv4. */
const mostNamedBits = { 4: 24n, 6: 96n } as const;

/** How much of its destination a set of packets reaches. */
export function levelOf({ reached, boxes }: Passing): Level {
  if (boxes.length === 0) return 'nothing';
  const destinations = joinRanges(boxes.map(({ destination }) => destination));
  if (reached.kind !== 'internet')
    return boxes.every(({ destination: { first, last } }) => first === last) ? 'named' : 'everything';
  const wide = ([4, 6] as const).some((family) => {
    const size = destinations
      .filter((range) => range.family === family)
      .reduce((sum, { first, last }) => sum + last - first + 1n, 0n);
    return size > 1n << mostNamedBits[family];
  });
  return wide ? 'everything' : 'named';
}
