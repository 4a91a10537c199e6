import { and, asc, eq, gt, inArray, isNull, lte, max } from 'drizzle-orm';
import type { PgliteDatabase } from 'drizzle-orm/pglite';
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
import { isDamage } from '../store/damage.ts';
import { staysHere } from '../store/facts.ts';
import type { Entry } from './backup-file.ts';

/** Plans that are held in memory at the same time. */
const chunk = 20;

type Where = { readonly db: PgliteDatabase; readonly damaged: Entry[] };

/** Rows of a query; where they cannot be read, that is noted, and there are none. */
async function rowsOf<Row>({ damaged }: Where, what: string, read: () => PromiseLike<Row[]>): Promise<Row[]> {
  try {
    return await read();
  } catch (error) {
    if (!isDamage(error)) throw error;
    damaged.push({ kind: 'damaged', what });
    return [];
  }
}

/**
 * Everything that is kept, as entries: what belongs to all sites first, then site by site. Others are saved
 * meanwhile: a site is taken up to the revision that is its newest when its turn comes. A row that cannot be read is
 * named at the end and left out.
 */
export async function* dump(db: PgliteDatabase): AsyncGenerator<Entry> {
  const here: Where = { db, damaged: [] };
  for (const fact of await rowsOf(here, 'the facts', () => db.select().from(facts)))
    if (!staysHere(fact.name)) yield { kind: 'fact', ...fact };
  for (const { id: _, ...row } of await rowsOf(here, 'the vault', () => db.select().from(vault)))
    yield { kind: 'vault', ...row };
  for (const row of await rowsOf(here, 'the templates', () => db.select().from(templates)))
    yield { kind: 'template', ...row };
  for (let after = ''; ;) {
    const page = await rowsOf(here, `the sites after "${after}"`, () =>
      db.select({ id: sites.id }).from(sites).where(gt(sites.id, after)).orderBy(asc(sites.id)).limit(200),
    );
    for (const { id } of page) {
      const [site] = await rowsOf(here, `the site ${id}`, () =>
        db.select().from(sites).where(eq(sites.id, id)),
      );
      if (site) yield* siteEntries(here, site);
      // Others have their turn.
      await new Promise((resolve) => setImmediate(resolve));
    }
    const last = page.at(-1);
    if (!last) break;
    after = last.id;
  }
  // Revisions whose site has lost its own row: the site is taken as its newest revision has it.
  const orphans = await rowsOf(here, 'sites without a row', () =>
    db
      .select({ id: revisions.siteId, newest: max(revisions.number), savedAt: max(revisions.savedAt) })
      .from(revisions)
      .leftJoin(sites, eq(sites.id, revisions.siteId))
      .where(isNull(sites.id))
      .groupBy(revisions.siteId),
  );
  for (const { id, newest, savedAt } of orphans) {
    here.damaged.push({ kind: 'damaged', what: `the row of the site ${id}` });
    yield* siteEntries(here, {
      id,
      revision: newest ?? 1,
      savedAt: savedAt ?? new Date(0),
      deletedAt: null,
    });
  }
  yield* here.damaged;
}

async function* siteEntries(
  here: Where,
  site: {
    readonly id: string;
    readonly revision: number;
    readonly savedAt: Date;
    readonly deletedAt: Date | null;
  },
): AsyncGenerator<Entry> {
  const { db } = here;
  const { id } = site;
  yield {
    kind: 'site',
    id,
    revision: site.revision,
    savedAt: site.savedAt.toISOString(),
    deletedAt: site.deletedAt?.toISOString() ?? null,
  };
  const numbers = await rowsOf(here, `the list of revisions of ${id}`, () =>
    db
      .select({ number: revisions.number })
      .from(revisions)
      .where(and(eq(revisions.siteId, id), lte(revisions.number, site.revision)))
      .orderBy(asc(revisions.number)),
  );
  const plansOf = (wanted: number[]) =>
    db
      .select()
      .from(revisions)
      .where(and(eq(revisions.siteId, id), inArray(revisions.number, wanted)))
      .orderBy(asc(revisions.number));
  for (let at = 0; at < numbers.length; at += chunk) {
    const wanted = numbers.slice(at, at + chunk).map(({ number }) => number);
    let found: Awaited<ReturnType<typeof plansOf>> = [];
    try {
      found = await plansOf(wanted);
    } catch (error) {
      if (!isDamage(error)) throw error;
      // One of them is damaged: which one, the others tell.
      for (const number of wanted)
        found.push(...(await rowsOf(here, `revision ${number} of ${id}`, () => plansOf([number]))));
    }
    for (const { number, savedAt, plan } of found)
      yield { kind: 'revision', number, savedAt: savedAt.toISOString(), plan };
  }
  for (const { id: _, siteId: _site, kind, at, ...record } of await rowsOf(here, `the records of ${id}`, () =>
    db.select().from(records).where(eq(records.siteId, id)).orderBy(asc(records.id)),
  ))
    yield { kind: 'record', act: kind, at: at.toISOString(), ...record };
  for (const { number, why } of await rowsOf(here, `the kept revisions of ${id}`, () =>
    db.select().from(keptRevisions).where(eq(keptRevisions.siteId, id)),
  ))
    yield { kind: 'kept', number, why };
  for (const { name, sealed } of await rowsOf(here, `the secrets of ${id}`, () =>
    db.select().from(vaultSecrets).where(eq(vaultSecrets.siteId, id)),
  ))
    yield { kind: 'secret', name, sealed, deletedAt: null };
  for (const { name, sealed, deletedAt } of await rowsOf(here, `the removed secrets of ${id}`, () =>
    db.select().from(vaultTrash).where(eq(vaultTrash.siteId, id)),
  ))
    yield { kind: 'secret', name, sealed, deletedAt: deletedAt.toISOString() };
}
