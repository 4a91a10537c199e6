import { once, onceWhile } from '../../base/once.ts';
import { factAt, factText } from '../../wan-types/facts.ts';
import type { At } from '../../plan/at.ts';
import { formatAddress, parseAddress, sameAddress, type Address } from '../../base/net/address.ts';
import { parseCardNumber } from '../../base/net/identifiers.ts';
import { parseMac } from '../../base/net/mac.ts';
import { contains } from '../../base/net/prefix.ts';
import { valueOf } from '../../base/result.ts';
import type { Device, Kit, Line, Network, Site } from '../../site/model.ts';
import type { Second } from '../../site/second.ts';
import type { Peer, Vpn } from '../../site/vpn.ts';
import { slug } from '../../base/text.ts';

/** What only one thing on a site can have. */
export type Unique = 'address' | 'mac' | 'key' | 'vlan' | 'name' | 'serial' | 'sim';

/** A statement of the plan that a thing has an address, a key, a name. */
export interface Holder {
  readonly what: Unique;
  /** Holders meet within one scope only: the inside, or one line. */
  readonly scope: string;
  /** The same for all who claim one thing. */
  readonly key: string;
  /** In its one way of writing. */
  readonly value: string;
  /** The thing: two statements about one thing do not contradict each other. */
  readonly thing: string;
  readonly name: string;
  /** Pointer of the field. */
  readonly at: At;
  /** Who gives way, where something has to: the router stays, a client of the tunnel moves. */
  readonly kind: 'router' | 'in-front' | 'kit' | 'device' | 'network' | 'line' | 'peer' | 'site';
  readonly device: Device | undefined;
  readonly network: Network | undefined;
  readonly peer: Peer | undefined;
  readonly address: Address | undefined;
}

/** Everything that the plan gives to somebody and nobody else may have. */
export const holdersOf = (site: Site): Holder[] => [
  ...ofRouter(site),
  ...site.lines.flatMap((line, index) => ofLine(line, site.lines.slice(0, index))),
  ...site.networks.flatMap((network) => ofNetwork(site, network)),
  ...ofKit(site),
  ...pagesOf(site),
  ...site.devices.flatMap((device) => ofDevice(device)),
  ...site.second.flatMap((second) => ofSecond(site, second)),
  ...(site.vpn.way === 'none'
    ? []
    : [...site.vpn.peers.flatMap((peer) => ofPeer(peer, site.vpn.way)), ...ofSites(site)]),
];

const inside = 'inside';

/** The thing that holds something. */
type Owner = Pick<Holder, 'thing' | 'name' | 'kind'> & Partial<Pick<Holder, 'device' | 'network' | 'peer'>>;

/** Every holder has the same members in the same order: thousands are made at every keystroke. */
const holder = (
  what: Unique,
  value: string,
  { thing, name, kind, device, network, peer }: Owner,
  at: At,
  scope = inside,
  address?: Address,
): Holder => ({
  what,
  scope,
  key: `${what} ${scope} ${value}`,
  value,
  thing,
  name,
  at,
  kind,
  device,
  network,
  peer,
  address,
});

const addressOf = (host: Address | undefined, owner: Owner, at: At, scope = inside): Holder[] =>
  host ? [holder('address', formatAddress(host), owner, at, scope, host)] : [];

const macOf = (mac: { readonly text: string } | undefined, owner: Owner, at: At): Holder[] =>
  mac ? [holder('mac', mac.text, owner, at)] : [];

/** A name as questions have it; nothing where none was typed. */
function nameOf(typed: boolean, owner: Owner, at: At): Holder[] {
  const value = typed ? slug(owner.name) : '';
  return value === '' ? [] : [holder('name', value, owner, at)];
}

const keyOf = (key: string, owner: Owner, at: At): Holder[] =>
  key.trim() === '' ? [] : [holder('key', key.trim(), owner, at)];

const router: Owner = { thing: 'router', name: 'the router', kind: 'router' };

function ofRouter({ vpn, networks }: Site): Holder[] {
  return [
    ...networks.flatMap((network) =>
      addressOf(network.routerAddress, { ...router, network }, `${network.at}/routerAddress`),
    ),
    ...(vpn.way === 'wireguard'
      ? [
          ...addressOf(vpn.routerAddress, router, '/vpn/pool'),
          ...addressOf(vpn.routerAddress6, router, '/vpn/pool6'),
        ]
      : []),
    ...keyOf(vpn.publicKey, router, '/vpn/publicKey'),
  ];
}

