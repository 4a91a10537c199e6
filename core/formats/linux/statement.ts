import { formatRange, prefixesOf, joinRanges, type AddressRange } from '../../net/range.ts';
import { formatPrefix, type Prefix } from '../../net/prefix.ts';
import { rangeOf } from '../../net/range.ts';
import type { Family } from '../../net/address.ts';
import type { PortRange, Protocol } from '../../net/ports.ts';

/* Pieces of nftables statements (nft(8)). */

/** Names of interfaces as one match; undefined where there is none to match. */
export const oneOf = (names: readonly string[]): string | undefined =>
  names.length === 0
    ? undefined
    : names.length === 1
      ? `"${names[0]}"`
      : `{ ${names.map((name) => `"${name}"`).join(', ')} }`;

export const set = (elements: readonly (string | number)[]): string =>
  elements.length === 1 ? String(elements[0]) : `{ ${elements.join(', ')} }`;

const rangeText = (range: AddressRange): string => {
  const prefixes = prefixesOf(range);
  return prefixes.length === 1
    ? formatPrefix(prefixes[0]!).replace(/\/(?:32|128)$/, '')
    : formatRange(range).replace(' to ', '-');
};

/** Ranges of one family as the elements of a set. */
export const elementsOf = (ranges: readonly AddressRange[], family: Family): string[] =>
  joinRanges(ranges.filter((range) => range.family === family)).map(rangeText);

export const keyword = (family: Family): string => (family === 4 ? 'ip' : 'ip6');

/** The matches that together say that an address is in ranges: one for each family that they hold. */
export const within = (side: 'saddr' | 'daddr', ranges: readonly AddressRange[]): string[] =>
  ([4, 6] as const).flatMap((family) => {
    const elements = elementsOf(ranges, family);
    return elements.length === 0 ? [] : [`${keyword(family)} ${side} ${set(elements)}`];
  });

/** The matches that together say that an address is in none of the ranges: one for each family. */
export const outside = (side: 'saddr' | 'daddr', ranges: readonly AddressRange[]): string[] =>
  ([4, 6] as const).map((family) => {
    const elements = elementsOf(ranges, family);
    return elements.length === 0
      ? `meta nfproto ipv${family}`
      : `${keyword(family)} ${side} != ${set(elements)}`;
  });

export const ofPrefixes = (prefixes: readonly Prefix[]): AddressRange[] => prefixes.map(rangeOf);

export const portsText = ({ first, last }: PortRange): string =>
  first === last ? String(first) : `${first}-${last}`;

/** Protocols and destination ports; empty where every packet is meant. */
export function serviceMatch(
  protocols: readonly Protocol[] | undefined,
  ports: PortRange | undefined,
): string {
  if (!protocols) return '';
  const [first] = protocols;
  if (protocols.length === 1 && first !== 'icmp')
    return ports ? `${first} dport ${portsText(ports)}` : `meta l4proto ${first}`;
  const names = protocols.flatMap((protocol) => (protocol === 'icmp' ? ['icmp', 'ipv6-icmp'] : [protocol]));
  return `meta l4proto ${set(names)}${ports ? ` th dport ${portsText(ports)}` : ''}`;
}

/** A line of a chain out of matches, of which some may be empty. */
export const row = (...parts: readonly (string | undefined)[]): string =>
  parts.filter((part) => part !== undefined && part !== '').join(' ');

/** A chain with its hook. */
export const chain = (name: string, hook: string, rows: readonly string[]): string =>
  [`  chain ${name} {`, ...[hook, ...rows].map((each) => `    ${each}`), '  }'].join('\n');
