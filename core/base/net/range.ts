import { address, addressKey, bitsOf, formatAddress, type Address, type Family } from './address.ts';
import { prefixAround, type Prefix } from './prefix.ts';

/** Addresses from `first` to `last`, both included. */
export interface AddressRange {
  readonly family: Family;
  readonly first: bigint;
  readonly last: bigint;
}

export const rangeOf = (prefix: Prefix): AddressRange => ({
  family: prefix.family,
  first: prefix.first,
  last: prefix.last,
});

export const rangeBetween = (first: Address, last: Address): AddressRange => ({
  family: first.family,
  first: first.value,
  last: last.value,
});

export const formatRange = (range: AddressRange): string =>
  `${formatAddress(address(range.family, range.first))} to ${formatAddress(address(range.family, range.last))}`;

export const rangeSize = (range: AddressRange): bigint => range.last - range.first + 1n;

export const inRange = (range: AddressRange, host: Address): boolean =>
  range.family === host.family && range.first <= host.value && host.value <= range.last;

/** The smallest set of blocks that covers exactly the range, in order (RFC 4632 section 5.1). */
export function prefixesOf({ family, first, last }: AddressRange): Prefix[] {
  const bits = bitsOf(family);
  const blocks: Prefix[] = [];
  let start = first;
  while (start <= last) {
    let length = bits;
    // Grow the block while it stays aligned and inside the range.
    while (length > 0) {
      const size = 1n << BigInt(bits - length + 1);
      if (start % size !== 0n || start + size - 1n > last) break;
      length -= 1;
    }
    blocks.push(prefixAround(address(family, start), length));
    start += 1n << BigInt(bits - length);
  }
  return blocks;
}

/** Sorts and joins ranges that touch or overlap, so that equal sets have equal lists. One family at a time. */
export function joinRanges(ranges: readonly AddressRange[]): AddressRange[] {
  const sorted = [...ranges].filter((range) => range.first <= range.last);
  sorted.sort((a, b) => a.family - b.family || (a.first < b.first ? -1 : a.first > b.first ? 1 : 0));
  const joined: AddressRange[] = [];
  for (const range of sorted) {
    const before = joined.at(-1);
    if (before && before.family === range.family && range.first <= before.last + 1n) {
      if (range.last > before.last) joined[joined.length - 1] = { ...before, last: range.last };
    } else joined.push(range);
  }
  return joined;
}

/** What is in `from` and in none of `taken`: both sorted and joined, then walked through once. */
export function subtractRanges(
  from: readonly AddressRange[],
  taken: readonly AddressRange[],
): AddressRange[] {
  const holes = joinRanges(taken);
  const left: AddressRange[] = [];
  let next = 0;
  for (const range of joinRanges(from)) {
    let first = range.first;
    const before = (hole: AddressRange): boolean =>
      hole.family < range.family || (hole.family === range.family && hole.last < range.first);
    while (next < holes.length && before(holes[next]!)) next += 1;
    for (let at = next; at < holes.length; at += 1) {
      const hole = holes[at]!;
      if (hole.family !== range.family || hole.first > range.last) break;
      if (hole.first > first) left.push({ ...range, first, last: hole.first - 1n });
      first = hole.last + 1n;
    }
    if (first <= range.last) left.push({ ...range, first });
  }
  return left;
}

/** What a range has in common with others. */
export const commonRanges = (whole: AddressRange, others: readonly AddressRange[]): AddressRange[] =>
  joinRanges(others).flatMap(({ family, first, last }) => {
    const from = first > whole.first ? first : whole.first;
    const to = last < whole.last ? last : whole.last;
    return family === whole.family && from <= to ? [{ family, first: from, last: to }] : [];
  });

/** The first aligned block of `length` bits inside `space` that touches none of `taken`. */
export function firstFreeBlock(space: Prefix, length: number, taken: readonly Prefix[]): Prefix | undefined {
  const size = 1n << BigInt(bitsOf(space.family) - length);
  for (const range of subtractRanges([rangeOf(space)], taken.map(rangeOf))) {
    const start = ((range.first + size - 1n) / size) * size;
    if (start + size - 1n <= range.last) return prefixAround(address(space.family, start), length);
  }
  return undefined;
}

/** The first address of `ranges` that is not in `taken`. */
export const firstFreeAddress = (
  ranges: readonly AddressRange[],
  taken: readonly Address[],
): Address | undefined => firstFreeBeside(ranges, new Set(taken.map(addressKey)));

/** The same for many askers: what is taken comes as keys (`addressKey`), and `also` beside it. */
export function firstFreeBeside(
  ranges: readonly AddressRange[],
  held: ReadonlySet<bigint>,
  also?: Address,
): Address | undefined {
  const own = also && addressKey(also);
  for (const { family, first, last } of ranges)
    for (let value = first; value <= last; value += 1n) {
      const host = address(family, value);
      const key = addressKey(host);
      if (key !== own && !held.has(key)) return host;
    }
  return undefined;
}
