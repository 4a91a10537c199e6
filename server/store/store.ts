import type { PGlite } from '@electric-sql/pglite';
import { and, asc, desc, eq, getTableColumns, ilike, inArray, or, sql } from 'drizzle-orm';
import { drizzle } from 'drizzle-orm/pglite';
import { migrate } from 'drizzle-orm/pglite/migrator';
import {
  compile,
  parsePlan,
  runChecks,
  type Plan,
  type RecordInput,
  type RungId,
  type SiteRecord,
} from '../../core/index.ts';
import { facts, records, revisions, sites } from './schema.ts';
import { templateRows } from './template-rows.ts';
import { revisionsToDrop } from './thin.ts';
import { vaultRows } from './vault-rows.ts';

/** A site as the list shows it. */
export type SiteRow = typeof sites.$inferSelect;

export interface Saved {
  readonly revision: number;
  readonly savedAt: Date;
}

export type SaveResult =
  | { readonly kind: 'saved'; readonly saved: Saved }
  | { readonly kind: 'stale'; readonly current: Saved & { readonly plan: Plan } }
  | { readonly kind: 'missing' };

/** Sites, their revisions and their records. Time comes in as a clock. */
export type Store = Awaited<ReturnType<typeof openStore>>;

/** Saves after which old revisions are thinned and the database is tidied. */
const tidyEvery = 200;

/** Opens the store in a database; `migrations` is the folder of the SQL files that bring it up to date. */
export async function openStore(database: PGlite, migrations: string, clock: () => Date = () => new Date()) {
  const db = drizzle(database);
  await migrate(db, { migrationsFolder: migrations });
  let saves = 0;

  /** Thins one site's revisions. */
  async function thin(siteId: string): Promise<void> {
    const all = await db
      .select({ number: revisions.number, savedAt: revisions.savedAt })
      .from(revisions)
      .where(eq(revisions.siteId, siteId));
    const referred = await db
      .selectDistinct({ revision: records.revision })
      .from(records)
      .where(eq(records.siteId, siteId));
    const drop = revisionsToDrop(all, new Set(referred.map((row) => row.revision)), clock());
    if (drop.length > 0)
      await db.delete(revisions).where(and(eq(revisions.siteId, siteId), inArray(revisions.number, drop)));
  }

  /** Gives freed space back and writes the log out: the database does neither by itself here. */
  async function tidy(): Promise<void> {
    await database.exec('VACUUM');
    await database.exec('CHECKPOINT');
  }

  async function create(id: string, plan: Plan): Promise<Saved> {
    const savedAt = clock();
    await db.transaction(async (tx) => {
      await tx.insert(sites).values({ id, ...listFields(plan), revision: 1, savedAt });
      await tx.insert(revisions).values({ siteId: id, number: 1, savedAt, plan });
    });
    return { revision: 1, savedAt };
  }

  /** Saves a plan as the next revision, if `base` is still the newest one. */
  async function save(id: string, base: number, plan: Plan): Promise<SaveResult> {
    const savedAt = clock();
    const fields = listFields(plan);
    const revision = await db.transaction(async (tx) => {
      const moved = await tx
        .update(sites)
        .set({ ...fields, revision: base + 1, savedAt })
        .where(and(eq(sites.id, id), eq(sites.revision, base)))
        .returning({ revision: sites.revision });
      if (!moved[0]) return undefined;
      await tx.insert(revisions).values({ siteId: id, number: base + 1, savedAt, plan });
      return moved[0].revision;
    });
    if (revision === undefined) {
      const current = await read(id);
      return current ? { kind: 'stale', current } : { kind: 'missing' };
    }
    saves += 1;
    if (revision % 50 === 0) await thin(id);
    if (saves % tidyEvery === 0) await tidy();
    return { kind: 'saved', saved: { revision, savedAt } };
  }

  async function read(id: string): Promise<(Saved & { plan: Plan }) | undefined> {
    const [row] = await db
      .select({ revision: sites.revision, savedAt: revisions.savedAt, plan: revisions.plan })
      .from(sites)
      .innerJoin(revisions, and(eq(revisions.siteId, sites.id), eq(revisions.number, sites.revision)))
      .where(eq(sites.id, id));
    return row && ofToday(row);
  }

  return {
    create,
    save,
    read,
    tidy,
    vault: vaultRows(db),
    templates: templateRows(db),
    close: () => database.close(),

    /** One page of the list, last saved first, and the count of all that match (0 past the last page). */
    async list(search: string, offset: number, limit: number): Promise<{ rows: SiteRow[]; total: number }> {
      const pattern = `%${search.replace(/[\\%_]/g, '\\$&')}%`;
      const matching =
        search === ''
          ? undefined
          : or(ilike(sites.name, pattern), ilike(sites.customer, pattern), ilike(sites.town, pattern));
      const found = await db
        .select({ ...getTableColumns(sites), total: sql<number>`count(*) over()::int` })
        .from(sites)
        .where(matching)
        .orderBy(desc(sites.savedAt), asc(sites.id))
        .offset(offset)
        .limit(limit);
      return { rows: found.map(({ total: _, ...row }) => row), total: found[0]?.total ?? 0 };
    },

    async remove(id: string): Promise<boolean> {
      return (await db.delete(sites).where(eq(sites.id, id)).returning({ id: sites.id })).length > 0;
    },

    /** The revisions that are kept, newest first. */
    async revisions(id: string): Promise<Saved[]> {
      return db
        .select({ revision: revisions.number, savedAt: revisions.savedAt })
        .from(revisions)
        .where(eq(revisions.siteId, id))
        .orderBy(desc(revisions.number));
    },

    async revision(id: string, number: number): Promise<(Saved & { plan: Plan }) | undefined> {
      const [row] = await db
        .select({ revision: revisions.number, savedAt: revisions.savedAt, plan: revisions.plan })
        .from(revisions)
        .where(and(eq(revisions.siteId, id), eq(revisions.number, number)));
      return row && ofToday(row);
    },

    /** Adds a record; undefined where there is no such site. */
    async addRecord(siteId: string, input: RecordInput): Promise<SiteRecord | undefined> {
      return db.transaction(async (tx) => {
        const [site] = await tx.select({ id: sites.id }).from(sites).where(eq(sites.id, siteId));
        if (!site) return undefined;
        const [row] = await tx
          .insert(records)
          .values({ ...input, rung: input.rung ?? null, siteId, at: clock() })
          .returning();
        return row && recordOf(row);
      });
    },

    async records(siteId: string): Promise<SiteRecord[]> {
      return (await db.select().from(records).where(eq(records.siteId, siteId)).orderBy(asc(records.id))).map(
        recordOf,
      );
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

/** A plan that an earlier version saved lacks the fields that came since: they get what they have in a new plan. */
function ofToday<Row extends { readonly plan: Plan }>(row: Row): Row {
  const plan = parsePlan(row.plan);
  return plan.ok ? { ...row, plan: plan.value } : row;
}

function listFields(plan: Plan): Omit<SiteRow, 'id' | 'revision' | 'savedAt'> {
  const findings = runChecks(compile(plan));
  return {
    name: plan.site.name,
    customer: plan.site.customer,
    town: plan.site.town,
    demo: plan.demo,
    blockers: findings.filter((each) => each.severity === 'blocker').length,
    warnings: findings.filter((each) => each.severity === 'warning').length,
  };
}

const recordOf = ({
  id,
  at,
  kind,
  subject,
  initials,
  reading,
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
  ...(rung !== null && { rung: rung as RungId }),
  seenFrom,
  revision,
});
