import { factAt, factText } from '../../wan-types/facts.ts';
import type { At } from '../../plan/at.ts';
import { formatAddress, parseAddress, sameAddress, type Address } from '../../base/net/address.ts';
import { parseCardNumber } from '../../base/net/identifiers.ts';
import { parseMac } from '../../base/net/mac.ts';
import { contains } from '../../base/net/prefix.ts';
import { valueOf } from '../../base/result.ts';
import type { Device, Line, Network, Site } from '../../site/model.ts';
import type { Second } from '../../site/second.ts';
import type { Peer } from '../../site/vpn.ts';
import { slug } from '../../base/text.ts';

/** What only one thing on a site can have. */
export type Unique = 'address' | 'mac' | 'key' | 'vlan' | 'name' | 'serial' | 'sim';

/** A statement of the plan that a thing has an address, a key, a name. */
export interface Holder {
  readonly what: Unique;
  /** Holders meet within one scope only: the inside, or one line. */
  readonly scope: string;
  /** In its one way of writing. */
  readonly value: string;
  /** The thing: two statements about one thing do not contradict each other. */
  readonly thing: string;
  readonly name: string;
  /** Pointer of the field. */
  readonly at: At;
  /** Who gives way, where something has to: the router stays, a client of the tunnel moves. */
  readonly kind: 'router' | 'in-front' | 'kit' | 'device' | 'network' | 'line' | 'peer' | 'site';
  readonly device?: Device;
  readonly network?: Network;
  readonly peer?: Peer;
  readonly address?: Address;
}

/** Everything that the plan gives to somebody and nobody else may have. */
export const holdersOf = (site: Site): Holder[] => [
  ...ofRouter(site),
  ...site.lines.flatMap((line, index) => ofLine(line, site.lines.slice(0, index))),
  ...site.networks.flatMap((network) => ofNetwork(site, network)),
  ...ofKit(site),
  ...pagesOf(site),
  ...site.devices.flatMap(ofDevice),
  ...site.second.flatMap((second) => ofSecond(site, second)),
  ...(site.vpn.way === 'none'
    ? []
    : [...site.vpn.peers.flatMap((peer) => ofPeer(site, peer)), ...ofSites(site)]),
];

const inside = 'inside';

const addressOf = (host: Address | undefined, rest: Omit<Holder, 'what' | 'value' | 'address'>): Holder[] =>
  host ? [{ ...rest, what: 'address', value: formatAddress(host), address: host }] : [];

/** A name as questions have it; nothing where none was typed. */
const nameOf = (typed: boolean, rest: Omit<Holder, 'what' | 'value' | 'scope'>): Holder[] =>
  typed && slug(rest.name) !== '' ? [{ ...rest, what: 'name', scope: inside, value: slug(rest.name) }] : [];

const keyOf = (key: string, rest: Omit<Holder, 'what' | 'value' | 'scope'>): Holder[] =>
  key.trim() === '' ? [] : [{ ...rest, what: 'key', scope: inside, value: key.trim() }];

const router = { thing: 'router', name: 'the router', kind: 'router', scope: inside } as const;

function ofRouter({ vpn, networks }: Site): Holder[] {
  return [
    ...networks.flatMap((network) =>
      addressOf(network.routerAddress, { ...router, at: `${network.at}/routerAddress`, network }),
    ),
    ...(vpn.way === 'wireguard'
      ? [
          ...addressOf(vpn.routerAddress, { ...router, at: '/vpn/pool' }),
          ...addressOf(vpn.routerAddress6, { ...router, at: '/vpn/pool6' }),
        ]
      : []),
    ...keyOf(vpn.publicKey, { ...router, at: '/vpn/publicKey' }),
  ];
}

function ofLine(line: Line, before: readonly Line[]): Holder[] {
  const { box, at, name } = line;
  // Lines that share a subnet are one mistake, and not one for each address.
  const shared = before.some(({ prefix }) => prefix && line.addressKnown && contains(prefix, line.address));
  const scope = `line ${line.id}`;
  return [
    ...addressOf(box?.routes ? box.address : undefined, {
      thing: `box ${line.id}`,
      name: box?.name ?? '',
      kind: 'in-front',
      scope,
      at: `${at}/handoff/insideAddress`,
    }),
    ...addressOf(line.addressKnown && !shared ? line.address : undefined, {
      thing: 'router',
      name: 'the router',
      kind: 'line',
      scope,
      at: line.addressAt,
    }),
    ...nameOf(!line.unnamed, { thing: at, name, at: `${at}/name` as const, kind: 'line' }),
    ...simOf(line),
  ];
}

function simOf(line: Line): Holder[] {
  const { name, at, id } = line;
  const number = valueOf(parseCardNumber(factText(line, 'cardNumber')));
  return number === undefined
    ? []
    : [
        {
          what: 'sim',
          scope: inside,
          value: number,
          thing: `line ${id}`,
          name,
          at: factAt(line, 'cardNumber') ?? at,
          kind: 'line',
        },
      ];
}

