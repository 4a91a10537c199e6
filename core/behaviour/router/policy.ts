import { sameAddress, type Address } from '../../base/net/address.ts';
import type { Header } from '../../base/net/packet.ts';
import { hasPort } from '../../base/net/ports.ts';
import { contains, type Prefix } from '../../base/net/prefix.ts';
import type { Network, Reach, ReachTarget, Site } from '../../site/model.ts';
import { protocolsOf, single, type PacketRow } from '../../base/net/packet-set.ts';
import { rangeOf } from '../../base/net/range.ts';
import type { Grant, Peer } from '../../site/vpn.ts';
import { aimOf, peerVerdict } from '../remote-access/reach.ts';
import { goesOn, stops, type Decision, type Passage, type Side, type Stage } from './decision.ts';

/** Where a rule looks: at one network, or outward. */
type Aimed = Network | 'outward';

export interface PolicyTable {
  /** What each network may begin, by where it goes, in the order of the plan: the first that fits decides. */
  readonly reach: ReadonlyMap<Network, ReadonlyMap<Aimed, readonly Reach[]>>;
  /** Whether other sites may reach one another through this router. */
  readonly hub: boolean;
  readonly site: Site;
}

const aimed = ({ to }: Reach): Aimed => (to.kind === 'network' ? to.network : 'outward');

export function policyTable(site: Site): PolicyTable {
  const reach = new Map<Network, Map<Aimed, Reach[]>>();
  for (const rule of site.reach) {
    const from = reach.get(rule.from) ?? new Map<Aimed, Reach[]>();
    reach.set(rule.from, from);
    const rules = from.get(aimed(rule));
    if (rules) rules.push(rule);
    else from.set(aimed(rule), [rule]);
  }
  return { reach, hub: site.vpn.hub, site };
}

/** Whether a rule about this way fits a packet. */
const fits = ({ to, protocols, ports }: Reach, header: Header, { equipment }: Site): boolean =>
  (!protocols || protocols.includes(header.protocol)) &&
  (!ports || hasPort(ports, header.destinationPort)) &&
  fitsTarget(to, header.destination, equipment);

function fitsTarget(to: ReachTarget, host: Address, equipment: readonly Prefix[]): boolean {
  if (to.kind === 'network')
    return !to.device || (to.device.address !== undefined && sameAddress(to.device.address, host));
  const isEquipment = equipment.some((each) => contains(each, host));
  return to.kind === 'equipment'
    ? isEquipment
    : !isEquipment && (to.prefixes.length === 0 || to.prefixes.some((each) => contains(each, host)));
}

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
    const { network: from } = ingress;
    if (egress.kind === 'network' && egress.network === from)
      return goesOn('policy', passage, { kind: 'same-network', network: from }, undefined);
    const rule = reach
      .get(from)
      ?.get(egress.kind === 'line' ? 'outward' : egress.network)
      ?.find((each) => fits(each, header, site));
    if (rule)
      return rule.action === 'allow'
        ? goesOn('policy', passage, { kind: 'allowed', rule }, rule.at)
        : stops('policy', passage, { kind: 'refused-by', rule }, rule.at, 'refused');
    return egress.kind === 'line'
      ? goesOn('policy', passage, { kind: 'outbound' }, undefined)
      : stops('policy', passage, { kind: 'inside-default', from, to: egress.network }, '/reach', 'refused');
  },
  rows: ({ reach, site }, ingress) =>
    ingress.kind === 'network'
      ? [
          ...[...(reach.get(ingress.network)?.values() ?? [])].flat().flatMap((rule) => ruleRows(rule, site)),
          ...site.equipment.map((prefix) => ({ destination: rangeOf(prefix) })),
        ]
      : ingress.kind === 'client'
        ? clientRows(site, ingress.peer)
        : [],
});

/** A rule as sets of packets. */
function ruleRows({ to, protocols, ports }: Reach, { equipment }: Site): PacketRow[] {
  const limits = { ...(protocols && { protocols }), ...(ports && { ports }) };
  if (to.kind === 'network') {
    const { device, network } = to;
    const destination = device
      ? device.address && single(device.address)
      : network.prefix && rangeOf(network.prefix);
    return destination ? [{ destination, ...limits }] : [];
  }
  const where = to.kind === 'equipment' ? equipment : to.prefixes;
  return where.length > 0 || to.kind === 'equipment'
    ? where.map((prefix) => ({ destination: rangeOf(prefix), ...limits }))
    : [limits];
}

/** What a grant covers, as a set of packets; none where it covers none. */
function grantRows({ network, device, service, ports }: Grant): PacketRow[] {
  const destination = device
    ? device.address && single(device.address)
    : network.prefix && rangeOf(network.prefix);
  if (!destination || (service && !ports)) return [];
  return [{ destination, ...(service && { protocols: protocolsOf(service.protocol), ports: ports! }) }];
}

const clientRows = (site: Site, peer: Peer | undefined): PacketRow[] => [
  ...(peer?.group?.grants ?? []).flatMap(grantRows),
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
