import {
  chmodSync,
  closeSync,
  fsyncSync,
  lstatSync,
  mkdirSync,
  openSync,
  readdirSync,
  renameSync,
  writeFileSync,
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

/** Writes a small file whole or not at all, for its owner only. */
export function writeWhole(path: string, text: string): void {
  const draft = `${path}.${process.pid}.draft`;
  writeFileSync(draft, text, { mode: ownerFile, flush: true });
  renameSync(draft, path);
  syncFolder(dirname(path));
}
