import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Protocol } from './ports.ts';
import {
  boxesOf,
  bundlesBetween,
  canonicalBoxes,
  difference,
  holds,
  intersection,
  joinBoxes,
  type PacketBox,
  type PacketRow,
} from './packet-set.ts';

// A small corner of every dimension, so that boxes meet often and every packet can be tried.
const most = 6;
const interval = fc
  .tuple(fc.nat({ max: most }), fc.nat({ max: most }))
  .map(([a, b]) => ({ first: Math.min(a, b), last: Math.max(a, b) }));
const range = interval.map(({ first, last }) => ({
  family: 4 as const,
  first: BigInt(first),
  last: BigInt(last),
}));
const anyBox = fc
  .record({
    protocol: fc.constantFrom<Protocol>('tcp', 'udp'),
    source: range,
    destination: range,
    ports: interval,
  })
  .map((box): PacketBox => box);
const boxes = fc.array(anyBox, { maxLength: 5 });

const host = (value: number) => ({ family: 4 as const, value: BigInt(value) });
const packets = (['tcp', 'udp'] as const).flatMap((protocol) =>
  Array.from({ length: (most + 1) ** 3 }, (_, index) => ({
    protocol,
    source: host(index % (most + 1)),
    destination: host(Math.floor(index / (most + 1)) % (most + 1)),
    destinationPort: Math.floor(index / (most + 1) ** 2),
  })),
);
const among = (list: readonly PacketBox[], packet: (typeof packets)[number]): boolean =>
  list.some((box) => holds(box, packet));

describe('sets of packets, tried packet by packet', () => {
  test('an intersection holds what both hold', () =>
    fc.assert(
      fc.property(anyBox, anyBox, (a, b) => {
        const common = intersection(a, b);
        for (const packet of packets)
          expect(common !== undefined && holds(common, packet)).toBe(holds(a, packet) && holds(b, packet));
      }),
      { numRuns: 40 },
    ));

  test('two sets have one text exactly where they hold the same packets, however they were cut', () =>
    fc.assert(
      fc.property(boxes, boxes, fc.boolean(), (one, other, cut) => {
        // Cut along the edges of the other set, and put together again: nothing is added and nothing lost.
        const pieces = [
          ...difference(one, other),
          ...one.flatMap((a) => other.flatMap((b) => intersection(a, b) ?? [])),
        ];
        const second = cut ? pieces.reverse() : other;
        const alike = packets.every((packet) => among(one, packet) === among(second, packet));
        expect(canonicalBoxes(one) === canonicalBoxes(second)).toBe(alike);
      }),
      { numRuns: 60 },
    ));

  test('a difference holds what the first holds and the second does not; joining changes nothing', () =>
    fc.assert(
      fc.property(boxes, boxes, (from, taken) => {
        const left = difference(from, taken);
        const joined = joinBoxes(left);
        expect(joined.length).toBeLessThanOrEqual(left.length);
        for (const packet of packets) {
          const expected = among(from, packet) && !among(taken, packet);
          expect(among(left, packet)).toBe(expected);
          expect(among(joined, packet)).toBe(expected);
        }
        expect(difference(from, from)).toEqual([]);
      }),
      { numRuns: 60 },
    ));

  const anyRow = fc.record(
    {
      source: range,
      destination: range,
      ports: fc.constantFrom({ first: 3, last: 3 }, { first: 1, last: 5 }),
    },
    { requiredKeys: [] },
  );

  test('between the edges of rows nothing changes: each row holds a box or does not meet it; boxes are all packets once', () =>
    fc.assert(
      fc.property(fc.array(anyRow, { maxLength: 6 }), (rows: PacketRow[]) => {
        const whole = { family: 4 as const, first: 0n, last: BigInt(most) };
        const cut = bundlesBetween([whole], [whole], rows).flatMap(boxesOf);
        for (const packet of packets) {
          if (packet.destinationPort === 0) continue;
          expect(cut.filter((box) => holds(box, packet))).toHaveLength(1);
        }
        for (const box of cut.filter(({ protocol }) => protocol !== 'icmp'))
          for (const row of rows) {
            const inside = { ...box, ...(row.source && { source: row.source }), ...row } as PacketBox;
            const common = intersection(box, inside);
            if (common) expect(common).toEqual(box);
          }
      }),
      { numRuns: 100 },
    ));
});
