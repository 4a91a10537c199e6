import { sql } from 'drizzle-orm';
import { isDamage } from './damage.ts';
import { rebuildIndexes } from './mend.ts';
import type { Store } from './store.ts';

/** A site that cannot be read as it was last saved. */
export interface DamagedSite {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly newestReadable: number | null;
}

export interface Integrity {
  /** Sites that were looked at, of all that there are: the look is bounded in time. */
  readonly looked: number;
  readonly sites: number;
  readonly damaged: readonly DamagedSite[];
  /** Tables that cannot be walked through. */
  readonly tables: readonly string[];
  /** What was damaged and could be built anew. */
  readonly rebuilt: readonly string[];
}

const pageSize = 100;

/**
 * Reads what is kept as people would, last saved first, and says what cannot be read. Others have their turn in
 * between; it ends after `longestMs`, whether all was looked at or not.
 */
export async function lookThrough(
  store: Store,
  longestMs: number,
  rebuilt: readonly string[] = [],
): Promise<Integrity> {
  const found = await look(store, longestMs);
  if (found.damaged.length === 0 && found.tables.length === 0) return { ...found, rebuilt };
  // It may be an index only: with new ones more can be read.
  await rebuildIndexes(store.database).catch(() => {});
  const again = await look(store, longestMs);
  const better = again.damaged.length < found.damaged.length || again.tables.length < found.tables.length;
  return { ...again, rebuilt: better ? [...rebuilt, 'indexes of the tables'] : rebuilt };
}

async function look(store: Store, longestMs: number): Promise<Omit<Integrity, 'rebuilt'>> {
  const until = performance.now() + longestMs;
  const damaged: DamagedSite[] = [];
  const tables: string[] = [];
  for (const table of ['sites', 'revisions', 'records', 'vault', 'vault_secrets', 'vault_trash', 'templates'])
    try {
      await store.db.execute(sql.raw(`select count(*) from ${table}`));
    } catch (error) {
      if (!isDamage(error)) throw error;
      tables.push(table);
    }
  let looked = 0;
  let total = 0;
  try {
    for (let offset = 0; performance.now() < until; offset += pageSize) {
      const page = await store.list('', offset, pageSize);
      if (page.rows.length === 0) break;
      total = page.total;
      for (const { id, name } of page.rows) {
        if (performance.now() > until) break;
        const found = await store.read(id);
        looked += 1;
        if (found.kind === 'damaged')
          damaged.push({ id, name, revision: found.revision, newestReadable: found.newestReadable ?? null });
        await new Promise((resolve) => setImmediate(resolve));
      }
    }
    for (const id of await store.orphans()) {
      const newest = await store.newestReadable(id);
      const found = newest === undefined ? undefined : await store.revision(id, newest);
      damaged.push({
        id,
        name: found?.kind === 'found' ? found.saved.plan.site.name : '',
        revision: newest ?? 0,
        newestReadable: newest ?? null,
      });
    }
  } catch (error) {
    // The tables themselves: that is said already.
    if (!isDamage(error)) throw error;
  }
  return { looked, sites: total, damaged, tables };
}
