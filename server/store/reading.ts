import { and, desc, eq, isNull, lt } from 'drizzle-orm';
import type { PgliteDatabase } from 'drizzle-orm/pglite';
import { parsePlan, withCleanLines, type Plan } from '../../core/index.ts';
import { isDamage } from './damage.ts';
import { revisions, sites } from './schema.ts';

export interface Saved {
  readonly revision: number;
  readonly savedAt: Date;
}
export type SavedPlan = Saved & { readonly plan: Plan };

/** A site whose newest revision cannot be read, and the newest one that can be. */
export interface Damaged {
  readonly kind: 'damaged';
  readonly revision: number;
  readonly newestReadable: number | undefined;
}

export type Read =
  { readonly kind: 'found'; readonly saved: SavedPlan } | { readonly kind: 'missing' } | Damaged;

/** Revisions that are tried one by one where their table cannot be walked. */
const mostTried = 1000;

/** Higher than any number of a revision. */
const beyond = 2 ** 31 - 1;

/** Reads sites and revisions, and tells what is damaged from what is not there. */
export function reading(db: PgliteDatabase) {
  /** Whether there is such a site in use, and its newest revision. */
  async function head(id: string): Promise<number | undefined> {
    const [row] = await db
      .select({ revision: sites.revision })
      .from(sites)
      .where(and(eq(sites.id, id), isNull(sites.deletedAt)));
    return row?.revision;
  }

  async function revision(id: string, number: number): Promise<Read> {
    try {
      const [row] = await db
        .select({ revision: revisions.number, savedAt: revisions.savedAt, plan: revisions.plan })
        .from(revisions)
        .where(and(eq(revisions.siteId, id), eq(revisions.number, number)));
      if (!row) return { kind: 'missing' };
      // A plan that an earlier version saved lacks the fields that came since: they get what they have in a new
      // plan. Lines that it let in are cleaned.
      const plan = parsePlan(withCleanLines(row.plan));
      return plan.ok
        ? { kind: 'found', saved: { ...row, plan: plan.value } }
        : { kind: 'damaged', revision: number, newestReadable: undefined };
    } catch (error) {
      if (!isDamage(error)) throw error;
      return { kind: 'damaged', revision: number, newestReadable: undefined };
    }
  }

  async function read(id: string): Promise<Read> {
    const newest = await head(id);
    if (newest === undefined) return lost(id);
    const found = await revision(id, newest);
    return found.kind === 'found'
      ? found
      : { kind: 'damaged', revision: newest, newestReadable: await newestReadable(id, newest) };
  }

  /** A site without a row: there never was one, it is in the trash, or its row is lost while its revisions are there. */
  async function lost(id: string): Promise<Read> {
    const [row] = await db.select({ id: sites.id }).from(sites).where(eq(sites.id, id));
    const newest = row ? undefined : await newestReadable(id);
    return newest === undefined
      ? { kind: 'missing' }
      : { kind: 'damaged', revision: newest, newestReadable: newest };
  }

  /** The newest revision that can be read, of the last thousand. */
  async function newestReadable(id: string, below = beyond): Promise<number | undefined> {
    let numbers: number[];
    try {
      numbers = (
        await db
          .select({ number: revisions.number })
          .from(revisions)
          .where(and(eq(revisions.siteId, id), lt(revisions.number, below)))
          .orderBy(desc(revisions.number))
          .limit(1000)
      ).map(({ number }) => number);
    } catch (error) {
      if (!isDamage(error)) throw error;
      // The table cannot be walked: try number by number.
      const top = Math.min(below - 1, mostTried);
      numbers = Array.from({ length: top }, (_, index) => top - index);
    }
    for (const number of numbers) if ((await revision(id, number)).kind === 'found') return number;
    return undefined;
  }

  return {
    head,
    revision,
    read,
    newestReadable,
    /** Sites whose revisions are there while their own row is not: a damaged table of sites. */
    async orphans(): Promise<string[]> {
      const rows = await db
        .selectDistinct({ id: revisions.siteId })
        .from(revisions)
        .leftJoin(sites, eq(sites.id, revisions.siteId))
        .where(isNull(sites.id))
        .limit(1000);
      return rows.map(({ id }) => id);
    },
  };
}
