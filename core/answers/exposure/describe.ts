import { address, addressKey, formatAddress } from '../../base/net/address.ts';
import type { PacketBox } from '../../base/net/packet-set.ts';
import { formatPorts } from '../../base/net/ports.ts';
import { hostsOf } from '../../base/net/prefix.ts';
import { formatRange, prefixesOf, type AddressRange } from '../../base/net/range.ts';
import { formatPrefix } from '../../base/net/prefix.ts';
import type { Reached } from '../path/packet.ts';
import type { Network, Site } from '../../site/model.ts';
import type { Passing } from './exposure.ts';

/** Where packets arrive, by its name. */
export function reachedName(reached: Reached): string {
  switch (reached.kind) {
    case 'network':
      return reached.network.name;
    case 'site':
      return reached.far.name;
    case 'router':
      return 'the router';
    case 'internet':
      return 'the internet';
    case 'in-front':
      return `the subnet in front of ${reached.line.name}`;
  }
}

/** What of a network a range of addresses is: a device, all of it, or the addresses. */
export function hostsText(site: Site, { name, prefix, routerAddress }: Network, range: AddressRange): string {
  if (range.first === range.last) {
    const host = address(range.family, range.first);
    const device = site.deviceAt.get(addressKey(host));
    return device ? device.name : `${formatAddress(host)} on ${name}`;
  }
  if (!prefix) return name;
  const hosts = hostsOf(prefix);
  const from = routerAddress?.value === hosts.first.value ? hosts.first.value + 1n : hosts.first.value;
  const to = routerAddress?.value === hosts.last.value ? hosts.last.value - 1n : hosts.last.value;
  return range.first <= from && to <= range.last ? name : `${rangeText(range)} on ${name}`;
}

/** A range as a prefix where it is one. */
export function rangeText(range: AddressRange): string {
  const prefixes = prefixesOf(range);
  return prefixes.length === 1 ? formatPrefix(prefixes[0]!) : formatRange(range);
}

const isAllPorts = ({ protocol, ports }: PacketBox): boolean =>
  protocol === 'icmp' || (ports.first <= 1 && ports.last >= 65535);

/** Protocols and ports of boxes: "everything", "tcp 80, 443; ping". */
export function servicesText(boxes: readonly PacketBox[]): string {
  const whole = new Set(boxes.filter(isAllPorts).map(({ protocol }) => protocol));
  if (whole.size === 3) return 'everything';
  const parts = (['tcp', 'udp'] as const).flatMap((protocol) => {
    if (whole.has(protocol)) return [`all ${protocol} ports`];
    const ports = [
      ...new Map(
        boxes
          .filter((each) => each.protocol === protocol)
          .map(({ ports: range }) => [`${range.first}-${range.last}`, range]),
      ).values(),
    ].sort((a, b) => a.first - b.first);
    if (ports.length === 0) return [];
    const shown = ports.slice(0, 6).map(formatPorts).join(', ');
    return [`${protocol} ${shown}${ports.length > 6 ? ` and ${ports.length - 6} more` : ''}`];
  });
  return [...parts, ...(whole.has('icmp') ? ['ping'] : [])].join('; ');
}

/** Where packets of one sender arrive, and with what services. */
export interface Reach {
  readonly to: string;
  readonly services: string;
}

/** What passes, grouped by where it arrives: "Printer: tcp 631", "Plant: everything". */
export function reachesOf(site: Site, passing: readonly Passing[]): Reach[] {
  const groups = new Map<string, PacketBox[]>();
  for (const { reached, boxes, shift } of passing)
    for (const box of boxes) {
      const to = targetText(site, reached, box, shift);
      const group = groups.get(to);
      if (group) group.push(box);
      else groups.set(to, [box]);
    }
  return [...groups].map(([to, boxes]) => ({ to, services: servicesText(boxes) }));
}

/** A range further on. */
export const shifted = (range: AddressRange, by: bigint): AddressRange => ({
  ...range,
  first: range.first + by,
  last: range.last + by,
});

/** Where a box arrives, which is not where it is sent to where something translates. */
const targetText = (site: Site, reached: Reached, { destination }: PacketBox, shift: bigint): string =>
  reached.kind === 'network'
    ? hostsText(site, reached.network, shifted(destination, shift))
    : reachedName(reached);