function ofLine(line: Line, before: readonly Line[]): Holder[] {
  const { box, at, name, id } = line;
  // Lines that share a subnet are one mistake, and not one for each address.
  const shared = before.some(({ prefix }) => prefix && line.addressKnown && contains(prefix, line.address));
  const scope = `line ${id}`;
  const card = valueOf(parseCardNumber(factText(line, 'cardNumber')));
  return [
    ...addressOf(
      box?.routes ? box.address : undefined,
      { thing: `box ${id}`, name: box?.name ?? '', kind: 'in-front' },
      `${at}/handoff/insideAddress`,
      scope,
    ),
    ...addressOf(
      line.addressKnown && !shared ? line.address : undefined,
      { ...router, kind: 'line' },
      line.addressAt,
      scope,
    ),
    ...nameOf(!line.unnamed, { thing: at, name, kind: 'line' }, `${at}/name`),
    ...(card === undefined
      ? []
      : [holder('sim', card, { thing: scope, name, kind: 'line' }, factAt(line, 'cardNumber') ?? at)]),
  ];
}

function ofNetwork({ problems }: Site, network: Network): Holder[] {
  const { at, name, vlan } = network;
  const owner: Owner = { thing: at, name, kind: 'network', network };
  return [
    ...nameOf(!network.unnamed, owner, `${at}/name`),
    // A value that is no VLAN ID is a finding of its own, and not "untagged".
    ...(problems.some((each) => each.at === `${at}/vlan`)
      ? []
      : [holder('vlan', vlan === null ? 'untagged' : String(vlan), owner, `${at}/vlan`)]),
  ];
}

const kitName = ({ model, role }: Kit, index: number): string => model || `${role} ${index + 1}`;

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
      : addressOf(
          host,
          { thing: `/kit/${index}`, name: kitName(item, index), kind: 'kit' },
          `/kit/${index}/adminAddress`,
        );
  });
}

function ofKit({ kit, router: { kit: main } }: Site): Holder[] {
  return kit.flatMap((item, index): Holder[] => {
    const at = `/kit/${index}` as const;
    const owner: Owner = {
      thing: item === main ? 'router' : at,
      name: kitName(item, index),
      kind: 'kit',
    };
    const serial = item.serial.trim().toUpperCase();
    return [
      ...macOf(valueOf(parseMac(item.mac)), owner, `${at}/mac`),
      ...(serial === '' ? [] : [holder('serial', serial, owner, `${at}/serial`)]),
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
  return listed || !network ? [] : addressOf(address, { thing: at, name, kind: 'kit' }, `${at}/address`);
}

const ofDevice = once((device: Device): readonly Holder[] => {
  const { at, name, mac } = device;
  const owner: Owner = { thing: at, name, kind: 'device', device };
  return [
    ...nameOf(!device.unnamed, owner, `${at}/name`),
    ...addressOf(device.address, owner, `${at}/address`),
    ...macOf(mac, owner, `${at}/mac`),
  ];
});

const ofPeer = onceWhile((peer: Peer, way: Vpn['way']): readonly Holder[] => {
  if (peer.revoked) return [];
  const { at, name } = peer;
  const owner: Owner = { thing: at, name, kind: 'peer', peer };
  const named = nameOf(peer.person !== '' || peer.deviceName !== '', owner, `${at}/name`);
  return way === 'wireguard'
    ? [
        ...named,
        ...addressOf(peer.address, owner, `${at}/address`),
        ...addressOf(peer.address6, owner, `${at}/address6`),
        ...keyOf(peer.publicKey, owner, `${at}/publicKey`),
        ...keyOf(peer.oldKey, owner, `${at}/oldKey`),
      ]
    : named;
});

const ofSites = ({ vpn }: Site): Holder[] =>
  vpn.sites.flatMap((far) => {
    const { at, name } = far;
    const owner: Owner = { thing: at, name, kind: 'site' };
    return [
      ...nameOf(true, owner, `${at}/name`),
      ...addressOf(far.address, owner, `${at}/address`),
      ...keyOf(far.publicKey, owner, `${at}/publicKey`),
    ];
  });
