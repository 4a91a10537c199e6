import { addressKey, addressOfKey } from '../../base/net/address.ts';
import { protocolsOf, single } from '../../base/net/packet-set.ts';
import { hasPort, protocolsMeet } from '../../base/net/ports.ts';
import { onOneLink } from '../../site/link.ts';
import type { RouterService, Site } from '../../site/model.ts';
import { aimOf, peerVerdict } from '../remote-access/reach.ts';
import { stops, type Side, type Stage } from './decision.ts';

export interface OwnTable {
  readonly own: ReadonlyMap<bigint, Side>;
  readonly services: readonly RouterService[];
  readonly site: Site;
}

/** The router itself may be the destination: what of it answers, and to which side. */
export const itself = (table: OwnTable): Stage<OwnTable> => ({
  name: 'router itself',
  table,
  decide: ({ own, services, site }, passage) => {
    const { header, ingress } = passage;
    // A forward to an address of the router leads to the router.
    if (!own.has(addressKey(header.destination))) return undefined;
    const { protocol } = header;
    const answering =
      protocol === 'icmp'
        ? []
        : services.filter(
            (each) => hasPort(each.ports, header.destinationPort) && protocolsMeet(each.protocol, protocol),
          );
    if (ingress.kind === 'client' && ingress.peer) {
      const { peer } = ingress;
      const { allowed, at, says } = peerVerdict(site, peer, aimOf(header));
      if (!allowed)
        return stops('router itself', passage, { kind: 'not-granted', peer, says }, at, 'refused');
    }
    if (ingress.kind === 'line') {
      if (protocol === 'icmp' && site.router.facts.pingOutside)
        return stops('router itself', passage, { kind: 'ping-answered' }, '/router/pingOutside', 'answered');
      // One port may hold a page inside and the tunnel outside.
      const outside = answering.find((each) => each.outside);
      if (outside)
        return stops(
          'router itself',
          passage,
          { kind: 'service-answers', service: outside },
          outside.at,
          'answered',
        );
      const [inside] = answering;
      return inside
        ? stops(
            'router itself',
            passage,
            { kind: 'service-inside-only', service: inside },
            inside.at,
            'refused',
          )
        : stops('router itself', passage, { kind: 'nothing-outside' }, undefined, 'refused');
    }
    const service = answering.find(
      ({ inside }) =>
        inside === 'all' ||
        ingress.kind === 'client' ||
        (ingress.kind === 'network' &&
          site.router.adminNetwork !== undefined &&
          // Of a link with both address families one is as good as the other.
          onOneLink(site, ingress.network, site.router.adminNetwork)),
    );
    const [managed] = answering;
    if (!service && managed)
      return stops(
        'router itself',
        passage,
        { kind: 'service-managed', service: managed, from: site.router.adminNetwork },
        managed.at === '/vpn/port' ? managed.at : `${managed.at}/inside`,
        'refused',
      );
    if (service)
      return stops('router itself', passage, { kind: 'service-answers', service }, service.at, 'answered');
    return protocol === 'icmp'
      ? stops('router itself', passage, { kind: 'ping-answered' }, undefined, 'answered')
      : stops('router itself', passage, { kind: 'no-service' }, undefined, 'refused');
  },
  rows: ({ own, services }) =>
    [...own.keys()].flatMap((key) => {
      const destination = single(addressOfKey(key));
      return [
        ...services.map(({ protocol, ports }) => ({ destination, protocols: protocolsOf(protocol), ports })),
        // Clients may ask for names whatever they are granted.
        { destination, ports: { first: 53, last: 53 } },
      ];
    }),
});
