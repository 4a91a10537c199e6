import { and, desc, eq, isNotNull, isNull } from 'drizzle-orm';
import type { PgliteDatabase } from 'drizzle-orm/pglite';
import { isRipe, noteUse, useNow } from './days-of-use.ts';
import { sites, vaultSecrets } from './schema.ts';

/**
 * Sites that were deleted: a day on their row, until somebody erases them.
 * @param secretsGone told when secrets were erased with a site
 */
export function trashRows(db: PgliteDatabase, clock: () => Date, secretsGone: () => Promise<void>) {
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
    if (gone.length > 0 && secrets.length > 0) await secretsGone();
    return gone.length > 0;
  }

  return {
    erase,

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
  };
}
