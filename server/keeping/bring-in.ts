import { createHash } from 'node:crypto';
import { statSync } from 'node:fs';
import { and, asc, eq, sql } from 'drizzle-orm';
import { parsePlan, uplinkSchema, withCleanLines, type Plan } from '../../core/index.ts';
import {
  facts,
  keptRevisions,
  records,
  revisions,
  sites,
  templates,
  vault,
  vaultSecrets,
  vaultTrash,
} from '../store/schema.ts';
import { listFields, type Store } from '../store/store.ts';
import type { SealedSecret, VaultRow } from '../store/vault-rows.ts';
import { noteUse } from '../store/days-of-use.ts';
import { mostCards, mostRevision, mostTemplates } from '../store/limits.ts';
import { headOf, NoBackup, readBackupFile, type Entry, type EntryOf } from './backup-file.ts';
import { relationOf, type Fingerprint, type Relation } from './relation.ts';

/** One site of a backup, whole. */
export interface Bundle {
  readonly site: EntryOf<'site'>;
  readonly revisions: EntryOf<'revision'>[];
  readonly records: EntryOf<'record'>[];
  readonly kept: EntryOf<'kept'>[];
  readonly secrets: EntryOf<'secret'>[];
}

/** A site of a backup beside what is here. */
export interface Compared {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly savedAt: string;
  readonly relation: Relation['kind'];
  readonly revisionHere: number | null;
  readonly secrets: number;
}

/** How the vault of a backup stands to the one here: another one needs its own passphrase. */
export type VaultRelation = 'none' | 'new' | 'same' | 'other';

export interface Comparison {
  readonly sites: Compared[];
  readonly vault: VaultRelation;
  readonly templates: number;
  /** What could not be read when the backup was made. */
  readonly damaged: string[];
}

/** What was done with a backup. */
export interface Outcome {
  readonly added: number;
  readonly updated: number;
  readonly unchanged: number;
  /** Changed here and there: each is merged by a person. */
  readonly diverged: string[];
  readonly secrets: number;
  readonly secretsLeft: number;
  /** Another secret stands here under the same name: theirs went into the trash of the vault. */
  readonly secretsBeside: number;
  readonly templates: number;
}

/** Another vault that was opened beside the one here. */
export interface Adopted {
  /** What it sealed, sealed for the one here; undefined where it does not open. */
  readonly seal: (secret: SealedSecret) => string | undefined;
  /** Whether what the vault here sealed is the same secret as another seal of this vault under that name. */
  readonly same: (secret: SealedSecret, other: string) => boolean;
}
export type Adopt = (foreign: VaultRow) => Promise<Adopted>;

/** What stands before the sites, then site by site. */
async function* bundlesOf(
  path: string,
  common: (entry: Entry) => Promise<void> | void,
): AsyncGenerator<Bundle> {
  let bundle: Bundle | undefined;
  for await (const entry of readBackupFile(path)) {
    if (entry.kind === 'site') {
      if (bundle) yield bundle;
      bundle = { site: entry, revisions: [], records: [], kept: [], secrets: [] };
    } else if (entry.kind === 'revision') bundle?.revisions.push(entry);
    else if (entry.kind === 'record') bundle?.records.push(entry);
    else if (entry.kind === 'kept') bundle?.kept.push(entry);
    else if (entry.kind === 'secret') bundle?.secrets.push(entry);
    else await common(entry);
  }
  if (bundle) yield bundle;
}

/** The vault of a backup: it stands before the sites. Undefined where there is none. */
async function vaultIn(path: string): Promise<VaultRow | undefined> {
  for await (const entry of readBackupFile(path)) {
    if (entry.kind === 'vault') return vaultRowOf(entry);
    if (entry.kind === 'site') return undefined;
  }
  return undefined;
}

const known = new Map<string, VaultRow | undefined>();

/** Whether the secrets of a backup open with a passphrase that the vault here does not have any more. */
export async function isEarlier(path: string, here: VaultRow | undefined): Promise<boolean> {
  if (!here) return false;
  const { mtimeMs, size } = statSync(path);
  const version = `${path} ${mtimeMs} ${size}`;
  if (!known.has(version)) known.set(version, await vaultIn(path).catch(() => undefined));
  const theirs = known.get(version);
  return theirs !== undefined && theirs.sealedKey !== here.sealedKey;
}

