import {
  chmodSync,
  closeSync,
  fstatSync,
  fsyncSync,
  ftruncateSync,
  lstatSync,
  mkdirSync,
  openSync,
  readdirSync,
  renameSync,
  rmSync,
  writeFileSync,
  writeSync,
} from 'node:fs';
import { dirname, join } from 'node:path';

export const ownerFolder = 0o700;
export const ownerFile = 0o600;

/** Everything that this process makes from now on is its owner's alone, whatever the account's usual mask is. */
export const ownerOnly = (): void => void process.umask(0o077);

/** Makes a folder, and takes the rights of others away from it and from all it holds. */
export function ownFolder(folder: string): void {
  mkdirSync(folder, { recursive: true, mode: ownerFolder });
  takeRights(folder);
}

function takeRights(path: string): void {
  const { mode, isFolder } = kindOf(path);
  if (isFolder === undefined) return;
  const wanted = isFolder ? ownerFolder : ownerFile;
  if ((mode & 0o777) !== wanted) chmodSync(path, wanted);
  if (isFolder) for (const name of readdirSync(path)) takeRights(join(path, name));
}

function kindOf(path: string): { mode: number; isFolder: boolean | undefined } {
  const found = lstatSync(path);
  // A link may lead anywhere: what it leads to is none of ours.
  return { mode: found.mode, isFolder: found.isDirectory() ? true : found.isFile() ? false : undefined };
}

/** Has the disk keep what a folder lists: a new name, a renaming. */
export function syncFolder(folder: string): void {
  if (process.platform === 'win32') return;
  const handle = openSync(folder, 'r');
  try {
    fsyncSync(handle);
  } finally {
    closeSync(handle);
  }
}

/** Has the disk keep everything in a folder: each file, then what each folder lists. */
export function syncTree(folder: string): void {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) syncTree(path);
    else if (entry.isFile()) {
      const handle = openSync(path, 'r+');
      try {
        fsyncSync(handle);
      } finally {
        closeSync(handle);
      }
    }
  }
  syncFolder(folder);
}

const zeros = Buffer.alloc(1 << 20);

/** Overwrites a file from `from` on and cuts it there, so that what it held is not left in the free space of the disk. */
export function overwrite(path: string, from = 0): void {
  const file = openSync(path, 'r+');
  try {
    const { size } = fstatSync(file);
    for (let at = from; at < size; at += zeros.length)
      writeSync(file, zeros, 0, Math.min(zeros.length, size - at), at);
    fsyncSync(file);
    ftruncateSync(file, from);
  } finally {
    closeSync(file);
  }
}

/** Erases a file or a folder with all it holds, overwritten first. */
export function eraseTree(path: string): void {
  const found = lstatSync(path);
  if (found.isDirectory()) for (const name of readdirSync(path)) eraseTree(join(path, name));
  else if (found.isFile()) overwrite(path);
  rmSync(path, { recursive: true, force: true });
}

/** Writes a small file whole or not at all, for its owner only. */
export function writeWhole(path: string, text: string): void {
  const draft = `${path}.${process.pid}.draft`;
  writeFileSync(draft, text, { mode: ownerFile, flush: true });
  renameSync(draft, path);
  syncFolder(dirname(path));
}
