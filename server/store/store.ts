import type { PGlite } from '@electric-sql/pglite';
import { and, eq, isNull, or, sql } from 'drizzle-orm';
import { drizzle } from 'drizzle-orm/pglite';
import { migrate } from 'drizzle-orm/pglite/migrator';
import { type Plan, type SiteRecord, wordsOf } from '../../core/index.ts';
import { alike } from './alike.ts';
import { countFindings, uncounted, type Counts } from './counts.ts';
import { noteUse } from './days-of-use.ts';
import { factRows } from './fact-rows.ts';
import { guarded } from './guard.ts';
import { Later } from './later.ts';
import { siteList } from './list.ts';
import { reading, type Damaged, type Saved, type SavedPlan } from './reading.ts';
import { recordRows } from './record-rows.ts';
import { revisionRows } from './revision-rows.ts';
import { revisions, sites } from './schema.ts';
import { signInRows } from './sign-in-rows.ts';
import { templateRows } from './template-rows.ts';
import { trashRows } from './trash-rows.ts';
import { vaultRows } from './vault-rows.ts';

export type SaveResult =
  | { readonly kind: 'saved'; readonly saved: Saved }
  | { readonly kind: 'stale'; readonly current: SavedPlan }
  | { readonly kind: 'missing' }
  | Damaged;

/** Sites, their revisions and their records. Time comes in as a clock. */
export type Store = Awaited<ReturnType<typeof openStore>>;

export interface StoreOptions {
  /** Folder of the SQL files that bring the database up to date. */
  readonly migrations: string;
  readonly clock?: () => Date;
  /** Asked before anything is written; refuses by throwing. */
  readonly mayWrite?: () => void;
  /** Counts the findings of a plan, wherever that does not hold up others. */
  readonly count?: (plan: Plan, records: readonly SiteRecord[]) => Promise<Counts>;
}

/** Saves after which the database is tidied. */
const tidyEvery = 200;
/** A site is counted when it was not saved for so long. */
const quietMs = 8_000;