const theirHistory = (bundle: Bundle): Fingerprint[] =>
  bundle.revisions.map(({ number, savedAt, plan }) => ({
    number,
    is: `${new Date(savedAt).toISOString()} ${createHash('sha256').update(JSON.stringify(plan)).digest('hex')}`,
  }));

/** The database, or a transaction on it. */
type Db = Store['db'] | Transaction;
type Transaction = Parameters<Parameters<Store['db']['transaction']>[0]>[0];

/** The history of a site here, oldest first. */
async function historyHere(db: Db, id: string): Promise<Fingerprint[]> {
  const rows = await db
    .select({
      number: revisions.number,
      savedAt: revisions.savedAt,
      sha256: sql<string>`encode(sha256(convert_to(plan::text, 'UTF8')), 'hex')`,
    })
    .from(revisions)
    .where(eq(revisions.siteId, id))
    .orderBy(asc(revisions.number));
  return rows.map(({ number, savedAt, sha256 }) => ({ number, is: `${savedAt.toISOString()} ${sha256}` }));
}

/** The number that each of their revisions has here; those that are not here follow the newest, `shift` higher. */
function numbersHere(
  here: readonly Fingerprint[],
  theirs: readonly Fingerprint[],
  shift: number,
): (number: number) => number {
  const known = new Map(here.map(({ is, number }) => [is, number]));
  const numbers = new Map(theirs.map(({ is, number }) => [number, known.get(is)]));
  return (number) => numbers.get(number) ?? number + shift;
}

async function vaultRelation(db: Db, theirs: VaultRow | undefined): Promise<VaultRelation> {
  if (!theirs) return 'none';
  const [here] = await db.select().from(vault);
  return !here ? 'new' : here.sealedKey === theirs.sealedKey ? 'same' : 'other';
}

const nameOf = ({ revisions: all }: Bundle): string => {
  const plan = all.at(-1)?.plan as { site?: { name?: unknown } } | undefined;
  return typeof plan?.site?.name === 'string' ? plan.site.name.slice(0, 200) : '';
};

/** Reads a backup whole, and says of each site how it stands to what is here. Changes nothing. */
export async function compareBackup(store: Store, path: string): Promise<Comparison> {
  const found: Compared[] = [];
  const damaged: string[] = [];
  let templateCount = 0;
  let theirVault: VaultRow | undefined;
  for await (const bundle of bundlesOf(path, (entry) => {
    if (entry.kind === 'template') templateCount += 1;
    if (entry.kind === 'damaged') damaged.push(entry.what);
    if (entry.kind === 'vault') theirVault = vaultRowOf(entry);
  })) {
    const here = await historyHere(store.db, bundle.site.id);
    found.push({
      id: bundle.site.id,
      name: nameOf(bundle),
      revision: bundle.site.revision,
      savedAt: bundle.site.savedAt,
      relation: relationOf(here, theirHistory(bundle)).kind,
      revisionHere: here.at(-1)?.number ?? null,
      secrets: bundle.secrets.filter(({ deletedAt }) => deletedAt === null).length,
    });
  }
  return {
    sites: found,
    vault: await vaultRelation(store.db, theirVault),
    templates: templateCount,
    damaged,
  };
}

const vaultRowOf = ({ salt, cost, sealedKey }: EntryOf<'vault'>): VaultRow => ({ salt, cost, sealedKey });

/**
 * Brings a backup in beside what is here, all of it or nothing. Nothing here is overwritten: sites that are not here
 * are added with all they had, sites that went on there are brought forward, sites that were changed on both sides
 * are left for a person to merge. Doing it again changes nothing.
 */
