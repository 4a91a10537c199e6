import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { addr, block } from '../../testing/plans.ts';
import { address, formatAddress } from './address.ts';
import { formatPrefix } from './prefix.ts';
import {
  firstFreeAddress,
  firstFreeBlock,
  joinRanges,
  prefixesOf,
  rangeBetween,
  rangeOf,
  rangeSize,
  subtractRanges,
  type AddressRange,
} from './range.ts';

const span = (first: number, last: number): AddressRange => ({
  family: 4,
  first: BigInt(first),
  last: BigInt(last),
});
const anyRange = fc
  .tuple(fc.nat({ max: 2 ** 20 }), fc.nat({ max: 5000 }))
  .map(([first, more]) => span(first, first + more));
const smallRanges = fc.array(
  fc.tuple(fc.nat({ max: 120 }), fc.nat({ max: 30 })).map(([first, more]) => span(first, first + more)),
  { maxLength: 8 },
);
const members = (ranges: readonly AddressRange[]): Set<number> =>
  new Set(
    ranges.flatMap(({ first, last }) =>
      Array.from({ length: Number(last - first) + 1 }, (_, index) => Number(first) + index),
    ),
  );

describe('ranges', () => {
  test('a worked example, bit by bit', () => {
    // 100 = 64 + 32 + 4 … 199: the aligned powers of two between them, found by hand.
    const blocks = prefixesOf(rangeBetween(addr('10.24.10.100'), addr('10.24.10.199'))).map(formatPrefix);
    expect(blocks).toEqual([
      '10.24.10.100/30',
      '10.24.10.104/29',
      '10.24.10.112/28',
      '10.24.10.128/26',
      '10.24.10.192/29',
    ]);
  });

  test('range to subnets to range is the same range, with no subnet to spare', () => {
    fc.assert(
      fc.property(anyRange, (range) => {
        const blocks = prefixesOf(range);
        expect(joinRanges(blocks.map(rangeOf))).toEqual([range]);
        expect(blocks.reduce((sum, each) => sum + rangeSize(rangeOf(each)), 0n)).toBe(rangeSize(range));
      }),
    );
    expect(prefixesOf(span(0, 2 ** 32 - 1)).map(formatPrefix)).toEqual(['0.0.0.0/0']);
  });

  test('subtraction is that of sets', () => {
    fc.assert(
      fc.property(smallRanges, smallRanges, (from, taken) => {
        const expected = members(from);
        for (const each of members(taken)) expected.delete(each);
        expect(members(subtractRanges(from, taken))).toEqual(expected);
      }),
    );
  });

  test('free subnets and addresses are aligned, inside, and free', () => {
    expect(
      formatPrefix(
        firstFreeBlock(block('10.24.0.0/16'), 24, [block('10.24.0.0/23'), block('10.24.3.128/25')])!,
      ),
    ).toBe('10.24.2.0/24');
    expect(
      firstFreeBlock(block('10.24.0.0/24'), 25, [block('10.24.0.0/25'), block('10.24.0.192/26')]),
    ).toBeUndefined();
    expect(formatAddress(firstFreeAddress([span(1, 5)], [address(4, 1n), address(4, 2n)])!)).toBe('0.0.0.3');
    expect(firstFreeAddress([span(1, 1)], [address(4, 1n)])).toBeUndefined();
  });
});
