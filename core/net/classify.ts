import type { Address } from './address.ts';
import { contains, formatPrefix, parsePrefix, type Prefix } from './prefix.ts';

export type AddressClass =
  | 'public'
  | 'private'
  | 'carrier-shared'
  | 'link-local'
  | 'loopback'
  | 'documentation'
  | 'benchmarking'
  | 'multicast'
  | 'ds-lite'
  | 'unspecified'
  | 'broadcast'
  | 'unique-local'
  | 'reserved';

interface SpecialRange {
  readonly prefix: Prefix;
  readonly class: AddressClass;
  readonly source: string;
}

const special = (text: string, name: AddressClass, source: string): SpecialRange => {
  const parsed = parsePrefix(text);
  if (!parsed.ok) throw new Error(parsed.problem.says);
  return { prefix: parsed.value, class: name, source };
};

/** Special ranges, narrower before wider. */
const specialRanges: readonly SpecialRange[] = [
  special('255.255.255.255/32', 'broadcast', 'RFC 919 section 7'),
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
  special('192.0.0.0/24', 'reserved', 'RFC 6890 section 2.2.2'),
  special('0.0.0.0/8', 'unspecified', 'RFC 1122 section 3.2.1.3'),
  special('224.0.0.0/4', 'multicast', 'RFC 5771 section 3'),
  special('240.0.0.0/4', 'reserved', 'RFC 1112 section 4'),
  special('::/128', 'unspecified', 'RFC 4291 section 2.5.2'),
  special('::1/128', 'loopback', 'RFC 4291 section 2.5.3'),
  special('2001:db8::/32', 'documentation', 'RFC 3849'),
  special('3fff::/20', 'documentation', 'RFC 9637'),
  special('fc00::/7', 'unique-local', 'RFC 4193 section 3.1'),
  special('fe80::/10', 'link-local', 'RFC 4291 section 2.5.6'),
  special('ff00::/8', 'multicast', 'RFC 4291 section 2.7'),
];

const otherwise = { class: 'public', range: undefined, source: 'RFC 6890 (in no special range)' } as const;

/** What kind of address it is, the special range that says so, and the document that made the range. */
export function classify(host: Address): { class: AddressClass; range: string | undefined; source: string } {
  const match = specialRanges.find(({ prefix }) => contains(prefix, host));
  return match ? { class: match.class, range: formatPrefix(match.prefix), source: match.source } : otherwise;
}

/**
 * Whether the rest of the internet can send to the address. Documentation ranges stand for public addresses: demo
 * sites use nothing else, and a finding asks to replace them before real use.
 */
export const reachableFromOutside = (name: AddressClass): boolean =>
  name === 'public' || name === 'documentation';

/** What an address of that class means to the person who finds it on the line, in plain words. */
export const classMeaning: Record<AddressClass, string> = {
  public: 'A public address: the rest of the internet can reach it.',
  private: 'A private address: another box in front translates it, so nothing outside can reach it directly.',
  'carrier-shared':
    'A carrier-shared address: the provider translates it, so nothing outside can reach it at all.',
  'link-local': 'A self-given address: the line offered none. There is no service here yet.',
  loopback: 'The device itself: never an address on a line.',
  documentation: 'A documentation address, standing for a public one. Replace it before real use.',
  benchmarking:
    'A range for measuring equipment: some carriers use it behind a translator. Nothing outside can reach it.',
  multicast: 'A group of receivers, not one host.',
  'ds-lite':
    'The inner link of IPv4 over an IPv6 line: the provider translates it, so nothing outside can reach it.',
  unspecified: 'No address yet.',
  broadcast: 'Everybody on the link, not one host.',
  'unique-local': 'A private IPv6 address: it stays inside.',
  reserved: 'Reserved: no provider gives it out.',
};
