import { addressOfKey, formatAddress } from '../../base/net/address.ts';
import { hostsOf } from '../../base/net/prefix.ts';
import type { Header } from '../../base/net/packet.ts';
import {
  bundlesBetween,
  everyAddress,
  single,
  type PacketBox,
  type PacketRow,
} from '../../base/net/packet-set.ts';
import { inRange, joinRanges, rangeOf, subtractRanges, type AddressRange } from '../../base/net/range.ts';
import { specialPrefixes } from '../../base/net/classify.ts';
import type { Line, Network, Site } from '../../site/model.ts';
import { subnetEdges } from '../../site/no-host.ts';
import { isChained } from '../../site/second.ts';
import type { FarSite, Group, Peer } from '../../site/vpn.ts';
import { apartOn, misplaced, wiredOn } from '../../behaviour/wiring/where.ts';
import { slug } from '../../base/text.ts';
import type { Origin } from '../path/packet.ts';
import type { Side } from '../../behaviour/router/decision.ts';
import type { Router } from '../../behaviour/router/router.ts';

/** Somebody who may begin a conversation with this site, or in it. */
export type Sender =
  | { readonly kind: 'internet'; readonly id: 'internet'; readonly name: 'Internet' }
  | { readonly kind: 'network'; readonly id: string; readonly name: string; readonly network: Network }
  | { readonly kind: 'group'; readonly id: string; readonly name: string; readonly group: Group }
  | { readonly kind: 'site'; readonly id: string; readonly name: string; readonly far: FarSite };

/** Everybody who may send, the internet first. */
export const sendersOf = (site: Site): Sender[] => [
  { kind: 'internet', id: 'internet', name: 'Internet' },
  ...site.networks.map((network): Sender => ({
    kind: 'network',
    id: network.id,
    name: network.name,
    network,
  })),
  ...(site.vpn.way === 'none'
    ? []
    : site.vpn.groups.map((group): Sender => ({ kind: 'group', id: group.id, name: group.name, group }))),
  ...site.vpn.sites.map((far): Sender => ({ kind: 'site', id: far.id, name: far.name, far })),
];

/** One way on which a sender's packets come: from where, by what rows they are cut, and what the origin of one is. */
export interface Entrance {
  readonly origin: Origin;
  readonly sources: readonly AddressRange[];
  readonly destinations: readonly AddressRange[];
  readonly rows: readonly PacketRow[];
  /** How a question to Ask names the sender of a packet. */
  readonly asks: (box: PacketBox) => { readonly from: string; readonly to: string };
}

const everywhere: readonly AddressRange[] = [everyAddress(4), everyAddress(6)];

/** Rows of the stages after the source check, which has been passed. */
const rowsOf = (router: Router, ingress: Side): PacketRow[] =>
  router.stages.filter(({ name }) => name !== 'source check').flatMap((stage) => [...stage.rows(ingress)]);

/** The sources that pass the source check, which looks at nothing else. */
function accepted(router: Router, ingress: Side, sources: readonly AddressRange[]): AddressRange[] {
  const check = router.stages.find(({ name }) => name === 'source check')!;
  const rows = check.rows(ingress);
  return joinRanges(
    sources
      .flatMap((whole) => bundlesBetween([whole], [{ ...whole, last: whole.first }], rows))
      .flatMap(({ protocol, sources: pieces }) => (protocol === 'icmp' ? pieces : []))
      .filter(({ family, first }) => {
        const header = { ...anyHeader, source: { family, value: first } };
        return !check.decide({ ...nothingYet, ingress, header })?.stop;
      }),
  );
}

const anyHeader: Omit<Header, 'source'> = {
  protocol: 'icmp',
  sourcePort: 0,
  destination: { family: 4, value: 0n },
  destinationPort: 0,
  sizeBytes: 60,
};
const nothingYet = { forward: undefined, hairpin: undefined, route: undefined, egress: undefined };

const asAddress = ({ destination: { family, first } }: PacketBox): string =>
  formatAddress({ family, value: first });

const asSource = ({ source: { family, first } }: PacketBox): string =>
  formatAddress({ family, value: first });

