import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Message } from '../../behaviour/provider-sim/stand-in.ts';
import { writePcapng } from './pcapng.ts';

interface Block {
  readonly type: number;
  readonly body: DataView;
}

/** The blocks of a file, by the general block structure (draft-ietf-opsawg-pcapng section 3.1). */
function blocksOf(file: Uint8Array): Block[] {
  const view = new DataView(file.buffer, file.byteOffset, file.byteLength);
  const blocks: Block[] = [];
  for (let place = 0; place < file.length;) {
    const length = view.getUint32(place + 4, true);
    expect(length % 4).toBe(0);
    expect(view.getUint32(place + length - 4, true)).toBe(length);
    blocks.push({
      type: view.getUint32(place, true),
      body: new DataView(file.buffer, file.byteOffset + place + 8, length - 12),
    });
    place += length;
  }
  return blocks;
}

const message = (at: number, bytes: number[], says = 'x'): Message => ({
  at,
  order: 1,
  from: 'router',
  name: 'PADI',
  says,
  frame: Uint8Array.from(bytes),
});

test('one section, one Ethernet interface, then a packet for each frame', () => {
  const blocks = blocksOf(writePcapng([message(0, [1, 2, 3]), message(1, [4])], 0));
  expect(blocks.map(({ type }) => type)).toEqual([0x0a0d0d0a, 1, 6, 6]);
  expect(blocks[0]!.body.getUint32(0, true)).toBe(0x1a2b3c4d);
  expect(blocks[1]!.body.getUint16(0, true)).toBe(1); // LINKTYPE_ETHERNET
});

test('messages without a frame leave no packet', () => {
  const silent: Message = { at: 0, order: 1, from: 'line', name: 'Attach', says: 'by radio' };
  expect(blocksOf(writePcapng([silent], 0))).toHaveLength(2);
});

test('lengths, bytes and times come back as they went in, whatever their size', () => {
  const frames = fc.array(
    fc.record({
      at: fc.integer({ min: 0, max: 3_600_000 }),
      bytes: fc.array(fc.nat({ max: 255 }), { minLength: 1, maxLength: 90 }),
      says: fc.string({ maxLength: 30 }),
    }),
    { maxLength: 12 },
  );
  fc.assert(
    fc.property(frames, fc.integer({ min: 0, max: 4_000_000_000 }), (list, start) => {
      const file = writePcapng(
        list.map(({ at, bytes, says }) => message(at / 1000, bytes, says)),
        start,
      );
      const packets = blocksOf(file).slice(2);
      expect(packets).toHaveLength(list.length);
      for (const [index, { body }] of packets.entries()) {
        const { at, bytes } = list[index]!;
        const micros = (BigInt(body.getUint32(4, true)) << 32n) | BigInt(body.getUint32(8, true));
        expect(micros).toBe(BigInt(start) * 1_000_000n + BigInt(at) * 1000n);
        expect([body.getUint32(12, true), body.getUint32(16, true)]).toEqual([bytes.length, bytes.length]);
        expect(bytes.map((_, place) => body.getUint8(20 + place))).toEqual(bytes);
      }
    }),
  );
});
