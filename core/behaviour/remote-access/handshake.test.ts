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
          const [client, router] = [identityOf(a), identityOf(b)];
          const begun = begin(client, router.publicKey, c, 7, 1_772_442_000);
          const answered = answer(router, begun.message, only(client, preshared), d, 9);
          if (!answered.known) throw new Error(answered.why);
          expect([begun.message.length, answered.message.length]).toEqual([148, 92]);
          const session = finish(client, begun, answered.message, preshared)!;
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

  const [client, router, other] = [1, 2, 3].map((each) => identityOf(zeros.map(() => each))) as [
    Identity,
    Identity,
    Identity,
  ];
  const ephemeral = zeros.map(() => 9);

  test('silence for a stale key of the router, for a key that nobody has, and for a bit that was changed', () => {
    const stale = begin(client, other.publicKey, ephemeral, 1, 0);
    expect(answer(router, stale.message, only(client), ephemeral, 2)).toEqual({
      known: false,
      why: 'another-key',
    });
    const begun = begin(client, router.publicKey, ephemeral, 1, 0);
    expect(answer(router, begun.message, only(other), ephemeral, 2)).toEqual({ known: false, why: 'nobody' });
    for (const place of [5, 20, 60, 100, 120]) {
      const changed = Uint8Array.from(begun.message);
      changed[place]! ^= 1;
      expect(answer(router, changed, only(client), ephemeral, 2).known).toBe(false);
    }
  });

  test('with another pre-shared key at each end the remote user does not accept the answer', () => {
    const begun = begin(client, router.publicKey, ephemeral, 1, 0);
    const answered = answer(router, begun.message, only(client, ephemeral), ephemeral, 2);
    if (!answered.known) throw new Error(answered.why);
    expect(finish(client, begun, answered.message, zeros)).toBeUndefined();
    expect(finish(client, begun, answered.message, ephemeral)).toBeDefined();
  });
});
