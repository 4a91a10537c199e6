import { formatAddress } from '../../base/net/address.ts';
import { formatPrefix } from '../../base/net/prefix.ts';
import type { Site } from '../../site/model.ts';
import { tunnelWorked } from './interface.ts';
import { reachText } from './reach.ts';
import { routesOf } from './routes.ts';
import { endOf, endOfFar, tunnelStates, type TunnelState } from './tunnel-states.ts';
import { rankWays, type RankedWay } from './which.ts';

/** Who comes in, how, and to what; the ranking of this hour and of the hour in which the first line is down. */
export interface VpnOverview {
  readonly way: string;
  readonly ranking: readonly RankedWay[];
  readonly rankingWhenFirstLineIsDown: readonly RankedWay[];
  readonly pool: string;
  readonly port: number;
  readonly mtuBytes: number;
  readonly peers: readonly {
    readonly id: string;
    readonly name: string;
    readonly addresses: readonly string[];
    readonly revoked: boolean;
    readonly reaches: readonly string[];
    readonly routes: readonly string[];
  }[];
  /** Joined sites: how they are reached, and what becomes of each tunnel when a line fails. */
  readonly sites: readonly {
    readonly name: string;
    readonly routes: readonly string[];
    readonly joined: readonly string[];
    readonly states: readonly Pick<TunnelState, 'when' | 'up' | 'says'>[];
  }[];
}

export function vpnOverview(site: Site): VpnOverview {
  const { vpn } = site;
  return {
    way: vpn.way,
    ranking: rankWays(site),
    rankingWhenFirstLineIsDown: rankWays(site, new Set(site.lines.slice(0, 1).map(({ id }) => id))),
    pool: vpn.pool ? formatPrefix(vpn.pool) : '',
    port: vpn.port,
    mtuBytes: vpn.mtuBytes ?? tunnelWorked(vpn.endpoints[0]?.line ?? site.lines[0]).value,
    peers: vpn.peers.map((peer) => ({
      id: peer.id,
      name: peer.name,
      addresses: [peer.address, peer.address6].flatMap((host) => (host ? [formatAddress(host)] : [])),
      revoked: peer.revoked,
      reaches: reachText(peer),
      routes: peer.revoked ? [] : routesOf(site, peer).routes.map(formatPrefix),
    })),
    sites: vpn.sites.map((far) => ({
      name: far.name,
      routes: far.prefixes.map(formatPrefix),
      joined: far.networks.map(({ name }) => name),
      states: tunnelStates(endOf(site), endOfFar(far), vpn.keepAliveSeconds).map(({ when, up, says }) => ({
        when,
        up,
        says,
      })),
    })),
  };
}
