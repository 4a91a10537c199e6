import { createHash } from 'node:crypto';
import {
  constants,
  cpSync,
  existsSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
} from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import type { PGlite } from '@electric-sql/pglite';
import { bringIn } from '../keeping/bring-in.ts';
import { backUp } from '../keeping/daily.ts';
import { openStore, type Store, type StoreOptions } from '../store/store.ts';
import { mayBeMended, mend } from '../store/mend.ts';
import { freeBytes, needRoom } from '../store/guard.ts';
import { forgetCopies } from './copies.ts';
import { isDamage } from '../store/damage.ts';
import { engine, mendEngine, openEngine } from './engine.ts';
import { eraseTree, ownFolder, syncFolder, syncTree } from '../files.ts';
import { holdFolder, type Lock } from './lock.ts';
import { isNewer, newStamp, readStamp, writeStamp, type Stamp } from './stamp.ts';

/** Why a data folder was not opened, and the way out. Nothing in it was changed. */
export class FolderRefused extends Error {}

export interface FolderOptions {
  readonly migrations: string;
  /** File of an empty database, which a new folder begins with; without it the engine makes one, which takes longer. */
  readonly empty?: string;
  /** Version of this program. */
  readonly program: string;
  /** What a new folder begins with. */
  readonly fill: (store: Store) => Promise<void>;
  /** Takes over a database without a stamp, as Netter 0.1 wrote them. */
  readonly adopt?: boolean;
  readonly count?: StoreOptions['count'];
  /** Milliseconds after which a holder elsewhere whose beat stands still is followed. */
  readonly silence?: number;
  readonly say?: (sentence: string) => void;
}

export interface OpenFolder {
  readonly store: Store;
  readonly lock: Lock;
  /** What was damaged and could be built anew. */
  readonly rebuilt: readonly string[];
  /** Writes out, closes and gives the folder free. */
  readonly close: () => Promise<void>;
}

const unfinished = 'database.unfinished';
/** The files of a holder that was silent, while they are replaced. */
const taken = 'database.taken';
/** What a program that was killed leaves behind: half-made databases, a backup that was being looked at, drafts. */
const leftBehind = /^(database\.unfinished.*|incoming-.+|.+\.draft)$/;
/** What lies in a data folder beside the database. Anything else is somebody's, and the folder is not empty. */
const ours = /^(lock(\..+)?|running\.json|open\.html)$/;
/** The database as an earlier engine wrote it, while and after it is carried over. */
const earlier = 'database.old-engine';
/** Without these PostgreSQL would begin afresh, or not begin at all. */
const needed = ['PG_VERSION', 'global/pg_control', 'global', 'base', 'pg_wal', 'pg_xact', 'postgresql.conf'];

/**
 * Opens a data folder, or makes one where there is provably nothing. A new database is filled beside its place and
 * then renamed: whatever ends the program before that leaves nothing that counts.
 */
