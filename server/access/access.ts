import { createHash, randomBytes, randomUUID } from 'node:crypto';
import { systemClocks, type Clocks } from '../clocks.ts';
import type { Account } from './peer.ts';
import { Proofs } from './proof.ts';
import type { SignIn, SignInRows } from '../store/sign-in-rows.ts';

/** How long a one-time address can be used. */
export const codeMinutes = 30;
/** A browser that was not used for so long must be let in again. */
const idleDays = 90;
/** What may only be done in a session that was begun anew, may be done for so long. */
const freshMinutes = 10;
/** Browsers that are let in at the same time; the one used longest ago makes room. */
const mostBrowsers = 50;

const minute = 60_000;
const day = 86_400_000;

const hashOf = (secret: string): string => createHash('sha256').update(secret).digest('hex');
/** 256 bits, as they may stand in an address and in a cookie. */
const newSecret = (): string => randomBytes(32).toString('base64url');

/** Who asked for a one-time address: somebody at the terminal, or a browser that was in already. */
export type CodeFrom = 'terminal' | 'browser';

/** What a browser that comes in is known by. */
export interface Newcomer {
  readonly label: string;
  readonly account: Account;
  /** Thumbprint of the key that signs its requests. */
  readonly key: string;
}

/** Who speaks: a browser that was let in, or the command line. */
export type Caller =
  { readonly kind: 'browser'; readonly signIn: SignIn } | { readonly kind: 'command-line' };

/**
 * Who may speak to this server. A one-time address lets one browser in; the browser then holds a random token, of
 * which only the hash is kept here. The command line has a token of its own, new at every start, in a file that
 * only its owner can read.
 */
export class Access {
  readonly #rows: SignInRows;
  readonly #clocks: Clocks;
  readonly #codes = new Map<string, { readonly until: number; readonly from: CodeFrom }>();
  readonly #signIns = new Map<string, SignIn>();
  /** Signatures of the browsers' requests. */
  readonly proofs: Proofs;
  readonly #endings = new Set<(id: string) => void>();
  /** Sign-ins that were begun since the start with an address from the terminal, and when. */
  readonly #begun = new Map<string, number>();
  /** Token of the command line. */
  readonly commandLineKey = newSecret();
  readonly #commandLineHash = hashOf(this.commandLineKey);

  private constructor(rows: SignInRows, clocks: Clocks) {
    this.#rows = rows;
    this.#clocks = clocks;
    this.proofs = new Proofs(clocks);
  }

  static async open(rows: SignInRows, clocks: Clocks = systemClocks): Promise<Access> {
    const access = new Access(rows, clocks);
    for (const row of await rows.list())
      // A session of before requests were signed cannot be told from one whose cookie was caught.
      // Where nothing can be written just now it is gone all the same, and removed another time.
      if (row.key === null) await rows.remove(row.id).catch(() => false);
      else access.#signIns.set(row.tokenHash, row);
    return access;
  }

  /** A code for a one-time address. */
  newCode(from: CodeFrom = 'terminal'): string {
    const now = this.#clocks.monotonic();
    for (const [hash, { until }] of this.#codes) if (until < now) this.#codes.delete(hash);
    const code = newSecret();
    this.#codes.set(hashOf(code), { until: now + codeMinutes * minute, from });
    return code;
  }

  /**
   * Lets a browser in; its token, or undefined where the code is unknown, used or too old. Where the sign-in cannot
   * be kept, the code can be used again.
   */
  async signIn(code: string, browser: Newcomer) {
    const hash = hashOf(code);
    const known = this.#codes.get(hash);
    this.#codes.delete(hash);
    if (known === undefined || known.until < this.#clocks.monotonic()) return undefined;
    try {
      return await this.#letIn(browser, known.from);
    } catch (error) {
      this.#codes.set(hash, known);
      throw error;
    }
  }

  async #letIn(browser: Newcomer, from: CodeFrom) {
    const token = newSecret();
    const now = this.#clocks.now();
    const signIn: SignIn = {
      id: randomUUID(),
      tokenHash: hashOf(token),
      label: browser.label,
      account: typeof browser.account === 'number' ? browser.account : null,
      key: browser.key,
      startedAt: now,
      usedAt: now,
    };
    const [oldest] =
      this.#signIns.size >= mostBrowsers
        ? [...this.#signIns.values()].sort((a, b) => a.usedAt.getTime() - b.usedAt.getTime())
        : [];
    if (oldest) await this.end(oldest.id);
    await this.#rows.add(signIn);
    this.#signIns.set(signIn.tokenHash, signIn);
    if (from === 'terminal') this.#begun.set(signIn.id, this.#clocks.monotonic());
    return { token, signIn };
  }

  /**
   * The browser that holds a token and signed the request with its key. A token that another account of this machine
   * shows is not good, nor one whose account cannot be told where the system tells. The administrator's account (0)
   * can do anything anyway.
   */
  browser(token: string, account: Account, key: string | undefined): Caller | undefined {
    const signIn = this.#signIns.get(hashOf(token));
    if (!signIn || key === undefined || signIn.key !== key) return undefined;
    const known = account === 'untold' || account === 0 || account === signIn.account;
    if (!known) return undefined;
    const now = this.#clocks.now();
    const idle = now.getTime() - signIn.usedAt.getTime();
    if (idle > idleDays * day) {
      // Where nothing can be written just now, it is refused all the same, and ended another time.
      void this.end(signIn.id).catch(() => {});
      return undefined;
    }
    if (idle > day) {
      const used = { ...signIn, usedAt: now };
      this.#signIns.set(signIn.tokenHash, used);
      // A note for the list, and nothing that a request should wait for or fail by.
      void this.#rows.used(signIn.id, now).catch(() => {});
    }
    return { kind: 'browser', signIn };
  }

  commandLine(key: string): Caller | undefined {
    return hashOf(key) === this.#commandLineHash ? { kind: 'command-line' } : undefined;
  }

  /**
   * Whether a session was begun within the last minutes, with an address from the terminal: asked before something
   * that cannot be undone. A session can make itself another one; the terminal is its owner's.
   */
  isFresh(signInId: string): boolean {
    const begun = this.#begun.get(signInId);
    return begun !== undefined && this.#clocks.monotonic() - begun < freshMinutes * minute;
  }

  list(): SignIn[] {
    return [...this.#signIns.values()].sort((a, b) => b.usedAt.getTime() - a.usedAt.getTime());
  }

  /** Ends a browser's session; false where there is none of that id. */
  async end(id: string): Promise<boolean> {
    for (const [hash, signIn] of this.#signIns) if (signIn.id === id) this.#signIns.delete(hash);
    this.#begun.delete(id);
    for (const ended of this.#endings) ended(id);
    return this.#rows.remove(id);
  }

  /** Calls back with the id of each session that ends; answers how to stop. */
  onEnd(listener: (id: string) => void): () => void {
    this.#endings.add(listener);
    return () => this.#endings.delete(listener);
  }
}
