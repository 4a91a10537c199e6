import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { FastifyInstance } from 'fastify';
import { demoPlan } from '../core/testing/plans.ts';
import { buildApp } from './app.ts';
import type { Store } from './store/store.ts';
import { memoryStore, signedIn } from './testing/store.ts';
import { Vault } from './vault/vault.ts';

const host = '127.0.0.1:4860';
const folder = mkdtempSync(join(tmpdir(), 'netter-hostile-'));
const demo = demoPlan('farrow-sound');
let app: FastifyInstance;
let store: Store;
let authorization: string;
let authorityPem: string;

const cheap = { memoryKiB: 8, passes: 1, lanes: 1 };
const passphrase = 'harbour lantern quietly seven otters';

beforeAll(async () => {
  ({ store } = await memoryStore());
  const signed = await signedIn(store);
  authorization = signed.headers.authorization;
  const vault = new Vault(store.vault, { cost: cheap });
  const upkeep = { problem: '', integrity: undefined, failed: () => {} };
  app = buildApp({
    store,
    vault,
    access: signed.access,
    keeping: { folder, backups: join(folder, 'backups'), program: 'test', upkeep },
    hosts: new Set([host]),
  });
  await store.create('quay', demo);
  await vault.make(passphrase);
  await vault.put('quay', 'fibre', 'line-p4ss');
  const made = await send('POST', '/api/vault/authority', {
    siteId: 'quay',
    name: 'authority',
    site: 'Quay',
  });
  authorityPem = (made.json() as { pem: string }).pem;
});
afterAll(async () => {
  await app.close();
  await store.close();
  rmSync(folder, { recursive: true, force: true });
});

const send = (method: string, url: string, body?: unknown, headers: Record<string, string> = {}) =>
  app.inject({
    method: method as 'POST',
    url,
    headers: { host, authorization, 'content-type': 'application/json', ...headers },
    ...(body !== undefined && { payload: typeof body === 'string' ? body : JSON.stringify(body) }),
  });

