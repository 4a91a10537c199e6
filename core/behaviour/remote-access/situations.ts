import { overlaps } from '../../base/net/prefix.ts';
import { formatPrefix, parsePrefix } from '../../base/net/prefix.ts';
import { valueOf } from '../../base/result.ts';
import type { Site } from '../../site/model.ts';
import { natSeconds, tunnelMtu } from './interface.ts';
import type { Peer } from '../../site/vpn.ts';
import { routesOf } from './routes.ts';
import { aroundBytes } from './speed.ts';
import { reachable } from './reachable.ts';

/** A packet of the tunnel that is on the wire at that time. */
export interface ClientPacket {
  readonly from: 'client' | 'router';
  readonly kind: 'initiation' | 'response' | 'keep-alive' | 'inside';
  /** It gets to the other end. */
  readonly arrives: boolean;
  /** Sealed for the router's key from before. */
  readonly staleKey?: boolean;
  /** The client is on its second network by then. */
  readonly moved?: boolean;
  /** Bytes of the packet inside, for one that carries something. */
  readonly insideBytes?: number;
}

/** What is seen at one end at one time. */
export interface ClientEvent {
  readonly at: number;
  readonly end: 'client' | 'router' | 'both';
  readonly says: string;
  readonly packet?: ClientPacket;
}

export interface ClientRun {
  readonly events: readonly ClientEvent[];
  readonly works: boolean;
  /** What it comes to, and the way out where it does not work. */
  readonly says: string;
}

interface Situation {
  readonly name: string;
  readonly title: string;
}

/** The registry of situations in which a client may be. */
export const situations = [
  { name: 'mobile', title: 'on mobile data, behind carrier NAT' },
  { name: 'hotel', title: "on a hotel's Wi-Fi that uses the site's own subnet" },
  { name: 'no-udp', title: 'on a network that lets no UDP out' },
  { name: 'ipv6-only', title: 'on a network with IPv6 only' },
  { name: 'roaming', title: 'from Wi-Fi to mobile data, with the tunnel up' },
  { name: 'silence', title: 'idle beyond the NAT timeout' },
  { name: 'failover', title: 'when the first line of the site fails' },
  { name: 'revoked', title: 'with a device that was revoked' },
  { name: 'stale-key', title: "with a profile that has the router's old key" },
  { name: 'oversize', title: 'on a line that carries small packets only' },
] as const satisfies readonly Situation[];
export type SituationName = (typeof situations)[number]['name'];

/** Handshakes are tried again after so long, and given up after so long (the protocol's paper, section 6.1, from memory). */
const retrySeconds = 5;
const giveUpSeconds = 90;

/** Bytes that a network of small packets carries, as many tunnels of providers do (common practice, no source). */
const smallNetworkBytes = 1400;

