import { and, asc, desc, eq, inArray, isNull } from 'drizzle-orm';
import type { PgliteDatabase } from 'drizzle-orm/pglite';
import {
  durationsOf,
  learntFrom,
  type Learnt,
  type RecordInput,
  type RungId,
  type SiteRecord,
  type StepMoment,
} from '../../core/index.ts';
import { records, sites } from './schema.ts';

/** Newest records from which times are learnt: a few hundred visits. */
const timedRecords = 20_000;

/**
 * What was done and seen at each site, as rows.
 * @param siteThere whether there is such a site
 * @param added told of each site that has a new record
 */
export function recordRows(
  db: PgliteDatabase,
  clock: () => Date,
  siteThere: (id: string) => Promise<boolean>,
  added: (siteId: string) => void,
) {
  const recordsOf = async (id: string): Promise<SiteRecord[]> => {
    const rows = await db.select().from(records).where(eq(records.siteId, id)).orderBy(asc(records.id));
    return rows.map(recordOf);
  };

  return {
    recordsOf,

    /** Adds a record; undefined where there is no such site. */
    async addRecord(siteId: string, input: RecordInput): Promise<SiteRecord | undefined> {
      return db.transaction(async (tx) => {
        const [site] = await tx
          .select({ id: sites.id })
          .from(sites)
          .where(and(eq(sites.id, siteId), isNull(sites.deletedAt)));
        if (!site) return undefined;
        const [row] = await tx
          .insert(records)
          .values({
            ...input,
            values: input.values ?? null,
            parts: input.parts ?? null,
            rung: input.rung ?? null,
            siteId,
            at: whenSeen(input.at, clock()),
          })
          .returning();
        if (row) added(siteId);
        return row && recordOf(row);
      });
    },

    /** What was done and seen, in order; undefined where there is no such site. */
    async records(siteId: string): Promise<SiteRecord[] | undefined> {
      return (await siteThere(siteId)) ? recordsOf(siteId) : undefined;
    },

    /** How long each kind of step took, from the newest records of all sites. */
    async times(): Promise<Learnt> {
      const newest = await db
        .select({
          siteId: records.siteId,
          id: records.id,
          at: records.at,
          kind: records.kind,
          subject: records.subject,
        })
        .from(records)
        .where(inArray(records.kind, ['tick', 'timer']))
        .orderBy(desc(records.id))
        .limit(timedRecords);
      const bySite = new Map<string, StepMoment[]>();
      for (const { siteId, kind, subject, at } of newest.reverse())
        bySite.set(siteId, [...(bySite.get(siteId) ?? []), { kind, subject, at: at.toISOString() }]);
      return learntFrom([...bySite.values()].flatMap(durationsOf));
    },
  };
}

/** A record that waited in a window says when it was seen: within a week, and never in the future. */
function whenSeen(at: string | undefined, now: Date): Date {
  const seen = at === undefined ? now : new Date(at);
  const age = now.getTime() - seen.getTime();
  return age >= 0 && age < 7 * 86_400_000 ? seen : now;
}

const recordOf = ({
  id,
  at,
  kind,
  subject,
  initials,
  reading,
  values,
  parts,
  rung,
  seenFrom,
  revision,
}: typeof records.$inferSelect): SiteRecord => ({
  id,
  at: at.toISOString(),
  kind,
  subject,
  initials,
  reading,
  ...(values && { values }),
  ...(parts && { parts }),
  ...(rung !== null && { rung: rung as RungId }),
  seenFrom,
  revision,
});
