import { nft, type Code } from '../../../base/encode/index.ts';
import { formatRange, prefixesOf, joinRanges, type AddressRange } from '../../../base/net/range.ts';
import { formatPrefix, type Prefix } from '../../../base/net/prefix.ts';
import { rangeOf } from '../../../base/net/range.ts';
import type { Family } from '../../../base/net/address.ts';
import type { PortRange, Protocol } from '../../../base/net/ports.ts';

/* Pieces of nftables statements (nft(8)): a text reaches them by the template only. */
export type Rule = Code<'nft'>;

/** Names of interfaces as one match; undefined where there is none to match. */
export const oneOf = (names: readonly string[]): Rule | undefined =>
  names.length === 0 ? undefined : set(names.map((name) => nft`"${name}"`));

export const set = (elements: readonly (string | number | Rule)[]): Rule =>
  elements.length === 1 ? nft`${elements[0]!}` : nft`{ ${nft.joined(elements, ', ')} }`;

const rangeText = (range: AddressRange): string => {
  const prefixes = prefixesOf(range);
  return prefixes.length === 1
    ? formatPrefix(prefixes[0]!).replace(/\/(?:32|128)$/, '')
    : formatRange(range).replace(' to ', '-');
};

/** Ranges of one family as the elements of a set. */
export const elementsOf = (ranges: readonly AddressRange[], family: Family): string[] =>
  joinRanges(ranges.filter((range) => range.family === family)).map(rangeText);

export const keyword = (family: Family): Rule => (family === 4 ? nft`ip` : nft`ip6`);

/** Whether a match looks at IPv6 addresses. */
export const looksAtSix = ({ text }: Rule): boolean => /(?:^| )ip6 /.test(text);

/** The matches that together say that an address is in ranges: one for each family that they hold. */
export const within = (side: 'saddr' | 'daddr', ranges: readonly AddressRange[]): Rule[] =>
  ([4, 6] as const).flatMap((family) => {
    const elements = elementsOf(ranges, family);
    return elements.length === 0 ? [] : [nft`${keyword(family)} ${side} ${set(elements)}`];
  });

/** The matches that together say that an address is in none of the ranges: one for each family. */
export const outside = (side: 'saddr' | 'daddr', ranges: readonly AddressRange[]): Rule[] =>
  ([4, 6] as const).map((family) => {
    const elements = elementsOf(ranges, family);
    return elements.length === 0
      ? nft`meta nfproto ipv${family}`
      : nft`${keyword(family)} ${side} != ${set(elements)}`;
  });

export const ofPrefixes = (prefixes: readonly Prefix[]): AddressRange[] => prefixes.map(rangeOf);

export const portsText = ({ first, last }: PortRange): string =>
  first === last ? String(first) : `${first}-${last}`;

/** Protocols and destination ports; empty where every packet is meant. */
export function serviceMatch(protocols: readonly Protocol[] | undefined, ports: PortRange | undefined): Rule {
  if (!protocols) return nft``;
  const [first] = protocols;
  if (protocols.length === 1 && first !== 'icmp')
    return ports ? nft`${first!} dport ${portsText(ports)}` : nft`meta l4proto ${first!}`;
  const names = protocols.flatMap((protocol) => (protocol === 'icmp' ? ['icmp', 'ipv6-icmp'] : [protocol]));
  return nft`meta l4proto ${set(names)}${ports ? nft` th dport ${portsText(ports)}` : nft``}`;
}

/** A line of a chain out of matches, of which some may be empty. */
export const row = (...parts: readonly (Rule | undefined)[]): Rule =>
  nft.joined(
    parts.flatMap((part) => (part && part.text !== '' ? [part] : [])),
    ' ',
  );

/** A chain with its hook. */
export const chain = (name: string, hook: Rule, rows: readonly Rule[]): Rule =>
  nft.lines(
    nft`  chain ${name} {`,
    [hook, ...rows].map((each) => nft`    ${each}`),
    nft`  }`,
  );
