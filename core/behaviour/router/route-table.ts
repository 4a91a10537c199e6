import type { Address } from '../../base/net/address.ts';
import type { Prefix } from '../../base/net/prefix.ts';
import type { Route } from '../../site/model.ts';

export interface RouteTable {
  readonly find: (destination: Address) => Route | undefined;
  /** How many routes it has with these lines up. */
  readonly count: number;
  readonly prefixes: readonly Prefix[];
}

/**
 * Finds the longest matching prefix (RFC 1812 section 5.2.4.3) by one binary search. The table is cut at every edge
 * of a block; each piece knows its route. `routes` must be sorted longest first.
 */
export function routeTable(routes: readonly Route[]): RouteTable {
  const pieces = { 4: cut(routes, 4), 6: cut(routes, 6) } as const;
  const find = ({ family, value }: Address): Route | undefined => {
    const { starts, routes: found } = pieces[family];
    let low = 0;
    let high = starts.length;
    // The last piece that starts at or before the address.
    while (low < high) {
      const middle = (low + high) >>> 1;
      if (starts[middle]! <= value) low = middle + 1;
      else high = middle;
    }
    return low === 0 ? undefined : found[low - 1];
  };
  return { find, count: routes.length, prefixes: routes.map(({ prefix }) => prefix) };
}

function cut(routes: readonly Route[], family: 4 | 6): { starts: bigint[]; routes: (Route | undefined)[] } {
  const mine = routes.filter(({ prefix }) => prefix.family === family);
  const edges = new Set(mine.flatMap(({ prefix }) => [prefix.first, prefix.last + 1n]));
  const starts = [...edges].sort((a, b) => (a < b ? -1 : a > b ? 1 : 0));
  const place = new Map(starts.map((start, index) => [start, index]));
  const found: (Route | undefined)[] = starts.map(() => undefined);
  // Shorter blocks first: longer ones are painted over them. Of equal blocks the earlier row stays on top.
  for (const route of [...mine].reverse())
    found.fill(route, place.get(route.prefix.first), place.get(route.prefix.last + 1n));
  return { starts, routes: found };
}