export async function bringIn(store: Store, path: string, adopt?: Adopt): Promise<Outcome> {
  const theirVault = await vaultIn(path);
  const foreign = theirVault && (await vaultRelation(store.db, theirVault)) === 'other';
  // Before the transaction: a passphrase that is tried is counted, whatever comes of it.
  const adopted = foreign && adopt ? await adopt(theirVault) : undefined;
  const toCount: string[] = [];
  const outcome = await store.db.transaction((tx) => bringAll(tx, path, store.now(), adopted, toCount));
  for (const id of toCount) store.deskLater(id);
  return outcome;
}

async function bringAll(
  tx: Transaction,
  path: string,
  now: Date,
  adopted: Adopted | undefined,
  toCount: string[],
): Promise<Outcome> {
  let [added, updated, unchanged, secrets, secretsLeft, secretsBeside, templateCount] = [0, 0, 0, 0, 0, 0, 0];
  const { madeAt } = await headOf(path);
  const { days } = await noteUse(tx, now);
  const diverged: string[] = [];
  /** Their seals as ours; undefined for a secret that must stay behind. */
  let asOurs: (secret: SealedSecret) => string | undefined = adopted?.seal ?? (() => undefined);
  const theirFacts: { name: string; value: string }[] = [];
  const common = async (entry: Entry): Promise<void> => {
    if (entry.kind === 'vault') {
      const theirs = vaultRowOf(entry);
      const relation = await vaultRelation(tx, theirs);
      if (relation === 'new') await tx.insert(vault).values({ id: 1, ...theirs });
      if (relation !== 'other') asOurs = ({ sealed }) => sealed;
    } else if (entry.kind === 'template') {
      const uplink = uplinkSchema.safeParse(entry.uplink);
      if (!uplink.success || (await tx.$count(templates)) >= mostTemplates) return;
      const put = await tx
        .insert(templates)
        .values({ name: entry.name, uplink: uplink.data })
        .onConflictDoNothing()
        .returning({ name: templates.name });
      templateCount += put.length;
    } else if (entry.kind === 'fact') theirFacts.push({ name: entry.name, value: entry.value });
  };
  for await (const bundle of bundlesOf(path, common)) {
    const { id } = bundle.site;
    const [here, theirs] = [await historyHere(tx, id), theirHistory(bundle)];
    const standing = relationOf(here, theirs);
    let shift = 0;
    // What was in the trash there comes along as trash.
    if (standing.kind === 'new') {
      await addSite(tx, bundle, days);
      toCount.push(id);
      added += 1;
    } else if (standing.kind === 'ahead') {
      shift = here.at(-1)!.number - standing.from;
      await bringForward(tx, bundle, standing.from, shift);
      toCount.push(id);
      updated += 1;
    } else if (standing.kind === 'diverged') diverged.push(id);
    else unchanged += 1;
    if (standing.kind !== 'diverged') await addRecords(tx, bundle, numbersHere(here, theirs, shift));
    const sealed = bundle.secrets.flatMap((secret) => {
      const ours = asOurs({ siteId: id, name: secret.name, sealed: secret.sealed });
      return ours === undefined ? [] : [{ ...secret, siteId: id, sealed: ours }];
    });
    secretsLeft += bundle.secrets.length - sealed.length;
    const put = await addSecrets(tx, sealed, adopted?.same, new Date(madeAt), days);
    secrets += put.added;
    secretsBeside += put.beside;
  }
  await addFacts(tx, theirFacts);
  return {
    added,
    updated,
    unchanged,
    diverged,
    secrets,
    secretsLeft,
    secretsBeside,
    templates: templateCount,
  };
}

/** Facts that are not here yet, as many as there is room for. */
async function addFacts(tx: Transaction, theirs: readonly { name: string; value: string }[]): Promise<void> {
  const room = Math.max(0, mostCards - (await tx.$count(facts)));
  if (theirs.length > 0 && room > 0)
    await tx.insert(facts).values(theirs.slice(0, room)).onConflictDoNothing();
}

/** Rows of one insert: as many as go over in one message, and no more than a few plans of the largest size. */
const rowsAtOnce = 10;
function* inPieces<T>(all: readonly T[], size: number): Generator<T[]> {
  for (let at = 0; at < all.length; at += size) yield all.slice(at, at + size);
}

