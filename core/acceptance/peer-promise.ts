import type { Site } from '../site/model.ts';
import type { Peer } from '../vpn/model.ts';
import { slug } from '../path/query.ts';
import { reachText } from '../vpn/reach.ts';
import { travel } from '../vpn/travellers.ts';
import { reachable } from '../vpn/which.ts';
import { peerPromiseId, refusedPromiseId } from './promise-ids.ts';
import type { SitePromise } from './promises.ts';

/** "This person gets in, to exactly this": proven by a session from a truly other network. */
export function peerPromise(site: Site, peer: Peer): SitePromise {
  const reached = reachText(peer);
  const line = reachable(site, new Set());
  const missing = [
    ...(peer.group ? [] : ['a group']),
    ...(peer.plan.publicKey.trim() === '' ? ['a key'] : []),
    ...(peer.address ? [] : ['an address']),
    ...(site.vpn.endpoints.some(({ host }) => host !== '') ? [] : ['an endpoint to call']),
  ];
  const grant = peer.group?.grants[0];
  const trip = travel(site, peer, 'mobile');
  return {
    id: peerPromiseId(peer),
    kind: 'peer',
    at: peer.at,
    says: `${peer.name} gets in${reached.length > 0 ? `: ${reached.join(', ')}` : ''}`,
    least: 'outside-session',
    outside: true,
    paper: {
      kept: missing.length === 0 && reached.length > 0 && line !== undefined,
      says:
        missing.length > 0
          ? `Still without ${missing.join(', ')}.`
          : reached.length === 0
            ? 'Nothing is granted to its group.'
            : line
              ? `The site is called over ${line.name}.`
              : 'Nobody outside can call this site.',
      question: grant?.device
        ? `from ${slug(peer.name)} to ${slug(grant.device.name)} ${grant.service?.protocol === 'udp' ? 'udp' : 'tcp'} ${grant.ports?.first ?? 443}`
        : '',
    },
    bench: { kept: trip.works, says: trip.says },
  };
}

/** "This device is out": a handshake from it, tried from a truly other network, stays without an answer. */
export function refusedPromise(site: Site, peer: Peer): SitePromise {
  const trip = travel(site, peer, 'revoked');
  return {
    id: refusedPromiseId(peer),
    kind: 'peer',
    at: peer.at,
    says: `${peer.name} is refused since ${peer.plan.revoked}`,
    least: 'outside-session',
    outside: true,
    paper: {
      kept: true,
      says: 'Its key is no longer among those to be entered.',
      question: `from ${slug(peer.name)} to router tcp 443`,
    },
    bench: { kept: !trip.works, says: trip.says },
  };
}
