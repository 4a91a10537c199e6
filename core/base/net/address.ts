import ipaddr from 'ipaddr.js';
import { bad, ok, type Result } from '../result.ts';

export type Family = 4 | 6;

/** One IP address: 32 bits (RFC 791) or 128 bits (RFC 4291) as an unsigned integer. */
export interface Address {
  readonly family: Family;
  readonly value: bigint;
}

/** Number of bits of an address of that family. */
export const bitsOf = (family: Family): number => (family === 4 ? 32 : 128);

export const address = (family: Family, value: bigint): Address => ({ family, value });

/**
 * Reads an IPv4 address in dotted decimal (four parts, no leading zeros: "010" is 8 to some programs and 10 to
 * others) or an IPv6 address in any form of RFC 4291 section 2.2, without a zone.
 */
export function parseAddress(text: string): Result<Address> {
  const typed = text.trim();
  if (typed === '') return bad('empty', 'Enter a value.');
  if (typed.includes('/'))
    return bad(
      'has-length',
      `"${typed}" has a prefix length; one address is wanted here, without the part from "/" on.`,
    );
  if (/(^|\.)0\d/.test(typed) && !typed.includes(':'))
    return bad(
      'leading-zero',
      `"${typed}" has a part with a leading zero, which programs read differently; leave the zero out.`,
    );
  if (ipaddr.IPv4.isValidFourPartDecimal(typed))
    return ok(address(4, fromBytes(ipaddr.IPv4.parse(typed).toByteArray())));
  if (/^[\d.]+$/.test(typed)) return bad('not-an-address', dottedProblem(typed));
  const six = withoutDots(typed);
  if (six !== undefined && ipaddr.IPv6.isValid(six) && !six.includes('%'))
    return ok(address(6, fromBytes(ipaddr.IPv6.parse(six).toByteArray())));
  return bad('not-an-address', `"${typed}" is not an IP address; write it like 192.0.2.10 or 2001:db8::10.`);
}

/** The form x:x:x:x:x:x:d.d.d.d in groups alone (RFC 4291 section 2.2): "::192.0.2.1" is "::c000:201". */
function withoutDots(typed: string): string | undefined {
  const end = /^(.*:)(\d{1,3}(?:\.\d{1,3}){3})$/.exec(typed);
  if (!end) return typed;
  if (!ipaddr.IPv4.isValidFourPartDecimal(end[2]!) || /(^|\.)0\d/.test(end[2]!)) return undefined;
  const [a = 0, b = 0, c = 0, d = 0] = ipaddr.IPv4.parse(end[2]!).octets;
  return `${end[1]}${((a << 8) | b).toString(16)}:${((c << 8) | d).toString(16)}`;
}

function dottedProblem(typed: string): string {
  const parts = typed.split('.').filter((part) => part !== '');
  const large = parts.find((part) => Number(part) > 255);
  if (large !== undefined)
    return `"${typed}" has the part ${large}; no part of an IPv4 address is larger than 255.`;
  return `"${typed}" has ${parts.length} of the four parts of an IPv4 address.`;
}

function fromBytes(bytes: number[]): bigint {
  let value = 0n;
  for (const byte of bytes) value = (value << 8n) | BigInt(byte);
  return value;
}

/** Text of an address: dotted decimal, or RFC 5952 for IPv6. */
export function formatAddress({ family, value }: Address): string {
  if (family === 4) {
    const number = Number(value);
    return `${number >>> 24}.${(number >>> 16) & 255}.${(number >>> 8) & 255}.${number & 255}`;
  }
  const bytes = Array.from({ length: 16 }, (_, index) => Number((value >> BigInt(8 * (15 - index))) & 255n));
  return new ipaddr.IPv6(bytes).toRFC5952String();
}

export const sameAddress = (a: Address, b: Address): boolean => a.family === b.family && a.value === b.value;

/** A key for maps: the same for equal addresses, different for an IPv4 and an IPv6 address of equal value. */
export const addressKey = ({ family, value }: Address): bigint =>
  family === 4 ? value : value | (1n << 128n);

/** The address of a key. */
export const addressOfKey = (key: bigint): Address =>
  key >> 128n === 0n ? address(4, key) : address(6, key & ((1n << 128n) - 1n));

/** The address `offset` further on (or back, when negative); undefined past either end of the address space. */
export function addressAt({ family, value }: Address, offset: bigint | number): Address | undefined {
  const moved = value + BigInt(offset);
  return moved < 0n || moved >> BigInt(bitsOf(family)) !== 0n ? undefined : address(family, moved);
}
