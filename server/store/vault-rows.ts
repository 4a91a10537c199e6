import { and, asc, desc, eq } from 'drizzle-orm';
import type { PgliteDatabase } from 'drizzle-orm/pglite';
import { isRipe, noteUse, useNow } from './days-of-use.ts';
import { factNames } from './facts.ts';
import { facts, vault, vaultSecrets, vaultTrash } from './schema.ts';

export type VaultRow = Omit<typeof vault.$inferSelect, 'id'>;
export type VaultRows = ReturnType<typeof vaultRows>;

/** A sealed secret and the site and name to which its seal is bound. */
export interface SealedSecret {
  readonly siteId: string;
  readonly name: string;
  readonly sealed: string;
}

/** A secret in the trash. */
export interface TrashedSecret {
  readonly id: number;
  readonly name: string;
  readonly deletedAt: Date;
  /** Whether it has lain there for so long that Netter offers to erase it. */
  readonly ripe: boolean;
}

const failuresFact = factNames.vaultFailures;

/**
 * What the database keeps of the vault: nothing that can be read without the passphrase, but names. `erased` has the
 * database rewrite what it keeps of the vault, so that nothing that was removed is left in its files.
 */
export const vaultRows = (db: PgliteDatabase, clock: () => Date, erased: () => Promise<void>) => ({
  erased,
  async read(): Promise<VaultRow | undefined> {
    const [row] = await db.select().from(vault);
    if (!row) return undefined;
    const { id: _, ...kept } = row;
    return kept;
  },
  /** Makes the vault; false where there is one. */
  async make(row: VaultRow): Promise<boolean> {
    const made = await db
      .insert(vault)
      .values({ id: 1, ...row })
      .onConflictDoNothing()
      .returning({ id: vault.id });
    return made.length > 0;
  },
  /** The vault under another key: every secret comes sealed anew, all in one commit. */
  async rekey(row: VaultRow, reseal: (secret: SealedSecret) => string): Promise<void> {
    await db.transaction(async (tx) => {
      await tx.update(vault).set(row);
      for (const secret of await tx.select().from(vaultSecrets))
        await tx
          .update(vaultSecrets)
          .set({ sealed: reseal(secret) })
          .where(and(eq(vaultSecrets.siteId, secret.siteId), eq(vaultSecrets.name, secret.name)));
      for (const secret of await tx.select().from(vaultTrash))
        await tx
          .update(vaultTrash)
          .set({ sealed: reseal(secret) })
          .where(eq(vaultTrash.id, secret.id));
    });
    await erased();
  },
  async wipe(): Promise<void> {
    await db.transaction(async (tx) => {
      await tx.delete(vaultTrash);
      await tx.delete(vaultSecrets);
      await tx.delete(vault);
      await tx.delete(facts).where(eq(facts.name, failuresFact));
    });
    await erased();
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
  /** Keeps a sealed secret; what stood under the name before is replaced. True where it was. */
  async put(siteId: string, name: string, sealed: string): Promise<boolean> {
    return db.transaction(async (tx) => {
      const before = await tx.delete(vaultSecrets).where(here(siteId, name)).returning();
      await tx.insert(vaultSecrets).values({ siteId, name, sealed });
      return before.length > 0;
    });
  },
  /** Moves a secret to the trash; false where there is none of that name. */
  async remove(siteId: string, name: string, deletedAt: Date): Promise<boolean> {
    return db.transaction(async (tx) => {
      const [gone] = await tx.delete(vaultSecrets).where(here(siteId, name)).returning();
      if (!gone) return false;
      const { days } = await noteUse(tx, clock());
      await tx.insert(vaultTrash).values({ ...gone, deletedAt, deletedOnDay: days });
      return true;
    });
  },
  async trash(siteId: string): Promise<TrashedSecret[]> {
    const use = await useNow(db, clock());
    const rows = await db
      .select()
      .from(vaultTrash)
      .where(eq(vaultTrash.siteId, siteId))
      .orderBy(desc(vaultTrash.id));
    return rows.map(({ id, name, deletedAt, deletedOnDay }) => ({
      id,
      name,
      deletedAt,
      ripe: isRipe(use, deletedAt, deletedOnDay),
    }));
  },
  /** Puts a secret back from the trash; undefined where it is not there, false where its name is in use again. */
  async putBack(siteId: string, id: number): Promise<boolean | undefined> {
    return db.transaction(async (tx) => {
      const [found] = await tx.select().from(vaultTrash).where(inTrash(siteId, id));
      if (!found) return undefined;
      const { name, sealed } = found;
      const put = await tx
        .insert(vaultSecrets)
        .values({ siteId, name, sealed })
        .onConflictDoNothing()
        .returning({ name: vaultSecrets.name });
      if (put.length === 0) return false;
      await tx.delete(vaultTrash).where(inTrash(siteId, id));
      return true;
    });
  },
  /** Erases a secret in the trash for good; false where there is none. */
  async erase(siteId: string, id: number): Promise<boolean> {
    const gone = await db.delete(vaultTrash).where(inTrash(siteId, id)).returning({ id: vaultTrash.id });
    if (gone.length > 0) await erased();
    return gone.length > 0;
  },
  /** Wrong passphrases since the last right one. Kept, so that a restart gives no new tries. */
  async failures(): Promise<number> {
    const [row] = await db.select().from(facts).where(eq(facts.name, failuresFact));
    return Number(row?.value ?? 0);
  },
  async setFailures(count: number): Promise<void> {
    const value = String(count);
    await db
      .insert(facts)
      .values({ name: failuresFact, value })
      .onConflictDoUpdate({ target: facts.name, set: { value } });
  },
});

const here = (siteId: string, name: string) =>
  and(eq(vaultSecrets.siteId, siteId), eq(vaultSecrets.name, name));
const inTrash = (siteId: string, id: number) => and(eq(vaultTrash.siteId, siteId), eq(vaultTrash.id, id));