/** Opens the store in a database and brings its tables up to date. */
export async function openStore(
  database: PGlite,
  { migrations, clock = () => new Date(), mayWrite = () => {}, count = countFindings }: StoreOptions,
) {
  const guardedDatabase = guarded(database, mayWrite);
  const db = drizzle(guardedDatabase);
  await migrate(db, { migrationsFolder: migrations });
  const { head, revision, read, newestReadable, orphans } = reading(db);
  const later = new Later();
  let saves = 0;
  const siteThere = async (id: string): Promise<boolean> => (await head(id)) !== undefined;
  const { recordsOf, ...recorded } = recordRows(db, clock, siteThere, (id) => deskLater(id));
  const { thin, ...kept } = revisionRows(db, siteThere);

  const vault = vaultRows(db, clock, async () => {
    // The tables are written anew, and the log begins a new file: what was erased is in neither any more.
    mayWrite();
    for (const table of ['vault', 'vault_secrets', 'vault_trash', 'facts'])
      await database.exec(`VACUUM FULL ${table}`);
    await database.exec('CHECKPOINT');
    await database.exec('SELECT pg_switch_wal()');
    await database.exec('CHECKPOINT');
  });

  /** Gives freed space back and writes the log out: the database does neither by itself here. */
  async function tidy(): Promise<void> {
    await noteUse(db, clock());
    mayWrite();
    await database.exec('VACUUM');
    await database.exec('CHECKPOINT');
  }

  /**
   * Counts the findings of a revision and notes them, if it is still the newest one. A site that is being edited is
   * saved every few seconds: it is counted when that is over, or when the list is looked at.
   */
  const countLater = (id: string, revision: number, plan: Plan): void =>
    later.putOff(`counts ${id}`, quietMs, async () => {
      const { desk, ...counts } = await count(plan, await recordsOf(id));
      await db
        .update(sites)
        .set({
          ...counts,
          desk,
          due: desk?.dates[0]?.day ?? null,
          awaiting: desk?.awaiting.length ?? null,
          unproven: desk ? desk.promises - desk.proven : null,
        })
        .where(and(eq(sites.id, id), eq(sites.revision, revision)));
    });

  /** Counts a site anew from what the database has: something was recorded, or it was never counted this way. */
  const deskLater = (id: string): void =>
    later.add(`desk ${id}`, async () => {
      const found = await read(id);
      if (found.kind !== 'found') return;
      const { plan, revision } = found.saved;
      await db
        .update(sites)
        .set({ words: wordsOf(plan) })
        .where(and(eq(sites.id, id), eq(sites.revision, revision)));
      countLater(id, revision, plan);
    });
  // Sites that an earlier program saved have no words to be found by, and nothing due; others were saved just before
  // the program ended.
  for (const { id } of await db
    .select({ id: sites.id })
    .from(sites)
    .where(or(eq(sites.words, ''), isNull(sites.blockers))))
    deskLater(id);

  const nextTouch = sql<number>`(select coalesce(max(touched), 0) + 1 from sites)`;

  async function create(id: string, plan: Plan): Promise<Saved> {
    const savedAt = clock();
    await db.transaction(async (tx) => {
      await tx
        .insert(sites)
        .values({ id, ...listFields(plan), ...uncounted, revision: 1, savedAt, touched: nextTouch });
      await tx.insert(revisions).values({ siteId: id, number: 1, savedAt, plan });
    });
    countLater(id, 1, plan);
    return { revision: 1, savedAt };
  }

  /** Saves a plan as the next revision, if `base` is still the newest one. */
  async function save(id: string, base: number, plan: Plan): Promise<SaveResult> {
    const savedAt = clock();
    const revision = base + 1;
    const moved = await db.transaction(async (tx) => {
      const rows = await tx
        .update(sites)
        .set({ ...listFields(plan), ...uncounted, revision, savedAt, touched: nextTouch })
        .where(and(eq(sites.id, id), eq(sites.revision, base), isNull(sites.deletedAt)))
        .returning({ id: sites.id });
      if (!rows[0]) return false;
      await tx.insert(revisions).values({ siteId: id, number: revision, savedAt, plan });
      return true;
    });
    if (!moved) {
      const current = await read(id);
      return current.kind === 'found' ? { kind: 'stale', current: current.saved } : current;
    }
    // The save is done. Nothing that follows may fail it, or hold up its answer.
    countLater(id, revision, plan);
    saves += 1;
    if (revision % 50 === 0) later.add(`thinning ${id}`, () => thin(id));
    if (saves % tidyEvery === 0) later.add('tidying', tidy);
    return { kind: 'saved', saved: { revision, savedAt } };
  }

  /** The row of a site, anew from its newest revision that can be read; undefined where there is none, or a row. */
  async function restoreRow(id: string): Promise<Saved | undefined> {
    const newest = await newestReadable(id);
    const found = newest === undefined ? undefined : await revision(id, newest);
    if (found?.kind !== 'found') return undefined;
    const { plan, savedAt } = found.saved;
    // The index may still lead to rows that the table does not have any more.
    mayWrite();
    await database.exec('REINDEX TABLE sites');
    const made = await db
      .insert(sites)
      .values({
        id,
        ...listFields(plan),
        ...uncounted,
        revision: found.saved.revision,
        savedAt,
        touched: nextTouch,
      })
      .onConflictDoNothing()
      .returning({ id: sites.id });
    if (made.length === 0) return undefined;
    countLater(id, found.saved.revision, plan);
    return { revision: found.saved.revision, savedAt };
  }

  return {
    db,
    now: clock,
    /** Refuses, in a sentence, where nothing may be written just now. */
    assureWritable: mayWrite,
    database: guardedDatabase,
    create,
    save,
    read,
    revision,
    tidy,
    deskLater,
    /** Days on which Netter was used, today among them. */
    daysOfUse: async (): Promise<number> => (await noteUse(db, clock())).days,
    newestReadable,
    orphans,
    alike: (plan: Plan) => alike(db, revision, plan),
    vault,
    ...recorded,
    ...kept,
    ...factRows(db),
    ...trashRows(db, clock, () => vault.erased()),
    ...siteList(db, clock, () => later.wanted()),
    templates: templateRows(db),
    signIns: signInRows(db),
    /** When the work that saves left for later is done. */
    settled: () => later.settled(),
    tidyLater: () => later.add('tidying', tidy),
    async close(): Promise<void> {
      await later.end();
      await database.close();
    },

    /**
     * A damaged site goes on from its newest revision that can be read, as the next revision; one whose own row is
     * lost gets it back from that revision.
     */
    async recover(id: string): Promise<Saved | undefined> {
      if ((await head(id)) === undefined) return restoreRow(id);
      const found = await read(id);
      if (found.kind !== 'damaged' || found.newestReadable === undefined) return undefined;
      const good = await revision(id, found.newestReadable);
      if (good.kind !== 'found') return undefined;
      const result = await save(id, found.revision, good.saved.plan);
      return result.kind === 'saved' ? result.saved : undefined;
    },
  };
}

/** What the list shows of a plan. */
export const listFields = (plan: Plan) => ({
  name: plan.site.name,
  customer: plan.site.customer,
  town: plan.site.town,
  demo: plan.demo,
  words: wordsOf(plan),
});
