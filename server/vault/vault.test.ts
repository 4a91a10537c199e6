import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { PGlite } from '@electric-sql/pglite';
import { xchacha20poly1305 } from '@noble/ciphers/chacha.js';
import { argon2id } from '@noble/hashes/argon2.js';
import type { FastifyInstance } from 'fastify';
import { soundPlan } from '../../core/testing/plans.ts';
import { buildApp } from '../app.ts';
import type { Store } from '../store/store.ts';
import { memoryStore } from '../testing/store.ts';
import { keyOf, newKey, newSalt, seal, unseal, usualCost } from './seal.ts';
import { strengthOf } from './strength.ts';
import { Vault } from './vault.ts';

const host = '127.0.0.1:4860';
const cheap = { memoryKiB: 8, passes: 1, lanes: 1 };
const good = 'harbour lantern quietly seven otters';
const better = 'granite pelican under violet Tuesday';
let store: Store;
let clock: { now: Date };
let database: PGlite;
let vault: Vault;
let app: FastifyInstance;

beforeAll(async () => {
  ({ store, clock, database } = await memoryStore());
  await store.create('site', soundPlan());
  await store.create('other', soundPlan());
}, 60_000);
beforeEach(async () => {
  await store.vault.wipe();
  vault = new Vault(store.vault, () => clock.now, cheap);
  app = buildApp({ store, vault, hosts: new Set([host]) });
});
afterAll(() => store.close());

const hex = (text: string): Uint8Array => new Uint8Array(Buffer.from(text, 'hex'));
const call = async (
  path: string,
  body: unknown = {},
): Promise<{ status: number; body: Record<string, unknown> }> => {
  const reply = await app.inject({
    method: 'POST',
    url: `/api/vault/${path}`,
    headers: { host, 'content-type': 'application/json' },
    payload: JSON.stringify(body),
  });
  return { status: reply.statusCode, body: reply.json() as Record<string, unknown> };
};
const state = async (): Promise<unknown> =>
  ((await app.inject({ method: 'GET', url: '/api/vault', headers: { host } })).json() as { state: unknown })
    .state;

describe('the primitives are the published ones', () => {
  test('Argon2id, the vector of RFC 9106 section 5.3', () => {
    const tag = argon2id(new Uint8Array(32).fill(1), new Uint8Array(16).fill(2), {
      m: 32,
      t: 3,
      p: 4,
      dkLen: 32,
      key: new Uint8Array(8).fill(3),
      personalization: new Uint8Array(12).fill(4),
    });
    expect(Buffer.from(tag).toString('hex')).toBe(
      '0d640df58d78766c08c037a34a8b53c9d01ef0452d75b65eb52520e96b01e659',
    );
  });

  test('XChaCha20-Poly1305, the vector of draft-irtf-cfrg-xchacha-03 appendix A.3.1', () => {
    const plain = new TextEncoder().encode(
      "Ladies and Gentlemen of the class of '99: If I could offer you only one tip for the future, sunscreen would be it.",
    );
    const key = hex('808182838485868788898a8b8c8d8e8f909192939495969798999a9b9c9d9e9f');
    const nonce = hex('404142434445464748494a4b4c4d4e4f5051525354555657');
    const sealed = xchacha20poly1305(key, nonce, hex('50515253c0c1c2c3c4c5c6c7')).encrypt(plain);
    expect(Buffer.from(sealed.slice(0, 16)).toString('hex')).toBe('bd6d179d3e83d43b9576579493c0e939');
    expect(Buffer.from(sealed.slice(-16)).toString('hex')).toBe('c0875924c1c7987947deafd8780acf49');
  });
});

