import { sameAddress, type Address } from '../../base/net/address.ts';
import { contains, type Prefix } from '../../base/net/prefix.ts';
import { rangeOf } from '../../base/net/range.ts';
import { insideOf } from '../../site/lookups.ts';
import type { Route, Site } from '../../site/model.ts';
import type { FarSite, Peer } from '../../site/vpn.ts';
import { goesOn, stops, type Side, type Stage } from './decision.ts';
import type { RouteTable } from './route-table.ts';

export interface RoutingTable {
  readonly route: RouteTable;
  readonly site: Site;
}

const poolsOf = ({ vpn }: Site): Prefix[] =>
  vpn.way === 'none' ? [] : [vpn.pool, vpn.pool6].flatMap((each) => each ?? []);

const hasAddress = (peer: Peer, host: Address): boolean =>
  [peer.address, peer.address6].some((each) => each && sameAddress(each, host));

function sideOf({ target }: Route): Side | undefined {
  const network = insideOf(target);
  if (network) return { kind: 'network', network };
  return target.kind === 'line' ? { kind: 'line', line: target.line } : undefined;
}

/** Where a destination is sent: to another site, to the remote users, or by a row of the table. */
export type Way =
  | { readonly kind: 'far'; readonly far: FarSite; readonly prefix: Prefix }
  | { readonly kind: 'pool'; readonly pool: Prefix }
  | { readonly kind: 'route'; readonly route: Route };

/**
 * The longest match (RFC 1812 section 5.2.4.3) over the table, the subnets of other sites and the pools. A subnet of
 * another site that is in use here stays here, whatever its length: it was entered by mistake.
 */
export function wayTo({ route, site }: RoutingTable, host: Address): Way | undefined {
  const row = route.find(host);
  let way: Way | undefined = row && { kind: 'route', route: row };
  let length = row?.prefix.length ?? -1;
  const here = site.networks.some(({ prefix }) => prefix && contains(prefix, host));
  for (const far of here ? [] : site.vpn.sites)
    for (const prefix of far.prefixes)
      if (prefix.length > length && contains(prefix, host)) {
        way = { kind: 'far', far, prefix };
        ({ length } = prefix);
      }
  for (const pool of poolsOf(site))
    if (pool.length > length && contains(pool, host)) {
      way = { kind: 'pool', pool };
      ({ length } = pool);
    }
  return way;
}

/** The prefixes beside the table at whose edges a way begins or ends. */
export const wayPrefixes = (site: Site): Prefix[] => [
  ...site.networks.flatMap(({ prefix }) => prefix ?? []),
  ...poolsOf(site),
  ...site.vpn.sites.flatMap(({ prefixes }) => prefixes),
];

/** Where the packet goes on. */
export const routing = (table: RoutingTable): Stage<RoutingTable> => ({
  name: 'route',
  table,
  decide: (tables, passage) => {
    const { route, site } = tables;
    const { count } = route;
    const { destination } = passage.header;
    const way = wayTo(tables, destination);
    switch (way?.kind) {
      case 'far': {
        const { far, prefix } = way;
        return goesOn('route', passage, { kind: 'far-site', far, prefix }, `${far.at}/prefixes`, {
          ...passage,
          egress: { kind: 'tunnel', far },
        });
      }
      case 'pool': {
        const { pool } = way;
        const peer = site.vpn.peers.find((each) => !each.revoked && hasAddress(each, destination));
        return goesOn('route', passage, { kind: 'tunnel-subnet', pool }, '/vpn/pool', {
          ...passage,
          egress: { kind: 'client', peer },
        });
      }
      case 'route': {
        const { route: row } = way;
        const egress = sideOf(row);
        return egress
          ? goesOn('route', passage, { kind: 'routed', route: row, count }, row.at, {
              ...passage,
              route: row,
              egress,
            })
          : stops('route', passage, { kind: 'unused-prefix', route: row, count }, row.at, 'no-route');
      }
      case undefined:
        return stops('route', passage, { kind: 'no-route', count }, undefined, 'no-route');
    }
  },
  rows: ({ route, site }) => [
    ...route.prefixes.map((prefix) => ({ destination: rangeOf(prefix) })),
    ...wayPrefixes(site).map((prefix) => ({ destination: rangeOf(prefix) })),
  ],
});
