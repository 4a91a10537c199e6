import { dayOf } from '../../core/index.ts';
import { and, asc, desc, getTableColumns, gt, isNotNull, isNull, like, lt, sql, type SQL } from 'drizzle-orm';
import type { PgliteDatabase } from 'drizzle-orm/pglite';
import { sites } from './schema.ts';

/** A site as the list shows it. */
export type SiteRow = Omit<typeof sites.$inferSelect, 'touched' | 'deletedAt' | 'words'>;

const day = 86_400_000;

/** What the list can be narrowed to. */
export type ListShow = 'all' | 'open' | 'due' | 'awaiting' | 'unproven';
export type ListSort = 'saved' | 'name' | 'customer' | 'due';
/** What ends within this time is due. */
const dueDays = 30;

const shown: Readonly<Record<ListShow, (now: Date) => SQL | undefined>> = {
  all: () => undefined,
  open: () => sql`coalesce(${sites.blockers}, 0) + coalesce(${sites.warnings}, 0) > 0`,
  due: (now) => lt(sites.due, dayOf(new Date(now.getTime() + dueDays * day))),
  awaiting: () => gt(sites.awaiting, 0),
  unproven: () => gt(sites.unproven, 0),
};
const sorted: Readonly<Record<ListSort, readonly SQL[]>> = {
  saved: [],
  name: [sql`lower(${sites.name})`],
  customer: [sql`lower(${sites.customer})`],
  due: [sql`${sites.due} asc nulls last`],
};

/** Sites whose words hold this one; a sign that SQL knows stands for itself. */
const wordFilter = (word: string): SQL | undefined =>
  word === '' ? undefined : like(sites.words, `%${word.replace(/[\\%_]/g, '\\$&')}%`);

/** A site that is called by the very words comes first, then one whose name holds them. */
const nearness = (search: string): SQL =>
  sql`case when lower(${sites.name}) = ${search} then 0 when position(${search} in lower(${sites.name})) > 0 then 1 else 2 end`;

/** The list of sites: found by any word inside a plan, narrowed, sorted; and what is chosen again on the next site. */
export function siteList(db: PgliteDatabase, clock: () => Date, wanted: () => void) {
  return {
    /** One page of the list, and the count of all that match (0 past the last page). */
    async list(
      search: string,
      offset: number,
      limit: number,
      show: ListShow = 'all',
      sort: ListSort = 'saved',
    ): Promise<{ rows: SiteRow[]; total: number }> {
      // What of it is not counted yet is counted now.
      wanted();
      const { touched: _touched, deletedAt: _deletedAt, words: _words, ...columns } = getTableColumns(sites);
      const found = await db
        .select({ ...columns, total: sql<number>`count(*) over()::int` })
        .from(sites)
        .where(
          and(
            isNull(sites.deletedAt),
            ...search.toLowerCase().split(/\s+/).map(wordFilter),
            shown[show](clock()),
          ),
        )
        .orderBy(
          ...(search === '' ? [] : [nearness(search.toLowerCase())]),
          ...sorted[sort],
          desc(sites.touched),
          asc(sites.id),
        )
        .offset(offset)
        .limit(limit);
      return { rows: found.map(({ total: _, ...row }) => row), total: found[0]?.total ?? 0 };
    },

    /** How many sites there are of each kind that the list can be narrowed to. */
    async due(): Promise<Record<ListShow, number>> {
      const now = clock();
      const [row] = await db
        .select(
          Object.fromEntries(
            (Object.keys(shown) as ListShow[]).map((show) => {
              const filter = shown[show](now);
              return [
                show,
                filter ? sql<number>`(count(*) filter (where ${filter}))::int` : sql<number>`count(*)::int`,
              ];
            }),
          ) as Record<ListShow, ReturnType<typeof sql<number>>>,
        )
        .from(sites)
        .where(isNull(sites.deletedAt));
      return row!;
    },

    /** What was chosen on the newest sites, and is offered to the next one. */
    async habits(): Promise<{ probes: string[] }> {
      const newest = await db
        .select({ desk: sites.desk })
        .from(sites)
        .where(and(isNull(sites.deletedAt), isNotNull(sites.desk)))
        .orderBy(desc(sites.touched))
        .limit(20);
      const counted = new Map<string, number>();
      for (const host of newest.flatMap(({ desk }) => desk?.probes ?? []))
        counted.set(host, (counted.get(host) ?? 0) + 1);
      return {
        probes: [...counted]
          .sort((a, b) => b[1] - a[1])
          .map(([host]) => host)
          .slice(0, 4),
      };
    },
  };
}