const revisionRows = (bundle: Bundle) =>
  bundle.revisions.map(({ number, savedAt, plan }) => ({
    siteId: bundle.site.id,
    number,
    savedAt: new Date(savedAt),
    plan: plan as Plan,
  }));

/** Fields of the list, of the newest revision that can be understood. */
function fieldsOf(bundle: Bundle): ReturnType<typeof listFields> {
  const plan = parsePlan(withCleanLines(bundle.revisions.at(-1)?.plan));
  if (plan.ok) return listFields(plan.value);
  const name = nameOf(bundle);
  return { name, customer: '', town: '', demo: false, words: name.toLowerCase() };
}

const nextTouch = sql<number>`(select coalesce(max(touched), 0) + 1 from sites)`;

async function addSite(tx: Transaction, bundle: Bundle, days: number): Promise<void> {
  const { id, revision, savedAt, deletedAt } = bundle.site;
  await tx.insert(sites).values({
    id,
    ...fieldsOf(bundle),
    revision,
    savedAt: new Date(savedAt),
    touched: nextTouch,
    deletedAt: deletedAt === null ? null : new Date(deletedAt),
    // Days of use are counted where they are lived: in this folder it lies in the trash from today.
    deletedOnDay: deletedAt === null ? null : days,
  });
  for (const rows of inPieces(revisionRows(bundle), rowsAtOnce)) await tx.insert(revisions).values(rows);
  await addKept(tx, bundle);
}

async function addKept(tx: Transaction, { site, kept }: Bundle): Promise<void> {
  for (const rows of inPieces(kept, 500))
    await tx
      .insert(keptRevisions)
      .values(rows.map(({ number, why }) => ({ siteId: site.id, number, why })))
      .onConflictDoNothing();
}

/** Their revisions after `from` follow those here, under numbers that are `shift` higher. */
async function appendTail(tx: Transaction, bundle: Bundle, from: number, shift: number): Promise<void> {
  const tail = revisionRows(bundle)
    .filter(({ number }) => number > from)
    .map((row) => ({ ...row, number: row.number + shift }));
  if ((tail.at(-1)?.number ?? 0) > mostRevision)
    throw new NoBackup(
      `The site "${nameOf(bundle)}" would get a revision beyond ${mostRevision}, the last number there is. Nothing was restored from this file.`,
    );
  for (const rows of inPieces(tail, rowsAtOnce)) await tx.insert(revisions).values(rows);
}

async function bringForward(tx: Transaction, bundle: Bundle, from: number, shift: number): Promise<void> {
  const { id, savedAt } = bundle.site;
  await appendTail(tx, bundle, from, shift);
  await tx
    .update(sites)
    .set({
      ...fieldsOf(bundle),
      blockers: null,
      warnings: null,
      revision: bundle.revisions.at(-1)!.number + shift,
      savedAt: new Date(savedAt),
      touched: nextTouch,
    })
    .where(eq(sites.id, id));
  await addKept(tx, bundle);
}

/** Adds the records that are not here yet, each with the number that its revision has here. */
async function addRecords(
  tx: Transaction,
  bundle: Bundle,
  numberHere: (number: number) => number,
): Promise<void> {
  if (bundle.records.length === 0) return;
  const { id } = bundle.site;
  const keyOf = (each: {
    at: Date;
    kind: string;
    subject: string;
    initials: string;
    reading: string;
  }): string => JSON.stringify([each.at.toISOString(), each.kind, each.subject, each.initials, each.reading]);
  const known = new Set((await tx.select().from(records).where(eq(records.siteId, id))).map(keyOf));
  const rows = bundle.records
    .map(({ kind: _, act, at, revision, ...rest }) => ({
      ...rest,
      kind: act,
      at: new Date(at),
      revision: numberHere(revision),
      siteId: id,
    }))
    .filter((row) => !known.has(keyOf(row)));
  for (const piece of inPieces(rows, 200)) await tx.insert(records).values(piece);
}

/**
 * Adds secrets under names that are free here. One that stands here is never replaced: another one of the same name
 * goes into the trash of the vault, from which a person puts it in place. `same` tells whether two seals hold one
 * secret, where that can be told.
 */
