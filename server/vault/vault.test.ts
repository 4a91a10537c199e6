import { createHash } from 'node:crypto';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { PGlite } from '@electric-sql/pglite';
import { xchacha20poly1305 } from '@noble/ciphers/chacha.js';
import { argon2id } from '@noble/hashes/argon2.js';
import type { FastifyInstance } from 'fastify';
import { soundPlan } from '../../core/testing/plans.ts';
import { Access } from '../access/access.ts';
import { buildApp } from '../app.ts';
import type { Store } from '../store/store.ts';
import { memoryStore, movedClock, signedIn, TestBrowser } from '../testing/store.ts';
import { keyOf, newKey, newSalt, seal, unseal, leastCost } from './seal.ts';
import { strengthOf } from './strength.ts';
import { Vault, waitAfter, type VaultRefusal } from './vault.ts';

const host = '127.0.0.1:4860';
const cheap = { memoryKiB: 8, passes: 1, lanes: 1 };
const good = 'harbour lantern quietly seven otters';
const better = 'granite pelican under violet Tuesday';
let store: Store;
let clock: ReturnType<typeof movedClock>;
let authorization: string;
let access: Access;
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
  vault = newVault();
  const signed = await signedIn(store);
  access = signed.access;
  authorization = signed.headers.authorization;
  app = buildApp({ store, vault, access, hosts: new Set([host]) });
});
afterAll(() => store.close());

const newVault = (): Vault => new Vault(store.vault, { clocks: clock, cost: cheap });
const hex = (text: string): Uint8Array => new Uint8Array(Buffer.from(text, 'hex'));
const call = async (
  path: string,
  body: unknown = {},
): Promise<{ status: number; body: Record<string, unknown> }> => {
  const reply = await app.inject({
    method: 'POST',
    url: `/api/vault/${path}`,
    headers: { host, authorization, 'content-type': 'application/json' },
    payload: JSON.stringify(body),
  });
  return { status: reply.statusCode, body: reply.json() as Record<string, unknown> };
};
const state = async (): Promise<unknown> =>
  (
    (await app.inject({ method: 'GET', url: '/api/vault', headers: { host, authorization } })).json() as {
      state: unknown;
    }
  ).state;

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

  test('the derivation of this machine, native or not, is that of the reference library', async () => {
    const cost = { memoryKiB: 256, passes: 2, lanes: 1 };
    const salt = newSalt();
    expect(await keyOf(good, salt, cost)).toEqual(
      argon2id(new TextEncoder().encode(good), salt, { m: 256, t: 2, p: 1, dkLen: 32 }),
    );
  });

  test('the least cost is the second choice of RFC 9106 section 4: 64 MiB, three passes', () =>
    expect(leastCost).toMatchObject({ memoryKiB: 64 * 1024, passes: 3 }));
});

