import { sameAddress, type Address } from '../net/address.ts';
import { contains, type Prefix } from '../net/prefix.ts';
import { rangeOf } from '../net/range.ts';
import type { Route, Site } from '../site/model.ts';
import type { FarSite, Peer } from '../site/vpn.ts';
import { goesOn, stops, type Side, type Stage } from './decision.ts';
import type { RouteTable } from './route-table.ts';

export interface RoutingTable {
  readonly route: RouteTable;
  readonly site: Site;
}

/** The other site whose subnets hold an address; an inside network wins over it. */
export const farSiteAt = (site: Site, host: Address): FarSite | undefined =>
  site.vpn.sites.length === 0 || site.networks.some(({ prefix }) => prefix && contains(prefix, host))
    ? undefined
    : site.vpn.sites.find(({ prefixes }) => prefixes.some((prefix) => contains(prefix, host)));

const poolsOf = ({ vpn }: Site): Prefix[] =>
  vpn.way === 'none' ? [] : [vpn.pool, vpn.pool6].flatMap((each) => each ?? []);

const hasAddress = (peer: Peer, host: Address): boolean =>
  [peer.address, peer.address6].some((each) => each && sameAddress(each, host));

const sideOf = ({ target }: Route): Side =>
  target.kind === 'line' ? { kind: 'line', line: target.line } : { kind: 'network', network: target.network };

/** The longest match (RFC 1812 section 5.2.4.3). Subnets of other sites are longer than the default route. */
export const routing = (table: RoutingTable): Stage<RoutingTable> => ({
  name: 'route',
  table,
  decide: ({ route, site }, passage) => {
    const { count } = route;
    const { destination } = passage.header;
    const far = farSiteAt(site, destination);
    if (far) {
      const prefix = far.prefixes.find((each) => contains(each, destination))!;
      return goesOn('route', passage, { kind: 'far-site', far, prefix }, `${far.at}/prefixes`, {
        ...passage,
        egress: { kind: 'tunnel', far },
      });
    }
    const pool = poolsOf(site).find((each) => contains(each, destination));
    if (pool) {
      const peer = site.vpn.peers.find((each) => !each.revoked && hasAddress(each, destination));
      return goesOn('route', passage, { kind: 'tunnel-subnet', pool }, '/vpn/pool', {
        ...passage,
        egress: { kind: 'client', peer },
      });
    }
    const chosen = route.find(destination);
    if (!chosen) return stops('route', passage, { kind: 'no-route', count }, undefined, 'no-route');
    return goesOn('route', passage, { kind: 'routed', route: chosen, count }, chosen.at, {
      ...passage,
      route: chosen,
      egress: sideOf(chosen),
    });
  },
  rows: ({ route, site }) => [
    ...route.prefixes.map((prefix) => ({ destination: rangeOf(prefix) })),
    ...site.networks.flatMap(({ prefix }) => (prefix ? [{ destination: rangeOf(prefix) }] : [])),
    ...poolsOf(site).map((prefix) => ({ destination: rangeOf(prefix) })),
    ...site.vpn.sites.flatMap(({ prefixes }) => prefixes.map((prefix) => ({ destination: rangeOf(prefix) }))),
  ],
});
