import type { PGlite } from '@electric-sql/pglite';
import { and, asc, desc, eq, inArray, like, isNotNull, isNull, ne, or, sql } from 'drizzle-orm';
import { drizzle } from 'drizzle-orm/pglite';
import { migrate } from 'drizzle-orm/pglite/migrator';
import {
  durationsOf,
  learntFrom,
  type KitItem,
  type Learnt,
  type Plan,
  type RecordInput,
  type RungId,
  type SiteRecord,
  type StepMoment,
  wordsOf,
} from '../../core/index.ts';
import { alike } from './alike.ts';
import { countFindings, uncounted, type Counts } from './counts.ts';
import { cardName, cardOf, cardPattern, modelOf } from './facts.ts';
import { siteList } from './list.ts';
import { isRipe, noteUse, useNow } from './days-of-use.ts';
import { guarded } from './guard.ts';
import { Later } from './later.ts';
import { mostCards } from './limits.ts';
import { reading, type Damaged, type Saved, type SavedPlan } from './reading.ts';
import { facts, keptRevisions, records, revisions, sites, vaultSecrets } from './schema.ts';
import { signInRows } from './sign-in-rows.ts';
import { templateRows } from './template-rows.ts';
import { revisionsToDrop } from './thin.ts';
import { vaultRows } from './vault-rows.ts';

export type SaveResult =
  | { readonly kind: 'saved'; readonly saved: Saved }
  | { readonly kind: 'stale'; readonly current: SavedPlan }
  | { readonly kind: 'missing' }
  | Damaged;

