import { createHash, randomUUID } from 'node:crypto';
import {
  closeSync,
  linkSync,
  openSync,
  readFileSync,
  readlinkSync,
  readSync,
  realpathSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { connect } from 'node:net';
import { hostname } from 'node:os';
import { join } from 'node:path';
import { NotWritable } from '../store/guard.ts';
import { ownerFile } from '../files.ts';

/** Somebody else holds the data folder. */
export class FolderHeld extends Error {}

/** Who holds a folder, as the lock file says. `beat` grows while the holder lives. */
interface Holder {
  readonly id: string;
  readonly host: string;
  /** The running kernel; empty where the system does not tell. */
  readonly boot: string;
  /** Device and number of the folder, as the holder sees it: a copy has another one, and so has another mount. */
  readonly place: string;
  /** In which process numbers are counted: a container has its own. */
  readonly processes: string;
  readonly pid: number;
  /** When that process began, in the kernel's ticks: a number can be given to another process. */
  readonly began: string;
  readonly beat: number;
}

const beatMs = 1_500;
/** A holder on another machine or in a container, whose beat stands still for so long, is gone. */
const silentMs = 6_000;

const read = (path: string): string => {
  try {
    return readFileSync(path, 'latin1').trim();
  } catch {
    return '';
  }
};
/** Whether a file begins with some bytes. Asked before each write of the engine, so it reads no more than these. */
function startsWith(path: string, begins: Buffer): boolean {
  const found = Buffer.alloc(begins.length);
  try {
    const file = openSync(path, 'r');
    try {
      return readSync(file, found, 0, begins.length, 0) === begins.length && found.equals(begins);
    } finally {
      closeSync(file);
    }
  } catch {
    return false;
  }
}
const placeOf = (folder: string): string => {
  const { dev, ino } = statSync(folder, { bigint: true });
  return `${dev}:${ino}`;
};
const processesHere = (): string => {
  try {
    return readlinkSync('/proc/self/ns/pid');
  } catch {
    return '';
  }
};
/** Field 22 of /proc/PID/stat (proc(5)); empty where there is no such process or no such file. */
const beganOf = (pid: number): string => {
  const stat = read(`/proc/${pid}/stat`);
  return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19] ?? '';
};

export interface Lock {
  /** Throws where the lock was lost: another Netter took it while this one stood still. */
  readonly check: () => void;
  /** Whether it was taken from a holder that was silent and may go on some day, with its files still open. */
  readonly fromSilent: boolean;
  readonly release: () => void;
}

/**
 * Takes the folder for this process: the database has no lock of its own, and two processes on one folder ruin it.
 * The lock is a file in the folder itself, so it holds wherever the folder is shared: from another account, a
 * container, another machine. A holder that is known to have ended, or whose beat stands still, is followed.
 */
