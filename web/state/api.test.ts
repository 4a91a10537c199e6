import { afterEach, expect, test } from '@jest/globals';
import { soundPlan } from '../../core/testing/plans.ts';
import { addRecord, ApiError, createSite, getJson, newId, removeSite, saveSite, sentence } from './api.ts';

const original = globalThis.fetch;
afterEach(() => {
  globalThis.fetch = original;
});

/** Answers every request alike, and keeps what was asked. */
function server(
  status: number,
  body: string,
): { url: string; method: string; body: unknown; type: string | null }[] {
  const asked: { url: string; method: string; body: unknown; type: string | null }[] = [];
  globalThis.fetch = (async (url: string, options: RequestInit) => {
    asked.push({
      url,
      method: options.method!,
      body: options.body === undefined ? undefined : JSON.parse(String(options.body)),
      type: new Headers(options.headers).get('content-type'),
    });
    return new Response(status === 204 ? null : body, { status });
  }) as typeof fetch;
  return asked;
}

test('requests go to their paths with JSON, and answers come back as they are', async () => {
  const asked = server(200, '{"id":"x","revision":3}');
  const plan = soundPlan();
  expect(await createSite(plan)).toEqual({ id: 'x', revision: 3 });
  await saveSite('x', 2, plan);
  await getJson('/api/sites?search=pier');
  await addRecord('x', {
    kind: 'tick',
    subject: 'kit',
    initials: 'AB',
    reading: '',
    seenFrom: '',
    revision: 3,
  });
  expect(asked.map(({ method, url, type }) => [method, url, type])).toEqual([
    ['POST', '/api/sites', 'application/json'],
    ['PUT', '/api/sites/x', 'application/json'],
    ['GET', '/api/sites?search=pier', null],
    ['POST', '/api/sites/x/records', 'application/json'],
  ]);
  expect(asked[1]!.body).toMatchObject({ base: 2, plan: { site: { name: 'Test site' } } });
});

test('an empty answer is no fault', async () => {
  server(204, '');
  await expect(removeSite('x')).resolves.toBeUndefined();
});

test('a refusal keeps its status, its sentence and what is there now', async () => {
  server(409, '{"error":"stale","says":"It was changed meanwhile.","current":{"revision":9}}');
  const error: unknown = await saveSite('x', 2, soundPlan()).catch((caught: unknown) => caught);
  expect(error).toBeInstanceOf(ApiError);
  expect(error).toMatchObject({ status: 409, body: { current: { revision: 9 } } });
  expect(sentence(error)).toBe('It was changed meanwhile.');
});

test('a server that is gone, or that answers with a page, is said in a sentence that keeps what was typed', async () => {
  globalThis.fetch = (() => Promise.reject(new TypeError('fetch failed'))) as typeof fetch;
  const gone: unknown = await getJson('/api/sites').catch((caught: unknown) => caught);
  expect(sentence(gone)).toMatch(/No answer from Netter.*What you typed is kept in this browser\.$/);
  server(502, '<html>bad gateway</html>');
  const page: unknown = await getJson('/api/sites').catch((caught: unknown) => caught);
  expect(sentence(page)).toMatch(/No answer from Netter/);
  server(500, '');
  expect(sentence(await getJson('/api/sites').catch((caught: unknown) => caught))).toBe(
    'The server gave no reason.',
  );
});

test('identifiers of rows fit the plan and do not come twice', () => {
  const ids = Array.from({ length: 500 }, newId);
  expect(ids.every((id) => /^[A-Za-z0-9_-]{1,40}$/.test(id))).toBe(true);
  expect(new Set(ids).size).toBe(500);
});