/** What second routers hand on, and devices that the cabling puts elsewhere: what is sent there fares differently. */
const arrivalRows = (site: Site): PacketRow[] => [
  ...site.second.filter(isChained).flatMap(({ address, forwards, inside }): PacketRow[] => {
    const destination = single(address);
    return [
      { destination },
      { destination: rangeOf(inside.prefix) },
      ...forwards.map(({ protocol, outside }) => ({
        destination,
        protocols: protocol === 'both' ? (['tcp', 'udp'] as const) : [protocol],
        ports: outside,
      })),
    ];
  }),
  ...[...misplaced(site).keys()].flatMap(({ address }) =>
    address ? [{ destination: single(address) }] : [],
  ),
];

/** Where a packet that has left the router may still end: the edges at which that changes. */
const beyondRows = (site: Site): PacketRow[] => [
  ...arrivalRows(site),
  ...specialPrefixes.map((prefix) => ({ destination: rangeOf(prefix) })),
  // No host has the first and the last address of a subnet.
  ...[...subnetEdges(site)].map((key) => ({ destination: single(addressOfKey(key)) })),
  ...site.lines.flatMap(({ lineAddress, publicAddress, box }) => [
    { destination: single(lineAddress) },
    { destination: single(publicAddress) },
    ...(box?.prefix ? [{ destination: rangeOf(box.prefix) }] : []),
  ]),
];

/** The ways on which the packets of a sender come while these lines are down. */
export function entrancesOf(
  site: Site,
  sender: Sender,
  router: Router,
  down: ReadonlySet<string>,
): Entrance[] {
  switch (sender.kind) {
    case 'internet':
      return site.lines.filter(({ id }) => !down.has(id)).map((line) => fromLine(site, line, router));
    case 'network':
      return fromNetwork(site, sender.network, router);
    case 'group': {
      const peer = site.vpn.peers.find((each) => !each.revoked && each.group === sender.group);
      return peer ? fromClient(site, peer, router) : [];
    }
    case 'site':
      return [fromSite(site, sender.far, router)];
  }
}

/**
 * From the internet a packet is aimed at the address of a line; the device in front and the router give it another
 * destination, so the rows at the router's address there are rows at that of the line.
 */
function fromLine(site: Site, line: Line, router: Router): Entrance {
  const at = line.address;
  const holds = ({ family, first, last }: AddressRange): boolean =>
    family === at.family && first <= at.value && at.value <= last;
  return {
    origin: { kind: 'outside', name: 'internet', line },
    sources: accepted(router, { kind: 'line', line }, [everyAddress(line.publicAddress.family)]),
    destinations: [single(line.publicAddress)],
    rows: [
      ...rowsOf(router, { kind: 'line', line }).flatMap(({ destination, ...row }) =>
        !destination || holds(destination) ? [row] : [],
      ),
      // A second router cuts the ports of the forwards that lead to it.
      ...turnedRound(site, arrivalRows(site)).flatMap(({ destination, ...row }) =>
        destination && holds(destination) ? [row] : [],
      ),
      ...(line.box?.forwards ?? []).map(({ protocol, ports }) => ({
        protocols: protocol === 'both' ? (['tcp', 'udp'] as const) : [protocol],
        ports,
      })),
      // Other ports of a shared address are another subscriber's.
      ...(line.ownPorts ?? []).map((ports) => ({ protocols: ['tcp', 'udp'] as const, ports })),
    ],
    asks: ({ source: { family, first } }) => ({
      from: formatAddress({ family, value: first }),
      to: slug(line.name),
    }),
  };
}

function fromNetwork(site: Site, network: Network, router: Router): Entrance[] {
  const { prefix } = network;
  if (!prefix) return [];
  const rows = [
    ...rowsOf(router, { kind: 'network', network }),
    ...beyondRows(site),
    ...roundByInternet(site, router),
  ];
  const apart = apartOn(site, network);
  const wired = apart ? wiredOn(site, network).map(single) : [];
  const entrance = (sources: readonly AddressRange[], joined: typeof apart): Entrance => ({
    origin: { kind: 'inside', network, name: network.name, apart: joined },
    sources: accepted(router, { kind: 'network', network }, sources),
    destinations: everywhere.filter(({ family }) => family === prefix.family),
    rows: [...rows, ...turnedRound(site, rows), ...wired.map((destination) => ({ destination }))],
    asks: (box) => ({
      from: apart && !joined ? asSource(box) : neighbourOf(network, box),
      to: asAddress(box),
    }),
  });
  return [
    entrance(subtractRanges([rangeOf(prefix)], wired), apart),
    ...(wired.length > 0 ? [entrance(wired, undefined)] : []),
  ];
}

