import { and, desc, eq, isNull, sql } from 'drizzle-orm';
import type { PgliteDatabase } from 'drizzle-orm/pglite';
import { comparePlans, type Plan } from '../../core/index.ts';
import type { Read } from './reading.ts';
import { revisions, sites } from './schema.ts';

/** Sites, and revisions of each, that a plan from a file is compared with. */
const mostAlike = 5;
const mostCompared = 40;
const longestCompareMs = 400;

/** A site that a plan from a file may belong to. */
export interface Alike {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  /** The revision that is nearest to the plan, and whether it is the plan. */
  readonly base: number;
  readonly same: boolean;
}

/**
 * Sites that a plan from a file may be a later or another state of: those of the same name and customer. With
 * each the revision that differs least from the plan, from which both probably went on.
 */
export async function alike(
  db: PgliteDatabase,
  revision: (id: string, number: number) => Promise<Read>,
  plan: Plan,
): Promise<Alike[]> {
  const rows = await db
    .select({ id: sites.id, name: sites.name, revision: sites.revision })
    .from(sites)
    .where(
      and(
        isNull(sites.deletedAt),
        sql`lower(${sites.name}) = lower(${plan.site.name})`,
        sql`lower(${sites.customer}) = lower(${plan.site.customer})`,
      ),
    )
    .orderBy(desc(sites.touched))
    .limit(mostAlike);
  const found: Alike[] = [];
  for (const { id, name, revision: newest } of rows) {
    const numbers = (
      await db
        .select({ number: revisions.number })
        .from(revisions)
        .where(eq(revisions.siteId, id))
        .orderBy(desc(revisions.number))
    ).map(({ number }) => number);
    // Every so many of them: the nearest of those is near enough to merge from.
    const stride = Math.ceil(numbers.length / mostCompared);
    const until = performance.now() + longestCompareMs;
    let best: { number: number; differences: number } | undefined;
    for (const number of numbers.filter((_, place) => place % stride === 0)) {
      const kept = await revision(id, number);
      if (kept.kind !== 'found') continue;
      const differences = comparePlans(kept.saved.plan, plan).length;
      if (!best || differences < best.differences) best = { number, differences };
      if (differences === 0 || performance.now() > until) break;
      // Others have their turn.
      await new Promise((resolve) => setImmediate(resolve));
    }
    if (best) found.push({ id, name, revision: newest, base: best.number, same: best.differences === 0 });
  }
  return found;
}
