import { statfsSync } from 'node:fs';
import type { PGlite } from '@electric-sql/pglite';

/** Why nothing can be written just now. */
export class NotWritable extends Error {
  readonly code: 'disk-full' | 'lock-lost';

  constructor(code: NotWritable['code'], says: string) {
    super(says);
    this.code = code;
  }
}

/**
 * Room that must be free before a commit, in bytes: a new segment of the write-ahead log (16 MiB), the largest plan
 * twice, a checkpoint, and what other programs may write meanwhile. The database cannot go on once it met a full
 * disk, so it is never let near one.
 */
const roomNeededBytes = 64 * 2 ** 20;

const mebibytes = (bytes: number): string => `${Math.floor(bytes / 2 ** 20)} MiB`;

/** Refuses where the disk of `folder` is nearly full. `free` measures it, in bytes; a test gives another. */
export function needRoom(folder: string, free: (folder: string) => number = freeBytes): void {
  const there = free(folder);
  if (there >= roomNeededBytes) return;
  throw new NotWritable(
    'disk-full',
    `Not saved: the disk with the data folder ${folder} has ${mebibytes(there)} left, and ${mebibytes(roomNeededBytes)} are needed to save safely. Delete something there, then try again; no restart is needed, and what was saved before is safe.`,
  );
}

/** Bytes that this account may still write on the disk of a folder. */
export function freeBytes(folder: string): number {
  const { bavail, bsize } = statfsSync(folder);
  return bavail * bsize;
}

/**
 * The same database, but `mayWrite` is asked before anything that writes, and may refuse by throwing. It stands
 * here and not in each function that writes, so that none can forget it.
 */
export function guarded(database: PGlite, mayWrite: () => void): PGlite {
  return new Proxy(database, {
    get(target, name) {
      const value: unknown = Reflect.get(target, name, target);
      if (typeof value !== 'function') return value;
      const method = value.bind(target) as (...args: unknown[]) => unknown;
      if (name === 'transaction')
        return async (...args: unknown[]) => {
          mayWrite();
          return method(...args);
        };
      if (name === 'query' || name === 'exec')
        return async (...args: unknown[]) => {
          if (!/^\s*(select|show)\b/i.test(String(args[0]))) mayWrite();
          return method(...args);
        };
      return method;
    },
  });
}
