import { chacha20poly1305 } from '@noble/ciphers/chacha.js';
import { x25519 } from '@noble/curves/ed25519.js';
import { blake2s } from '@noble/hashes/blake2.js';
import { hmac } from '@noble/hashes/hmac.js';

/**
 * The handshake of the tunnel and its packets, as the protocol's paper has them (section 5.4): Noise IKpsk2 with
 * Curve25519 (RFC 7748), ChaCha20-Poly1305 (RFC 8439) and BLAKE2s (RFC 7693). For the bench and its captures.
 */
export interface Identity {
  readonly privateKey: Uint8Array;
  readonly publicKey: Uint8Array;
}

/** A key pair from 32 secret bytes. */
export const identityOf = (privateKey: Uint8Array): Identity => ({
  privateKey,
  publicKey: x25519.getPublicKey(privateKey),
});

/** What one end holds once both are done: the keys in each direction, and the other end's number for it. */
export interface Session {
  readonly sending: Uint8Array;
  readonly receiving: Uint8Array;
  readonly receiver: number;
}

export interface Begun {
  readonly message: Uint8Array;
  readonly index: number;
  readonly ephemeral: Identity;
  readonly chain: Uint8Array;
  readonly hash: Uint8Array;
}

const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);
const join = (...parts: readonly Uint8Array[]): Uint8Array => {
  const whole = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
  let place = 0;
  for (const part of parts) {
    whole.set(part, place);
    place += part.length;
  }
  return whole;
};
const hashOf = (...parts: readonly Uint8Array[]): Uint8Array => blake2s(join(...parts));
const nothing = new Uint8Array(0);
const noSecret = new Uint8Array(32);

/** Two fixed texts of the protocol, which both ends begin with (its paper, section 5.4). */
const construction = bytesOf('Noise_IKpsk2_25519_ChaChaPoly_BLAKE2s');
const identifier = Uint8Array.from(
  '576972654775617264207631207a78326334204a61736f6e407a783263342e636f6d'
    .match(/../g)!
    .map((pair) => parseInt(pair, 16)),
);

/** Keys from a chain and some input (RFC 5869, with HMAC-BLAKE2s). */
function derive(count: number, chain: Uint8Array, input: Uint8Array): Uint8Array[] {
  const root = hmac(blake2s, chain, input);
  const keys: Uint8Array[] = [];
  for (let number = 1; number <= count; number += 1)
    keys.push(hmac(blake2s, root, join(keys.at(-1) ?? nothing, Uint8Array.of(number))));
  return keys;
}

/** Four zeros and the counter, lowest byte first. */
function nonce(counter: number): Uint8Array {
  const bytes = new Uint8Array(12);
  new DataView(bytes.buffer).setBigUint64(4, BigInt(counter), true);
  return bytes;
}
const closed = (key: Uint8Array, counter: number, plain: Uint8Array, beside: Uint8Array): Uint8Array =>
  chacha20poly1305(key, nonce(counter), beside).encrypt(plain);

function opened(
  key: Uint8Array,
  counter: number,
  sealed: Uint8Array,
  beside: Uint8Array,
): Uint8Array | undefined {
  try {
    return chacha20poly1305(key, nonce(counter), beside).decrypt(sealed);
  } catch {
    return undefined;
  }
}

const number32 = (value: number): Uint8Array => {
  const bytes = new Uint8Array(4);
  new DataView(bytes.buffer).setUint32(0, value, true);
  return bytes;
};
const numberAt = (bytes: Uint8Array, place: number): number =>
  new DataView(bytes.buffer, bytes.byteOffset).getUint32(place, true);

/** The sum by which a router tells a message that is meant for its key from noise: without it there is silence. */
const sumFor = (receiver: Uint8Array, message: Uint8Array): Uint8Array =>
  blake2s(message, { key: hashOf(bytesOf('mac1----'), receiver), dkLen: 16 });

/** Seconds of TAI since 1970 and nanoseconds (TAI64N): a repeated handshake is older than the last. */
function timestamp(unixSeconds: number): Uint8Array {
  const bytes = new Uint8Array(12);
  new DataView(bytes.buffer).setBigUint64(0, 0x400000000000000an + BigInt(Math.floor(unixSeconds)));
  return bytes;
}

/** The first message: 148 bytes, of which only the holder of the router's key can read who speaks. */
export function begin(
  own: Identity,
  router: Uint8Array,
  secret: Uint8Array,
  index: number,
  unixSeconds: number,
): Begun {
  const ephemeral = identityOf(secret);
  let chain = hashOf(construction);
  let hash = hashOf(hashOf(chain, identifier), router);
  chain = derive(1, chain, ephemeral.publicKey)[0]!;
  hash = hashOf(hash, ephemeral.publicKey);
  let [next, key] = derive(2, chain, x25519.getSharedSecret(ephemeral.privateKey, router));
  const who = closed(key!, 0, own.publicKey, hash);
  hash = hashOf(hash, who);
  [next, key] = derive(2, next!, x25519.getSharedSecret(own.privateKey, router));
  const when = closed(key!, 0, timestamp(unixSeconds), hash);
  hash = hashOf(hash, when);
  const body = join(Uint8Array.of(1, 0, 0, 0), number32(index), ephemeral.publicKey, who, when);
  return {
    message: join(body, sumFor(router, body), new Uint8Array(16)),
    index,
    ephemeral,
    chain: next!,
    hash,
  };
}

