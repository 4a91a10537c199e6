import type { Message } from '../../behaviour/provider-sim/stand-in.ts';

/** Little-endian numbers of the format. */
const number = (value: number, bytes: 2 | 4): number[] =>
  Array.from({ length: bytes }, (_, place) => Math.floor(value / 2 ** (8 * place)) & 0xff);

const padded = (bytes: readonly number[]): number[] => [
  ...bytes,
  ...Array.from({ length: (4 - (bytes.length % 4)) % 4 }, () => 0),
];

/** A block: type, length, body, and the length once more. */
function block(type: number, body: readonly number[]): number[] {
  const length = body.length + 12;
  return [...number(type, 4), ...number(length, 4), ...body, ...number(length, 4)];
}

const option = (code: number, value: readonly number[]): number[] => [
  ...number(code, 2),
  ...number(value.length, 2),
  ...padded(value),
];
const endOfOptions = [...number(0, 2), ...number(0, 2)];

/**
 * The frames of an exchange as a capture file (pcapng, draft-ietf-opsawg-pcapng): one section, one Ethernet
 * interface, one enhanced packet block a frame, times in microseconds from `startSeconds` (Unix). Keys of a tunnel, in
 * the form of WireGuard key logs, come in a block of secrets (section 4.7), so that an analyser opens what is sealed.
 */
export function writePcapng(messages: readonly Message[], startSeconds: number, keyLog = ''): Uint8Array {
  const text = (value: string): number[] => [...new TextEncoder().encode(value)];
  const section = block(0x0a0d0d0a, [
    ...number(0x1a2b3c4d, 4),
    ...number(1, 2),
    ...number(0, 2),
    ...Array.from({ length: 8 }, () => 0xff),
    ...option(4, text('Netter, a rehearsed exchange')),
    ...endOfOptions,
  ]);
  const wire = block(1, [
    ...number(1, 2),
    ...number(0, 2),
    ...number(0, 4),
    ...option(9, [6]),
    ...endOfOptions,
  ]);
  const secrets =
    keyLog === ''
      ? []
      : block(10, [...number(0x57474b4c, 4), ...number(text(keyLog).length, 4), ...padded(text(keyLog))]);
  const packets = messages.flatMap(({ at, frame, says }) => {
    if (!frame) return [];
    const micros = BigInt(Math.round((startSeconds + at) * 1e6));
    return block(6, [
      ...number(0, 4),
      ...number(Number(micros >> 32n), 4),
      ...number(Number(micros & 0xffff_ffffn), 4),
      ...number(frame.length, 4),
      ...number(frame.length, 4),
      ...padded([...frame]),
      ...option(1, text(says)),
      ...endOfOptions,
    ]);
  });
  return Uint8Array.from([...section, ...wire, ...secrets, ...packets]);
}
