import { formatAddress, type Address } from '../net/address.ts';
import { classify, classMeaning } from '../net/classify.ts';
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
  type Prefix,
} from '../net/prefix.ts';
import { formatRange, rangeSize, type AddressRange } from '../net/range.ts';
import { arithmetic, grouped, step, type Worked, worked } from './worked.ts';

/** What kind of address it is, and by which document. */
export function addressWorked(host: Address): Worked {
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
    classMeaning[found.class],
  );
}

/** Size and edges of a block. */
export function subnetWorked(prefix: Prefix): Worked {
  const bits = prefix.family === 4 ? 32 : 128;
  const hosts = hostsOf(prefix);
  const edges = sizeOf(prefix) !== hosts.count;
  return worked(
    `Hosts in ${formatPrefix(prefix)}`,
    hosts.count <= BigInt(Number.MAX_SAFE_INTEGER) ? Number(hosts.count) : String(hosts.count),
    'hosts',
    [
      step('host bits', `${bits} - ${prefix.length} = ${bits - prefix.length}`),
      step('addresses', `2^${bits - prefix.length} = ${grouped(sizeOf(prefix))}`),
      ...(edges ? [step('network and broadcast', '- 2')] : []),
      ...(prefix.family === 4 ? [step('mask', maskText(prefix.length))] : []),
      ...(edges
        ? [step('network', formatAddress(firstOf(prefix))), step('broadcast', formatAddress(lastOf(prefix)))]
        : []),
      step('first host', formatAddress(hosts.first)),
      step('last host', formatAddress(hosts.last)),
      step('hosts', grouped(hosts.count)),
    ],
    prefix.family === 6
      ? 'RFC 4291'
      : prefix.length === 31
        ? 'RFC 3021'
        : 'RFC 1122 section 3.2.1.3, RFC 4632',
  );
}

/** Whether two blocks share an address, and which. */
export function overlapWorked(
  a: Prefix,
  b: Prefix,
  names: [string, string] = ['first block', 'second block'],
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
export function rangeWorked(range: AddressRange, name = 'Addresses in the pool'): Worked {
  const size = rangeSize(range);
  return worked(
    name,
    Number(size),
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

/** A fixed address for the laptop: the highest host that is not the router; pools of new boxes rarely reach there. */
export function laptopWorked(router: Address, prefix: Prefix): Worked {
  const hosts = hostsOf(prefix);
  const chosen = hosts.last.value === router.value ? hosts.first : hosts.last;
  return worked(
    'Fixed address for the laptop',
    formatAddress(chosen),
    'address',
    [
      step('router', formatAddress(router)),
      step('its hosts', `${formatAddress(hosts.first)} to ${formatAddress(hosts.last)}`),
      step('mask', maskText(prefix.length)),
      step('highest host that is not the router', formatAddress(chosen)),
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
      ? 'outside the block'
      : role === 'host'
        ? `host ${host.value - prefix.first} of the block`
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