describe('sealing', () => {
  const bytes = new TextEncoder().encode('s3cret of the line');

  test('opens with the same key and name, and with nothing else', () => {
    const key = newKey();
    const sealed = seal(key, bytes, 'site fibre');
    expect(unseal(key, sealed, 'site fibre')).toEqual(bytes);
    expect(unseal(newKey(), sealed, 'site fibre')).toBeUndefined();
    expect(unseal(key, sealed, 'site cellular')).toBeUndefined();
    const damaged = Buffer.from(sealed, 'base64');
    damaged[30]! ^= 1;
    expect(unseal(key, damaged.toString('base64'), 'site fibre')).toBeUndefined();
    expect(unseal(key, 'short', 'site fibre')).toBeUndefined();
  });

  test('the same secret never looks the same twice', () => {
    const key = newKey();
    expect(seal(key, bytes, 'x')).not.toBe(seal(key, bytes, 'x'));
  });

  test('one character typed in two ways is one passphrase (Unicode NFKC)', async () => {
    const salt = newSalt();
    expect(await keyOf('caf\u00e9 am hafen', salt, cheap)).toEqual(
      await keyOf('cafe\u0301 am hafen', salt, cheap),
    );
  });

  test('the usual cost is memory-hard: at least the least that is advised (19 MiB, two passes)', () => {
    expect(usualCost.memoryKiB).toBeGreaterThanOrEqual(19_456);
    expect(usualCost.passes).toBeGreaterThanOrEqual(2);
  });
});

