import { spawn, type ChildProcess } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { PGlite } from '@electric-sql/pglite';
import { Access } from '../access/access.ts';
import { cookieName } from '../access/cookie.ts';
import { openStore, type Store, type StoreOptions } from '../store/store.ts';

export const root = fileURLToPath(new URL('../..', import.meta.url));
export const migrations = fileURLToPath(new URL('../store/migrations', import.meta.url));

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

let empty: Promise<Blob> | undefined;

/** An empty database in memory: made once in a file of tests, then copied, which takes a quarter of the time. */
async function emptyDatabase(): Promise<PGlite> {
  if (empty) return PGlite.create({ loadDataDir: await empty });
  const first = await PGlite.create();
  empty = first.dumpDataDir('none');
  await empty;
  return first;
}

/** A store in memory, with a clock that a test moves. */
export async function memoryStore(options: Partial<StoreOptions> = {}) {
  const clock = movedClock();
  const database = await emptyDatabase();
  const store = await openStore(database, { migrations, clock: clock.now, ...options });
  return { store, clock, database };
}

/** Somebody who is signed in: the access, and the header that a browser would send. */
export async function signedIn(store: Store): Promise<{ access: Access; headers: { cookie: string } }> {
  const access = await Access.open(store.signIns);
  const { token } = (await access.signIn(access.newCode(), { label: 'a test', account: undefined }))!;
  return { access, headers: { cookie: `${cookieName}=${token}` } };
}

/** A process of its own that runs some lines of the source. */
export const runSource = (lines: string, environment: NodeJS.ProcessEnv = {}): ChildProcess =>
  spawn(process.execPath, ['--import', 'tsx', '--input-type=module', '-e', lines], {
    cwd: root,
    env: { ...process.env, NODE_OPTIONS: '', ...environment },
  });