/** One client in one situation, as it looks at both ends. Nothing but the plan decides. */
export function simulateClient(site: Site, peer: Peer, situation: SituationName): ClientRun {
  const events: ClientEvent[] = [];
  let now = 0;
  const see = (end: ClientEvent['end'], says: string, packet?: ClientPacket): void =>
    void events.push({ at: now, end, says, ...(packet && { packet }) });
  const wait = (seconds: number): void => void (now = Math.round((now + seconds) * 1000) / 1000);
  const done = (works: boolean, says: string): ClientRun => ({ events, works, says });
  const down = situation === 'failover' ? new Set([site.lines[0]?.id ?? '']) : new Set<string>();
  const line = reachable(site, down);
  const [endpoint] = site.vpn.endpoints;
  const name = endpoint?.host || 'no endpoint yet';

  const unanswered = (why: string, says: string, arrives = false): ClientRun => {
    for (let tries = 0; tries < 3; tries += 1) {
      see('client', `Handshake to ${name}, port ${site.vpn.port}: no answer`, {
        from: 'client',
        kind: 'initiation',
        arrives,
        staleKey: situation === 'stale-key',
      });
      wait(retrySeconds);
    }
    see('router', why);
    wait(giveUpSeconds - 3 * retrySeconds);
    see(
      'client',
      `Given up after ${giveUpSeconds} s; the tunnel says it is on, and sent bytes grow while received ones stay`,
    );
    return done(false, says);
  };
  const handshake = (): void => {
    see('client', `Handshake to ${name}, port ${site.vpn.port}: 148 bytes`, {
      from: 'client',
      kind: 'initiation',
      arrives: true,
    });
    wait(0.06);
    see('router', `Key of ${peer.name} is known: answer of 92 bytes`, {
      from: 'router',
      kind: 'response',
      arrives: true,
    });
    wait(0.06);
    see('both', 'Handshake done; keys for two minutes', keepAlive);
  };

  const keepAlive: ClientPacket = { from: 'client', kind: 'keep-alive', arrives: true };
  const inside: ClientPacket = { from: 'client', kind: 'inside', arrives: true, insideBytes: 60 };

  if (!endpoint || endpoint.host === '')
    return unanswered(
      'Nothing arrives: the profile names nobody to call.',
      'The plan has no endpoint yet: give the line a name or its address.',
    );
  if (situation === 'revoked' || peer.revoked) {
    return unanswered(
      `A key that no peer has: silence, by design; nothing is logged but a counter`,
      peer.revoked
        ? `${peer.name} is revoked, and this is what that looks like: silence.`
        : `So it would look with ${peer.name} revoked: silence, and that is the proof. Try it once from outside.`,
      true,
    );
  }
  if (situation === 'stale-key')
    return unanswered(
      'A handshake that does not open with the present key: silence',
      'The profile has an old key of the router. Send a new profile; nothing else tells the remote user why.',
      true,
    );
  if (situation === 'failover') {
    handshake();
    wait(20);
    see('router', `${site.lines[0]?.name} is down`);
    if (!line) {
      return unanswered(
        'Nothing arrives: over the lines that are left nobody can begin anything',
        `While ${site.lines[0]?.name} is down there is no remote access: ${site.lines[1] ? `${site.lines[1].name} cannot be reached from outside` : 'there is no other line'}. Ways out: a public address there, a hub or a mesh that both ends call, or say in the promise that it waits.`,
      );
    }
    const follows = site.vpn.endpoints.some((each) => each.line === line && each.host !== '');
    if (!follows && site.failover.dynamicName === '')
      return unanswered(
        'Nothing arrives: the endpoint of the profile is on the line that is down',
        `Give the tunnel a name that follows the line, or a second endpoint on ${line.name}.`,
      );
    wait(site.failover.ttlSeconds);
    handshake();
    return done(
      true,
      `Back over ${line.name} once the name has changed and caches have let go. Many apps look it up only when the tunnel is switched on: off and on again.`,
    );
  }
  if (!line)
    return unanswered(
      'Nothing arrives: nobody outside can call this site',
      'No line of the site accepts connections from outside: see the ranking for methods that need none.',
    );
  if (situation === 'no-udp')
    return unanswered(
      'Nothing arrives: the network of the remote user lets no UDP out',
      'Use mobile data instead, or keep the way over TLS for such places; another UDP port helps only where single ports are closed.',
    );
  if (situation === 'ipv6-only' && line.publicAddress.family === 4) {
    see(
      'client',
      `${name} has an IPv4 address only: the network translates it (RFC 6877, RFC 6147) if it is a name`,
    );
    wait(0.2);
    if (endpoint.address)
      return unanswered(
        'Nothing arrives',
        'The profile calls an IPv4 address as a number, and a network with IPv6 only cannot translate a number everywhere. Use a name.',
      );
  }
  if (situation === 'hotel') {
    const hotel = valueOf(
      parsePrefix(site.networks[0]?.prefix ? formatPrefix(site.networks[0].prefix) : '192.168.1.0/24'),
    )!;
    see(
      'client',
      `The hotel gave an address in ${formatPrefix(hotel)}, the subnet of ${site.networks[0]?.name ?? 'the site'}`,
    );
    handshake();
    wait(1);
    const clash = routesOf(site, peer).routes.filter((route) => overlaps(route, hotel));
    if (clash.length === 0) {
      see('both', 'What is granted is in other subnets: it opens', inside);
      return done(true, `${peer.name} is not touched: nothing of the group lies in that subnet.`);
    }
    if (clash.every((route) => route.length > hotel.length)) {
      see(
        'both',
        'The routes of the tunnel are longer than that of the hotel: they win, and it opens',
        inside,
      );
      return done(
        true,
        'Routes to single devices win over the subnet of the hotel (longest match), except towards its own gateway address.',
      );
    }
    see('client', "Handshake done, but nothing opens: the hotel's own network gets the packets");
    return done(
      false,
      `The route ${formatPrefix(clash[0]!)} loses against the hotel's own network. Grant single devices, or renumber the site to a subnet that is seldom used elsewhere.`,
    );
  }
  handshake();
  switch (situation) {
    case 'roaming':
      wait(30);
      see('client', 'Wi-Fi is gone; the next packet leaves over mobile data');
      wait(1.5);
      see('router', 'The next packet that opens comes from another address: answers go there from now on', {
        ...inside,
        moved: true,
      });
      return done(true, 'It goes on after one packet; open sessions stay.');
    case 'silence': {
      const keep = site.vpn.keepAliveSeconds;
      if (keep > 0 && keep <= natSeconds.usual) {
        wait(600);
        see('both', `A keep-alive every ${keep} s held the way open`, keepAlive);
        return done(true, 'The site reaches the remote user at any time.');
      }
      wait(keep > 0 ? Math.min(600, keep) : 600);
      see(
        'router',
        `A packet to the remote user: the NAT forgot it after ${natSeconds.usual} to ${natSeconds.promised} s`,
        { ...inside, from: 'router', arrives: false },
      );
      return done(
        false,
        'The remote user still reaches the site; the site does not reach the remote user until it sends something. Set a persistent keep-alive of 25 s where the site has to reach it.',
      );
    }
    case 'oversize': {
      const mtu = tunnelMtu(site);
      wait(1);
      // 20 bytes IP, 8 UDP, 16 before and 16 after the packet, whose padding never goes beyond the MTU.
      const outside = mtu + aroundBytes;
      const passes = outside <= smallNetworkBytes;
      see(
        'client',
        `A packet of ${mtu} bytes is ${outside} outside; this line carries ${smallNetworkBytes}`,
        { ...inside, arrives: passes, insideBytes: mtu },
      );
      if (passes) {
        see('both', 'It passes');
        return done(true, `At an MTU of ${mtu} the tunnel passes even there.`);
      }
      see('client', 'Small pages open, large ones stop half way');
      return done(
        false,
        `Lower the MTU of the profile to ${smallNetworkBytes - aroundBytes} for such places, or to 1280 for all.`,
      );
    }
    default:
      wait(0.3);
      see('both', 'The first page opens', inside);
      return done(true, `It works: ${peer.name} calls outward, so the NAT in between does not matter.`);
  }
}
