import { x25519 } from '@noble/curves/ed25519.js';
import { base64 } from '@scure/base';
import { ok, type Result } from '../../base/result.ts';
import { parseKey } from './keys.ts';

export interface KeyPair {
  readonly privateKey: string;
  readonly publicKey: string;
}

/** Clears and sets the bits that every private key of the curve has (RFC 7748 section 5). */
function clamped(secret: Uint8Array): Uint8Array {
  const bytes = Uint8Array.from(secret);
  bytes[0]! &= 248;
  bytes[31] = (bytes[31]! & 127) | 64;
  return bytes;
}

/** A key pair of Curve25519 from 32 random bytes, which come in as an argument (RFC 7748 section 6.1). */
export function keyPair(random: Uint8Array): KeyPair {
  const secret = clamped(random);
  return { privateKey: base64.encode(secret), publicKey: base64.encode(x25519.getPublicKey(secret)) };
}

/** The public half of a private key, or why it is none. */
export function publicKeyOf(privateKey: string): Result<string> {
  const parsed = parseKey(privateKey);
  return parsed.ok ? ok(base64.encode(x25519.getPublicKey(parsed.value))) : parsed;
}

/** What two ends agree on (RFC 7748 section 6.1); undefined where a key cannot be read. */
export function sharedSecret(privateKey: string, publicKey: string): string | undefined {
  const [secret, other] = [parseKey(privateKey), parseKey(publicKey)];
  return secret.ok && other.ok ? base64.encode(x25519.getSharedSecret(secret.value, other.value)) : undefined;
}
