import { randomBytes } from 'node:crypto';
import { xchacha20poly1305 } from '@noble/ciphers/chacha.js';

/** Cost of turning a passphrase into a key (RFC 9106 section 4): memory in KiB, passes, lanes. */
export interface Cost {
  readonly memoryKiB: number;
  readonly passes: number;
  readonly lanes: number;
}

/** The least that a vault is made with; one made with less is carried over when it is next opened. */
export const leastCost: Cost = { memoryKiB: 65_536, passes: 3, lanes: 1 };
/** The most that a vault is made with, and that one from a backup may ask for. */
export const mostCost: Cost = { memoryKiB: 262_144, passes: 12, lanes: 1 };
/** How long one guess takes at least, on this machine. */
const wantedMs = 400;

const text = new TextEncoder();

/** Its number in the library, whose types know it only by name (RFC 9106 section 3.1 has the same). */
const argon2id = 2;

type Derive = (secret: Uint8Array, salt: Uint8Array, cost: Cost) => Promise<Uint8Array>;

/** Argon2id in native code where there is a build for this system, and in JavaScript elsewhere: slower, but the same. */
const derivation: Promise<Derive> = import('@node-rs/argon2').then(
  ({ hashRaw }): Derive =>
    async (secret, salt, cost) =>
      new Uint8Array(
        await hashRaw(secret, {
          salt,
          algorithm: argon2id,
          memoryCost: cost.memoryKiB,
          timeCost: cost.passes,
          parallelism: cost.lanes,
          outputLen: 32,
        }),
      ),
  async (): Promise<Derive> => {
    const { argon2idAsync } = await import('@noble/hashes/argon2.js');
    return (secret, salt, cost) =>
      argon2idAsync(secret, salt, { m: cost.memoryKiB, t: cost.passes, p: cost.lanes, dkLen: 32 });
  },
);

/** The key of a passphrase (Argon2id, RFC 9106), 32 bytes. Two ways of typing one character are one passphrase. */
export async function keyOf(passphrase: string, salt: Uint8Array, cost: Cost): Promise<Uint8Array> {
  const secret = text.encode(passphrase.normalize('NFKC'));
  const key = await (await derivation)(secret, salt, cost);
  secret.fill(0);
  return key;
}

/** The cost at which one guess takes about half a second on this machine: first more memory, then more passes. */
export async function calibratedCost(): Promise<Cost> {
  let cost = leastCost;
  for (;;) {
    const begun = performance.now();
    await keyOf('calibration', newSalt(), cost);
    const took = performance.now() - begun;
    if (took >= wantedMs || cost.passes >= mostCost.passes) return cost;
    cost =
      cost.memoryKiB * 2 <= mostCost.memoryKiB
        ? { ...cost, memoryKiB: cost.memoryKiB * 2 }
        : { ...cost, passes: cost.passes + 1 };
  }
}

export const newSalt = (): Uint8Array => new Uint8Array(randomBytes(16));
export const newKey = (): Uint8Array => new Uint8Array(randomBytes(32));

/**
 * Seals bytes under a key (XChaCha20-Poly1305, draft-irtf-cfrg-xchacha): a nonce of its own, then the sealed bytes.
 * `bound` is not kept but must be the same at opening: a sealed secret cannot be moved to another name.
 */
export function seal(key: Uint8Array, plain: Uint8Array, bound: string): string {
  const nonce = new Uint8Array(randomBytes(24));
  const sealed = xchacha20poly1305(key, nonce, text.encode(bound)).encrypt(plain);
  return Buffer.concat([nonce, sealed]).toString('base64');
}

/** The bytes again, or undefined where the key, the name or the bytes are not the ones that were sealed. */
export function unseal(key: Uint8Array, sealed: string, bound: string): Uint8Array | undefined {
  const bytes = new Uint8Array(Buffer.from(sealed, 'base64'));
  try {
    return xchacha20poly1305(key, bytes.slice(0, 24), text.encode(bound)).decrypt(bytes.slice(24));
  } catch {
    return undefined;
  }
}
