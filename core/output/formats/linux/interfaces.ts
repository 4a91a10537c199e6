import { wanType } from '../../../wan-types/index.ts';
import { linkOf } from '../../../site/link.ts';
import type { Line, Network, Site } from '../../../site/model.ts';

/** What the interfaces of the router are called in the exported files; one for each link inside and line, one for tunnels. */
export interface Interfaces {
  readonly network: (network: Network) => string;
  readonly line: (line: Line) => string;
  /** The tunnel of all other sites, and of remote users too where they use the same method: one UDP port, one key. */
  readonly tunnel: string;
  /** That of the remote users. */
  readonly clients: string;
  /** The mark of connections that began over a line, and the number of its routing table. */
  readonly table: (line: Line) => number;
  readonly networks: readonly string[];
  readonly lines: readonly string[];
}

const tunnel = 'wg0';

/** Whether the files make a tunnel: for remote users by WireGuard, for other sites, or both. */
export const hasTunnel = ({ vpn }: Site): boolean => vpn.way === 'wireguard' || vpn.sites.length > 0;

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
  return {
    network: (network) => links.of(linkOf(site, network)),
    line: lines.of,
    tunnel,
    // Another method makes an interface of its own.
    clients: site.vpn.way === 'wireguard' ? tunnel : 'vpn0',
    table: (line) => firstTable + site.lines.indexOf(line) + 1,
    networks: links.all,
    lines: lines.all,
  };
}

/** Where a line's next hop comes from: the plan, a lease, or nowhere, for the far end of PPP is the only one there is. */
export function nextHopOf({ type, gateway, address }: Line): 'fixed' | 'lease' | 'ppp' {
  const { nextHop } = wanType(type);
  if (nextHop === 'session') return 'ppp';
  return nextHop === 'entered' && gateway?.family === address.family ? 'fixed' : 'lease';
}

/** Whether the line's own address is entered, and not told by the line. */
export const isAddressEntered = ({ type }: Line): boolean => wanType(type).nextHop === 'entered';
