import { createReadStream, existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { Readable } from 'node:stream';
import { bad, ok, type Result } from '../core/index.ts';
import type { Answered } from './arguments.ts';
import type { Command } from './commands.ts';
import { withRunning, withServer } from './server.ts';

/** Commands that work on the data folder, through the server that holds it. */
export const folderCommands: Readonly<Record<string, Command<Promise<Result<Answered>>>>> = {
  'sign-in': {
    usage: 'sign-in',
    says: 'A one-time address that lets another browser in.',
    options: [],
    operands: 0,
    run: signIn,
  },
  backup: {
    usage: 'backup FILE',
    says: 'Writes a backup of everything into one file.',
    options: [],
    operands: 1,
    run: ({ operands }) => backup(operands[0]),
  },
  restore: {
    usage: 'restore FILE',
    says: 'Brings a backup in beside what is there.',
    options: [],
    operands: 1,
    run: ({ operands }) => restore(operands[0]),
  },
};

/** A one-time address that lets a browser in. */
async function signIn(): Promise<Result<Answered>> {
  return withRunning(async (ask) => {
    const code = await ask('POST', '/api/sign-in/codes', {});
    if (!code.ok) return code;
    const { address, minutes } = code.value as { address: string; minutes: number };
    return ok({ json: { address, minutes } });
  });
}

/** A backup of everything in one file, read back before it counts. */
async function backup(file: string | undefined): Promise<Result<Answered>> {
  if (file === undefined) return bad('usage', 'Into which file? netter backup FILE.', 'FILE');
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
async function restore(file: string | undefined): Promise<Result<Answered>> {
  if (file === undefined) return bad('usage', 'Which backup? netter restore FILE.', 'FILE');
  if (!existsSync(file)) return bad('unreadable', `There is no file "${file}".`, file);
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
