import { address, formatAddress, parseAddress } from '../../base/net/address.ts';
import {
  contains,
  formatPrefix,
  hostsOf,
  overlaps,
  parsePrefix,
  prefixAround,
  roleIn,
  type Prefix,
} from '../../base/net/prefix.ts';
import { deviceSchema, networkSchema, type DevicePlan, type NetworkPlan } from '../../plan/schema.ts';
import { valueOf } from '../../base/result.ts';
import type { DeviceFacts, Facts, NetworkFacts, Purpose, Said } from '../../intake/letter/facts.ts';
import type { Told } from './plan.ts';

/** A purpose without a name of its own in the text. */
const usualNames: Readonly<Record<Purpose, string>> = {
  staff: 'Office',
  payment: 'Tills',
  cameras: 'Cameras',
  voice: 'Telephones',
  plant: 'Plant',
  guests: 'Guests',
  management: 'Management',
  other: 'Other',
};
/** In which order networks stand, and get their VLANs. */
const order: readonly Purpose[] = [
  'staff',
  'payment',
  'voice',
  'plant',
  'cameras',
  'guests',
  'management',
  'other',
];

/** More devices of one kind than this are a figure, no rows. */
const mostRows = 50;
/** Guests come and go: their leases are short (common practice, no source). */
const guestLeaseMinutes = 120;

/** Where a private block of the site's own begins: by its name, away from the blocks that boxes come with. */
function ownSpace(name: string): Prefix {
  let hash = 0x811c9dc5;
  for (const letter of name.toLowerCase()) hash = Math.imul(hash ^ letter.codePointAt(0)!, 0x01000193) >>> 0;
  // 10.16 to 10.239: home routers and far ends of tunnels mostly have lower or higher ones (common practice, no source).
  return prefixAround(address(4, (10n << 24n) | (BigInt(16 + (hash % 224)) << 16n)), 16);
}

/** Length of a subnet with room for twice the devices that are expected, /24 at least. */
function lengthFor(devices: number): number {
  let length = 24;
  while (length > 20 && 2 ** (32 - length) - 2 < devices * 2) length -= 1;
  return length;
}

/** The networks that were named, and those that the devices need. */
function wantedNetworks(facts: Facts): NetworkFacts[] {
  const wanted = facts.networks.map((network) => ({ ...network }));
  const add = (purpose: Purpose, from: string): void => {
    if (!wanted.some((each) => each.purpose === purpose))
      wanted.push({ key: purpose, name: { value: usualNames[purpose], from }, purpose });
  };
  if (!wanted.some(({ purpose }) => purpose === 'staff'))
    add('staff', 'Usual value: a network for the people of the site, from which the router is managed.');
  for (const device of facts.devices)
    if (device.purpose !== 'other') add(device.purpose, `For ${device.name.value}. ${device.name.from}`);
  return wanted.sort((a, b) => order.indexOf(a.purpose) - order.indexOf(b.purpose));
}

export interface Inside {
  readonly networks: NetworkPlan[];
  readonly devices: DevicePlan[];
}

/** Networks with their addresses laid out, and the devices in them. `taken` is what stands in front of the router. */
export function insideOf(
  facts: Facts,
  { name, taken, newId, tell }: { name: string; taken: readonly Prefix[]; newId: () => string; tell: Told },
): Inside {
  const space = ownSpace(name);
  const wanted = wantedNetworks(facts);
  const used: Prefix[] = [
    ...taken,
    ...wanted.flatMap(({ prefix }) => (prefix ? (valueOf(parsePrefix(prefix.value)) ?? []) : [])),
  ];
  const vlans = new Set(wanted.flatMap(({ vlan }) => vlan?.value ?? []));
  const old = wanted.length === 1 && wanted[0]!.prefix !== undefined && !wanted[0]!.vlan;
  let next = 10;
  const networks = wanted.map((network) => {
    while (!network.vlan && vlans.has(next)) next += 10;
    const vlan = network.vlan?.value ?? (old ? null : next);
    if (vlan !== null) vlans.add(vlan);
    return networkOf(network, vlan, { space, used, newId, tell });
  });
  return { networks, devices: devicesOf(facts, networks, { newId, tell }) };
}

