import { dayOf } from '../../core/index.ts';
/*
 * How long something has lain in the trash, told by more than one reading of a clock that may be wrong: the latest
 * time that was ever seen, and the days on which Netter was used since.
 */
import { eq } from 'drizzle-orm';
import type { PgliteDatabase } from 'drizzle-orm/pglite';
import * as z from 'zod';
import { factNames } from './facts.ts';
import { facts } from './schema.ts';

/** Days, of the calendar and of use, after which Netter offers to erase what lies in the trash. */
export const trashDays = 30;
const day = 86_400_000;

const noteSchema = z.object({
  /** Days on which Netter was used. */
  days: z.number().int().min(0),
  /** The last of them (ISO 8601). */
  last: z.string(),
  /** Latest time that was ever seen, in milliseconds since 1970. */
  latest: z.number(),
});
export type Use = z.output<typeof noteSchema>;

const parsed = (text: string | undefined): Use => {
  try {
    return noteSchema.parse(JSON.parse(text ?? ''));
  } catch {
    return { days: 0, last: '', latest: 0 };
  }
};

/** What the note says after a look at the clock. */
export function usedAt(before: Use, now: Date): Use {
  const today = dayOf(now);
  return {
    days: before.days + (today === before.last ? 0 : 1),
    last: today,
    latest: Math.max(before.latest, now.getTime()),
  };
}

/** Whether something that was put into the trash has lain there for the usual time, by every measure. */
export const isRipe = (use: Use, deletedAt: Date, deletedOnDay: number | null): boolean =>
  use.days - (deletedOnDay ?? 0) >= trashDays && use.latest - deletedAt.getTime() >= trashDays * day;

async function noted(db: Pick<PgliteDatabase, 'select'>): Promise<Use> {
  const [row] = await db.select().from(facts).where(eq(facts.name, factNames.daysOfUse));
  return parsed(row?.value);
}

/** What is known of the use, today among it. Writes nothing: what is only looked at can be seen on a full disk too. */
export const useNow = async (db: Pick<PgliteDatabase, 'select'>, now: Date): Promise<Use> =>
  usedAt(await noted(db), now);

/** Notes that Netter is used now, and answers what is known. */
export async function noteUse(db: Pick<PgliteDatabase, 'select' | 'insert'>, now: Date): Promise<Use> {
  const before = await noted(db);
  const use = usedAt(before, now);
  // Within one day the note need not be kept to the minute: nothing is decided by less than days.
  if (use.days !== before.days || use.latest - before.latest > 3_600_000) {
    const value = JSON.stringify(use);
    await db
      .insert(facts)
      .values({ name: factNames.daysOfUse, value })
      .onConflictDoUpdate({ target: facts.name, set: { value } });
  }
  return use;
}
