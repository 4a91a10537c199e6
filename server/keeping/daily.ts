import { dayOf } from '../../core/index.ts';
import { existsSync, mkdirSync, readdirSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { ownerFolder } from '../files.ts';
import { needRoom, NotWritable } from '../store/guard.ts';
import type { Store } from '../store/store.ts';
import { isDamage } from '../store/damage.ts';
import { causesOf } from '../causes.ts';
import { NoBackup, writeBackupFile } from './backup-file.ts';
import { dump } from './dump.ts';

const ending = '.jsonl.gz';
/** "netter-2026-11-26.jsonl.gz", made by itself; "netter-2026-11-26-153012.jsonl.gz", made by hand. */
const daily = /^netter-(\d{4}-\d{2}-\d{2})\.jsonl\.gz$/;
export const backupName = /^netter-[\d-]{10,20}\.jsonl\.gz$/;
const keptDays = 7;
const keptWeeks = 4;
const day = 86_400_000;

export interface BackupFile {
  readonly name: string;
  readonly bytes: number;
  readonly madeAt: Date;
  readonly byItself: boolean;
}

/** The backups in a folder, newest first. */
export const backupsIn = (folder: string): BackupFile[] =>
  !existsSync(folder)
    ? []
    : readdirSync(folder)
        .filter((name) => backupName.test(name))
        .map((name) => {
          const { size, mtime } = statSync(join(folder, name));
          return { name, bytes: size, madeAt: mtime, byItself: daily.test(name) };
        })
        .sort((a, b) => b.madeAt.getTime() - a.madeAt.getTime());

/** Writes a backup of everything to a path. */
export async function backUp(
  store: Store,
  path: string,
  program: string,
  now: Date,
): Promise<{ readonly damaged: number }> {
  return writeBackupFile(path, { madeAt: now.toISOString(), program }, dump(store.db));
}

/** A backup into the folder of backups: its name, and how many things could not be read. */
export async function backUpInto(
  store: Store,
  folder: string,
  program: string,
  now: Date,
  byItself = false,
): Promise<{ readonly name: string; readonly damaged: number }> {
  // Whoever lost the data folder has an old state, and would take the place of the backup of the new one.
  store.assureWritable();
  mkdirSync(folder, { recursive: true, mode: ownerFolder });
  needRoom(folder);
  const stamp = now.toISOString();
  const name = `netter-${stamp.slice(0, 10)}${byItself ? '' : `-${stamp.slice(11, 19).replaceAll(':', '')}`}${ending}`;
  const { damaged } = await backUp(store, join(folder, name), program, now);
  return { name, damaged };
}

/**
 * Names of daily backups that may go: the seven newest stay, and the newest of each of the last four weeks before
 * those. Ages count from the newest one, not from the clock.
 */
export function backupsToDrop(names: readonly string[]): string[] {
  const dated = names
    .flatMap((name) => {
      const found = daily.exec(name)?.[1];
      return found ? [{ name, at: Date.parse(found) }] : [];
    })
    .sort((a, b) => b.at - a.at);
  const newest = dated[0]?.at ?? 0;
  const weeks = new Set<number>();
  return dated.slice(keptDays).flatMap(({ name, at }) => {
    const week = Math.floor((newest - at) / (7 * day));
    const keep = !weeks.has(week) && weeks.size < keptWeeks;
    weeks.add(week);
    return keep ? [] : [name];
  });
}

/** Makes the day's backup if there is none yet, and lets old ones go once the new one is there. Answers whether one was made. */
export async function backUpDaily(
  store: Store,
  folder: string,
  program: string,
  now: Date,
): Promise<boolean> {
  const today = `netter-${dayOf(now)}${ending}`;
  if (existsSync(join(folder, today))) return false;
  const { damaged } = await backUpInto(store, folder, program, now, true);
  // What was whole must not make room for what is not.
  if (damaged > 0) return true;
  // The one just made stays, whatever a clock that was set says of its day.
  for (const name of backupsToDrop(readdirSync(folder)))
    if (name !== today) rmSync(join(folder, name), { force: true });
  return true;
}

/** Why a backup was not made, in a sentence. `path` is where it was to be written. */
export function whyNotMade(error: unknown, path: string): string {
  const said = causesOf(error).find((each) => each instanceof NotWritable || each instanceof NoBackup);
  if (said) return said.message;
  const code = causesOf(error)
    .map((each) => (each as NodeJS.ErrnoException).code)
    .find((each) => each !== undefined && /^E[A-Z]+$/.test(each));
  if (code === 'ENOSPC') return `The disk of ${path} is full. Delete something there.`;
  if (code !== undefined) return `${path} cannot be written (${code}). Name another place in NETTER_BACKUPS.`;
  if (isDamage(error))
    return 'A table in the data folder is damaged. The page "Data" says which; restart Netter to have it mended.';
  return `Something unexpected went wrong (${(error as Error).name}). Make a backup by hand on the page "Data"; keep the older ones.`;
}
