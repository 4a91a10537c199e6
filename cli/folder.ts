import { createReadStream, existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { Readable } from 'node:stream';
import { bad, ok, type Result } from '../core/index.ts';
import { withRunning, withServer } from './server.ts';

/** What a command answers: something to print, and the exit code. */
export interface FolderAnswer {
  readonly json: unknown;
  readonly exit?: number;
}

/** Commands that work on the data folder, through the server that holds it. */
export const folderCommands: Record<
  string,
  { readonly usage: string; readonly run: (args: readonly string[]) => Promise<Result<FolderAnswer>> }
> = {
  'sign-in': { usage: 'sign-in', run: signIn },
  backup: { usage: 'backup FILE', run: backup },
  restore: { usage: 'restore FILE', run: restore },
};

/** A one-time address that lets a browser in. */
async function signIn(args: readonly string[]): Promise<Result<FolderAnswer>> {
  if (args.length > 0) return bad('usage', 'netter sign-in takes nothing more.');
  return withRunning(async (ask) => {
    const code = await ask('POST', '/api/sign-in/codes', {});
    if (!code.ok) return code;
    const { address, minutes } = code.value as { address: string; minutes: number };
    return ok({ json: { address, minutes } });
  });
}

/** A backup of everything in one file, read back before it counts. */
async function backup([file, ...rest]: readonly string[]): Promise<Result<FolderAnswer>> {
  if (file === undefined || file.startsWith('--') || rest.length > 0)
    return bad('usage', 'Into which file? netter backup FILE.');
  if (existsSync(file)) return bad('exists', `"${file}" is there already. Name another file.`, file);
  return withServer(async (ask) => {
    const made = await ask('POST', '/api/backups', { path: resolve(file) });
    return made.ok ? ok({ json: made.value }) : made;
  });
}

/**
 * Brings a backup in beside what is there. What was changed on both sides, and the secrets of a vault with another
 * passphrase, are left for the page "Data".
 */
async function restore([file, ...rest]: readonly string[]): Promise<Result<FolderAnswer>> {
  if (file === undefined || file.startsWith('--')) return bad('usage', 'Which backup? netter restore FILE.');
  if (!existsSync(file)) return bad('unreadable', `There is no file "${file}".`, file);
  if (rest.length > 0) return bad('usage', `"${rest[0]}" is not understood here.`, rest[0]);
  return withServer(async (ask) => {
    const stream = Readable.toWeb(createReadStream(file)) as unknown as ReadableStream;
    const incoming = await ask('POST', '/api/incoming', { stream, type: 'application/gzip' });
    if (!incoming.ok) return incoming;
    const { id } = incoming.value as { id: string };
    const done = await ask('POST', `/api/incoming/${id}/apply`, {});
    await ask('POST', `/api/incoming/${id}/forget`, {});
    if (!done.ok) return done;
    const { diverged } = done.value as { diverged: string[] };
    return ok({ json: done.value, exit: diverged.length > 0 ? 1 : 0 });
  });
}