/** Every route of the interface, with a request that would be a good one. */
const routes: readonly (readonly [string, string, (() => object)?])[] = [
  ['GET', '/api/session'],
  ['POST', '/api/sign-in', () => ({ code: 'x' })],
  ['POST', '/api/sign-in/codes', () => ({})],
  ['POST', '/api/sign-out', () => ({})],
  ['GET', '/api/browsers'],
  ['POST', '/api/browsers/end', () => ({ id: '3f0c6f0a-1111-4222-8333-444455556666' })],
  ['GET', '/api/sites?search=a&offset=0&limit=5'],
  ['POST', '/api/sites', () => ({ plan: demo })],
  ['POST', '/api/sites/alike', () => ({ plan: demo })],
  ['GET', '/api/sites/quay'],
  ['PUT', '/api/sites/quay', () => ({ base: 1, plan: demo })],
  ['GET', '/api/sites/quay/revisions'],
  ['GET', '/api/sites/quay/revisions/1'],
  ['POST', '/api/sites/quay/kept', () => ({ revision: 1, why: 'print' })],
  ['POST', '/api/sites/quay/recover', () => ({})],
  ['GET', '/api/sites/quay/records'],
  [
    'POST',
    '/api/sites/quay/records',
    () => ({ kind: 'tick', subject: 'kit', initials: 'AB', reading: '', seenFrom: '', revision: 1 }),
  ],
  ['DELETE', '/api/sites/nobody'],
  ['GET', '/api/trash'],
  ['POST', '/api/trash/restore', () => ({ id: 'nobody' })],
  ['POST', '/api/trash/erase', () => ({ id: 'nobody' })],
  ['GET', '/api/times'],
  ['GET', '/api/upkeep'],
  ['POST', '/api/backups/erase-earlier', () => ({})],
  ['GET', '/api/cards'],
  ['GET', '/api/due'],
  ['GET', '/api/habits'],
  ['POST', '/api/cards', () => ({ model: 'Hall router', card: { login: 'on the label' } })],
  ['GET', '/api/templates'],
  ['PUT', '/api/templates', () => ({ name: 'Town fibre', uplink: demo.uplinks[0] })],
  ['POST', '/api/templates/remove', () => ({ name: 'nothing' })],
  ['GET', '/api/vault'],
  ['POST', '/api/vault/make', () => ({ passphrase, around: ['Quay'] })],
  ['POST', '/api/vault/names', () => ({ siteId: 'quay' })],
  ['POST', '/api/vault/put', () => ({ siteId: 'quay', name: 'x', secret: 'y', given: true, around: [] })],
  [
    'POST',
    '/api/vault/put-file',
    () => ({
      siteId: 'quay',
      name: 'file: a',
      file: { name: 'a', box: '', version: '', sha256: '0'.repeat(64), base64: 'AAAA' },
    }),
  ],
  ['POST', '/api/vault/reveal', () => ({ siteId: 'quay', name: 'fibre' })],
  ['POST', '/api/vault/remove', () => ({ siteId: 'quay', name: 'nothing' })],
  ['POST', '/api/vault/trash', () => ({ siteId: 'quay' })],
  ['POST', '/api/vault/put-back', () => ({ siteId: 'quay', id: 7 })],
  ['POST', '/api/vault/erase', () => ({ siteId: 'quay', id: 7 })],
  ['POST', '/api/vault/authority', () => ({ siteId: 'quay', name: 'authority-2', site: 'Quay' })],
  [
    'POST',
    '/api/vault/issue',
    () => ({
      siteId: 'quay',
      authorityName: 'authority',
      authorityPem,
      secretName: 'maren',
      person: 'Maren',
      use: 'client',
      days: 30,
    }),
  ],
  [
    'POST',
    '/api/vault/pkcs12',
    () => ({
      siteId: 'quay',
      secretName: 'authority',
      pem: authorityPem,
      authorityPem,
      person: 'Maren',
      password: passphrase,
      around: [],
    }),
  ],
  [
    'POST',
    '/api/vault/revocations',
    () => ({
      siteId: 'quay',
      authorityName: 'authority',
      authorityPem,
      revoked: [{ serial: 'ab12', date: '2026-03-01' }],
    }),
  ],
  ['POST', '/api/vault/strength', () => ({ secret: 'abc', around: ['Quay'] })],
  ['POST', '/api/vault/forget', () => ({ sentence: 'not meant' })],
  ['GET', '/api/integrity'],
  ['GET', '/api/backups'],
  ['POST', '/api/backups', () => ({})],
  ['GET', '/api/backups/netter-2026-03-01.jsonl.gz'],
  ['POST', '/api/incoming', () => ({})],
  ['POST', '/api/incoming/3f0c6f0a-1111-4222-8333-444455556666/apply', () => ({ passphrase: '' })],
  ['GET', '/api/incoming/3f0c6f0a-1111-4222-8333-444455556666/sites/quay'],
  ['POST', '/api/incoming/3f0c6f0a-1111-4222-8333-444455556666/sites/quay', () => ({ base: 1, plan: demo })],
  ['POST', '/api/incoming/3f0c6f0a-1111-4222-8333-444455556666/forget', () => ({})],
  ['GET', '/api/nothing'],
];

const nasty = fc.oneof(
  fc.constantFrom<unknown>(
    ...[
      '\0',
      'a\0b',
      '\n',
      '\u202e',
      '',
      ' ',
      '../..',
      "' or 1=1",
      '%00',
      '💥'.repeat(40),
      'x'.repeat(30_000),
    ],
    ...[2 ** 31, -(2 ** 31), 2 ** 53, 1e308, -1, 0, 1.5, null, true, [], {}, [[]], { a: { b: {} } }, ['\0']],
    '-----BEGIN CERTIFICATE-----\nAAAA\n-----END CERTIFICATE-----',
    '-----BEGIN CERTIFICATE-----',
    '2026-13-45',
    'nobody',
  ),
  fc.jsonValue(),
);

/** Somewhere in a value, something else. */
function spoilt(value: unknown, path: readonly number[], by: unknown): unknown {
  if (path.length === 0 || typeof value !== 'object' || value === null) return by;
  const keys = Object.keys(value);
  if (keys.length === 0) return by;
  const key = keys[path[0]! % keys.length]!;
  const copy = (Array.isArray(value) ? [...(value as unknown[])] : { ...value }) as Record<string, unknown>;
  copy[key] = spoilt(copy[key], path.slice(1), by);
  return copy;
}

