import { createHash, randomUUID } from 'node:crypto';
import {
  linkSync,
  readFileSync,
  readlinkSync,
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
  /** Device and number of the folder: a lock that was copied with its folder holds nothing. */
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
  /** Throws where the lock was lost: another Netter took it while this machine slept. */
  readonly check: () => void;
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
  for (let tries = 0; ; tries += 1) {
    if (claim(path, mine)) break;
    const seen = read(path);
    const holder = asHolder(seen);
    if (tries >= 3 || (await lives(path, seen, holder, mine, silence)))
      throw held(folder, holder && holder.host !== mine.host ? ` on ${holder.host}` : '');
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
  const isMine = (): boolean => asHolder(read(path))?.id === mine.id;
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
    check: () => {
      if (!isMine())
        throw new NotWritable(
          'lock-lost',
          `Not saved: another Netter has taken the data folder ${folder}, for this one was silent for a while. Close one of the two; what is typed here stays in this window.`,
        );
    },
    release: () => {
      clearInterval(timer);
      if (isMine()) rmSync(path, { force: true });
    },
  };
}

const held = (folder: string, where = ''): FolderHeld =>
  new FolderHeld(
    `The data folder ${folder} is in use by another running Netter${where}. Close that one, or set NETTER_DATA to another folder.`,
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

async function lives(
  path: string,
  seen: string,
  holder: Holder | undefined,
  mine: Holder,
  silence: number,
): Promise<boolean> {
  if (holder && mine.boot !== '' && holder.boot === mine.boot && holder.place !== mine.place) return false;
  // Where both count the same processes, the kernel says at once who lives.
  if (
    holder &&
    mine.boot !== '' &&
    holder.boot === mine.boot &&
    mine.processes !== '' &&
    holder.processes === mine.processes
  )
    return beganOf(holder.pid) === holder.began && holder.began !== '';
  const step = 250;
  for (let waited = 0; waited < silence; waited += step) {
    await new Promise((resolve) => setTimeout(resolve, step));
    if (read(path) !== seen) return true;
  }
  return false;
}