describe('the vault', () => {
  test('none, made, locked, opened: secrets only while it is open', async () => {
    expect(await state()).toBe('none');
    expect((await call('make', { passphrase: good })).body).toEqual({ state: 'open' });
    await call('put', { siteId: 'site', name: 'fibre', secret: 'line-p4ss' });
    expect((await call('reveal', { siteId: 'site', name: 'fibre' })).body).toEqual({ secret: 'line-p4ss' });
    // A settings file is kept whole, and refused where it came here damaged; no secret may take its name.
    const bytes = Buffer.from('hostname quay');
    const file = {
      name: 'quay.cfg',
      box: 'Edge router',
      version: '4.2.1',
      sha256: createHash('sha256').update(bytes).digest('hex'),
      base64: bytes.toString('base64'),
    };
    expect((await call('put-file', { siteId: 'site', name: 'file: quay.cfg', file })).status).toBe(200);
    expect(
      JSON.parse(String((await call('reveal', { siteId: 'site', name: 'file: quay.cfg' })).body.secret)),
    ).toEqual(file);
    expect(
      await call('put-file', {
        siteId: 'site',
        name: 'file: other',
        file: { ...file, base64: Buffer.from('hostname quai').toString('base64') },
      }),
    ).toMatchObject({ status: 422, body: { error: 'damaged-file' } });
    expect((await call('put-file', { siteId: 'site', name: 'quay.cfg', file })).status).toBe(400);
    await call('remove', { siteId: 'site', name: 'file: quay.cfg' });
    const [thrown] = (await call('trash', { siteId: 'site' })).body.trash as { id: number }[];
    await call('erase', { siteId: 'site', id: thrown!.id, passphrase: good });
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
    const trash = (await call('trash', { siteId: 'site' })).body.trash as { id: number; name: string }[];
    expect(trash).toMatchObject([{ name: 'fibre' }]);
    await call('put-back', { siteId: 'site', id: trash[0]!.id });
    expect((await call('reveal', { siteId: 'site', name: 'fibre' })).body).toEqual({ secret: 'line-p4ss' });
    await call('remove', { siteId: 'site', name: 'fibre' });
    expect(await call('reveal', { siteId: 'site', name: 'fibre' })).toMatchObject({
      status: 404,
      body: { error: 'no-secret' },
    });
  });

  test('is locked at start, and after ten minutes without use', async () => {
    await vault.make(good);
    await vault.put('site', 'fibre', 'x1');
    expect(await newVault().state()).toBe('locked');
    clock.later(9);
    expect(await vault.reveal('site', 'fibre')).toBe('x1'); // use begins the time anew
    clock.later(9);
    expect(await vault.state()).toBe('open');
    clock.later(2);
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
    expect(await call('forget', { sentence: 'yes' })).toMatchObject({ status: 400 });
    expect(await call('forget', {})).toMatchObject({ status: 400 });
    expect(await call('forget', { passphrase: better })).toMatchObject({ status: 403 });
    expect(await state()).toBe('open');
    const sentence = 'Everything in it is gone';
    const url = '/api/vault/forget';
    const browserApp = buildApp({ store, vault, access, hosts: new Set([host]), accountOf: () => 1000 });
    const asked = async (browser: TestBrowser) => {
      const headers = { host, ...browser.headers(access, 'POST', `http://${host}${url}`) };
      const reply = await browserApp.inject({ method: 'POST', url, headers, payload: { sentence } });
      return [reply.statusCode, reply.json()];
    };
    // The command line, and a session that another session let in, are not somebody at the terminal.
    const second = new TestBrowser();
    await second.enter(access, access.newCode('browser'));
    expect(await call('forget', { sentence })).toMatchObject({ status: 403, body: { error: 'begin-anew' } });
    expect(await asked(second)).toEqual([403, expect.objectContaining({ error: 'begin-anew' })]);
    expect(await state()).toBe('open');
    const first = new TestBrowser();
    await first.enter(access);
    expect(await asked(first)).toEqual([200, { state: 'none' }]);
    await vault.make(good);
    vault.lock();
    expect((await call('forget', { passphrase: good })).body).toEqual({ state: 'none' });
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
    // A letter apart, or in other cases, is the same to whoever knows one.
    for (const near of [`${better}1`, better.slice(1), better.toUpperCase(), `x${better.slice(1)}`])
      await expect(vault.put('site', 'admin', near)).rejects.toThrow(
        /almost the secret kept as "wifi office"/,
      );
    // Short ones, such as a PIN, are alike by chance.
    await vault.put('site', 'pin', '4711');
    await vault.put('site', 'pin of the backup', '4712');
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
    await store.erase('leaving');
    expect(await vault.names('leaving')).toEqual([]);
  });

  test('a lock is at once and for all that was begun before it: no unlock and no change outlives it', async () => {
    await vault.make(good);
    await vault.put('site', 'fibre', 'x5');
    const heard: string[] = [];
    const leave = vault.follow((each) => heard.push(each));
    const change = vault.change(good, better);
    vault.lock();
    await expect(change).rejects.toMatchObject({
      code: 'locked',
      message: expect.stringMatching(/Nothing was changed/),
    });
    expect(await vault.state()).toBe('locked');
    await vault.unlock(good);
    vault.lock();
    const unlock = vault.unlock(good);
    vault.lock();
    await expect(unlock).rejects.toMatchObject({ code: 'locked' });
    expect(await vault.state()).toBe('locked');
    expect(heard.at(-1)).toBe('locked');
    leave();
  });

  test('it locks by a timer, not only when next asked, and by whichever clock is ahead', async () => {
    const timed = new Vault(store.vault, { cost: cheap, idleMinutes: 0.002 });
    await timed.make(good);
    const locked = new Promise((resolve) => timed.follow(resolve));
    expect(await locked).toBe('locked');
    await vault.unlock(good);
    clock.at = new Date(clock.at.getTime() - 3 * 3_600_000); // The clock is set back by three hours …
    clock.running += 11 * 60_000; // … while eleven minutes pass.
    expect(await vault.state()).toBe('locked');
    await vault.unlock(good);
    clock.at = new Date(clock.at.getTime() + 11 * 60_000); // Asleep: the monotonic clock stands still.
    expect(await vault.state()).toBe('locked');
  });

  test('of two that make it at once, one does; one passphrase is tried at a time', async () => {
    const made = await Promise.allSettled([vault.make(good), vault.make(better)]);
    expect(made.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
    await vault.destroy();
    // Two programs, or two windows whose requests cross: the row is made once.
    const both = await Promise.allSettled([newVault().make(good), newVault().make(better)]);
    expect(both.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
    const many = await Promise.allSettled(Array.from({ length: 20 }, () => vault.unlock('wrong')));
    const codes = many.map((each) => (each.status === 'rejected' ? each.reason.code : 'open'));
    expect(codes.filter((code) => code === 'busy')).toHaveLength(19);
  });

  test('guessing gets slower with every try, and a restart makes it no faster', async () => {
    await vault.make(good);
    vault.lock();
    const guess = (of: Vault) => of.unlock('wrong words').catch((error: VaultRefusal) => error.code);
    expect([await guess(vault), await guess(vault), await guess(vault), await guess(vault)]).toEqual([
      'wrong-passphrase',
      'wrong-passphrase',
      'wrong-passphrase',
      'wait',
    ]);
    expect(await call('unlock', { passphrase: good })).toMatchObject({
      status: 429,
      body: { error: 'wait', waitSeconds: 1, says: expect.stringMatching(/1 second/) },
    });
    const restarted = newVault();
    await expect(restarted.unlock(good)).rejects.toMatchObject({ code: 'wait' });
    clock.running += 1_000;
    expect(await guess(restarted)).toBe('wrong-passphrase');
    clock.running += 1_000;
    expect(await guess(restarted)).toBe('wait');
    clock.running += 1_000;
    await restarted.unlock(good);
    expect([3, 4, 8, 30].map(waitAfter)).toEqual([1, 2, 32, 900]);
  });

  test('another passphrase means another key: the old one opens neither what is kept nor what was', async () => {
    await vault.make(good);
    await vault.put('site', 'fibre', 'current');
    await vault.put('site', 'old', 'removed');
    await vault.remove('site', 'old');
    const rows = async () =>
      [
        ...(await database.query<{ sealed: string }>('select sealed from vault_secrets')).rows,
        ...(await database.query<{ sealed: string }>('select sealed from vault_trash')).rows,
      ].map(({ sealed }) => sealed);
    const before = (await store.vault.read())!;
    const sealedBefore = await rows();
    await vault.change(good, better);
    const oldWrapping = await keyOf(good, new Uint8Array(Buffer.from(before.salt, 'base64')), before.cost);
    const oldKey = unseal(oldWrapping, before.sealedKey, 'the key of the vault')!;
    expect(oldKey).toBeDefined();
    for (const sealed of await rows()) {
      expect(sealedBefore).not.toContain(sealed);
      for (const name of ['fibre', 'old'])
        expect(unseal(oldKey, sealed, `site\u0000${name}`)).toBeUndefined();
    }
    expect(await vault.reveal('site', 'fibre')).toBe('current');
    const [trashed] = await vault.trash('site');
    await vault.putBack('site', trashed!.id);
    expect(await vault.reveal('site', 'old')).toBe('removed');
  });

  test('a vault of an earlier cost is carried over when it is opened', async () => {
    const modest = { memoryKiB: 16, passes: 1, lanes: 1 };
    await vault.make(good);
    await vault.put('site', 'fibre', 'x6');
    await new Vault(store.vault, { clocks: clock, cost: modest }).unlock(good);
    expect((await store.vault.read())!.cost).toEqual(modest);
    await vault.unlock(good);
    expect(await vault.reveal('site', 'fibre')).toBe('x6');
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
    const site = await app.inject({
      method: 'GET',
      url: '/api/sites/site',
      headers: { host, authorization },
    });
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
      expect((await app.inject({ method: 'GET', url, headers: { host, authorization } })).statusCode).toBe(
        404,
      );
  });
});

describe('an open vault', () => {
  test.each<[string, () => void]>([
    [
      'the machine slept: the wall clock went on, the other stood still',
      () => (clock.at = new Date(clock.at.getTime() + 60_000)),
    ],
    ['a clock was set back', () => (clock.at = new Date(clock.at.getTime() - 3_600_000))],
    ['the program stood still', () => clock.later(1)],
  ])('locks by itself, and before anybody asks, where %s', async (_what, happens) => {
    await vault.make(good);
    const heard: string[] = [];
    const stop = vault.follow((state) => heard.push(state));
    vault.look();
    expect(heard).toEqual([]);
    happens();
    vault.look();
    expect(heard).toEqual(['locked']);
    stop();
  });
});

describe('strength', () => {
  test.each(['admin', 'password', 'Password1', '12345678', 'changeme', 'admin123', 'router!'])(
    '"%s" is what everybody tries',
    (secret) => expect(strengthOf(secret).fit).toBe(false),
  );

  test('long and unrelated words are fit', () => {
    expect(strengthOf(good)).toMatchObject({ fit: true, score: 4 });
    expect(strengthOf(better, ['Farrow Sound ferry office']).fit).toBe(true);
    expect(strengthOf('abcdefgh').says).toMatch(/\.$/);
  });

  const around = ['Farrow Sound ferry office', 'Farrow Sound Ferries', 'Farrow', 'Maren Holt'];
  test.each([
    'Farrow Sound 2026!',
    'FarrowSound2026',
    'FarrowSoundFerryOffice',
    'F4rr0wS0und!2026',
    'farrow-sound-ferry-office-2026',
    'MarenHolt-Farrow-Ferries',
    'fsfo2026fsfo',
    'correcthorsebatterystaple',
    'Correct-Horse-Battery-Staple',
    'c0rrecth0rsebatterystaple1',
    // A word of the place with a common one, a year and what joins them.
    'guest-FarrowSound-2026',
    'farrow-wifi-2026',
    'Farrow_Winter_2026!',
    '2026.Ferries.Admin',
    'thequickbrownfoxjumpsoverthelazydog',
  ])('"%s" is what anybody tries here', (secret) => {
    const { fit, says } = strengthOf(secret, around);
    expect(fit).toBe(false);
    expect(says).toMatch(/[.!]$/);
  });

  test('own words do not spoil what is hard without them', () =>
    expect(strengthOf('Farrow granite pelican under violet Tuesday', around).fit).toBe(true));
});
