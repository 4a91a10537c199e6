import type { Address } from './address.ts';
import { contains, formatPrefix, parsePrefix, type Prefix } from './prefix.ts';

export type AddressClass =
  | 'public'
  | 'private'
  | 'carrier-shared'
  | 'link-local'
  | 'site-local'
  | 'loopback'
  | 'documentation'
  | 'benchmarking'
  | 'multicast'
  | 'ds-lite'
  | 'ipv4-embedded'
  | 'nat64'
  | 'transition'
  | 'discard'
  | 'segment-routing'
  | 'unspecified'
  | 'broadcast'
  | 'unique-local'
  | 'reserved';

interface SpecialRange {
  readonly prefix: Prefix;
  readonly class: AddressClass;
  readonly source: string;
}

function prefixOf(text: string): Prefix {
  const parsed = parsePrefix(text);
  if (!parsed.ok) throw new Error(parsed.problem.says);
  return parsed.value;
}

const special = (text: string, name: AddressClass, source: string): SpecialRange => ({
  prefix: prefixOf(text),
  class: name,
  source,
});

/**
 * Special ranges, narrower before wider: the IANA special-purpose address registries of both families (RFC 6890), from
 * memory, each with the document that made the range.
 */
const specialRanges: readonly SpecialRange[] = [
  special('255.255.255.255/32', 'broadcast', 'RFC 919 section 7'),
  special('192.0.0.9/32', 'public', 'RFC 7723 (anycast)'),
  special('192.0.0.10/32', 'public', 'RFC 8155 (anycast)'),
  special('192.0.0.0/29', 'ds-lite', 'RFC 7335 section 4'),
  special('10.0.0.0/8', 'private', 'RFC 1918 section 3'),
  special('172.16.0.0/12', 'private', 'RFC 1918 section 3'),
  special('192.168.0.0/16', 'private', 'RFC 1918 section 3'),
  special('100.64.0.0/10', 'carrier-shared', 'RFC 6598 section 7'),
  special('169.254.0.0/16', 'link-local', 'RFC 3927 section 2.1'),
  special('127.0.0.0/8', 'loopback', 'RFC 1122 section 3.2.1.3'),
  special('192.0.2.0/24', 'documentation', 'RFC 5737 section 3'),
  special('198.51.100.0/24', 'documentation', 'RFC 5737 section 3'),
  special('203.0.113.0/24', 'documentation', 'RFC 5737 section 3'),
  special('198.18.0.0/15', 'benchmarking', 'RFC 2544 appendix C, RFC 6890'),
  special('192.88.99.0/24', 'transition', 'RFC 7526 (6to4 relays, deprecated)'),
  special('192.0.0.0/24', 'reserved', 'RFC 6890 section 2.2.2'),
  special('0.0.0.0/8', 'unspecified', 'RFC 1122 section 3.2.1.3'),
  special('224.0.0.0/4', 'multicast', 'RFC 5771 section 3'),
  special('240.0.0.0/4', 'reserved', 'RFC 1112 section 4'),
  special('::/128', 'unspecified', 'RFC 4291 section 2.5.2'),
  special('::1/128', 'loopback', 'RFC 4291 section 2.5.3'),
  special('::ffff:0:0/96', 'ipv4-embedded', 'RFC 4291 section 2.5.5.2'),
  special('::/96', 'ipv4-embedded', 'RFC 4291 section 2.5.5.1 (deprecated)'),
  special('64:ff9b::/96', 'nat64', 'RFC 6052 section 2.1'),
  special('64:ff9b:1::/48', 'nat64', 'RFC 8215'),
  special('100::/64', 'discard', 'RFC 6666'),
  special('100:0:0:1::/64', 'discard', 'RFC 9780'),
  special('2001::/32', 'transition', 'RFC 4380 (Teredo)'),
  special('2001:1::1/128', 'public', 'RFC 7723 (anycast)'),
  special('2001:1::2/128', 'public', 'RFC 8155 (anycast)'),
  special('2001:2::/48', 'benchmarking', 'RFC 5180 section 8'),
  special('2001:3::/32', 'public', 'RFC 7450 (AMT)'),
  special('2001:4:112::/48', 'public', 'RFC 7535 (AS112)'),
  special('2001:20::/28', 'reserved', 'RFC 7343 (ORCHIDv2)'),
  special('2001:30::/28', 'reserved', 'RFC 9374 (DRIP)'),
  special('2001::/23', 'reserved', 'RFC 2928'),
  special('2001:db8::/32', 'documentation', 'RFC 3849'),
  special('2002::/16', 'transition', 'RFC 3056, RFC 7526 (6to4)'),
  special('3fff::/20', 'documentation', 'RFC 9637'),
  special('5f00::/16', 'segment-routing', 'RFC 9602'),
  special('fc00::/7', 'unique-local', 'RFC 4193 section 3.1'),
  special('fe80::/10', 'link-local', 'RFC 4291 section 2.5.6'),
  special('fec0::/10', 'site-local', 'RFC 3879 (deprecated)'),
  special('ff00::/8', 'multicast', 'RFC 4291 section 2.7'),
];

