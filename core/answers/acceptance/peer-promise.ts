import type { Site } from '../../site/model.ts';
import { byCertificate, certificateOf, leftOver } from '../../behaviour/remote-access/certificates.ts';
import type { Peer } from '../../site/vpn.ts';
import { slug } from '../../base/text.ts';
import { reachText } from '../../behaviour/remote-access/reach.ts';
import { simulateClient } from '../../behaviour/remote-access/situations.ts';
import { reachable } from '../../behaviour/remote-access/reachable.ts';
import { peerPromiseId, refusedPromiseId } from '../../behaviour/domain-types/promise.ts';
import type { SitePromise } from '../../behaviour/domain-types/promise.ts';

/** "This person gets in, to exactly this": proven by a session from an external network. */
export function peerPromise(site: Site, peer: Peer): SitePromise {
  const reached = reachText(peer);
  const line = reachable(site, new Set());
  const missing = [
    ...(peer.group ? [] : ['a group']),
    ...(byCertificate(site)
      ? certificateOf(site, peer)
        ? []
        : ['a certificate']
      : [...(peer.publicKey.trim() === '' ? ['a key'] : []), ...(peer.address ? [] : ['an address'])]),
    ...(site.vpn.endpoints.some(({ host }) => host !== '') ? [] : ['an endpoint to call']),
  ];
  const grant = peer.group?.grants[0];
  // The rehearsal is that of the tunnel with keys.
  const trip = site.vpn.way === 'wireguard' ? simulateClient(site, peer, 'mobile') : undefined;
  return {
    id: peerPromiseId(peer),
    kind: 'peer',
    at: peer.at,
    says: `${peer.name} gets in${reached.length > 0 ? `: ${reached.join(', ')}` : ''}`,
    needs: ['outside-session'],
    outside: true,
    paper: {
      kept: missing.length === 0 && reached.length > 0 && line !== undefined,
      says:
        missing.length > 0
          ? `Still without ${missing.join(', ')}.`
          : reached.length === 0
            ? 'Nothing is granted to its group.'
            : line
              ? `Clients connect to ${line.name}.`
              : 'Nobody outside can call this site.',
      question: grant?.device
        ? `from ${slug(peer.name)} to ${slug(grant.device.name)} ${grant.service?.protocol === 'udp' ? 'udp' : 'tcp'} ${grant.ports?.first ?? 443}`
        : '',
    },
    ...(trip && { bench: { kept: trip.works, says: trip.says } }),
  };
}

/** "This device is out": a handshake from it, tried from an external network, stays without an answer. */
export function refusedPromise(site: Site, peer: Peer): SitePromise {
  const trip = site.vpn.way === 'wireguard' ? simulateClient(site, peer, 'revoked') : undefined;
  const left = byCertificate(site) ? leftOver(site, peer) : [];
  return {
    id: refusedPromiseId(peer),
    kind: 'peer',
    at: peer.at,
    says: `${peer.name} is refused since ${peer.revokedOn}`,
    needs: ['outside-session'],
    outside: true,
    paper: {
      kept: left.length === 0,
      says:
        left.length > 0
          ? `Its certificate ${left[0]!.serial.slice(0, 8)} is not revoked yet.`
          : byCertificate(site)
            ? 'It has no certificate that is still good.'
            : 'Its key is no longer among those to be entered.',
      question: `from ${slug(peer.name)} to router tcp 443`,
    },
    ...(trip && { bench: { kept: !trip.works, says: trip.says } }),
  };
}
