import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { FastifyInstance } from 'fastify';
import { soundPlan } from '../../core/testing/plans.ts';
import { buildApp } from '../app.ts';
import { uncounted } from '../store/counts.ts';
import type { Store } from '../store/store.ts';
import { mostFileText, mostRevision, mostSealedText } from '../store/limits.ts';
import { memoryStore, signedIn } from '../testing/store.ts';
import { Vault } from '../vault/vault.ts';
import { NoBackup, readBackupFile, type Entry } from './backup-file.ts';
import { bringIn, compareBackup } from './bring-in.ts';
import { backUp } from './daily.ts';

const folder = mkdtempSync(join(tmpdir(), 'netter-limits-'));
const host = '127.0.0.1:4860';
const cheap = { memoryKiB: 8, passes: 1, lanes: 1 };
const now = new Date('2026-03-02T09:00:00Z');
let store: Store;
let vault: Vault;
let app: FastifyInstance;
let authorization: string;

beforeAll(async () => {
  ({ store } = await quietStore());
  vault = new Vault(store.vault, { cost: cheap });
  const signed = await signedIn(store);
  authorization = signed.headers.authorization;
  app = buildApp({ store, vault, access: signed.access, hosts: new Set([host]) });
  await store.create('quay', soundPlan());
  await vault.make('harbour lantern quietly seven otters');
}, 60_000);
afterAll(async () => {
  await app.close();
  await store.close();
  rmSync(folder, { recursive: true, force: true });
});

const send = async (method: 'POST' | 'PUT', url: string, body: object): Promise<number> =>
  (
    await app.inject({
      method,
      url,
      headers: { host, authorization, 'content-type': 'application/json' },
      payload: JSON.stringify(body),
    })
  ).statusCode;
/** Findings are not counted: what is tried is how large things can be, and not what is wrong with them. */
const quietStore = () => memoryStore({ count: () => Promise.resolve(uncounted) });
let files = 0;
const newFile = (): string => join(folder, `file-${(files += 1)}.jsonl.gz`);
const entriesOf = async (path: string): Promise<Entry[]> => {
  const found: Entry[] = [];
  for await (const entry of readBackupFile(path)) found.push(entry);
  return found;
};
/** Backed up, read back, restored into an empty folder and backed up there: nothing is named, and both are one. */
async function goesRound(): Promise<void> {
  const path = newFile();
  expect(await backUp(store, path, 'test', now)).toEqual({ damaged: 0 });
  const other = await quietStore();
  try {
    await bringIn(other.store, path);
    const back = newFile();
    expect(await backUp(other.store, back, 'test', now)).toEqual({ damaged: 0 });
    expect(await entriesOf(back)).toEqual(await entriesOf(path));
  } finally {
    await other.store.close();
  }
}
const putFile = (bytes: number, name: string): Promise<number> => {
  const content = Buffer.alloc(bytes, 0x5a);
  return send('POST', '/api/vault/put-file', {
    siteId: 'quay',
    name: `file: ${name}`,
    file: {
      name: '港'.repeat(200),
      box: '\\'.repeat(200),
      version: '"'.repeat(200),
      sha256: createHash('sha256').update(content).digest('hex'),
      base64: content.toString('base64'),
    },
  });
};

