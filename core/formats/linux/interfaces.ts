import { linkOf } from '../../site/link.ts';
import type { Line, Network, Site } from '../../site/model.ts';
import type { FarSite } from '../../site/vpn.ts';

/** What the interfaces of the router are called in the exported files; one for each link inside, line and tunnel. */
export interface Interfaces {
  readonly network: (network: Network) => string;
  readonly line: (line: Line) => string;
  readonly site: (far: FarSite) => string;
  readonly clients: string;
  /** The mark of connections that began over a line, and the number of its routing table. */
  readonly table: (line: Line) => number;
  readonly networks: readonly string[];
  readonly lines: readonly string[];
  readonly sites: readonly string[];
}

/** Tables and marks of lines begin here; those of rules of the failover begin at twice that. */
export const firstTable = 256;

export function interfacesOf(site: Site): Interfaces {
  const named = <Row>(rows: readonly Row[], stem: string) => {
    const names = new Map(rows.map((row, index) => [row, `${stem}${index + 1}`]));
    return { of: (row: Row): string => names.get(row)!, all: [...names.values()] };
  };
  // The two address families of one link have one interface.
  const links = named(
    site.networks.filter((network) => network.prefix && linkOf(site, network) === network),
    'lan',
  );
  const lines = named(site.lines, 'wan');
  const sites = named(site.vpn.sites, 'site');
  return {
    network: (network) => links.of(linkOf(site, network)),
    line: lines.of,
    site: sites.of,
    clients: 'wg0',
    table: (line) => firstTable + site.lines.indexOf(line) + 1,
    networks: links.all,
    lines: lines.all,
    sites: sites.all,
  };
}

/** Where a line's next hop comes from: the plan, a lease, or nowhere, for the far end of PPP is the only one there is. */
export function nextHopOf({ type, gateway, address }: Line): 'fixed' | 'lease' | 'ppp' {
  if (type === 'pppoe' || type === 'pptp' || type === 'l2tp') return 'ppp';
  return type === 'static' && gateway?.family === address.family ? 'fixed' : 'lease';
}
