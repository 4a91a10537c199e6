import { address, formatAddress, sameAddress, type Address } from '../net/address.ts';
import { classify, meaningOf, type AddressPlace } from '../net/classify.ts';
import {
  formatPrefix,
  hostsOf,
  lastOf,
  firstOf,
  maskText,
  overlaps,
  containsPrefix,
  roleIn,
  sizeOf,
  wildcardText,
  type Prefix,
} from '../net/prefix.ts';
import { formatRange, rangeSize, type AddressRange } from '../net/range.ts';
import { arithmetic, grouped, step, type Worked, worked } from './worked.ts';

/** What kind of address it is, and by which document. */
export function addressWorked(host: Address, place: AddressPlace = 'line'): Worked<string> {
  const found = classify(host);
  return worked(
    `What ${formatAddress(host)} is`,
    found.class,
    '',
    [
      step('address', formatAddress(host)),
      step('falls in', found.range ?? 'no special range'),
      step('so it is', found.class),
    ],
    found.source,
    meaningOf(host, place),
  );
}

/** A count as a number where it is exact as one, else as text. */
const exactly = (count: bigint): number | string =>
  count <= BigInt(Number.MAX_SAFE_INTEGER) ? Number(count) : String(count);

/** Size and edges of a subnet; with the address it was given by, where that stands in it. */
export function subnetWorked(prefix: Prefix, host?: Address): Worked<number | string> {
  const bits = prefix.family === 4 ? 32 : 128;
  const hosts = hostsOf(prefix);
  const apart = sizeOf(prefix) - hosts.count;
  const four = prefix.family === 4;
  return worked(
    `Hosts in ${formatPrefix(prefix)}`,
    exactly(hosts.count),
    'hosts',
    [
      ...(host && host.value !== prefix.first
        ? [step('address', formatAddress(host)), step('its subnet', formatPrefix(prefix))]
        : []),
      step('host bits', `${bits} - ${prefix.length} = ${bits - prefix.length}`),
      step('addresses', `2^${bits - prefix.length} = ${grouped(sizeOf(prefix))}`),
      ...(apart > 0n ? [step(four ? 'network and broadcast' : 'anycast of the routers', `- ${apart}`)] : []),
      ...(four
        ? [step('mask', maskText(prefix.length)), step('wildcard mask', wildcardText(prefix.length))]
        : []),
      ...(four && apart > 0n
        ? [step('network', formatAddress(firstOf(prefix))), step('broadcast', formatAddress(lastOf(prefix)))]
        : []),
      step('first host', formatAddress(hosts.first)),
      step('last host', formatAddress(hosts.last)),
      step('hosts', grouped(hosts.count)),
    ],
    four
      ? prefix.length === 31
        ? 'RFC 3021'
        : 'RFC 1122 section 3.2.1.3, RFC 4632'
      : prefix.length === 127
        ? 'RFC 6164'
        : 'RFC 4291 section 2.6.1',
  );
}

/** Whether two blocks share an address, and which. */
export function overlapWorked(
  a: Prefix,
  b: Prefix,
  names: [string, string] = ['first subnet', 'second subnet'],
): Worked {
  const shared = overlaps(a, b) ? (containsPrefix(a, b) ? b : a) : undefined;
  return worked(
    `Overlap of ${formatPrefix(a)} and ${formatPrefix(b)}`,
    shared !== undefined,
    '',
    [
      step(names[0], `${formatAddress(firstOf(a))} to ${formatAddress(lastOf(a))}`),
      step(names[1], `${formatAddress(firstOf(b))} to ${formatAddress(lastOf(b))}`),
      step('in both', shared ? formatPrefix(shared) : 'nothing'),
      ...(shared ? [step('addresses in both', grouped(sizeOf(shared)))] : []),
    ],
    arithmetic,
  );
}

/** How many addresses a range holds, both ends included. */
export function rangeWorked(range: AddressRange, name = 'Addresses in the pool'): Worked<number | string> {
  const size = rangeSize(range);
  return worked(
    name,
    exactly(size),
    'addresses',
    [
      step('range', formatRange(range)),
      step('last minus first', grouped(range.last - range.first)),
      step('the first one itself', '+ 1'),
      step('addresses', grouped(size)),
    ],
    arithmetic,
  );
}

/** A fixed address for the laptop beside a router; undefined where the subnet has room for the router alone. */
export function laptopAddress(router: Address, prefix: Prefix): Address | undefined {
  const hosts = hostsOf(prefix);
  // In IPv6 low addresses are the ones a person can type.
  const [wanted, other] = prefix.family === 4 ? [hosts.last, hosts.first] : [hosts.first, hosts.last];
  if (!sameAddress(wanted, router)) return wanted;
  if (prefix.family === 6 && hosts.count > 2n) return address(6, wanted.value + 1n);
  return sameAddress(other, router) ? undefined : other;
}

/** A fixed address for the laptop: the highest host that is not the router; pools of new boxes rarely reach there. */
export function laptopWorked(router: Address, prefix: Prefix, chosen: Address): Worked<string> {
  const hosts = hostsOf(prefix);
  return worked(
    'Fixed address for the laptop',
    formatAddress(chosen),
    'address',
    [
      step('router', formatAddress(router)),
      step('its hosts', `${formatAddress(hosts.first)} to ${formatAddress(hosts.last)}`),
      prefix.family === 4
        ? step('mask', maskText(prefix.length))
        : step('prefix length', `/${prefix.length}`),
      step(
        prefix.family === 4 ? 'highest host that is not the router' : 'lowest host that is not the router',
        formatAddress(chosen),
      ),
    ],
    arithmetic,
  );
}

/** Where an address stands in a block: a host, one of the two that no host may hold, or outside. */
export function placeWorked(host: Address, prefix: Prefix, what: string): Worked {
  const role = roleIn(prefix, host);
  const hosts = hostsOf(prefix);
  const words =
    role === 'outside'
      ? 'outside the subnet'
      : role === 'host'
        ? `host ${host.value - prefix.first} of the subnet`
        : prefix.family === 6
          ? 'the anycast address of the routers'
          : `the ${role} address`;
  return worked(
    `${what} in ${formatPrefix(prefix)}`,
    role,
    '',
    [
      step('its hosts', `${formatAddress(hosts.first)} to ${formatAddress(hosts.last)}`),
      step(what.toLowerCase(), formatAddress(host)),
      step('so it is', words),
    ],
    prefix.length === 31 ? 'RFC 3021' : 'RFC 1122 section 3.2.1.3',
  );
}