function ofNetwork({ problems }: Site, network: Network): Holder[] {
  const { at, name, vlan } = network;
  const own = { thing: at, name, kind: 'network', network } as const;
  return [
    ...nameOf(!network.unnamed, { ...own, at: `${at}/name` }),
    // A value that is no VLAN ID is a finding of its own, and not "untagged".
    ...(problems.some((each) => each.at === `${at}/vlan`)
      ? []
      : [
          {
            ...own,
            what: 'vlan',
            scope: inside,
            value: vlan === null ? 'untagged' : String(vlan),
            at: `${at}/vlan`,
          } as const,
        ]),
  ];
}

/**
 * Where equipment answers inside or before a line. What is the device in front of a line, or a device that is listed
 * with its address, is said twice and not held twice.
 */
function pagesOf({ kit, router: { kit: main }, networks, lines, devices }: Site): Holder[] {
  return kit.flatMap((item, index): Holder[] => {
    const host = valueOf(parseAddress(item.adminAddress));
    if (!host || item === main) return [];
    const inFront = lines.some(({ box }) => box?.address && sameAddress(box.address, host));
    const here = networks.some(({ prefix }) => prefix && contains(prefix, host));
    const mac = valueOf(parseMac(item.mac));
    const listed = devices.some(
      (device) =>
        device.address &&
        sameAddress(device.address, host) &&
        !(mac && device.mac && mac.text !== device.mac.text),
    );
    return inFront || listed || !here
      ? []
      : addressOf(host, {
          thing: `/kit/${index}`,
          name: item.model || `${item.role} ${index + 1}`,
          kind: 'kit',
          scope: inside,
          at: `/kit/${index}/adminAddress`,
        });
  });
}

function ofKit({ kit, router: { kit: main } }: Site): Holder[] {
  return kit.flatMap((item, index): Holder[] => {
    const at = `/kit/${index}` as const;
    const own = {
      scope: inside,
      thing: item === main ? 'router' : at,
      name: item.model || `${item.role} ${index + 1}`,
      kind: 'kit',
    } as const;
    const mac = valueOf(parseMac(item.mac));
    const serial = item.serial.trim().toUpperCase();
    return [
      ...(mac ? [{ ...own, what: 'mac', value: mac.text, at: `${at}/mac` } as const] : []),
      ...(serial === '' ? [] : [{ ...own, what: 'serial', value: serial, at: `${at}/serial` } as const]),
    ];
  });
}

/** A second router in the network of the first. Listed as a device too, so that forwards can lead to it, it is said twice. */
function ofSecond({ devices }: Site, { at, address, name, box, network }: Second): Holder[] {
  const mac = box && valueOf(parseMac(box.mac));
  const listed = devices.some(
    (device) =>
      address &&
      device.address &&
      sameAddress(device.address, address) &&
      (mac && device.mac ? mac.text === device.mac.text : slug(device.name) === slug(name)),
  );
  return listed || !network
    ? []
    : addressOf(address, { thing: at, name, kind: 'kit', scope: inside, at: `${at}/address` });
}

function ofDevice(device: Device): Holder[] {
  const { at, name, mac } = device;
  const own = { scope: inside, thing: at, name, kind: 'device', device } as const;
  return [
    ...nameOf(!device.unnamed, { ...own, at: `${at}/name` }),
    ...addressOf(device.address, { ...own, at: `${at}/address` }),
    ...(mac ? [{ ...own, what: 'mac', value: mac.text, at: `${at}/mac` } as const] : []),
  ];
}

function ofPeer({ vpn }: Site, peer: Peer): Holder[] {
  if (peer.revoked) return [];
  const { at, name } = peer;
  const own = { thing: at, name, kind: 'peer', peer } as const;
  return [
    ...nameOf(peer.person !== '' || peer.deviceName !== '', { ...own, at: `${at}/name` }),
    ...(vpn.way === 'wireguard'
      ? [
          ...addressOf(peer.address, { ...own, scope: inside, at: `${at}/address` }),
          ...addressOf(peer.address6, { ...own, scope: inside, at: `${at}/address6` }),
          ...keyOf(peer.publicKey, { ...own, at: `${at}/publicKey` }),
          ...keyOf(peer.oldKey, { ...own, at: `${at}/oldKey` }),
        ]
      : []),
  ];
}

const ofSites = ({ vpn }: Site): Holder[] =>
  vpn.sites.flatMap((far) => {
    const { at, name } = far;
    const own = { thing: at, name, kind: 'site' } as const;
    return [
      ...nameOf(true, { ...own, at: `${at}/name` }),
      ...addressOf(far.address, { ...own, scope: inside, at: `${at}/address` }),
      ...keyOf(far.publicKey, { ...own, at: `${at}/publicKey` }),
    ];
  });
