import { and, asc, eq } from 'drizzle-orm';
import type { PgliteDatabase } from 'drizzle-orm/pglite';
import { vault, vaultSecrets } from './schema.ts';

export type VaultRow = Omit<typeof vault.$inferSelect, 'id'>;
export type VaultRows = ReturnType<typeof vaultRows>;

/** What the database keeps of the vault: nothing that can be read without the passphrase, but names. */
export const vaultRows = (db: PgliteDatabase) => ({
  async read(): Promise<VaultRow | undefined> {
    const [row] = await db.select().from(vault);
    return row;
  },
  async write(row: VaultRow): Promise<void> {
    await db
      .insert(vault)
      .values({ id: 1, ...row })
      .onConflictDoUpdate({ target: vault.id, set: row });
  },
  async wipe(): Promise<void> {
    await db.transaction(async (tx) => {
      await tx.delete(vaultSecrets);
      await tx.delete(vault);
    });
  },
  async names(siteId: string): Promise<string[]> {
    const rows = await db
      .select({ name: vaultSecrets.name })
      .from(vaultSecrets)
      .where(eq(vaultSecrets.siteId, siteId))
      .orderBy(asc(vaultSecrets.name));
    return rows.map(({ name }) => name);
  },
  async sealed(siteId: string, name: string): Promise<string | undefined> {
    const [row] = await db.select().from(vaultSecrets).where(here(siteId, name));
    return row?.sealed;
  },
  async put(siteId: string, name: string, sealed: string): Promise<void> {
    await db
      .insert(vaultSecrets)
      .values({ siteId, name, sealed })
      .onConflictDoUpdate({ target: [vaultSecrets.siteId, vaultSecrets.name], set: { sealed } });
  },
  async remove(siteId: string, name: string): Promise<void> {
    await db.delete(vaultSecrets).where(here(siteId, name));
  },
});

const here = (siteId: string, name: string) =>
  and(eq(vaultSecrets.siteId, siteId), eq(vaultSecrets.name, name));