describe('whatever is accepted can be backed up, read back and restored', () => {
  test(
    'at random: names and texts with everything that JSON allows',
    () =>
      fc.assert(
        fc.asyncProperty(
          fc.string({ unit: 'binary', maxLength: 64 }),
          fc.string({ unit: 'binary', maxLength: 400 }),
          async (name, text) => {
            await send('POST', '/api/vault/put', {
              siteId: 'quay',
              name,
              secret: text,
              given: true,
              around: [],
            });
            await send('POST', '/api/cards', { model: name, card: { login: text } });
            await send('PUT', '/api/templates', { name, uplink: { ...soundPlan().uplinks[0], notes: text } });
            await send('POST', '/api/sites/quay/records', {
              ...{ kind: 'tick', subject: name, initials: 'AB', reading: text, seenFrom: '', revision: 1 },
            });
            const path = newFile();
            expect(await backUp(store, path, 'test', now)).toEqual({ damaged: 0 });
          },
        ),
        { numRuns: 8 },
      ),
    120_000,
  );

  test('the vault refuses what the backup could not hold, by one and the same limit', () => {
    // Nonce and tag of the seal are 40 bytes (draft-irtf-cfrg-xchacha), base64 is four letters for three bytes.
    const bytes = mostFileText + 8192;
    expect(mostSealedText).toBe(4 * Math.ceil((bytes + 40) / 3));
  });

  test('at its largest: a settings file, also in the trash, a record, a card, a template, a plan', async () => {
    const largest = (mostFileText / 4) * 3;
    expect(await putFile(largest + 3, 'too large')).toBe(400);
    expect(await putFile(largest, 'largest')).toBe(200);
    expect(await putFile(largest, 'thrown')).toBe(200);
    await vault.remove('quay', 'file: thrown');
    const secret = {
      siteId: 'quay',
      name: '𝔸'.repeat(32),
      secret: '港'.repeat(1000),
      given: true,
      around: [],
    };
    expect(await send('POST', '/api/vault/put', secret)).toBe(200);
    const record = {
      kind: 'evidence',
      subject: 's'.repeat(120),
      initials: '港'.repeat(8),
      reading: '"'.repeat(2000),
      values: Object.fromEntries(Array.from({ length: 60 }, (_, at) => [`key-${at}`, '\\'.repeat(500)])),
      parts: Object.fromEntries(
        Array.from({ length: 5000 }, (_, at) => [`${at}`.padEnd(160, 'x'), 'f'.repeat(64)]),
      ),
      seenFrom: 'f'.repeat(64),
      revision: 1,
    };
    expect(await send('POST', '/api/sites/quay/records', record)).toBe(201);
    const card = { login: 'x'.repeat(100), lights: [], words: [] };
    expect(await send('POST', '/api/cards', { model: 'm'.repeat(200), card })).toBe(204);
    expect(
      await send('PUT', '/api/templates', { name: 't'.repeat(100), uplink: soundPlan().uplinks[0] }),
    ).toBe(200);
    const heavy = soundPlan((plan) => {
      plan.devices = Array.from({ length: 5000 }, (_, at) => ({
        ...plan.devices[0]!,
        id: `device-${at}`,
        name: `${at} `.padEnd(60, '港'),
        notes: '"'.repeat(60),
      }));
    });
    const status = await send('PUT', '/api/sites/quay', { base: 1, plan: heavy });
    expect([200, 400]).toContain(status);
    await goesRound();
  }, 120_000);
});

/** A file that says of itself that it is whole, of whatever lines. */
function crafted(...lines: (object | string)[]): string {
  const all = [
    { kind: 'head', format: 'netter-backup', version: 1, madeAt: now.toISOString(), program: 'test' },
    ...lines,
  ].map((line) => (typeof line === 'string' ? line : JSON.stringify(line)));
  const hash = createHash('sha256').update(all.map((line) => `${line}\n`).join(''));
  const path = newFile();
  const end = JSON.stringify({ kind: 'end', lines: all.length, sha256: hash.digest('hex') });
  writeFileSync(path, gzipSync([...all, end, ''].join('\n')));
  return path;
}
const site = { kind: 'site', id: 'bad', revision: 1, savedAt: now.toISOString(), deletedAt: null };
const revision = { kind: 'revision', number: 1, savedAt: now.toISOString(), plan: soundPlan() };
const good = [site, revision] as const;
const deep = `${'['.repeat(50_000)}${']'.repeat(50_000)}`;

