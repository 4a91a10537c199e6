import { sameAddress } from '../net/address.ts';
import { ok, type Result } from '../result.ts';
import type { Site } from '../site/model.ts';
import type { Peer } from '../site/vpn.ts';
import { peerVerdict } from '../vpn/reach.ts';
import { reachable } from '../vpn/reachable.ts';
import { type Flow, type Hop, type Trace } from './packet.ts';
import { serviceText } from '../net/packet.ts';
import { flowOf, type Query } from './query.ts';
import { slug } from '../text.ts';

/** The client a question is about, by the name of the device: "maren-holt-telephone". */
export const peerNamed = (site: Site, typed: string): Peer | undefined =>
  site.vpn.way === 'none'
    ? undefined
    : site.vpn.peers.find((peer) => slug(peer.name) === slug(typed) || peer.id === typed);

/** Follows a packet of a client: into the site, through the tunnel, to what its group is granted. */
export function followPeer(site: Site, peer: Peer, query: Query): Result<{ flow: Flow; trace: Trace }> {
  // The destination is looked up as for the router: a client uses the same names.
  const plain = flowOf(site, { ...query, from: 'router' });
  if (!plain.ok) return plain;
  const { down, header: wanted } = plain.value;
  const header = { ...wanted, source: peer.address ?? wanted.source };
  const line = reachable(site, down);
  const hops: Hop[] = [];
  const hop = (
    kind: Hop['kind'],
    node: string,
    stage: string,
    at: string | undefined,
    looked: string,
    decided: string,
    stops: boolean,
  ): void =>
    void hops.push({
      kind,
      node,
      stage,
      at,
      looked: () => looked,
      decided: () => decided,
      before: header,
      after: header,
      stops,
    });
  const end = (outcome: Trace['outcome'], says: string): Result<{ flow: Flow; trace: Trace }> =>
    ok({
      flow: { origin: { kind: 'outside', name: peer.name, line }, header, down },
      trace: {
        outcome,
        says: () => says,
        hops,
        reply: [],
        arrived: outcome === 'delivered' ? header : undefined,
        answered: undefined,
      },
    });
  hop(
    'internet',
    'another network',
    'tunnel',
    '/vpn/endpoints',
    `handshake to ${site.vpn.endpoints[0]?.host || 'no endpoint yet'}, udp ${site.vpn.port}`,
    line ? `it arrives over ${line.name}` : 'nobody outside can call this site now',
    !line,
  );
  if (!line)
    return end(
      'impossible',
      `${peer.name} cannot connect: over the lines that are up no connection can be opened from outside.`,
    );
  const verdict = peerVerdict(site, peer, {
    destination: header.destination,
    protocol: header.protocol,
    port: header.destinationPort,
  });
  hop(
    'router',
    'router',
    'policy',
    verdict.at,
    `${peer.name}, ${serviceText(header)}`,
    verdict.says,
    !verdict.allowed,
  );
  if (!verdict.allowed) return end('refused', `The router stopped it at "policy": ${verdict.says}.`);
  const device = site.devices.find((each) => each.address && sameAddress(each.address, header.destination));
  hop(
    'host',
    device?.name ?? 'its destination',
    'arrival',
    device?.at,
    serviceText(header),
    'it arrives, from the address in the tunnel',
    false,
  );
  return end('delivered', `Delivered to ${device?.name ?? 'its destination'} through the tunnel.`);
}