export async function holdFolder(folder: string, silence = silentMs): Promise<Lock> {
  const path = join(folder, 'lock');
  const mine: Holder = {
    id: randomUUID(),
    host: hostname(),
    boot: read('/proc/sys/kernel/random/boot_id'),
    place: placeOf(folder),
    processes: processesHere(),
    pid: process.pid,
    began: beganOf(process.pid),
    beat: 1,
  };
  if (await heldByEarlier(folder)) throw held(folder);
  let fromSilent = false;
  for (let tries = 0; ; tries += 1) {
    if (claim(path, mine)) break;
    const seen = read(path);
    const holder = asHolder(seen);
    const standing = await standingOf(path, seen, holder, mine, silence);
    if (tries >= 3 || standing === 'lives')
      throw held(folder, holder && holder.host !== mine.host ? ` on ${holder.host}` : '', {
        elsewhere: holder !== undefined && holder.place !== mine.place,
      });
    fromSilent ||= standing === 'silent';
    // Moved away rather than removed: if a third one was faster, what is moved is its lock, and it gets it back.
    const aside = `${path}.${mine.id}`;
    try {
      renameSync(path, aside);
      if (read(aside) !== seen) linkSync(aside, path);
      rmSync(aside, { force: true });
    } catch {
      // Somebody else followed the same holder first.
    }
  }

  let beat = 1;
  // The id is the epoch: new with each taking, and first in the file, so that a look costs no more than reading it.
  const begins = Buffer.from(`{"id":"${mine.id}"`);
  const isMine = (): boolean => startsWith(path, begins);
  const timer = setInterval(() => {
    if (!isMine()) return;
    beat += 1;
    try {
      writeFileSync(path, JSON.stringify({ ...mine, beat }), { mode: ownerFile, flag: 'r+' });
    } catch {
      // A full disk stops no beat: the file keeps its length, give or take a digit.
    }
  }, beatMs);
  timer.unref();
  return {
    fromSilent,
    check: () => {
      if (!isMine())
        throw new NotWritable(
          'lock-lost',
          `Not saved: another Netter has taken the data folder ${folder}, for this one was silent for a while. Close one of the two; what is typed here stays in this window.`,
        );
    },
    release: () => {
      clearInterval(timer);
      if (!isMine()) return;
      // Moved away rather than removed: this program may stand still here, and what it then moves is another's.
      const aside = `${path}.${mine.id}`;
      try {
        renameSync(path, aside);
        if (!startsWith(aside, begins)) linkSync(aside, path);
        rmSync(aside, { force: true });
      } catch {
        // Another one was faster: the lock is its own.
      }
    },
  };
}

const held = (folder: string, where = '', { elsewhere = false } = {}): FolderHeld =>
  new FolderHeld(
    `The data folder ${folder} is in use by another running Netter${where}. Close that one, or set NETTER_DATA to another folder.${
      elsewhere
        ? ` That one sees it under another device: it is either the same folder by another mount, or a copy. If it is a copy, delete the file ${join(folder, 'lock')} and start again.`
        : ''
    }`,
  );

/** Netter 0.1 held a folder by a socket without a file, which Linux alone has (unix(7)). */
function heldByEarlier(folder: string): Promise<boolean> {
  if (process.platform !== 'linux') return Promise.resolve(false);
  const name = createHash('sha256').update(realpathSync(folder)).digest('hex').slice(0, 32);
  return new Promise((resolve) => {
    const socket = connect(`\0netter-${name}`);
    socket.once('connect', () => {
      socket.destroy();
      resolve(true);
    });
    socket.once('error', () => resolve(false));
  });
}

/** Makes the lock file; false where there is one. */
function claim(path: string, mine: Holder): boolean {
  try {
    writeFileSync(path, JSON.stringify(mine), { flag: 'wx', mode: ownerFile });
    return true;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'EEXIST') return false;
    throw error;
  }
}

function asHolder(text: string): Holder | undefined {
  try {
    // A beat that was cut short by a power cut may leave a tail.
    return JSON.parse(text.slice(0, text.indexOf('}') + 1)) as Holder;
  } catch {
    return undefined;
  }
}

/** What is known of a holder: it lives, it is certain that it is gone, or it was silent for as long as one waits. */
async function standingOf(
  path: string,
  seen: string,
  holder: Holder | undefined,
  mine: Holder,
  silence: number,
): Promise<'lives' | 'gone' | 'silent'> {
  // Where both count the same processes, the kernel says at once who lives.
  if (
    holder &&
    mine.boot !== '' &&
    holder.boot === mine.boot &&
    mine.processes !== '' &&
    holder.processes === mine.processes
  )
    return beganOf(holder.pid) === holder.began && holder.began !== '' ? 'lives' : 'gone';
  const step = 250;
  for (let waited = 0; waited < silence; waited += step) {
    await new Promise((resolve) => setTimeout(resolve, step));
    if (read(path) !== seen) return 'lives';
  }
  return 'silent';
}
