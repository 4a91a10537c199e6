import { randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream, existsSync, readdirSync, rmSync, statSync } from 'node:fs';
import { basename, isAbsolute, join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { FastifyRequest } from 'fastify';
import type { Server } from '../declared.ts';
import * as z from 'zod';
import { finalFields } from '../access/final.ts';
import { eraseTree, ownerFile } from '../files.ts';
import { copiesIn } from '../folder/copies.ts';
import { fittingPlan, Refusal } from '../refusal.ts';
import { revisionNumber, siteId } from '../store/limits.ts';
import type { Store } from '../store/store.ts';
import type { Upkeep } from '../upkeep.ts';
import { VaultRefusal, type Vault } from '../vault/vault.ts';
import { headOf, NoBackup } from './backup-file.ts';
import { bringIn, compareBackup, isEarlier, divergence, settleDivergence, type Adopt } from './bring-in.ts';
import { backUp, backupName, backupsIn, backUpInto, whyNotMade } from './daily.ts';

export interface Keeping {
  /** The data folder, where a backup that comes in lies while it is looked at. */
  readonly folder: string;
  /** Where backups are made. */
  readonly backups: string;
  readonly program: string;
  /** What the server found by itself. */
  readonly upkeep: Pick<Upkeep, 'problem' | 'integrity' | 'failed'>;
}

const incomingPrefix = 'incoming-';
const nameParams = z.strictObject({ name: z.string().regex(backupName, 'a backup has another name') });
const incomingParams = z.strictObject({ id: z.uuid() });
const siteParams = incomingParams.extend({ site: siteId });
const makeBody = z.strictObject({ path: z.string().max(4000).refine(isAbsolute).optional() }).prefault({});
const applyBody = z.strictObject({ passphrase: z.string().max(500).default('') });
const settleBody = z.strictObject({ base: revisionNumber, plan: z.unknown() });

/** Backups: made, listed, handed out, looked at and brought in. */
export function keepingRoutes(
  app: Server,
  store: Store,
  vault: Vault,
  keeping: Keeping,
  assure: (request: FastifyRequest, passphrase: string | undefined) => Promise<void>,
): void {
  const { folder, backups, program } = keeping;
  const pathOf = (id: string): string => join(folder, `${incomingPrefix}${id}`);
  const incoming = (id: string): string => {
    const path = pathOf(id);
    if (!existsSync(path))
      throw new Refusal(
        404,
        'unknown-backup',
        'That backup is not looked at any more. Choose the file again.',
      );
    return path;
  };
  const readable = async <T>(act: () => Promise<T>): Promise<T> => {
    try {
      return await act();
    } catch (error) {
      if (error instanceof NoBackup) throw new Refusal(422, 'no-backup', error.message);
      throw error;
    }
  };

  app.get('/api/integrity', async () => ({ integrity: keeping.upkeep.integrity ?? null }));

  /** What every page says until it is mended. */
  app.get('/api/upkeep', async () => ({ problem: keeping.upkeep.problem }));

  app.get('/api/backups', async () => {
    const here = await store.vault.read();
    const listed = [];
    for (const backup of backupsIn(backups))
      listed.push({ ...backup, earlierPassphrase: await isEarlier(join(backups, backup.name), here) });
    return {
      folder: backups,
      problem: keeping.upkeep.problem,
      backups: listed,
      copies: copiesIn(folder).length,
    };
  });

  /** Erases the backups and the copies of the folder whose secrets open with an earlier passphrase. */
  app.post(
    '/api/backups/erase-earlier',
    { schema: { body: z.strictObject(finalFields) } },
    async (request) => {
      await assure(request, request.body.passphrase);
      store.assureWritable();
      const here = await store.vault.read();
      const gone: string[] = [];
      for (const { name } of backupsIn(backups))
        if (await isEarlier(join(backups, name), here)) gone.push(join(backups, name));
      if (here) gone.push(...copiesIn(folder).map((name) => join(folder, name)));
      for (const path of gone) eraseTree(path);
      return { erased: gone.length };
    },
  );

  app.post('/api/backups', { schema: { body: makeBody } }, async (request, reply) => {
    const { path: wanted } = request.body;
    if (wanted !== undefined && request.caller?.kind !== 'command-line')
      throw new Refusal(403, 'wrong-place', 'Only the command line chooses where a backup is written.');
    let path = wanted ?? backups;
    try {
      if (wanted === undefined)
        path = join(backups, (await backUpInto(store, backups, program, new Date())).name);
      else await backUp(store, wanted, program, new Date());
      keeping.upkeep.problem = '';
    } catch (error) {
      keeping.upkeep.failed(error, path);
      throw new Refusal(422, 'not-written', `The backup was not written. ${whyNotMade(error, path)}`);
    }
    return reply.status(201).send({ name: basename(path), bytes: statSync(path).size, path });
  });

  app.get('/api/backups/:name', { schema: { params: nameParams } }, async (request, reply) => {
    const { name } = request.params;
    const path = join(backups, name);
    if (!existsSync(path))
      throw new Refusal(404, 'unknown-backup', 'There is no backup of that name any more.');
    return reply
      .type('application/gzip')
      .header('Content-Disposition', `attachment; filename="${name}"`)
      .header('Content-Length', statSync(path).size)
      .send(createReadStream(path));
  });

  // A backup comes as it is, and goes to the disk as it comes: it may be larger than what fits into memory.
  app.addContentTypeParser('application/gzip', (_request, payload, done) => done(null, payload));

  app.post('/api/incoming', async (request, reply) => {
    for (const name of readdirSync(folder))
      if (name.startsWith(incomingPrefix)) rmSync(join(folder, name), { force: true });
    store.assureWritable();
    const id = randomUUID();
    const path = pathOf(id);
    try {
      if (request.headers['content-type'] !== 'application/gzip')
        throw new Refusal(
          415,
          'wrong-type',
          'Send the backup file as it is, with the content type application/gzip.',
        );
      await pipeline(request.body as Readable, createWriteStream(path, { mode: ownerFile }));
      const found = await readable(async () => ({
        ...(await headOf(path)),
        ...(await compareBackup(store, path)),
      }));
      return await reply.status(201).send({ id, ...found });
    } catch (error) {
      rmSync(path, { force: true });
      throw error;
    }
  });

  app.post(
    '/api/incoming/:id/apply',
    { schema: { params: incomingParams, body: applyBody } },
    async (request) => {
      const path = incoming(request.params.id);
      const { passphrase } = request.body;
      const adopt: Adopt = (foreign) => vault.adopt(foreign, passphrase);
      try {
        return await readable(() => bringIn(store, path, passphrase === '' ? undefined : adopt));
      } catch (error) {
        if (!(error instanceof VaultRefusal)) throw error;
        throw new Refusal(
          error.code === 'locked' ? 423 : error.code === 'wrong-passphrase' ? 403 : 429,
          error.code,
          error.code === 'wrong-passphrase'
            ? 'That is not the passphrase of the vault in the backup. Nothing was brought in: try again with that passphrase, or leave it out and bring in all but the secrets.'
            : error.message,
        );
      }
    },
  );

  app.get('/api/incoming/:id/sites/:site', { schema: { params: siteParams } }, async (request) => {
    const { id, site } = request.params;
    const found = await readable(() => divergence(store, incoming(id), site));
    if (!found)
      throw new Refusal(
        404,
        'not-diverged',
        'That site was not changed on both sides, or was merged already.',
      );
    return found;
  });

  app.post(
    '/api/incoming/:id/sites/:site',
    { schema: { params: siteParams, body: settleBody } },
    async (request) => {
      const { id, site } = request.params;
      const { base, plan } = request.body;
      const revision = await readable(() =>
        settleDivergence(store, incoming(id), site, base, fittingPlan(plan)),
      );
      if (revision === undefined)
        throw new Refusal(
          409,
          'stale',
          'This site was saved by another window, or was merged already. Nothing was overwritten: look at it once more.',
        );
      return { revision };
    },
  );

  app.post('/api/incoming/:id/forget', { schema: { params: incomingParams } }, async (request, reply) => {
    rmSync(incoming(request.params.id), { force: true });
    return reply.status(204).send();
  });
}