const sound = (status: number, text: string): void => {
  expect(status).toBeLessThan(500);
  if (status < 400) return;
  expect(text).not.toMatch(/\bselect "|insert into|node_modules|at Object\.|Zod/i);
  expect(JSON.parse(text)).toMatchObject({ says: expect.stringMatching(/[.!]$/) });
};

test.each(routes.map(([method, url, body]) => [method, url, body ?? (() => undefined)] as const))(
  '%s %s: whatever is sent, a sentence comes back and no 5xx',
  async (method, url, body) => {
    const good = await send(method, url, body());
    sound(good.statusCode, good.body);
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.nat(40), { maxLength: 5 }),
        nasty,
        fc.constantFrom('nobody', '%00', 'a%0Ab', '2147483648', '..%2f..', 'x'.repeat(70), '1e9'),
        async (path, by, part) => {
          const sent = method === 'GET' || method === 'DELETE' ? undefined : spoilt(body() ?? {}, path, by);
          const reply = await send(method, url, sent);
          sound(reply.statusCode, reply.body);
          const elsewhere = await send(method, url.replace(/quay|nobody|\d+$/, part), body());
          sound(elsewhere.statusCode, elsewhere.body);
        },
      ),
      // A backup takes all that the other routes have made: a few are enough.
      { numRuns: url === '/api/backups' ? 3 : Number(process.env.NETTER_RUNS ?? 15) },
    );
  },
  240_000,
);

test('every route there is stands in the list that is tried', () => {
  const tried = new Set(
    routes.map(([method, url]) => `${method} ${url.split('?')[0]!.replace(/\/(quay|nobody)\b/, '/:id')}`),
  );
  const known = [...app.printRoutes({ commonPrefix: false }).matchAll(/(\/api\/\S*) \(([A-Z, ]+)\)/g)];
  const all = known.flatMap(([, url, methods]) => methods!.split(', ').map((method) => `${method} ${url}`));
  expect(all.length).toBeGreaterThan(30);
  for (const each of all)
    if (!/^(HEAD|OPTIONS)|\*|:id\/(sites|apply|forget)|\/incoming|events/.test(each))
      expect([...tried]).toContain(each);
});

test('every route is closed to whoever is not signed in, but signing in', async () => {
  for (const [method, url, body] of routes) {
    const reply = await send(method, url, body?.(), { authorization: '' });
    expect([url, reply.statusCode]).toEqual([url, 401]);
    const wrong = await send(method, url, body?.(), {
      cookie: 'netter-session=wrong',
      authorization: 'Bearer wrong',
    });
    expect([url, wrong.statusCode]).toEqual([url, 401]);
    // Written in another way, an address leads to the same door.
    for (const other of [url.replace('/api', '/%61pi'), url.replace('/api', '/ap%69')])
      expect([other, (await send(method, other, body?.(), { authorization: '' })).statusCode]).toEqual([
        other,
        401,
      ]);
  }
});

test('every answer, refusals included, has the headers of its kind', async () => {
  const urls = [
    '/api/sites',
    '/api/nothing',
    '/nothing.png',
    '/api/sites/x',
    '//api/sites',
    '/%61pi/sites',
    '/API/sites',
  ];
  for (const url of urls)
    for (const headers of [
      {},
      { authorization: '' },
      { host: 'elsewhere.example' },
      { origin: 'http://elsewhere.example' },
    ]) {
      const reply = await app.inject({ method: 'GET', url, headers: { host, authorization, ...headers } });
      expect([url, reply.headers]).toEqual([
        url,
        expect.objectContaining({
          'content-security-policy': expect.stringContaining("default-src 'none'"),
          'cache-control': 'no-store',
          'cross-origin-opener-policy': 'same-origin',
          'cross-origin-resource-policy': 'same-origin',
          'x-content-type-options': 'nosniff',
          'x-frame-options': 'DENY',
          'referrer-policy': 'no-referrer',
        }),
      ]);
    }
});

test('a cross-site request is refused however its address is written', async () => {
  for (const url of ['/api/sites', '/%61pi/sites', '/ap%69/sites', '/api/%73ites'])
    for (const headers of [
      { 'sec-fetch-site': 'cross-site' },
      { 'sec-fetch-site': 'same-site' },
      { origin: 'null' },
    ])
      expect([url, (await send('GET', url, undefined, headers)).statusCode]).toEqual([url, 403]);
});

test('a file that is no backup, a bomb, or none at all, gets a sentence', async () => {
  const bomb = gzipSync(Buffer.alloc(64 * 2 ** 20, 0x20));
  for (const payload of [
    Buffer.from(''),
    Buffer.from('x'),
    gzipSync(''),
    gzipSync('{"kind":"head"}\n'),
    bomb,
  ]) {
    const reply = await app.inject({
      method: 'POST',
      url: '/api/incoming',
      headers: { host, authorization, 'content-type': 'application/gzip' },
      payload,
    });
    expect(reply.statusCode).toBe(422);
    expect(reply.json()).toMatchObject({ says: expect.stringMatching(/\.$/) });
  }
});
