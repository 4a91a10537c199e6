import type { Address } from '../net/address.ts';
import { contains } from '../net/prefix.ts';
import type { Line, Network, Route, Site } from '../site/model.ts';
import type { FarSite } from '../site/vpn.ts';
import { goesOn, stops, type Side, type Stage } from './decision.ts';

export interface RoutingTable {
  readonly route: (address: Address) => Route | undefined;
  /** How many routes it has with these lines up. */
  readonly count: number;
  /** The other site whose subnets hold an address; an inside network wins over it. */
  readonly farSite: (address: Address) => FarSite | undefined;
  readonly confusedWith: ReadonlyMap<Line, Network>;
}

/** The other site whose subnets hold an address; an inside network wins over it. */
export const farSiteAt = (site: Site, host: Address): FarSite | undefined =>
  site.vpn.sites.length === 0 || site.networks.some(({ prefix }) => prefix && contains(prefix, host))
    ? undefined
    : site.vpn.sites.find(({ prefixes }) => prefixes.some((prefix) => contains(prefix, host)));

const sideOf = ({ target }: Route): Side =>
  target.kind === 'line' ? { kind: 'line', line: target.line } : { kind: 'network', network: target.network };

/** The longest match (RFC 1812 section 5.2.4.3). Subnets of other sites are longer than the default route. */
export const routing = (table: RoutingTable): Stage<RoutingTable> => ({
  name: 'route',
  table,
  decide: ({ route, count, farSite }, passage) => {
    const { destination } = passage.header;
    const far = farSite(destination);
    if (far) {
      const prefix = far.prefixes.find((each) => contains(each, destination))!;
      return goesOn('route', passage, { kind: 'far-site', far, prefix }, `${far.at}/prefixes`, {
        ...passage,
        egress: { kind: 'tunnel', far },
      });
    }
    const chosen = route(destination);
    if (!chosen) return stops('route', passage, { kind: 'no-route', count }, undefined, 'no-route');
    return goesOn('route', passage, { kind: 'routed', route: chosen, count }, chosen.at, {
      ...passage,
      route: chosen,
      egress: sideOf(chosen),
    });
  },
});