/** The network by its name; a neighbour of the destination by an address, for it could be the destination itself. */
function neighbourOf({ name, prefix }: Network, { destination }: PacketBox): string {
  if (!prefix || destination.first < prefix.first || prefix.last < destination.first) return slug(name);
  const { first, last } = hostsOf(prefix);
  return formatAddress(last.value === destination.first ? first : last);
}

/**
 * The outside address of a device in front is somebody on the internet to the router: what is sent there goes round by
 * the internet and comes back over that line, where the rows at the router's address there cut its ports.
 */
const roundByInternet = (site: Site, router: Router): PacketRow[] =>
  site.lines.flatMap((line): PacketRow[] => {
    if (!line.box?.routes || !line.publicAddressKnown) return [];
    const destination = single(line.publicAddress);
    return fromLine(site, line, router).rows.flatMap(({ protocols, ports }) =>
      ports ? [{ destination, ports, ...(protocols && { protocols }) }] : [],
    );
  });

/** Behind a forward that is used from inside, rows about its device cut the ports of the forward as well. */
function turnedRound(site: Site, rows: readonly PacketRow[]): PacketRow[] {
  const withPorts = rows.filter(({ destination, ports }) => destination && ports);
  const about = new Map<bigint, PacketRow[]>();
  const wide: PacketRow[] = [];
  for (const row of withPorts) {
    const { first, last } = row.destination!;
    if (first === last) about.set(first, [...(about.get(first) ?? []), row]);
    else wide.push(row);
  }
  return site.forwards.flatMap(({ line, device, inside, outside }) => {
    const host = device?.address;
    if (!line || !host || !inside || !outside) return [];
    const destination = single(line.address);
    const shift = outside.first - inside.first;
    return [...(about.get(host.value) ?? []), ...wide.filter((row) => inRange(row.destination!, host))]
      .flatMap(({ ports, protocols }): PacketRow[] => [
        {
          destination,
          ...(protocols && { protocols }),
          ports: { first: Math.max(1, ports!.first + shift), last: Math.min(65535, ports!.last + shift) },
        },
      ])
      .concat(
        // More ports outside than inside: the rest all go to the last one.
        [{ destination, ports: { first: outside.first, last: Math.min(outside.last, inside.last + shift) } }],
      )
      .filter(({ ports }) => ports!.first <= ports!.last);
  });
}

function fromClient(site: Site, peer: Peer, router: Router): Entrance[] {
  const rows = [
    ...rowsOf(router, { kind: 'client', peer }),
    ...beyondRows(site),
    ...roundByInternet(site, router),
  ];
  return [peer.address, peer.address6].flatMap((host) =>
    host
      ? [
          {
            origin: { kind: 'client', peer, name: peer.name },
            sources: [single(host)],
            destinations: everywhere.filter(({ family }) => family === host.family),
            rows: [...rows, ...turnedRound(site, rows)],
            asks: (box) => ({ from: slug(peer.name), to: asAddress(box) }),
          },
        ]
      : [],
  );
}

function fromSite(site: Site, far: FarSite, router: Router): Entrance {
  const ingress: Side = { kind: 'tunnel', far };
  const rows = [...rowsOf(router, ingress), ...beyondRows(site)];
  return {
    origin: { kind: 'site', far, name: far.name },
    sources: accepted(router, ingress, far.prefixes.map(rangeOf)),
    destinations: everywhere,
    rows: [...rows, ...asSeenFrom(far, rows)],
    asks: (box) => ({ from: slug(far.name), to: asAddress(box) }),
  };
}

/** Another site knows a subnet of this one as another: rows about the real one are rows about that. */
const asSeenFrom = (far: FarSite, rows: readonly PacketRow[]): PacketRow[] =>
  far.translations
    .filter(({ of, real, seen }) => of === 'here' && real.length === seen.length)
    .flatMap(({ real, seen }) =>
      rows.flatMap((row): PacketRow[] => {
        const { destination } = row;
        if (!destination || destination.family !== real.family) return [];
        const first = destination.first > real.first ? destination.first : real.first;
        const last = destination.last < real.last ? destination.last : real.last;
        const shift = seen.first - real.first;
        return first <= last
          ? [{ ...row, destination: { ...destination, first: first + shift, last: last + shift } }]
          : [];
      }),
    );