export async function openFolder(folder: string, options: FolderOptions): Promise<OpenFolder> {
  const { migrations, program, say = () => {} } = options;
  const tables = readdirSync(migrations).filter((name) => name.endsWith('.sql')).length;
  ownFolder(folder);
  const lock = await holdFolder(folder, options.silence);
  const database = join(folder, 'database');
  const mayWrite = (): void => {
    lock.check();
    needRoom(folder);
  };
  const rebuilt: string[] = [];
  const open = async (at: string): Promise<Store> => {
    const database = await engineOf(at, options, folder, lock.check, rebuilt);
    const settings = { migrations, mayWrite, ...(options.count && { count: options.count }) };
    try {
      return await openStore(database, settings);
    } catch (error) {
      const stamp = readStamp(at);
      if (!mayBeMended(error) || !stamp || stamp === 'unreadable') throw error;
      rebuilt.push(...(await mend(database, migrations, stamp.tables).catch(() => [])));
      return await openStore(database, settings);
    }
  };
  try {
    for (const name of readdirSync(folder))
      if (leftBehind.test(name)) (name.startsWith(unfinished) ? removeTree : eraseTree)(join(folder, name));
    // Ended while the files were made fresh: one of the two is whole.
    const left = join(folder, taken);
    if (existsSync(left) && !existsSync(database)) renameSync(left, database);
    else removeTree(left);
    // Ended while it was carried over: what was there is there, and is carried over anew.
    const leftOver = readdirSync(folder)
      .filter((name) => name.startsWith(earlier))
      .sort()
      .at(-1);
    if (!existsSync(database) && leftOver !== undefined) renameSync(join(folder, leftOver), database);
    needRoom(folder);
    if (existsSync(database)) {
      if (lock.fromSilent) makeFresh(folder, database);
      await makeReady(folder, database, tables, options);
      const { engine: writtenBy } = readStamp(database) as Stamp;
      if (writtenBy !== engine.name) {
        say(`Carrying the data over from ${writtenBy} to ${engine.name}. This happens once.`);
        await carryOver(folder, database, open, newStamp(program, tables, new Date()));
      }
    } else {
      const others = readdirSync(folder).filter((name) => !ours.test(name));
      if (others.length > 0) throw new FolderRefused(notEmpty(folder, others));
      say('Preparing the data folder. This happens once and takes some seconds.');
      const draft = join(folder, `${unfinished}-${process.pid}`);
      const store = await open(draft);
      await options.fill(store);
      await store.settled();
      await store.tidy();
      await store.close();
      settle(draft, database, newStamp(program, tables, new Date()));
    }
    const store = await open(database);
    const stamp = readStamp(database) as Stamp;
    if (stamp.tables !== tables || stamp.program !== program)
      writeStamp(database, { ...newStamp(program, tables, new Date()), madeAt: stamp.madeAt });
    forgetCopies(folder, await store.daysOfUse());
    for (const each of new Set(rebuilt))
      say(`Damaged, and rebuilt: ${each}. The disk may be failing: make a backup.`);
    return {
      store,
      lock,
      rebuilt: [...new Set(rebuilt)],
      close: async () => {
        // The engine writes when it ends: whoever lost the folder ends without it.
        if (holds(lock)) await store.close();
        lock.release();
      },
    };
  } catch (error) {
    lock.release();
    // In its own words, whatever the engine said.
    if (isDamage(error) || mayBeMended(error))
      throw new FolderRefused(
        `The database in ${database} opens, and its tables cannot be read: they are damaged. ${restoreHint(folder)}`,
      );
    throw error;
  }
}

/** What it holds stands elsewhere as well: nothing is overwritten. */
const removeTree = (path: string): void => rmSync(path, { recursive: true, force: true });

function holds(lock: Lock): boolean {
  try {
    lock.check();
    return true;
  } catch {
    return false;
  }
}

/**
 * Gives the database files of its own. The holder before was silent and may go on some day in the middle of a write,
 * past every check: what it has open then is a file that nobody reads any more.
 */
function makeFresh(folder: string, database: string): void {
  const bytes = bytesIn(database);
  if (freeBytes(folder) < 2 * bytes)
    throw new FolderRefused(
      `The data folder ${folder} was left by a Netter that is silent and may still run. Its files are copied before they are used, and the disk has no room for ${Math.ceil(bytes / 2 ** 20)} MiB. Make room, or end that Netter.`,
    );
  const draft = join(folder, `${unfinished}-fresh`);
  cpSync(database, draft, { recursive: true, preserveTimestamps: true, mode: constants.COPYFILE_FICLONE });
  syncTree(draft);
  renameSync(database, join(folder, taken));
  renameSync(draft, database);
  syncFolder(folder);
  removeTree(join(folder, taken));
}