describe('a backup that somebody made up is refused whole, before the first row is written', () => {
  test.each<[string, () => string]>([
    [
      'NUL in a name',
      () => crafted(...good, { kind: 'secret', name: 'a\0b', sealed: 'AAAA', deletedAt: null }),
    ],
    ['NUL in a plan', () => crafted(site, { ...revision, plan: { site: { name: 'a\0b' } } })],
    [
      'a plan 50 000 deep',
      () => crafted(site, JSON.stringify({ ...revision, plan: 0 }).replace('"plan":0', `"plan":${deep}`)),
    ],
    ['a template 50 000 deep', () => crafted(`{"kind":"template","name":"x","uplink":${deep}}`)],
    ['a card that is no JSON', () => crafted({ kind: 'fact', name: 'card:x', value: '{' }, ...good)],
    ['a card that is no card', () => crafted({ kind: 'fact', name: 'card:x', value: '{"colour":1}' })],
    ['a fact that nobody knows', () => crafted({ kind: 'fact', name: 'vault-failures', value: '0' })],
    [
      '34 000 facts',
      () =>
        crafted(
          ...Array.from({ length: 34_000 }, (_, at) => ({ kind: 'fact', name: `card:${at}`, value: '{}' })),
        ),
    ],
    [
      'two vaults',
      () => crafted(...[1, 2].map((at) => ({ kind: 'vault', salt: `${at}`, cost: cheap, sealedKey: 'A' }))),
    ],
    [
      'a vault that takes hours to open',
      () =>
        crafted({
          kind: 'vault',
          salt: 'A',
          cost: { memoryKiB: 2_000_000, passes: 60, lanes: 1 },
          sealedKey: 'A',
        }),
    ],
    [
      'the last revision that a number can say',
      () => crafted({ ...site, revision: 2 ** 31 - 1 }, { ...revision, number: 2 ** 31 - 1 }),
    ],
    ['a revision beyond the last', () => crafted({ ...site, revision: mostRevision + 1 })],
    ['a revision before any site', () => crafted(revision, site)],
    [
      'a vault behind the sites',
      () => crafted(...good, { kind: 'vault', salt: 'A', cost: cheap, sealedKey: 'A' }),
    ],
  ])('%s', async (_what, make) => {
    const path = make();
    await expect(compareBackup(store, path)).rejects.toBeInstanceOf(NoBackup);
    await expect(bringIn(store, path)).rejects.toBeInstanceOf(NoBackup);
    expect(await store.read('bad')).toEqual({ kind: 'missing' });
    expect((await store.cards()).map(({ model }) => model)).not.toContain('0');
  });

  test('bad at its very end, nothing of it is there', async () => {
    const path = crafted(
      ...good,
      { ...site, id: 'second' },
      { ...revision, number: 1 },
      { kind: 'record', act: 'dance' },
    );
    await expect(bringIn(store, path)).rejects.toBeInstanceOf(NoBackup);
    // Well formed, and refused by the tables: one revision twice.
    await expect(bringIn(store, crafted(...good, revision))).rejects.toThrow();
    expect(await store.read('bad')).toEqual({ kind: 'missing' });
  });
});

test('a row that could not be read back is named in the backup, and ends none', async () => {
  const other = await memoryStore();
  await other.store.create('quay', soundPlan());
  await other.database.query('insert into vault_secrets values ($1, $2, $3)', [
    'quay',
    'huge',
    'A'.repeat(mostSealedText + 4),
  ]);
  const path = newFile();
  expect(await backUp(other.store, path, 'test', now)).toEqual({ damaged: 1 });
  expect((await compareBackup(other.store, path)).damaged).toEqual(['the secret "huge"']);
  await other.store.close();
});

test('another secret of the same name is kept beside the one here, once, and said', async () => {
  const [one, two] = [await memoryStore(), await memoryStore()];
  const vaults = [one, two].map((each) => new Vault(each.store.vault, { cost: cheap }));
  const passphrases = ['granite pelican under violet Tuesday', 'harbour lantern quietly seven otters'];
  for (const [at, each] of [one, two].entries()) {
    await each.store.create('quay', soundPlan());
    await vaults[at]!.make(passphrases[at]!);
    await vaults[at]!.put('quay', 'fibre', `secret of laptop ${at}`);
    await vaults[at]!.put('quay', 'same', 'one and the same word');
  }
  const path = newFile();
  await backUp(one.store, path, 'test', now);
  const adopt = (row: Parameters<Vault['adopt']>[0]) => vaults[1]!.adopt(row, passphrases[0]!);
  expect(await bringIn(two.store, path, adopt)).toMatchObject({ secrets: 0, secretsBeside: 1 });
  expect(await bringIn(two.store, path, adopt)).toMatchObject({ secrets: 0, secretsBeside: 0 });
  expect(await vaults[1]!.reveal('quay', 'fibre')).toBe('secret of laptop 1');
  const trash = await vaults[1]!.trash('quay');
  expect(trash).toMatchObject([{ name: 'fibre' }]);
  await vaults[1]!.remove('quay', 'fibre');
  await vaults[1]!.putBack('quay', trash[0]!.id);
  expect(await vaults[1]!.reveal('quay', 'fibre')).toBe('secret of laptop 0');
  await one.store.close();
  await two.store.close();
}, 60_000);

test('the passphrase of a vault of one’s own forgives no wrong guess', async () => {
  await vault.unlock('harbour lantern quietly seven otters');
  const other = await memoryStore();
  const own = new Vault(other.store.vault, { cost: cheap });
  await own.make('granite pelican under violet Tuesday');
  await expect(vault.verify('wrong words of somebody')).rejects.toMatchObject({ code: 'wrong-passphrase' });
  expect(await store.vault.failures()).toBe(1);
  await vault.adopt((await other.store.vault.read())!, 'granite pelican under violet Tuesday');
  expect(await store.vault.failures()).toBe(1);
  await vault.verify('harbour lantern quietly seven otters');
  expect(await store.vault.failures()).toBe(0);
  await other.store.close();
});
