import { address, bitsOf, formatAddress, type Address } from '../net/address.ts';
import { containsPrefix, formatPrefix, hostsOf, prefixAround, type Prefix } from '../net/prefix.ts';
import { firstFreeBlock, prefixesOf, rangeOf, subtractRanges } from '../net/range.ts';
import { bad, ok, type Result } from '../result.ts';
import { arithmetic, step, type Worked, worked } from './worked.ts';
import { counted } from '../text.ts';

/**
 * The length of the smallest subnet with room for so many hosts: at most /30 in IPv4, for /31 is for point-to-point
 * links (RFC 3021), and /64 in IPv6 (RFC 4291 section 2.5.4).
 */
function lengthFor(family: 4 | 6, hosts: number): number {
  for (let length = family === 4 ? 30 : 64; length >= 0; length -= 1)
    if (hostsOf(prefixAround(address(family, 0n), length)).count >= BigInt(hosts)) return length;
  return 0;
}

/** Divides a prefix into subnets for so many hosts each, the largest first, so that all are aligned (RFC 4632). */
export function divideWorked(space: Prefix, hosts: readonly number[]): Result<Worked<string>> {
  const taken: Prefix[] = [];
  const rows: { readonly hosts: number; readonly prefix: Prefix }[] = [];
  for (const count of [...hosts].sort((a, b) => b - a)) {
    const length = lengthFor(space.family, count);
    const found = length < space.length ? undefined : firstFreeBlock(space, length, taken);
    if (!found)
      return bad(
        'no-room',
        `There is no room for ${counted(count, 'host')} in ${formatPrefix(space)}${rows.length > 0 ? ` beside ${rows.map(({ prefix }) => formatPrefix(prefix)).join(', ')}` : ''}.`,
        'hosts',
      );
    taken.push(found);
    rows.push({ hosts: count, prefix: found });
  }
  const value = rows.map(({ prefix }) => formatPrefix(prefix)).join(', ');
  const left = subtractRanges([rangeOf(space)], taken.map(rangeOf)).flatMap(prefixesOf);
  return ok(
    worked(
      `Division of ${formatPrefix(space)}`,
      value,
      'prefixes',
      [
        ...rows.map(({ hosts: count, prefix }) =>
          step(
            `${counted(count, 'host')} ${count === 1 ? 'needs' : 'need'} /${prefix.length}: ${hostsOf(prefix).count}`,
            formatPrefix(prefix),
          ),
        ),
        step('left free', left.map(formatPrefix).join(', ') || 'nothing'),
        step('largest first', value),
      ],
      'RFC 4632 section 5.1; arithmetic',
    ),
  );
}

/** The smallest prefix that holds two addresses: the bits that they share from the front (RFC 4632 section 3.1). */
export function aroundWorked(a: Address, b: Address): Worked<string> {
  let length = bitsOf(a.family);
  while (!containsPrefix(prefixAround(a, length), prefixAround(b, bitsOf(b.family)))) length -= 1;
  const found = prefixAround(a, length);
  return worked(
    'Smallest prefix around both',
    formatPrefix(found),
    'prefix',
    [
      step('first', formatAddress(a)),
      step('second', formatAddress(b)),
      step('bits alike from the front', length),
      step('prefix', formatPrefix(found)),
    ],
    'RFC 4632 section 3.1',
  );
}

/** All addresses of a family but some: the fewest prefixes, as allowed routes of a tunnel want them. */
export function allButWorked(family: 4 | 6, holes: readonly Prefix[]): Worked<string> {
  const everything = prefixAround(address(family, 0n), 0);
  const left = subtractRanges([rangeOf(everything)], holes.map(rangeOf)).flatMap(prefixesOf);
  const value = left.map(formatPrefix).join(', ');
  return worked(
    'All but these',
    value,
    'prefixes',
    [
      step('all', formatPrefix(everything)),
      ...holes.map((hole) => step('without', formatPrefix(hole))),
      step('prefixes', left.length),
      step('the fewest', value || 'nothing is left'),
    ],
    `RFC 4632 section 5.1; ${arithmetic}`,
  );
}