/** Where the class of an address may change. */
export const specialPrefixes: readonly Prefix[] = [
  ...specialRanges.map(({ prefix }) => prefix),
  prefixOf('2000::/3'),
];

/** Only this eighth of the IPv6 space is given out as global unicast. */
const globalUnicast = special('2000::/3', 'public', 'RFC 3587 section 2, RFC 4291 section 2.4');

const otherwise = { class: 'public', range: undefined, source: 'RFC 6890 (in no special range)' } as const;

/** What kind of address it is, the special range that says so, and the document that made the range. */
export function classify(host: Address): { class: AddressClass; range: string | undefined; source: string } {
  const match = specialRanges.find(({ prefix }) => contains(prefix, host));
  if (match) return { class: match.class, range: formatPrefix(match.prefix), source: match.source };
  return host.family === 6 && !contains(globalUnicast.prefix, host)
    ? { class: 'reserved', range: undefined, source: globalUnicast.source }
    : otherwise;
}

/**
 * Whether the rest of the internet can send to the address. Documentation ranges stand for public addresses: demo
 * sites use nothing else, and a finding asks to replace them before real use.
 */
export const reachableFromOutside = (name: AddressClass): boolean =>
  name === 'public' || name === 'documentation';

/** Where an address was met: on the line, or in a network of this router. */
export type AddressPlace = 'line' | 'inside';

/** What an address means to the person who finds it there, in plain words. */
export function meaningOf(host: Address, place: AddressPlace = 'line'): string {
  const { class: name } = classify(host);
  const inside = place === 'inside' ? insideMeaning[name] : undefined;
  if (inside) return inside;
  if (name === 'link-local' && host.family === 6)
    return 'Every IPv6 interface gives itself such an address: it says nothing about what the line offers.';
  return lineMeaning[name];
}

const insideMeaning: Partial<Record<AddressClass, string>> = {
  private: 'A private address: this router translates it on the way out.',
  'unique-local': 'A private IPv6 address: it stays inside.',
  public: 'A public address: on a network inside it is right only where the provider routes it here.',
};

const lineMeaning: Record<AddressClass, string> = {
  public: 'A public address: the rest of the internet can reach it.',
  private:
    'A private address: another device in front translates it, so nothing outside can reach it directly.',
  'carrier-shared':
    'A carrier-shared address: the provider translates it, so nothing outside can reach it at all.',
  'link-local': 'A link-local address: none was offered. There is no service here yet.',
  'site-local': 'A site-local IPv6 address: deprecated, and never on the internet.',
  loopback: 'The device itself: never an address on a line.',
  documentation: 'A documentation address, standing for a public one. Replace it before real use.',
  benchmarking:
    'A range for measuring equipment: some carriers use it behind a translator. Nothing outside can reach it.',
  multicast: 'A group of receivers, not one host.',
  'ds-lite':
    'The inner link of IPv4 over an IPv6 line: the provider translates it, so nothing outside can reach it.',
  'ipv4-embedded':
    'An IPv4 address written as IPv6: programs use the form, no packet on the internet carries it.',
  nat64: 'An IPv4 address behind a translator between IPv6 and IPv4 (NAT64): no host has it.',
  transition: 'An address of an outdated transition tunnel (6to4, Teredo): do not build on it.',
  discard: 'A range whose packets are thrown away on purpose.',
  'segment-routing': 'A label for routers inside a provider, not a host.',
  unspecified: 'No address yet.',
  broadcast: 'Everybody on the link, not one host.',
  'unique-local': 'A private IPv6 address: it stays inside.',
  reserved: 'Reserved: no provider gives it out.',
};
