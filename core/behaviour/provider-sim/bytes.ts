import type { Address } from '../../base/net/address.ts';

/** Bytes of packets as they stand on the wire, built from the inside out. */
export type Bytes = readonly number[];

export const byte = (value: number): Bytes => [value & 0xff];
export const word = (value: number): Bytes => [(value >>> 8) & 0xff, value & 0xff];
export const long = (value: number): Bytes => [...word(value >>> 16), ...word(value & 0xffff)];
export const text = (value: string): Bytes => [...new TextEncoder().encode(value)];
export const zeros = (count: number): Bytes => Array.from({ length: count }, () => 0);
export const macBytes = (mac: string): Bytes => mac.split(':').map((part) => parseInt(part, 16));
/** The four bytes of an IPv4 address. */
export const ipBytes = (host: Address): Bytes => long(Number(host.value & 0xffff_ffffn));

/** Internet checksum: the one's complement of the one's complement sum of 16-bit words (RFC 1071 section 1). */
export function checksum(bytes: Bytes): number {
  let sum = 0;
  for (let place = 0; place < bytes.length; place += 2) sum += (bytes[place]! << 8) | (bytes[place + 1] ?? 0);
  while (sum > 0xffff) sum = (sum & 0xffff) + (sum >>> 16);
  return ~sum & 0xffff;
}

/** An Ethernet frame, tagged where a VLAN is given (IEEE 802.1Q), padded to the least of 60 bytes. */
export function ethernet(
  from: string,
  to: string,
  type: number,
  payload: Bytes,
  vlan: { id: number; priority: number } | undefined,
): Uint8Array {
  const tag = vlan ? [...word(0x8100), ...word((vlan.priority << 13) | vlan.id)] : [];
  const frame = [...macBytes(to), ...macBytes(from), ...tag, ...word(type), ...payload];
  return Uint8Array.from([...frame, ...zeros(Math.max(0, 60 - frame.length))]);
}

/** An IPv4 packet without options (RFC 791 section 3.1). */
export function ipv4(
  from: Address,
  to: Address,
  protocol: number,
  payload: Bytes,
  identification = 0,
): Bytes {
  const header = (sum: number): Bytes => [
    0x45,
    0,
    ...word(20 + payload.length),
    ...word(identification),
    ...word(0),
    64,
    protocol,
    ...word(sum),
    ...ipBytes(from),
    ...ipBytes(to),
  ];
  return [...header(checksum(header(0))), ...payload];
}

/** A UDP datagram with its checksum over a pseudo header (RFC 768). */
function datagram(pseudo: Bytes, fromPort: number, toPort: number, payload: Bytes): Bytes {
  const withSum = (sum: number): Bytes => [
    ...word(fromPort),
    ...word(toPort),
    ...word(8 + payload.length),
    ...word(sum),
    ...payload,
  ];
  const sum = checksum([...pseudo, ...withSum(0)]);
  return withSum(sum === 0 ? 0xffff : sum);
}

/** A UDP datagram in its IPv4 packet. */
export function udp(from: Address, fromPort: number, to: Address, toPort: number, payload: Bytes): Bytes {
  const pseudo = [...ipBytes(from), ...ipBytes(to), 0, 17, ...word(8 + payload.length)];
  return ipv4(from, to, 17, datagram(pseudo, fromPort, toPort, payload));
}

/** The sixteen bytes of an IPv6 address. */
export const ip6Bytes = (host: Address): Bytes =>
  Array.from({ length: 16 }, (_, place) => Number((host.value >> BigInt(8 * (15 - place))) & 0xffn));

/** A UDP datagram in its IPv6 packet; the checksum is not optional there (RFC 8200 section 8.1). */
export function udp6(from: Address, fromPort: number, to: Address, toPort: number, payload: Bytes): Bytes {
  const length = 8 + payload.length;
  const ends = [...ip6Bytes(from), ...ip6Bytes(to)];
  const pseudo = [...ends, ...long(length), ...zeros(3), 17];
  return [0x60, 0, 0, 0, ...word(length), 17, 64, ...ends, ...datagram(pseudo, fromPort, toPort, payload)];
}

/** An ICMP echo request or reply (RFC 792) in its IPv4 packet. */
export function echo(kind: 'request' | 'reply', from: Address, to: Address, sequence: number): Bytes {
  const packet = (sum: number): Bytes => [
    kind === 'request' ? 8 : 0,
    0,
    ...word(sum),
    ...word(0x4e45),
    ...word(sequence),
    ...zeros(32),
  ];
  return ipv4(from, to, 1, packet(checksum(packet(0))));
}

/** Who has an address, or who it is (RFC 826), over Ethernet for IPv4. */
export const arp = (
  kind: 'request' | 'reply',
  fromMac: string,
  from: Address,
  toMac: string,
  to: Address,
): Bytes => [
  ...word(1),
  ...word(0x0800),
  6,
  4,
  ...word(kind === 'request' ? 1 : 2),
  ...macBytes(fromMac),
  ...ipBytes(from),
  ...macBytes(toMac),
  ...ipBytes(to),
];

/** An option of one byte of code and one of length, as in DHCP and PPP (there the length counts the header too). */
export const dhcpOption = (code: number, value: Bytes): Bytes => [code, value.length, ...value];
export const pppOption = (code: number, value: Bytes): Bytes => [code, value.length + 2, ...value];
