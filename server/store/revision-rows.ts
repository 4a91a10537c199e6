import { and, desc, eq, inArray } from 'drizzle-orm';
import type { PgliteDatabase } from 'drizzle-orm/pglite';
import type { Saved } from './reading.ts';
import { keptRevisions, records, revisions } from './schema.ts';
import { revisionsToDrop } from './thin.ts';

/**
 * The revisions of each site: which there are, which are named outside, and which are thinned.
 * @param siteThere whether there is such a site
 */
export function revisionRows(db: PgliteDatabase, siteThere: (id: string) => Promise<boolean>) {
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

  return {
    thin,

    /** The revisions that are kept, newest first. */
    async revisions(id: string): Promise<Saved[]> {
      if (!(await siteThere(id))) return [];
      return db
        .select({ revision: revisions.number, savedAt: revisions.savedAt })
        .from(revisions)
        .where(eq(revisions.siteId, id))
        .orderBy(desc(revisions.number));
    },

    /** Notes that something outside names a revision, so that it is never thinned; false where there is no such site. */
    async keep(id: string, number: number, why: 'print' | 'file'): Promise<boolean> {
      if (!(await siteThere(id))) return false;
      await db.insert(keptRevisions).values({ siteId: id, number, why }).onConflictDoNothing();
      return true;
    },
  };
}
