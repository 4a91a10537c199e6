import { spawn, type ChildProcess } from 'node:child_process';
import { createHash, generateKeyPairSync, randomUUID, sign } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { PGlite } from '@electric-sql/pglite';
import { Access } from '../access/access.ts';
import { cookieName } from '../access/cookie.ts';
import type { Account } from '../access/peer.ts';
import { emptyDatabase } from '../folder/engine.ts';
import { openStore, type Store, type StoreOptions } from '../store/store.ts';

export const root = fileURLToPath(new URL('../..', import.meta.url));
export const migrations = fileURLToPath(new URL('../store/migrations', import.meta.url));
/** Built with the app. */
export const empty = join(root, emptyDatabase);

/** A clock that a test moves; both clocks of a program follow it. */
export function movedClock(start = '2026-03-02T09:00:00Z') {
  const clock = {
    at: new Date(start),
    running: 0,
    later(minutes: number): void {
      clock.at = new Date(clock.at.getTime() + minutes * 60_000);
      clock.running += minutes * 60_000;
    },
    now: (): Date => clock.at,
    monotonic: (): number => clock.running,
  };
  return clock;
}

let prepared: Promise<Blob> | undefined;

/** A database in memory with its tables: prepared once in a file of tests, then copied. */
async function preparedDatabase(): Promise<PGlite> {
  prepared ??= (async () => {
    const first = await PGlite.create(
      existsSync(empty) ? { loadDataDir: new Blob([readFileSync(empty)]) } : {},
    );
    await (await openStore(first, { migrations })).settled();
    const dump = await first.dumpDataDir('none');
    await first.close();
    return dump;
  })();
  return PGlite.create({ loadDataDir: await prepared });
}

/** A store in memory, with a clock that a test moves. */
export async function memoryStore(options: Partial<StoreOptions> = {}) {
  const clock = movedClock();
  const database = await preparedDatabase();
  const store = await openStore(database, { migrations, clock: clock.now, ...options });
  return { store, clock, database };
}

/** Somebody who may ask for everything: the access, and the header that the command line sends. */
export async function signedIn(
  store: Store,
): Promise<{ access: Access; headers: { authorization: string } }> {
  const access = await Access.open(store.signIns);
  return { access, headers: { authorization: `Bearer ${access.commandLineKey}` } };
}

/** A browser: it holds a key, signs its requests (RFC 9449), and was let in with a one-time address. */
export class TestBrowser {
  readonly #keys = generateKeyPairSync('ec', { namedCurve: 'P-256' });
  cookie = '';

  /** The proof for one request; parts of it can be made wrong. */
  proof(nonce: string, method: string, url: string, wrong: object = {}): string {
    const { kty, crv, x, y } = this.#keys.publicKey.export({ format: 'jwk' });
    const part = (value: object): string => Buffer.from(JSON.stringify(value)).toString('base64url');
    const head = part({ typ: 'dpop+jwt', alg: 'ES256', jwk: { kty, crv, x, y } });
    const body = part({ jti: randomUUID(), htm: method, htu: url, nonce, ...wrong });
    const signature = sign('sha256', Buffer.from(`${head}.${body}`), {
      key: this.#keys.privateKey,
      dsaEncoding: 'ieee-p1363',
    });
    return `${head}.${body}.${signature.toString('base64url')}`;
  }

  /** Thumbprint of its key (RFC 7638). */
  get thumbprint(): string {
    const { x, y } = this.#keys.publicKey.export({ format: 'jwk' });
    return createHash('sha256')
      .update(`{"crv":"P-256","kty":"EC","x":"${x}","y":"${y}"}`)
      .digest('base64url');
  }

  /** Headers of a request that it sends. */
  headers(access: Access, method: string, url: string): Record<string, string> {
    return {
      dpop: this.proof(access.proofs.nonce(), method, url.split('?')[0]!),
      ...(this.cookie && { cookie: this.cookie }),
    };
  }

  /** Lets it in without the interface. */
  async enter(access: Access, code = access.newCode(), account: Account = 1000): Promise<void> {
    const entered = await access.signIn(code, { label: 'a test', account, key: this.thumbprint });
    this.cookie = `${cookieName}=${entered!.token}`;
  }
}

/** Code of the database is compiled quickly: a test starts many programs, each for some seconds. */
export const quick = '--liftoff-only';

/** A process of its own that runs some lines of the source. */
export const runSource = (lines: string, environment: NodeJS.ProcessEnv = {}): ChildProcess =>
  spawn(process.execPath, [quick, '--import', 'tsx', '--input-type=module', '-e', lines], {
    cwd: root,
    env: { ...process.env, NODE_OPTIONS: '', ...environment },
  });
