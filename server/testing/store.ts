import { fileURLToPath } from 'node:url';
import { PGlite } from '@electric-sql/pglite';
import { openStore, type Store } from '../store/store.ts';

export const root = fileURLToPath(new URL('../..', import.meta.url));
export const migrations = fileURLToPath(new URL('../store/migrations', import.meta.url));

/** A store in memory, with a clock that a test moves. */
export async function memoryStore(): Promise<{ store: Store; clock: { now: Date }; database: PGlite }> {
  const clock = { now: new Date('2026-03-02T09:00:00Z') };
  const database = await PGlite.create();
  return { store: await openStore(database, migrations, () => clock.now), clock, database };
}