/** Newest records from which times are learnt: a few hundred visits. */
const timedRecords = 20_000;

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

  const vault = vaultRows(db, clock, async () => {
    // The tables are written anew, and the log begins a new file: what was erased is in neither any more.
    mayWrite();
    for (const table of ['vault', 'vault_secrets', 'vault_trash', 'facts'])
      await database.exec(`VACUUM FULL ${table}`);
    await database.exec('CHECKPOINT');
    await database.exec('SELECT pg_switch_wal()');
    await database.exec('CHECKPOINT');
  });

  /** Thins one site's revisions. */
  async function thin(siteId: string): Promise<void> {
    const all = await db
      .select({ number: revisions.number, savedAt: revisions.savedAt })
      .from(revisions)
      .where(eq(revisions.siteId, siteId));
    const named = await db
      .selectDistinct({ number: records.revision })
      .from(records)
      .where(eq(records.siteId, siteId))
      .union(
        db
          .selectDistinct({ number: keptRevisions.number })
          .from(keptRevisions)
          .where(eq(keptRevisions.siteId, siteId)),
      );
    const drop = revisionsToDrop(all, new Set(named.map((row) => row.number)));
    if (drop.length > 0)
      await db.delete(revisions).where(and(eq(revisions.siteId, siteId), inArray(revisions.number, drop)));
  }

  /** Gives freed space back and writes the log out: the database does neither by itself here. */
  async function tidy(): Promise<void> {
    await noteUse(db, clock());
    mayWrite();
    await database.exec('VACUUM');
    await database.exec('CHECKPOINT');
  }

  const recordsOf = async (id: string): Promise<SiteRecord[]> => {
    const rows = await db.select().from(records).where(eq(records.siteId, id)).orderBy(asc(records.id));
    return rows.map(recordOf);
  };

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

  /** Erases a site that is in the trash, with all it had; false where it is not there. */
  async function erase(id: string): Promise<boolean> {
    const secrets = await db
      .select({ name: vaultSecrets.name })
      .from(vaultSecrets)
      .where(eq(vaultSecrets.siteId, id))
      .limit(1);
    const gone = await db
      .delete(sites)
      .where(and(eq(sites.id, id), isNotNull(sites.deletedAt)))
      .returning({ id: sites.id });
    if (gone.length > 0 && secrets.length > 0) await vault.erased();
    return gone.length > 0;
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
    erase,
    tidy,
    deskLater,
    /** Days on which Netter was used, today among them. */
    daysOfUse: async (): Promise<number> => (await noteUse(db, clock())).days,
    newestReadable,
    orphans,
    alike: (plan: Plan) => alike(db, revision, plan),
    vault,
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

    /** Moves a site to the trash; false where there is none. */
    async remove(id: string): Promise<boolean> {
      const { days } = await noteUse(db, clock());
      const gone = await db
        .update(sites)
        .set({ deletedAt: clock(), deletedOnDay: days })
        .where(and(eq(sites.id, id), isNull(sites.deletedAt)))
        .returning({ id: sites.id });
      return gone.length > 0;
    },

    /** What is in the trash, last deleted first. */
    async trash() {
      const use = await useNow(db, clock());
      const rows = await db
        .select({
          id: sites.id,
          name: sites.name,
          customer: sites.customer,
          town: sites.town,
          revision: sites.revision,
          deletedAt: sites.deletedAt,
          deletedOnDay: sites.deletedOnDay,
        })
        .from(sites)
        .where(isNotNull(sites.deletedAt))
        .orderBy(desc(sites.deletedAt))
        .limit(500);
      return rows.map(({ deletedOnDay, ...row }) => ({
        ...row,
        /** Whether it has lain there for so long that Netter offers to erase it. */
        ripe: row.deletedAt !== null && isRipe(use, row.deletedAt, deletedOnDay),
      }));
    },

    /** Puts a site back from the trash; false where it is not there. */
    async putBack(id: string): Promise<boolean> {
      const back = await db
        .update(sites)
        .set({ deletedAt: null, deletedOnDay: null })
        .where(and(eq(sites.id, id), isNotNull(sites.deletedAt)))
        .returning({ id: sites.id });
      return back.length > 0;
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

    /** The revisions that are kept, newest first. */
    async revisions(id: string): Promise<Saved[]> {
      if ((await head(id)) === undefined) return [];
      return db
        .select({ revision: revisions.number, savedAt: revisions.savedAt })
        .from(revisions)
        .where(eq(revisions.siteId, id))
        .orderBy(desc(revisions.number));
    },

    /** Notes that something outside names a revision, so that it is never thinned; false where there is no such site. */
    async keep(id: string, number: number, why: 'print' | 'file'): Promise<boolean> {
      if ((await head(id)) === undefined) return false;
      await db.insert(keptRevisions).values({ siteId: id, number, why }).onConflictDoNothing();
      return true;
    },

    /** Adds a record; undefined where there is no such site. */
    async addRecord(siteId: string, input: RecordInput): Promise<SiteRecord | undefined> {
      return db.transaction(async (tx) => {
        const [site] = await tx
          .select({ id: sites.id })
          .from(sites)
          .where(and(eq(sites.id, siteId), isNull(sites.deletedAt)));
        if (!site) return undefined;
        const [row] = await tx
          .insert(records)
          .values({
            ...input,
            values: input.values ?? null,
            parts: input.parts ?? null,
            rung: input.rung ?? null,
            siteId,
            at: whenSeen(input.at, clock()),
          })
          .returning();
        if (row) deskLater(siteId);
        return row && recordOf(row);
      });
    },

    /** What was done and seen, in order; undefined where there is no such site. */
    async records(siteId: string): Promise<SiteRecord[] | undefined> {
      return (await head(siteId)) === undefined ? undefined : recordsOf(siteId);
    },

    /** How long each kind of step took, from the newest records of all sites. */
    async times(): Promise<Learnt> {
      const newest = await db
        .select({
          siteId: records.siteId,
          id: records.id,
          at: records.at,
          kind: records.kind,
          subject: records.subject,
        })
        .from(records)
        .where(inArray(records.kind, ['tick', 'timer']))
        .orderBy(desc(records.id))
        .limit(timedRecords);
      const bySite = new Map<string, StepMoment[]>();
      for (const { siteId, kind, subject, at } of newest.reverse())
        bySite.set(siteId, [...(bySite.get(siteId) ?? []), { kind, subject, at: at.toISOString() }]);
      return learntFrom([...bySite.values()].flatMap(durationsOf));
    },

    /** What is known of models of boxes, from earlier jobs. */
    async cards(): Promise<{ model: string; card: KitItem['card'] }[]> {
      const rows = await db.select().from(facts).where(like(facts.name, cardPattern)).limit(mostCards);
      return rows.flatMap(({ name, value }) => {
        const card = cardOf(value);
        return card === undefined ? [] : [{ model: modelOf(name), card }];
      });
    },

    /** Keeps the card of a model; one of the same model is replaced. False where there are as many as can be. */
    async keepCard(model: string, card: KitItem['card']): Promise<boolean> {
      const name = cardName(model);
      const others = await db.$count(facts, and(like(facts.name, cardPattern), ne(facts.name, name)));
      if (others >= mostCards) return false;
      await this.setFact(name, JSON.stringify(card));
      return true;
    },

    async fact(name: string): Promise<string | undefined> {
      return (await db.select().from(facts).where(eq(facts.name, name)))[0]?.value;
    },

    async setFact(name: string, value: string): Promise<void> {
      await db
        .insert(facts)
        .values({ name, value })
        .onConflictDoUpdate({ target: facts.name, set: { value } });
    },
  };
}

/** A record that waited in a window says when it was seen: within a week, and never in the future. */
function whenSeen(at: string | undefined, now: Date): Date {
  const seen = at === undefined ? now : new Date(at);
  const age = now.getTime() - seen.getTime();
  return age >= 0 && age < 7 * 86_400_000 ? seen : now;
}

/** What the list shows of a plan. */
export const listFields = (plan: Plan) => ({
  name: plan.site.name,
  customer: plan.site.customer,
  town: plan.site.town,
  demo: plan.demo,
  words: wordsOf(plan),
});

const recordOf = ({
  id,
  at,
  kind,
  subject,
  initials,
  reading,
  values,
  parts,
  rung,
  seenFrom,
  revision,
}: typeof records.$inferSelect): SiteRecord => ({
  id,
  at: at.toISOString(),
  kind,
  subject,
  initials,
  reading,
  ...(values && { values }),
  ...(parts && { parts }),
  ...(rung !== null && { rung: rung as RungId }),
  seenFrom,
  revision,
});
