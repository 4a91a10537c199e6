import { eq } from 'drizzle-orm';
import type { PgliteDatabase } from 'drizzle-orm/pglite';
import { signIns } from './schema.ts';

/** A browser that was let in. Of its token only the hash is kept. */
export type SignIn = typeof signIns.$inferSelect;
export type SignInRows = ReturnType<typeof signInRows>;

/** The browsers that may speak to this server. */
export const signInRows = (db: PgliteDatabase) => ({
  list: (): Promise<SignIn[]> => db.select().from(signIns),
  async add(row: SignIn): Promise<void> {
    await db.insert(signIns).values(row);
  },
  async used(id: string, usedAt: Date): Promise<void> {
    await db.update(signIns).set({ usedAt }).where(eq(signIns.id, id));
  },
  async remove(id: string): Promise<boolean> {
    return (await db.delete(signIns).where(eq(signIns.id, id)).returning({ id: signIns.id })).length > 0;
  },
});