function networkOf(
  facts: NetworkFacts,
  vlan: number | null,
  { space, used, newId, tell }: { space: Prefix; used: Prefix[]; newId: () => string; tell: Told },
): NetworkPlan {
  const id = newId();
  const at = `/networks/${id}` as const;
  const said = <T>(fact: Said<T> | undefined, place: string, usual: string): T | undefined => {
    tell(`${at}/${place}`, fact?.from ?? usual);
    return fact?.value;
  };
  const given = facts.prefix && valueOf(parsePrefix(facts.prefix.value));
  const length = lengthFor(facts.expectedDevices?.value ?? 0);
  const prefix = given ?? freeWithin(space, length, vlan ?? 10, used);
  if (!given) used.push(prefix);
  said(
    facts.prefix,
    'prefix',
    `Usual value: a free /${length} of ${formatPrefix(space)}, a private block of this site's own, with the VLAN ID in its third part.`,
  );
  said(facts.vlan, 'vlan', 'Usual value: the next free VLAN ID in steps of ten.');
  tell(`${at}/name`, facts.name.from);
  const hosts = hostsOf(prefix);
  const host = (offset: bigint): string => formatAddress(address(4, hosts.first.value + offset));
  const named = facts.routerAddress && valueOf(parseAddress(facts.routerAddress.value));
  const router =
    named && roleIn(prefix, named) === 'host' ? formatAddress(named) : formatAddress(hosts.first);
  said(facts.routerAddress, 'routerAddress', 'Usual value: the first address of the subnet.');
  const wide = hosts.count >= 250n;
  const within = (text: string | undefined): string | undefined => {
    const found = text === undefined ? undefined : valueOf(parseAddress(text));
    return found && contains(prefix, found) ? text : undefined;
  };
  const poolFrom = within(facts.poolFrom?.value) ?? host(wide ? 99n : hosts.count / 2n);
  const poolTo =
    within(facts.poolTo?.value) ??
    (hosts.count > 254n ? host(hosts.count - 2n) : wide ? host(198n) : host(hosts.count - 1n));
  said(facts.poolFrom, 'dhcp/from', 'Usual value: room for fixed addresses below the DHCP pool.');
  if (facts.limitMbps) tell(`${at}/limitDownMbps`, facts.limitMbps.from);
  if (facts.expectedDevices) tell(`${at}/expectedDevices`, facts.expectedDevices.from);
  return networkSchema.parse({
    id,
    name: facts.name.value,
    purpose: facts.purpose,
    vlan,
    prefix: formatPrefix(prefix),
    routerAddress: router,
    dhcp: {
      from: poolFrom,
      to: poolTo,
      ...(facts.purpose === 'guests' && { leaseMinutes: guestLeaseMinutes }),
    },
    resolvers: [router],
    expectedDevices: facts.expectedDevices?.value ?? null,
    limitDownMbps: facts.limitMbps?.value ?? null,
  });
}

/** A free block of the site's own space, with the VLAN ID as its third part where that is free. */
function freeWithin(space: Prefix, length: number, vlan: number, used: readonly Prefix[]): Prefix {
  const size = 1n << BigInt(32 - length);
  const wanted = vlan < 256 ? BigInt(vlan) << 8n : 0n;
  for (let step = 0n; step < 1n << BigInt(length - space.length); step += 1n) {
    const offset =
      (wanted - (wanted % size) + (wanted % size === 0n ? 0n : size) + step * size) % (1n << 16n);
    const found = prefixAround(address(4, space.first + offset), length);
    if (!used.some((prefix) => overlaps(prefix, found))) return found;
  }
  return prefixAround(address(4, space.first), length);
}

/** Rows of devices: those with a MAC address keep an address of their own. */
function devicesOf(
  facts: Facts,
  networks: readonly NetworkPlan[],
  { newId, tell }: { newId: () => string; tell: Told },
): DevicePlan[] {
  const home = (device: DeviceFacts): NetworkPlan => {
    const host = device.address && valueOf(parseAddress(device.address.value));
    const holding = networks.find(({ prefix }) => {
      const parsed = valueOf(parsePrefix(prefix));
      return host && parsed && contains(parsed, host);
    });
    return holding ?? networks.find(({ purpose }) => purpose === device.purpose) ?? networks[0]!;
  };
  const taken = new Set<string>(networks.map(({ routerAddress }) => routerAddress));
  for (const { address } of facts.devices) if (address) taken.add(address.value);
  const rows: DevicePlan[] = [];
  for (const device of facts.devices) {
    if (device.count > mostRows) continue;
    const network = home(device);
    const prefix = valueOf(parsePrefix(network.prefix));
    const host = device.address && valueOf(parseAddress(device.address.value));
    const fits = host !== undefined && prefix !== undefined && roleIn(prefix, host) === 'host';
    for (let number = 1; number <= device.count; number += 1) {
      const kept = device.reserved || device.mac !== undefined;
      const own = fits ? formatAddress(host) : kept ? freeHost(network, taken) : '';
      if (own !== '') taken.add(own);
      const id = newId();
      tell(`/devices/${id}/name`, device.name.from);
      if (kept && !fits)
        tell(
          `/devices/${id}/address`,
          `Usual value: a free address of ${network.name}, below its DHCP pool.`,
        );
      rows.push(
        deviceSchema.parse({
          id,
          name: (device.count > 1 ? `${device.name.value} ${number}` : device.name.value).slice(0, 200),
          mac: device.mac?.value ?? '',
          network: network.id,
          addressing: own === '' ? 'automatic' : device.mac ? 'reserved' : 'fixed',
          address: own,
        }),
      );
    }
  }
  return rows;
}

/** A free address for a device that keeps it: outside the DHCP pool, from the tenth on where there is room. */
export function freeHost(
  network: Pick<NetworkPlan, 'prefix' | 'routerAddress' | 'dhcp'>,
  taken: ReadonlySet<string>,
): string {
  const prefix = valueOf(parsePrefix(network.prefix));
  if (!prefix) return '';
  const { first, last } = hostsOf(prefix);
  const [from, to] = [network.dhcp.from, network.dhcp.to].map((text) => valueOf(parseAddress(text))?.value);
  const free = (value: bigint): boolean =>
    !(from !== undefined && to !== undefined && value >= from && value <= to) &&
    formatAddress(address(4, value)) !== network.routerAddress &&
    !taken.has(formatAddress(address(4, value)));
  for (const begin of [first.value + 9n, first.value])
    for (let value = begin; value <= last.value && value < begin + 4096n; value += 1n)
      if (free(value)) return formatAddress(address(4, value));
  return '';
}
