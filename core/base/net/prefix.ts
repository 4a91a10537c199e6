import { bad, ok, type Result } from '../result.ts';
import { address, bitsOf, formatAddress, parseAddress, type Address, type Family } from './address.ts';

/** An address block in CIDR notation (RFC 4632): `first` has all host bits zero, `last` all ones; `length` in bits. */
export interface Prefix {
  readonly family: Family;
  readonly first: bigint;
  readonly last: bigint;
  readonly length: number;
}

const hostMask = (family: Family, length: number): bigint => (1n << BigInt(bitsOf(family) - length)) - 1n;

/** The block of `length` bits that holds the address. */
export function prefixAround(host: Address, length: number): Prefix {
  const mask = hostMask(host.family, length);
  return { family: host.family, first: host.value & ~mask, last: host.value | mask, length };
}

/** Reads a length: "24", "/24", or for IPv4 a contiguous mask, "255.255.255.0" (RFC 950, RFC 4632 section 5.1). */
export function parseLength(text: string, family: Family = 4): Result<number> {
  const typed = text.trim().replace(/^\//, '');
  if (typed === '') return bad('empty', 'The prefix length is missing.');
  if (typed.includes('.'))
    return family === 4
      ? parseMask(typed)
      : bad('mask-for-ipv6', 'IPv6 has no dotted masks; write the length, like /64.');
  if (!/^\d{1,3}$/.test(typed))
    return bad('not-a-length', `"${typed}" is neither a prefix length nor a mask.`);
  const length = Number(typed);
  if (length > bitsOf(family))
    return bad(
      'length-too-large',
      `/${length} is longer than the ${bitsOf(family)} bits of an IPv${family} address.`,
    );
  return ok(length);
}

function parseMask(typed: string): Result<number> {
  const parsed = parseAddress(typed);
  if (!parsed.ok) return bad('not-a-mask', `"${typed}" is not a mask; write it like 255.255.255.0.`);
  const inverted = parsed.value.value ^ 0xffffffffn;
  // The host bits of a contiguous mask, plus one, are a power of two.
  if ((inverted & (inverted + 1n)) !== 0n)
    return bad(
      'mask-not-contiguous',
      `The mask ${typed} has ones after a zero; ones must come first, without a gap.`,
    );
  return ok(32 - inverted.toString(2).replace(/^0$/, '').length);
}

/** Dotted mask of an IPv4 length. */
export const maskText = (length: number): string =>
  formatAddress(address(4, 0xffffffffn ^ hostMask(4, length)));

/** Wildcard mask of an IPv4 length: ones where the host bits are. */
export const wildcardText = (length: number): string => formatAddress(address(4, hostMask(4, length)));

/** Reads "10.9.8.7/21" or "10.9.8.7 255.255.248.0": a host and the block it is in. */
export function parseInterface(text: string): Result<{ host: Address; prefix: Prefix }> {
  const parts = text
    .trim()
    .replace(/\s+/g, ' ')
    .split(/ ?\/ ?| /);
  if (parts.length !== 2 || parts[1] === '')
    return bad('no-length', `"${text.trim()}" has no prefix length; write the subnet like 10.24.10.0/24.`);
  const host = parseAddress(parts[0] ?? '');
  if (!host.ok) return host;
  const length = parseLength(parts[1] ?? '', host.value.family);
  if (!length.ok) return length;
  return ok({ host: host.value, prefix: prefixAround(host.value, length.value) });
}

/** Reads a block; one with host bits set is refused with the block that was probably meant. */
export function parsePrefix(text: string): Result<Prefix> {
  if (text.trim() === '') return bad('empty', 'Enter a value.');
  const parsed = parseInterface(text);
  if (!parsed.ok) return parsed;
  const { host, prefix } = parsed.value;
  if (host.value !== prefix.first)
    return bad(
      'host-bits',
      `${formatAddress(host)} is a host inside the subnet; the subnet itself is ${formatPrefix(prefix)}.`,
    );
  return ok(prefix);
}

export const formatPrefix = (prefix: Prefix): string => `${formatAddress(firstOf(prefix))}/${prefix.length}`;

export const firstOf = (prefix: Prefix): Address => address(prefix.family, prefix.first);
export const lastOf = (prefix: Prefix): Address => address(prefix.family, prefix.last);

/** Number of addresses in the block. */
export const sizeOf = (prefix: Prefix): bigint => 1n << BigInt(bitsOf(prefix.family) - prefix.length);

export const contains = (prefix: Prefix, host: Address): boolean =>
  prefix.first <= host.value && host.value <= prefix.last && prefix.family === host.family;

export const containsPrefix = (outer: Prefix, inner: Prefix): boolean =>
  outer.length <= inner.length && contains(outer, firstOf(inner));

/** Two blocks share an address exactly when one contains the other. */
export const overlaps = (a: Prefix, b: Prefix): boolean => containsPrefix(a, b) || containsPrefix(b, a);

export const samePrefix = (a: Prefix, b: Prefix): boolean =>
  a.family === b.family && a.first === b.first && a.length === b.length;

/**
 * First and last address a host may use. IPv4 keeps all-zeros and all-ones host parts for the network and its
 * broadcast (RFC 1122 section 3.2.1.3), except that a /31 has two hosts (RFC 3021) and a /32 is one host. IPv6 has
 * no broadcast; its first address is the anycast address of the routers (RFC 4291 section 2.6.1), but on a /127
 * (RFC 6164) and a single address.
 */
export function hostsOf(prefix: Prefix): { first: Address; last: Address; count: bigint } {
  const first = firstOf(prefix);
  const last = lastOf(prefix);
  const size = sizeOf(prefix);
  if (isLink(prefix)) return { first, last, count: size };
  if (prefix.family === 6) return { first: address(6, first.value + 1n), last, count: size - 1n };
  return { first: address(4, first.value + 1n), last: address(4, last.value - 1n), count: size - 2n };
}

/** A link between two ends, or one address alone: all of it may be held. */
const isLink = ({ family, length }: Prefix): boolean => length >= bitsOf(family) - 1;

/** What an address is to its subnet: a host, or one that no host may hold ("network" is IPv6's anycast too). */
export function roleIn(prefix: Prefix, host: Address): 'host' | 'network' | 'broadcast' | 'outside' {
  if (!contains(prefix, host)) return 'outside';
  if (isLink(prefix)) return 'host';
  if (host.value === prefix.first) return 'network';
  return prefix.family === 4 && host.value === prefix.last ? 'broadcast' : 'host';
}
