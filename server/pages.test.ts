import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { FastifyInstance, LightMyRequestResponse } from 'fastify';
import { buildApp } from './app.ts';
import type { Store } from './store/store.ts';
import { memoryStore, signedIn } from './testing/store.ts';

const host = '127.0.0.1:4860';
const folder = mkdtempSync(join(tmpdir(), 'netter-pages-'));
let app: FastifyInstance;
let store: Store;
let authorization: string;

beforeAll(async () => {
  mkdirSync(join(folder, 'assets'));
  writeFileSync(
    join(folder, 'index.html'),
    '<script nonce="%NONCE%"></script><style nonce="%NONCE%"></style>',
  );
  writeFileSync(join(folder, 'assets', 'index-abc.js'), 'export {};');
  writeFileSync(join(folder, '..', 'netter-outside.txt'), 'not for the web');
  ({ store } = await memoryStore());
  const { access, headers } = await signedIn(store);
  authorization = headers.authorization;
  app = buildApp({ store, access, hosts: new Set([host]), webRoot: folder });
});
afterAll(async () => {
  await app.close();
  await store.close();
  rmSync(folder, { recursive: true, force: true });
  rmSync(join(folder, '..', 'netter-outside.txt'), { force: true });
});

const get = (url: string, headers: Record<string, string> = {}): Promise<LightMyRequestResponse> =>
  app.inject({ method: 'GET', url, headers: { host, authorization, ...headers } });

test('every page address gives the app, so that a reload stays where it is', async () => {
  for (const url of ['/', '/sites/x/uplinks', '/sites/x/run-sheet?open=kit']) {
    const reply = await get(url);
    expect([url, reply.statusCode, reply.headers['content-type']]).toEqual([
      url,
      200,
      'text/html; charset=utf-8',
    ]);
    expect(reply.body).toContain('<script nonce="');
  }
});

test('the policy lets nothing in from elsewhere, and each page has a nonce of its own', async () => {
  const [first, second] = [await get('/'), await get('/')];
  const policy = (reply: LightMyRequestResponse): string => String(reply.headers['content-security-policy']);
  for (const part of [
    "default-src 'none'",
    "script-src 'self'",
    "connect-src 'self'",
    "frame-ancestors 'none'",
    "base-uri 'none'",
    "form-action 'none'",
  ])
    expect(policy(first)).toContain(part);
  expect(policy(first)).not.toMatch(/unsafe|https?:|\*/);
  const nonce = (reply: LightMyRequestResponse): string => /nonce-([^']+)/.exec(policy(reply))![1]!;
  expect(nonce(first)).not.toBe(nonce(second));
  expect(first.body).toBe(`<script nonce="${nonce(first)}"></script><style nonce="${nonce(first)}"></style>`);
  expect(first.headers['cache-control']).toBe('no-store');
  expect(first.headers['x-content-type-options']).toBe('nosniff');
});

test('built files are kept by the browser for good, for their names change with them', async () => {
  const reply = await get('/assets/index-abc.js');
  expect(reply.statusCode).toBe(200);
  expect(reply.headers['cache-control']).toMatch(/immutable/);
});

test.each([
  '/assets/nothing.js',
  '/favicon.png',
  '/../netter-outside.txt',
  '/%2e%2e/netter-outside.txt',
  '/assets/..%2f..%2fnetter-outside.txt',
])('%s is not there', async (url) => {
  const reply = await get(url);
  expect(reply.body).not.toContain('not for the web');
  if (reply.statusCode === 200) expect(reply.headers['content-type']).toMatch(/html/);
  else expect(reply.json()).toMatchObject({ says: expect.stringMatching(/\.$/) });
});

test('a page from elsewhere cannot drive it, whatever it calls itself', async () => {
  for (const headers of [
    { host: 'evil.example' },
    { origin: 'http://evil.example' },
    { 'sec-fetch-site': 'cross-site' },
    { origin: 'null' },
  ])
    expect((await get('/api/sites', headers as Record<string, string>)).statusCode).toBeGreaterThanOrEqual(
      400,
    );
  expect(
    (await get('/api/sites', { origin: `http://${host}`, 'sec-fetch-site': 'same-origin' })).statusCode,
  ).toBe(200);
});