const bytesIn = (path: string): number =>
  readdirSync(path, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .reduce((sum, entry) => sum + statSync(join(entry.parentPath, entry.name)).size, 0);

/**
 * A finished database takes its place. The engine does not have the disk keep what it makes a new database of: that
 * is done here, or a power cut soon after the first start would find empty files under the right names.
 */
function settle(draft: string, database: string, stamp: Stamp): void {
  writeStamp(draft, stamp);
  syncTree(draft);
  renameSync(draft, database);
  syncFolder(dirname(database));
}

/** What another build of the engine wrote, by dump and load. The old database stays beside the new one. */
async function carryOver(
  folder: string,
  database: string,
  open: (at: string) => Promise<Store>,
  stamp: Stamp,
): Promise<void> {
  const dumped = join(folder, `${unfinished}-dump`);
  const old = await open(database);
  await backUp(old, dumped, stamp.program, new Date());
  await old.close();
  const draft = join(folder, `${unfinished}-${process.pid}`);
  const store = await open(draft);
  await bringIn(store, dumped);
  await store.settled();
  await store.tidy();
  await store.close();
  renameSync(database, join(folder, `${earlier}-${Date.now()}`));
  settle(draft, database, stamp);
  rmSync(dumped);
}

/** The database of a folder, or a sentence why it does not open. */
async function engineOf(
  at: string,
  { empty }: FolderOptions,
  folder: string,
  fence: () => void,
  rebuilt: string[],
): Promise<PGlite> {
  try {
    return await openEngine(at, fence, empty);
  } catch (error) {
    needRoom(folder);
    const { code } = error as { code?: string };
    if (code === 'EACCES' || code === 'EPERM' || code === 'EROFS') throw error;
    const mended = await mendEngine(at, fence)
      .then(() => openEngine(at, fence))
      .catch(() => undefined);
    if (mended) {
      rebuilt.push("indexes of the database's own tables");
      return mended;
    }
    throw new FolderRefused(
      `The database in ${at} does not open: its files are damaged. ${restoreHint(folder)}`,
    );
  }
}

/** Whether the database that is there may be opened, and what must come before that. Refuses with a sentence. */
async function makeReady(
  folder: string,
  database: string,
  tables: number,
  options: FolderOptions,
): Promise<void> {
  const missing = needed.filter((name) => !existsSync(join(database, name)));
  const stamp = readStamp(database);
  if (missing.length > 0)
    throw new FolderRefused(
      `The database in ${database} is not whole: ${missing.join(', ')} ${missing.length === 1 ? 'is' : 'are'} missing. Nothing was begun afresh over it. ${restoreHint(folder)}`,
    );
  const postgres = readFileSync(join(database, 'PG_VERSION'), 'utf8').trim();
  if (stamp === 'unreadable')
    throw new FolderRefused(
      `The stamp ${join(database, 'netter.json')} cannot be read, so nobody knows what wrote this folder. If it was this version of Netter, move that file away and start once with: npm start -- --adopt. ${restoreHint(folder)}`,
    );
  if (stamp && isNewer(stamp, tables))
    throw new FolderRefused(
      `The data folder ${folder} was written by a newer Netter (${stamp.program}); this is ${options.program}. It was left untouched. Start the newer one, or set NETTER_DATA to another folder.`,
    );
  if (postgres !== engine.postgres)
    throw new FolderRefused(
      `The database in ${database} was written by PostgreSQL ${postgres}; this Netter brings ${engine.postgres}. It was left untouched. With the Netter that wrote it, make a backup (npm run -s netter -- backup FILE); then restore that here into an empty folder.`,
    );
  if (!stamp && options.adopt !== true)
    throw new FolderRefused(
      `The database in ${database} has no stamp: either Netter 0.1 wrote it, or a file is missing. To take it over, with a copy made first, start once with: npm start -- --adopt`,
    );
  if (!stamp || stamp.tables < tables) {
    copyVerified(database, join(folder, `database.before-${stamp?.program ?? '0.1'}-${Date.now()}`));
    if (!stamp) writeStamp(database, newStamp('0.1', 0, new Date()));
  }
}

/** A copy of a folder, each file of it read back and held against the original. */
function copyVerified(from: string, to: string): void {
  cpSync(from, to, { recursive: true, preserveTimestamps: true });
  const sums = (root: string, path = ''): string[] =>
    readdirSync(join(root, path), { withFileTypes: true })
      .sort((a, b) => (a.name < b.name ? -1 : 1))
      .flatMap((entry) => {
        const inside = join(path, entry.name);
        return entry.isDirectory()
          ? sums(root, inside)
          : [
              `${inside} ${createHash('sha256')
                .update(readFileSync(join(root, inside)))
                .digest('hex')}`,
            ];
      });
  syncTree(to);
  if (sums(from).join('\n') !== sums(to).join('\n')) {
    rmSync(to, { recursive: true, force: true });
    throw new FolderRefused(
      `The copy that is made before a change of the tables differs from ${from}: the disk may be failing. Nothing was changed. Copy the folder to another disk first.`,
    );
  }
}

/** Where backups are made by themselves: beside the data folder. */
export const backupsOf = (folder: string): string => `${resolve(folder)}-backups`;

function restoreHint(folder: string): string {
  const backups = backupsOf(folder);
  const newest = existsSync(backups)
    ? readdirSync(backups)
        .filter((name) => name.endsWith('.jsonl.gz'))
        .sort()
        .at(-1)
    : undefined;
  return newest
    ? `Keep the folder as it is, set NETTER_DATA to a new one, and restore the newest backup there: npm run -s netter -- restore ${join(backups, newest)}`
    : `There is no backup in ${backups}. Keep the folder as it is; set NETTER_DATA to a new one to go on working.`;
}

const notEmpty = (folder: string, others: readonly string[]): string =>
  `The folder ${folder} holds other things (${others.slice(0, 3).join(', ')}${others.length > 3 ? ' …' : ''}) and no database of Netter. It was left untouched: set NETTER_DATA to an empty or a new folder.${
    others.some((name) => name.startsWith('database')) ? ` ${restoreHint(folder)}` : ''
  }`;
