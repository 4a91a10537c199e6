import { createHash } from 'node:crypto';
import { and, asc, eq, sql } from 'drizzle-orm';
import { parsePlan, uplinkSchema, withCleanLines, type Plan } from '../../core/index.ts';
import {
  facts,
  keptRevisions,
  records,
  revisions,
  sites,
  templates,
  vaultSecrets,
  vaultTrash,
} from '../store/schema.ts';
import { listFields, type Store } from '../store/store.ts';
import type { SealedSecret, VaultRow } from '../store/vault-rows.ts';
import { readBackupFile, type Entry, type EntryOf } from './backup-file.ts';
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
  readonly templates: number;
}

/** Opens another vault: what it sealed comes back sealed for the one here, or undefined where it does not open. */
export type Adopt = (foreign: VaultRow) => Promise<(secret: SealedSecret) => string | undefined>;

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

const theirHistory = (bundle: Bundle): Fingerprint[] =>
  bundle.revisions.map(({ number, savedAt, plan }) => ({
    number,
    is: `${new Date(savedAt).toISOString()} ${createHash('sha256').update(JSON.stringify(plan)).digest('hex')}`,
  }));

/** The history of a site here, oldest first. */
async function historyHere(store: Store, id: string): Promise<Fingerprint[]> {
  const rows = await store.db
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

async function vaultRelation(store: Store, theirs: VaultRow | undefined): Promise<VaultRelation> {
  if (!theirs) return 'none';
  const here = await store.vault.read();
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
    const here = await historyHere(store, bundle.site.id);
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
  return { sites: found, vault: await vaultRelation(store, theirVault), templates: templateCount, damaged };
}

const vaultRowOf = ({ salt, cost, sealedKey }: EntryOf<'vault'>): VaultRow => ({ salt, cost, sealedKey });

/**
 * Brings a backup in beside what is here. Nothing here is overwritten: sites that are not here are added with all
 * they had, sites that went on there are brought forward, sites that were changed on both sides are left for a person
 * to merge. Read it whole with `compareBackup` first. Doing it again changes nothing.
 */
export async function bringIn(store: Store, path: string, adopt?: Adopt): Promise<Outcome> {
  let [added, updated, unchanged, secrets, secretsLeft, templateCount] = [0, 0, 0, 0, 0, 0];
  const diverged: string[] = [];
  /** Their seals as ours; undefined for a secret that must stay behind. */
  let asOurs: (secret: SealedSecret) => string | undefined = () => undefined;
  const common = async (entry: Entry): Promise<void> => {
    if (entry.kind === 'vault') {
      const theirs = vaultRowOf(entry);
      const relation = await vaultRelation(store, theirs);
      if (relation === 'same' || (relation === 'new' && (await store.vault.make(theirs))))
        asOurs = ({ sealed }) => sealed;
      else if (adopt) asOurs = await adopt(theirs);
    } else if (entry.kind === 'template') {
      const uplink = uplinkSchema.safeParse(entry.uplink);
      if (!uplink.success) return;
      const put = await store.db
        .insert(templates)
        .values({ name: entry.name, uplink: uplink.data })
        .onConflictDoNothing()
        .returning({ name: templates.name });
      templateCount += put.length;
    } else if (entry.kind === 'fact') await store.db.insert(facts).values(entry).onConflictDoNothing();
  };
  for await (const bundle of bundlesOf(path, common)) {
    const { id } = bundle.site;
    const [here, theirs] = [await historyHere(store, id), theirHistory(bundle)];
    const standing = relationOf(here, theirs);
    let shift = 0;
    // What was in the trash there comes along as trash.
    if (standing.kind === 'new') {
      await addSite(store, bundle);
      added += 1;
    } else if (standing.kind === 'ahead') {
      shift = here.at(-1)!.number - standing.from;
      await bringForward(store, bundle, standing.from, shift);
      updated += 1;
    } else if (standing.kind === 'diverged') diverged.push(id);
    else unchanged += 1;
    if (standing.kind !== 'diverged') await addRecords(store, bundle, numbersHere(here, theirs, shift));
    const sealed = bundle.secrets.flatMap((secret) => {
      const ours = asOurs({ siteId: id, name: secret.name, sealed: secret.sealed });
      return ours === undefined ? [] : [{ ...secret, siteId: id, sealed: ours }];
    });
    secretsLeft += bundle.secrets.length - sealed.length;
    secrets += await addSecrets(store, sealed);
  }
  return { added, updated, unchanged, diverged, secrets, secretsLeft, templates: templateCount };
}

const revisionRows = (bundle: Bundle) =>
  bundle.revisions.map(({ number, savedAt, plan }) => ({
    siteId: bundle.site.id,
    number,
    savedAt: new Date(savedAt),
    plan: plan as Plan,
  }));

/** Fields of the list, of the newest revision that can be understood. */
function fieldsOf(bundle: Bundle): { fields: ReturnType<typeof listFields>; plan: Plan | undefined } {
  const plan = parsePlan(withCleanLines(bundle.revisions.at(-1)?.plan));
  return plan.ok
    ? { fields: listFields(plan.value), plan: plan.value }
    : {
        fields: {
          name: nameOf(bundle),
          customer: '',
          town: '',
          demo: false,
          words: nameOf(bundle).toLowerCase(),
        },
        plan: undefined,
      };
}

const nextTouch = sql<number>`(select coalesce(max(touched), 0) + 1 from sites)`;

async function addSite(store: Store, bundle: Bundle): Promise<void> {
  const { id, revision, savedAt, deletedAt } = bundle.site;
  const { fields, plan } = fieldsOf(bundle);
  await store.db.transaction(async (tx) => {
    await tx.insert(sites).values({
      id,
      ...fields,
      revision,
      savedAt: new Date(savedAt),
      touched: nextTouch,
      deletedAt: deletedAt === null ? null : new Date(deletedAt),
    });
    for (const row of revisionRows(bundle)) await tx.insert(revisions).values(row);
    for (const { number, why } of bundle.kept)
      await tx.insert(keptRevisions).values({ siteId: id, number, why }).onConflictDoNothing();
  });
  if (plan) store.countLater(id, revision, plan);
}

/** Their revisions after `from` follow those here, under numbers that are `shift` higher. */
async function appendTail(
  tx: Pick<Store['db'], 'insert'>,
  { site, revisions: all }: Bundle,
  from: number,
  shift: number,
): Promise<void> {
  for (const { number, savedAt, plan } of all)
    if (number > from)
      await tx.insert(revisions).values({
        siteId: site.id,
        number: number + shift,
        savedAt: new Date(savedAt),
        plan: plan as Plan,
      });
}

async function bringForward(store: Store, bundle: Bundle, from: number, shift: number): Promise<void> {
  const { id, savedAt } = bundle.site;
  const { fields, plan } = fieldsOf(bundle);
  const revision = bundle.revisions.at(-1)!.number + shift;
  await store.db.transaction(async (tx) => {
    await appendTail(tx, bundle, from, shift);
    await tx
      .update(sites)
      .set({
        ...fields,
        blockers: null,
        warnings: null,
        revision,
        savedAt: new Date(savedAt),
        touched: nextTouch,
      })
      .where(eq(sites.id, id));
    for (const { number, why } of bundle.kept)
      await tx.insert(keptRevisions).values({ siteId: id, number, why }).onConflictDoNothing();
  });
  if (plan) store.countLater(id, revision, plan);
}

/** Adds the records that are not here yet, each with the number that its revision has here. */
async function addRecords(
  store: Store,
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
  await store.db.transaction(async (tx) => {
    const known = new Set((await tx.select().from(records).where(eq(records.siteId, id))).map(keyOf));
    for (const { kind: _, act, at, revision, ...rest } of bundle.records) {
      const row = { ...rest, kind: act, at: new Date(at), revision: numberHere(revision), siteId: id };
      if (!known.has(keyOf(row))) await tx.insert(records).values(row);
    }
  });
}

/** Adds secrets under names that are free here; one that stands here is never replaced. */
async function addSecrets(
  store: Store,
  secrets: readonly { siteId: string; name: string; sealed: string; deletedAt: string | null }[],
): Promise<number> {
  let count = 0;
  for (const { siteId, name, sealed, deletedAt } of secrets) {
    if (deletedAt === null) {
      const put = await store.db
        .insert(vaultSecrets)
        .values({ siteId, name, sealed })
        .onConflictDoNothing()
        .returning({ name: vaultSecrets.name });
      count += put.length;
      continue;
    }
    const at = new Date(deletedAt);
    const [known] = await store.db
      .select({ id: vaultTrash.id })
      .from(vaultTrash)
      .where(and(eq(vaultTrash.siteId, siteId), eq(vaultTrash.name, name), eq(vaultTrash.deletedAt, at)));
    if (!known) await store.db.insert(vaultTrash).values({ siteId, name, sealed, deletedAt: at });
  }
  return count;
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
  const standing = relationOf(await historyHere(store, id), theirHistory(bundle));
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
  const [here, theirs] = [await historyHere(store, id), theirHistory(bundle)];
  const standing = relationOf(here, theirs);
  if (standing.kind !== 'diverged') return undefined;
  const shift = base - standing.from;
  const last = bundle.revisions.at(-1)!.number + shift;
  const done = await store.db.transaction(async (tx) => {
    const moved = await tx
      .update(sites)
      .set({ revision: last, touched: nextTouch })
      .where(and(eq(sites.id, id), eq(sites.revision, base)))
      .returning({ id: sites.id });
    if (!moved[0]) return false;
    await appendTail(tx, bundle, standing.from, shift);
    return true;
  });
  if (!done) return undefined;
  const result = await store.save(id, last, chosen);
  await addRecords(store, bundle, numbersHere(here, theirs, shift));
  return result.kind === 'saved' ? result.saved.revision : undefined;
}