describe('the vault', () => {
  test('none, made, locked, opened: secrets only while it is open', async () => {
    expect(await state()).toBe('none');
    expect((await call('make', { passphrase: good })).body).toEqual({ state: 'open' });
    await call('put', { siteId: 'site', name: 'fibre', secret: 'line-p4ss' });
    expect((await call('reveal', { siteId: 'site', name: 'fibre' })).body).toEqual({ secret: 'line-p4ss' });
    expect((await call('lock')).body).toEqual({ state: 'locked' });
    for (const path of ['reveal', 'remove'])
      expect(await call(path, { siteId: 'site', name: 'fibre' })).toMatchObject({
        status: 423,
        body: { error: 'locked' },
      });
    expect(await call('names', { siteId: 'site' })).toMatchObject({ status: 423 });
    expect((await call('unlock', { passphrase: good })).body).toEqual({ state: 'open' });
    expect((await call('names', { siteId: 'site' })).body).toEqual({ names: ['fibre'] });
    await call('remove', { siteId: 'site', name: 'fibre' });
    expect(await call('reveal', { siteId: 'site', name: 'fibre' })).toMatchObject({
      status: 404,
      body: { error: 'no-secret' },
    });
  });

  test('is locked at start, and after ten minutes without use', async () => {
    await vault.make(good);
    await vault.put('site', 'fibre', 'x1');
    expect(await new Vault(store.vault, () => clock.now, cheap).state()).toBe('locked');
    clock.now = new Date(clock.now.getTime() + 9 * 60_000);
    expect(await vault.reveal('site', 'fibre')).toBe('x1'); // use begins the time anew
    clock.now = new Date(clock.now.getTime() + 9 * 60_000);
    expect(await vault.state()).toBe('open');
    clock.now = new Date(clock.now.getTime() + 2 * 60_000);
    expect(await vault.state()).toBe('locked');
    await expect(vault.reveal('site', 'fibre')).rejects.toMatchObject({ code: 'locked' });
  });

  test('a wrong passphrase opens nothing, loses nothing, and is not repeated', async () => {
    await vault.make(good);
    await vault.put('site', 'fibre', 'x2');
    vault.lock();
    const wrong = await call('unlock', { passphrase: 'harbour lantern quietly eight otters' });
    expect(wrong).toMatchObject({
      status: 403,
      body: { error: 'wrong-passphrase', says: expect.stringMatching(/nothing was lost/) },
    });
    expect(JSON.stringify(wrong.body)).not.toContain('otters');
    await vault.unlock(good);
    expect(await vault.reveal('site', 'fibre')).toBe('x2');
  });

  test('a changed passphrase opens what was there; the old one opens nothing any more', async () => {
    await vault.make(good);
    await vault.put('site', 'fibre', 'x3');
    expect(await call('change', { before: good, after: better })).toMatchObject({ status: 200 });
    vault.lock();
    expect((await call('unlock', { passphrase: good })).status).toBe(403);
    expect((await call('unlock', { passphrase: better })).status).toBe(200);
    expect(await vault.reveal('site', 'fibre')).toBe('x3');
  });

  test('a forgotten passphrase ends the vault, but only if that was understood', async () => {
    await vault.make(good);
    await vault.put('site', 'fibre', 'x4');
    expect((await call('forget', { understood: 'yes' })).status).toBe(400);
    expect(await state()).toBe('open');
    expect((await call('forget', { understood: 'everything in it is gone' })).body).toEqual({
      state: 'none',
    });
    await vault.make(better);
    expect(await vault.names('site')).toEqual([]);
  });

  test('one secret for two things is refused: the administration must not share that of the Wi-Fi', async () => {
    await vault.make(good);
    await vault.put('site', 'wifi office', better);
    await expect(vault.put('site', 'admin', better)).rejects.toThrow(/kept as "wifi office" too/);
    await vault.put('site', 'wifi office', better);
    await vault.put('other', 'admin', better);
    expect(await vault.names('site')).toEqual(['wifi office']);
  });

  test('a secret of our own choice must not be one that everybody tries; a given one is kept as it is', async () => {
    await vault.make(good);
    const put = (secret: string, given: boolean) =>
      call('put', { siteId: 'site', name: 'admin', secret, given });
    for (const secret of ['admin123', '12345678', 'password!'])
      expect(await put(secret, false)).toMatchObject({ status: 422, body: { error: 'weak-secret' } });
    expect((await put('12345678', true)).status).toBe(200);
    expect((await put(better, false)).status).toBe(200);
  });

  test('secrets of one site are not those of another, and go with their site', async () => {
    await vault.make(good);
    await vault.put('site', 'fibre', 'one');
    await vault.put('other', 'fibre', 'two');
    expect([await vault.reveal('site', 'fibre'), await vault.reveal('other', 'fibre')]).toEqual([
      'one',
      'two',
    ]);
    // A sealed secret that is moved to another site does not open there.
    await store.vault.put('other', 'fibre', (await store.vault.sealed('site', 'fibre'))!);
    await expect(vault.reveal('other', 'fibre')).rejects.toMatchObject({ code: 'no-secret' });
    await store.create('leaving', soundPlan());
    await vault.put('leaving', 'pin', '1234');
    await store.remove('leaving');
    expect(await vault.names('leaving')).toEqual([]);
  });

  test('nothing that was typed is in the database, in a revision or in an answer that did not ask for it', async () => {
    await vault.make(good);
    await vault.put('site', 'fibre', 'unmistakable-secret');
    const dump = JSON.stringify([
      (await database.query('select * from vault')).rows,
      (await database.query('select * from vault_secrets')).rows,
      (await database.query('select * from revisions')).rows,
    ]);
    for (const typed of [
      'unmistakable-secret',
      good,
      Buffer.from('unmistakable-secret').toString('base64').slice(0, 20),
    ])
      expect(dump).not.toContain(typed);
    const site = await app.inject({ method: 'GET', url: '/api/sites/site', headers: { host } });
    expect(site.body).not.toContain('unmistakable-secret');
  });

  test.each([
    ['no passphrase', 'make', { passphrase: '' }, 400],
    ['a second vault', 'make', { passphrase: good }, 409],
    ['a factory passphrase', 'change', { before: good, after: 'Admin1234' }, 422],
    ['a secret of no name', 'put', { siteId: 'site', name: ' ', secret: 'x' }, 400],
    [
      'a secret in a field of its own making',
      'put',
      { siteId: 'site', name: 'a', secret: 'x', note: 'y' },
      400,
    ],
    ['a hostile site', 'names', { siteId: "x' or 1=1" }, 400],
  ])('%s is refused with a sentence', async (_name, path, body, status) => {
    await vault.make(good);
    expect(await call(path, body)).toMatchObject({ status, body: { says: expect.stringMatching(/\.$/) } });
  });

  test('secrets are asked for by POST only: an address is kept in histories and logs', async () => {
    await vault.make(good);
    for (const url of ['/api/vault/reveal?siteId=site&name=fibre', '/api/vault/names?siteId=site'])
      expect((await app.inject({ method: 'GET', url, headers: { host } })).statusCode).toBe(404);
  });
});

describe('strength', () => {
  test.each(['admin', 'password', 'Password1', '12345678', 'changeme', 'admin123', 'router!'])(
    '"%s" is what everybody tries',
    (secret) => expect(strengthOf(secret).fit).toBe(false),
  );

  test('long and unrelated words are fit; the name of the site is not', () => {
    expect(strengthOf(good)).toMatchObject({ fit: true, score: 4 });
    expect(strengthOf('FarrowSound2026', ['Farrow Sound', 'FarrowSound']).fit).toBe(false);
    expect(strengthOf('abcdefgh').says).toMatch(/\.$/);
  });
});