async function addSecrets(
  tx: Transaction,
  theirs: readonly { siteId: string; name: string; sealed: string; deletedAt: string | null }[],
  same: Adopted['same'] = ({ sealed }, other) => sealed === other,
  madeAt: Date,
  days: number,
): Promise<{ readonly added: number; readonly beside: number }> {
  let [added, beside] = [0, 0];
  for (const { siteId, name, sealed, deletedAt } of theirs) {
    const named = <T extends typeof vaultSecrets | typeof vaultTrash>(table: T) =>
      and(eq(table.siteId, siteId), eq(table.name, name));
    const [here] = deletedAt === null ? await tx.select().from(vaultSecrets).where(named(vaultSecrets)) : [];
    if (deletedAt === null && !here) {
      await tx.insert(vaultSecrets).values({ siteId, name, sealed });
      added += 1;
      continue;
    }
    if (here && same(here, sealed)) continue;
    const at = deletedAt === null ? madeAt : new Date(deletedAt);
    const known = await tx
      .select({ id: vaultTrash.id })
      .from(vaultTrash)
      .where(and(named(vaultTrash), eq(vaultTrash.deletedAt, at)));
    if (known.length > 0) continue;
    await tx.insert(vaultTrash).values({ siteId, name, sealed, deletedAt: at, deletedOnDay: days });
    if (deletedAt === null) beside += 1;
  }
  return { added, beside };
}

/** A site that was changed here and there: what both began from, and both as they are. */
export interface Divergence {
  readonly base: Plan;
  readonly theirs: Plan;
  readonly theirRevision: number;
  readonly savedAt: string;
}

async function bundleOf(path: string, id: string): Promise<Bundle | undefined> {
  let found: Bundle | undefined;
  for await (const bundle of bundlesOf(path, () => {})) if (bundle.site.id === id) found = bundle;
  return found;
}

/** What a person needs to merge one site; undefined where it is not in the backup or did not diverge. */
export async function divergence(store: Store, path: string, id: string): Promise<Divergence | undefined> {
  const bundle = await bundleOf(path, id);
  if (!bundle) return undefined;
  const standing = relationOf(await historyHere(store.db, id), theirHistory(bundle));
  const newest = bundle.revisions.at(-1);
  const theirs = parsePlan(withCleanLines(newest?.plan));
  if (standing.kind !== 'diverged' || !newest || !theirs.ok) return undefined;
  // Without a revision that both have, all that they have from the beginning is theirs.
  const base = parsePlan(
    (bundle.revisions.find(({ number }) => number === standing.from) ?? bundle.revisions[0])?.plan,
  );
  return {
    base: base.ok ? base.value : theirs.value,
    theirs: theirs.value,
    theirRevision: newest.number,
    savedAt: newest.savedAt,
  };
}

/**
 * Ends a divergence with the plan a person chose: their revisions follow those here, under new numbers, and the
 * chosen plan comes last. Undefined where the site here is not at `base` any more.
 */
export async function settleDivergence(
  store: Store,
  path: string,
  id: string,
  base: number,
  chosen: Plan,
): Promise<number | undefined> {
  const bundle = await bundleOf(path, id);
  if (!bundle) return undefined;
  const done = await store.db.transaction(async (tx) => {
    const [here, theirs] = [await historyHere(tx, id), theirHistory(bundle)];
    const standing = relationOf(here, theirs);
    if (standing.kind !== 'diverged') return undefined;
    const shift = base - standing.from;
    const last = bundle.revisions.at(-1)!.number + shift;
    const moved = await tx
      .update(sites)
      .set({ revision: last, touched: nextTouch })
      .where(and(eq(sites.id, id), eq(sites.revision, base)))
      .returning({ id: sites.id });
    if (!moved[0]) return undefined;
    await appendTail(tx, bundle, standing.from, shift);
    await addRecords(tx, bundle, numbersHere(here, theirs, shift));
    return last;
  });
  if (done === undefined) return undefined;
  const result = await store.save(id, done, chosen);
  return result.kind === 'saved' ? result.saved.revision : undefined;
}
