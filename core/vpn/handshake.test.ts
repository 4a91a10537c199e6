import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { answer, begin, finish, identityOf, unwrap, wrap, type Identity } from './handshake.ts';

const secret = fc.uint8Array({ minLength: 32, maxLength: 32 });
const zeros = new Uint8Array(32);
const same = (a: Uint8Array, b: Uint8Array): boolean => Buffer.from(a).equals(Buffer.from(b));
const only =
  (peer: Identity, preshared = zeros) =>
  (key: Uint8Array): Uint8Array | undefined =>
    same(key, peer.publicKey) ? preshared : undefined;

describe('the handshake', () => {
  test('148 bytes, 92 bytes, and what one end wraps the other unwraps (any keys, any pre-shared key)', () => {
    fc.assert(
      fc.property(
        fc.tuple(secret, secret, secret, secret, secret),
        fc.uint8Array({ maxLength: 200 }),
        ([a, b, c, d, preshared], packet) => {
          const [traveller, router] = [identityOf(a), identityOf(b)];
          const begun = begin(traveller, router.publicKey, c, 7, 1_772_442_000);
          const answered = answer(router, begun.message, only(traveller, preshared), d, 9);
          if (!answered.known) throw new Error(answered.why);
          expect([begun.message.length, answered.message.length]).toEqual([148, 92]);
          const session = finish(traveller, begun, answered.message, preshared)!;
          expect([session.receiver, answered.session.receiver]).toEqual([9, 7]);
          for (const [from, to] of [
            [session, answered.session],
            [answered.session, session],
          ] as const) {
            const wrapped = wrap(from, 3, packet);
            expect(wrapped.length).toBe(32 + Math.ceil(packet.length / 16) * 16);
            expect([...unwrap(to, wrapped)!.subarray(0, packet.length)]).toEqual([...packet]);
            expect(unwrap(from, wrapped)).toBeUndefined();
          }
        },
      ),
      { numRuns: 15 },
    );
  });

  const [traveller, router, other] = [1, 2, 3].map((each) => identityOf(zeros.map(() => each))) as [
    Identity,
    Identity,
    Identity,
  ];
  const ephemeral = zeros.map(() => 9);

  test('silence for a stale key of the router, for a key that nobody has, and for a bit that was changed', () => {
    const stale = begin(traveller, other.publicKey, ephemeral, 1, 0);
    expect(answer(router, stale.message, only(traveller), ephemeral, 2)).toEqual({
      known: false,
      why: 'another-key',
    });
    const begun = begin(traveller, router.publicKey, ephemeral, 1, 0);
    expect(answer(router, begun.message, only(other), ephemeral, 2)).toEqual({ known: false, why: 'nobody' });
    for (const place of [5, 20, 60, 100, 120]) {
      const changed = Uint8Array.from(begun.message);
      changed[place]! ^= 1;
      expect(answer(router, changed, only(traveller), ephemeral, 2).known).toBe(false);
    }
  });

  test('with another pre-shared key at each end the remote user does not accept the answer', () => {
    const begun = begin(traveller, router.publicKey, ephemeral, 1, 0);
    const answered = answer(router, begun.message, only(traveller, ephemeral), ephemeral, 2);
    if (!answered.known) throw new Error(answered.why);
    expect(finish(traveller, begun, answered.message, zeros)).toBeUndefined();
    expect(finish(traveller, begun, answered.message, ephemeral)).toBeDefined();
  });
});
