import { sameAddress } from '../net/address.ts';
import type { Header } from '../net/packet.ts';
import { hasPort, protocolsMeet } from '../net/ports.ts';
import type { Network, Reach, Site } from '../site/model.ts';
import { protocolsOf, single, type PacketRow } from '../net/packet-set.ts';
import { rangeOf } from '../net/range.ts';
import type { Peer } from '../site/vpn.ts';
import { aimOf, peerVerdict } from '../vpn/reach.ts';
import { goesOn, stops, type Decision, type Passage, type Side, type Stage } from './decision.ts';

export interface PolicyTable {
  /** What inside networks may reach of one another, in the order of the plan; everything else between them is refused. */
  readonly reach: ReadonlyMap<Network, ReadonlyMap<Network, readonly Reach[]>>;
  /** Whether other sites may reach one another through this router. */
  readonly hub: boolean;
  readonly site: Site;
}

export function policyTable(site: Site): PolicyTable {
  const reach = new Map<Network, Map<Network, Reach[]>>();
  for (const rule of site.reach) {
    const from = reach.get(rule.from) ?? new Map<Network, Reach[]>();
    reach.set(rule.from, from);
    from.set(rule.to, [...(from.get(rule.to) ?? []), rule]);
  }
  return { reach, hub: site.vpn.hub, site };
}

/** Whether an allowance covers a packet, as far as device and service go. */
const covers = ({ device, service }: Reach, header: Header): boolean =>
  (!device || (device.address !== undefined && sameAddress(device.address, header.destination))) &&
  (!service ||
    (header.protocol !== 'icmp' &&
      service.ports !== undefined &&
      hasPort(service.ports, header.destinationPort) &&
      protocolsMeet(service.protocol, header.protocol)));

/** Default refusal inbound and between inside networks; inside to outside is allowed. */
export const policy = (table: PolicyTable): Stage<PolicyTable> => ({
  name: 'policy',
  table,
  decide: ({ reach, hub, site }, passage) => {
    const { ingress, egress, forward, header } = passage;
    if (!egress) return undefined;
    if (ingress.kind === 'client') return clientPolicy(passage, ingress.peer, egress, site);
    // Nothing is opened towards a client: it begins what it wants.
    if (egress.kind === 'client')
      return stops('policy', passage, { kind: 'to-client' }, '/vpn/groups', 'refused');
    if (ingress.kind === 'tunnel' || egress.kind === 'tunnel')
      return tunnelPolicy(passage, ingress, egress, hub);
    if (ingress.kind === 'line') {
      if (egress.kind === 'line')
        return stops('policy', passage, { kind: 'between-lines' }, undefined, 'refused');
      return forward
        ? goesOn('policy', passage, { kind: 'by-forward', rule: forward }, forward.at)
        : stops('policy', passage, { kind: 'inbound-default' }, undefined, 'refused');
    }
    if (egress.kind === 'line') return goesOn('policy', passage, { kind: 'outbound' }, undefined);
    const { network: from } = ingress;
    const { network: to } = egress;
    if (from === to) return goesOn('policy', passage, { kind: 'same-network', network: from }, undefined);
    const rule = reach
      .get(from)
      ?.get(to)
      ?.find((each) => covers(each, header));
    return rule
      ? goesOn('policy', passage, { kind: 'allowed', rule }, rule.at)
      : stops('policy', passage, { kind: 'inside-default', from, to }, '/reach', 'refused');
  },
  rows: ({ reach, site }, ingress) =>
    ingress.kind === 'network'
      ? [...(reach.get(ingress.network)?.values() ?? [])].flat().flatMap(rowOf)
      : ingress.kind === 'client'
        ? clientRows(site, ingress.peer)
        : [],
});

/** An allowance as a set of packets; none where it covers none. */
function rowOf({ to, device, service }: Pick<Reach, 'to' | 'device' | 'service'>): PacketRow[] {
  const destination = device ? device.address && single(device.address) : to.prefix && rangeOf(to.prefix);
  if (!destination || (service && !service.ports)) return [];
  return [
    { destination, ...(service && { protocols: protocolsOf(service.protocol), ports: service.ports! }) },
  ];
}

const clientRows = (site: Site, peer: Peer | undefined): PacketRow[] => [
  ...(peer?.group?.grants ?? []).flatMap(({ network, device, service, ports }) =>
    rowOf({ to: network, device, service: service && { ...service, ports } }),
  ),
  ...(site.vpn.resolver ? [{ destination: single(site.vpn.resolver), ports: { first: 53, last: 53 } }] : []),
];

/** What a client's group is granted; other clients and other sites are not. */
function clientPolicy(passage: Passage, peer: Peer | undefined, egress: Side, site: Site): Decision {
  if (egress.kind === 'tunnel')
    return stops(
      'policy',
      passage,
      { kind: 'not-connected', far: egress.far },
      `${egress.far.at}/networks`,
      'refused',
    );
  if (!peer || egress.kind === 'client')
    return stops('policy', passage, { kind: 'to-client' }, '/vpn/groups', 'refused');
  const { allowed, at, says } = peerVerdict(site, peer, aimOf(passage.header));
  return allowed
    ? goesOn('policy', passage, { kind: 'granted', peer, says }, at)
    : stops('policy', passage, { kind: 'not-granted', peer, says }, at, 'refused');
}

/** Between a network and another site, and between two other sites where this one is their hub. */
function tunnelPolicy(passage: Passage, ingress: Side, egress: Side, hub: boolean): Decision {
  if (ingress.kind === 'tunnel' && egress.kind === 'tunnel')
    return hub && ingress.far !== egress.far
      ? goesOn('policy', passage, { kind: 'through-hub' }, '/vpn/hub')
      : stops('policy', passage, { kind: 'not-connected', far: egress.far }, '/vpn/hub', 'refused');
  const [far, side] = ingress.kind === 'tunnel' ? [ingress.far, egress] : [(egress as Tunnel).far, ingress];
  return side.kind === 'network' && far.networks.includes(side.network)
    ? goesOn('policy', passage, { kind: 'connected', far }, `${far.at}/networks`)
    : stops('policy', passage, { kind: 'not-connected', far }, `${far.at}/networks`, 'refused');
}

type Tunnel = Extract<Side, { kind: 'tunnel' }>;