export type Answered =
  | { readonly known: true; readonly message: Uint8Array; readonly session: Session }
  /** The router stays silent: the message is for another key, or the one who speaks is nobody it knows. */
  | { readonly known: false; readonly why: 'another-key' | 'nobody' };

/**
 * The router's answer: 92 bytes, or silence.
 * @param secretOf pre-shared key of a known public key (zeros where there is none), undefined where nobody has it
 */
export function answer(
  own: Identity,
  first: Uint8Array,
  secretOf: (publicKey: Uint8Array) => Uint8Array | undefined,
  secret: Uint8Array,
  index: number,
): Answered {
  const body = first.subarray(0, 116);
  if (!sumFor(own.publicKey, body).every((each, place) => each === first[116 + place]))
    return { known: false, why: 'another-key' };
  const theirs = first.subarray(8, 40);
  let chain = hashOf(construction);
  let hash = hashOf(hashOf(hashOf(chain, identifier), own.publicKey), theirs);
  chain = derive(1, chain, theirs)[0]!;
  const [second, key] = derive(2, chain, x25519.getSharedSecret(own.privateKey, theirs));
  const who = opened(key!, 0, first.subarray(40, 88), hash);
  const shared = who && secretOf(who);
  if (!who || !shared) return { known: false, why: who ? 'nobody' : 'another-key' };
  hash = hashOf(hash, first.subarray(40, 88));
  const [third, key2] = derive(2, second!, x25519.getSharedSecret(own.privateKey, who));
  if (!opened(key2!, 0, first.subarray(88, 116), hash)) return { known: false, why: 'nobody' };
  hash = hashOf(hash, first.subarray(88, 116));
  const ephemeral = identityOf(secret);
  const end = lastSteps(third!, hash, ephemeral.publicKey, shared, [
    x25519.getSharedSecret(ephemeral.privateKey, theirs),
    x25519.getSharedSecret(ephemeral.privateKey, who),
  ]);
  const sealed = closed(end.key, 0, nothing, end.hash);
  const receiver = numberAt(first, 4);
  const reply = join(
    Uint8Array.of(2, 0, 0, 0),
    number32(index),
    number32(receiver),
    ephemeral.publicKey,
    sealed,
  );
  const [receiving, sending] = derive(2, end.chain, nothing);
  return {
    known: true,
    message: join(reply, sumFor(who, reply), new Uint8Array(16)),
    session: { sending: sending!, receiving: receiving!, receiver },
  };
}

/** The client reads the answer; undefined where it does not come from the router that was called. */
export function finish(
  own: Identity,
  begun: Begun,
  second: Uint8Array,
  preshared = noSecret,
): Session | undefined {
  const theirs = second.subarray(12, 44);
  const end = lastSteps(begun.chain, begun.hash, theirs, preshared, [
    x25519.getSharedSecret(begun.ephemeral.privateKey, theirs),
    x25519.getSharedSecret(own.privateKey, theirs),
  ]);
  if (!opened(end.key, 0, second.subarray(44, 60), end.hash)) return undefined;
  const [sending, receiving] = derive(2, end.chain, nothing);
  return { sending: sending!, receiving: receiving!, receiver: numberAt(second, 4) };
}

/** What both ends compute of the answer: its key for the proof, and the chain from which the session comes. */
function lastSteps(
  chain: Uint8Array,
  hash: Uint8Array,
  ephemeral: Uint8Array,
  preshared: Uint8Array,
  shared: readonly Uint8Array[],
): { chain: Uint8Array; hash: Uint8Array; key: Uint8Array } {
  let now = derive(1, chain, ephemeral)[0]!;
  for (const each of shared) now = derive(1, now, each)[0]!;
  const [next, mixed, key] = derive(3, now, preshared);
  return { chain: next!, hash: hashOf(hashOf(hash, ephemeral), mixed!), key: key! };
}

/**
 * A packet in the tunnel: 16 bytes before it, 16 after it, padded to sixteens but not beyond the MTU; an empty one
 * keeps a NAT awake.
 */
export function wrap(session: Session, counter: number, packet: Uint8Array, mtuBytes = 65_535): Uint8Array {
  const full = Math.ceil(packet.length / 16) * 16;
  const padded = new Uint8Array(Math.max(packet.length, Math.min(full, mtuBytes)));
  padded.set(packet);
  const head = join(Uint8Array.of(4, 0, 0, 0), number32(session.receiver), nonce(counter).subarray(4));
  return join(head, closed(session.sending, counter, padded, nothing));
}

/** The packet of a message of the tunnel with its padding; undefined where it was sealed with other keys. */
export const unwrap = (session: Session, message: Uint8Array): Uint8Array | undefined =>
  opened(session.receiving, numberAt(message, 8), message.subarray(16), nothing);
