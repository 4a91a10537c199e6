import { asc, eq } from 'drizzle-orm';
import type { PgliteDatabase } from 'drizzle-orm/pglite';
import type { UplinkPlan } from '../../core/index.ts';
import { templates } from './schema.ts';

/** Uplinks that were kept for the next site, by name. */
export const templateRows = (db: PgliteDatabase) => ({
  async list(): Promise<{ name: string; uplink: UplinkPlan }[]> {
    return db.select().from(templates).orderBy(asc(templates.name)).limit(200);
  },
  async put(name: string, uplink: UplinkPlan): Promise<void> {
    await db
      .insert(templates)
      .values({ name, uplink })
      .onConflictDoUpdate({ target: templates.name, set: { uplink } });
  },
  async remove(name: string): Promise<boolean> {
    return (await db.delete(templates).where(eq(templates.name, name)).returning()).length > 0;
  },
});
