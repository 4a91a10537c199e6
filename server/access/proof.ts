import { createHash, createPublicKey, randomBytes, verify, type KeyObject } from 'node:crypto';
import * as z from 'zod';
import type { Clocks } from '../clocks.ts';

/*
 * A cookie goes to every port of a host, so it can be caught by a page that another program serves there. Each
 * request of a browser is therefore signed by a key that was made in it and never leaves it: DPoP, RFC 9449, with a
 * nonce of the server (section 8) in place of a clock.
 */

/** How long a nonce is given out; it is taken for as long again. */
const nonceMs = 10 * 60_000;
const longestProof = 2_000;

const part = z.string().regex(/^[A-Za-z0-9_-]{43}$/);
const headerSchema = z.object({
  typ: z.literal('dpop+jwt'),
  alg: z.literal('ES256'),
  jwk: z.object({ kty: z.literal('EC'), crv: z.literal('P-256'), x: part, y: part }),
});
const payloadSchema = z.object({
  jti: z.string().min(16).max(64),
  htm: z.string(),
  htu: z.string(),
  nonce: z.string(),
});

/** What a proof proves: which key signed this request (its thumbprint, RFC 7638), or why it proves nothing. */
export type Proven =
  { readonly key: string } | { readonly refused: 'no-proof' | 'wrong-proof' | 'old-nonce' };

const json = (text: string): unknown => {
  try {
    return JSON.parse(Buffer.from(text, 'base64url').toString('utf8'));
  } catch {
    return undefined;
  }
};

interface Turn {
  readonly nonce: string;
  readonly from: number;
  /** Proofs that were shown under this nonce: each is good once. */
  readonly seen: Set<string>;
}

export class Proofs {
  readonly #clocks: Clocks;
  #turn: Turn;
  #before: Turn | undefined;
  readonly #keys = new Map<string, KeyObject>();

  constructor(clocks: Clocks) {
    this.#clocks = clocks;
    this.#turn = this.#newTurn();
  }

  /** The nonce that the next proofs are to hold. */
  nonce(): string {
    const now = this.#clocks.monotonic();
    if (now - this.#turn.from >= nonceMs) {
      this.#before = now - this.#turn.from < 2 * nonceMs ? this.#turn : undefined;
      this.#turn = this.#newTurn();
    }
    return this.#turn.nonce;
  }

  /** Checks the proof that came with a request (RFC 9449 section 4.3). `url` is the address without its query. */
  check(proof: string | undefined, method: string, url: string): Proven {
    if (proof === undefined) return { refused: 'no-proof' };
    const [head = '', body = '', signature = '', ...more] = proof.slice(0, longestProof).split('.');
    const header = headerSchema.safeParse(json(head));
    const payload = payloadSchema.safeParse(json(body));
    if (more.length > 0 || !header.success || !payload.success) return { refused: 'wrong-proof' };
    const { jti, htm, htu, nonce } = payload.data;
    if (htm !== method || htu !== url) return { refused: 'wrong-proof' };
    this.nonce();
    const turn = [this.#turn, this.#before].find((each) => each?.nonce === nonce);
    if (!turn) return { refused: 'old-nonce' };
    const { x, y } = header.data.jwk;
    // The members in this order, and no others (RFC 7638 section 3.2).
    const key = createHash('sha256')
      .update(JSON.stringify({ crv: 'P-256', kty: 'EC', x, y }))
      .digest('base64url');
    const signed = Buffer.from(`${head}.${body}`);
    const bytes = Buffer.from(signature, 'base64url');
    try {
      const good = verify(
        'sha256',
        signed,
        { key: this.#keyOf(key, header.data.jwk), dsaEncoding: 'ieee-p1363' },
        bytes,
      );
      if (!good) return { refused: 'wrong-proof' };
    } catch {
      // A point that is not on the curve.
      return { refused: 'wrong-proof' };
    }
    if (turn.seen.has(jti)) return { refused: 'wrong-proof' };
    turn.seen.add(jti);
    return { key };
  }

  #keyOf(thumbprint: string, jwk: z.output<typeof headerSchema>['jwk']): KeyObject {
    const kept = this.#keys.get(thumbprint);
    if (kept) return kept;
    const made = createPublicKey({ key: jwk, format: 'jwk' });
    if (this.#keys.size >= 100) this.#keys.clear();
    this.#keys.set(thumbprint, made);
    return made;
  }

  #newTurn(): Turn {
    return { nonce: randomBytes(16).toString('base64url'), from: this.#clocks.monotonic(), seen: new Set() };
  }
}
