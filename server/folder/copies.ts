/*
 * Copies of the database that were made before its tables or its engine changed. They hold what was kept then, so
 * they go after a while: after days of use, for a clock may be wrong.
 */
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { eraseTree, writeWhole } from '../files.ts';
import { trashDays } from '../store/days-of-use.ts';

const copy = /^database\.(?:before|old-engine)-/;
/** In a copy: the days of use that had been counted when it was first seen. */
const seenFile = 'seen-on-day';

/** Names of the copies in a data folder. */
export const copiesIn = (folder: string): string[] => readdirSync(folder).filter((name) => copy.test(name));

/** Erases the copies that were seen for the first time `trashDays` days of use ago. Not where they are all there is. */
export function forgetCopies(folder: string, daysOfUse: number): void {
  if (!existsSync(join(folder, 'database'))) return;
  for (const name of copiesIn(folder)) {
    const file = join(folder, name, seenFile);
    const seen = existsSync(file) ? Number(readFileSync(file, 'utf8')) : Number.NaN;
    if (!Number.isInteger(seen)) writeWhole(file, String(daysOfUse));
    else if (daysOfUse - seen >= trashDays) eraseTree(join(folder, name));
  }
}
