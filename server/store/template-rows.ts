import { asc, eq, ne } from 'drizzle-orm';
import type { PgliteDatabase } from 'drizzle-orm/pglite';
import type { UplinkPlan } from '../../core/index.ts';
import { mostTemplates } from './limits.ts';
import { templates } from './schema.ts';

/** Uplinks that were kept for the next site, by name. */
export const templateRows = (db: PgliteDatabase) => ({
  async list(): Promise<{ name: string; uplink: UplinkPlan }[]> {
    return db.select().from(templates).orderBy(asc(templates.name)).limit(mostTemplates);
  },
  /** Keeps a template; one of the same name is replaced. False where there are as many as can be. */
  async put(name: string, uplink: UplinkPlan): Promise<boolean> {
    return db.transaction(async (tx) => {
      const others = await tx.$count(templates, ne(templates.name, name));
      if (others >= mostTemplates) return false;
      await tx
        .insert(templates)
        .values({ name, uplink })
        .onConflictDoUpdate({ target: templates.name, set: { uplink } });
      return true;
    });
  },
  async remove(name: string): Promise<boolean> {
    return (await db.delete(templates).where(eq(templates.name, name)).returning()).length > 0;
  },
});
