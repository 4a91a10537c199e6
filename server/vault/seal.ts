import { randomBytes } from 'node:crypto';
import { xchacha20poly1305 } from '@noble/ciphers/chacha.js';
import { argon2idAsync } from '@noble/hashes/argon2.js';

/** Cost of turning a passphrase into a key (RFC 9106 section 4): memory in KiB, passes, lanes. */
export interface Cost {
  readonly memoryKiB: number;
  readonly passes: number;
  readonly lanes: number;
}

/** About a second on a small laptop. Kept beside the vault, so that it can be raised without losing old ones. */
export const usualCost: Cost = { memoryKiB: 19_456, passes: 2, lanes: 1 };

const text = new TextEncoder();

/** The key of a passphrase (Argon2id, RFC 9106), 32 bytes. Two ways of typing one character are one passphrase. */
export const keyOf = (passphrase: string, salt: Uint8Array, cost: Cost): Promise<Uint8Array> =>
  argon2idAsync(text.encode(passphrase.normalize('NFKC')), salt, {
    m: cost.memoryKiB,
    t: cost.passes,
    p: cost.lanes,
    dkLen: 32,
  });

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
