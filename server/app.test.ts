import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import Fastify, { type FastifyInstance } from 'fastify';
import * as z from 'zod';
import { declared } from './declared.ts';
import type { Refusal } from './refusal.ts';
import { soundPlan } from '../core/testing/plans.ts';
import { buildApp } from './app.ts';
import { memoryStore, signedIn } from './testing/store.ts';
import type { Store } from './store/store.ts';

const host = '127.0.0.1:4860';
const demo = JSON.parse(readFileSync(new URL('../demo/weir-street.json', import.meta.url), 'utf8'));
let app: FastifyInstance;
let store: Store;
let authorization: string;

beforeAll(async () => {
  ({ store } = await memoryStore());
  const { access, headers } = await signedIn(store);
  authorization = headers.authorization;
  app = buildApp({ store, access, hosts: new Set([host]) });
});
afterAll(async () => {
  await app.close();
  await store.close();
});

// eslint-disable-next-line @typescript-eslint/no-explicit-any
type Reply = { status: number; body: any };
async function call(
  method: 'GET' | 'POST' | 'PUT' | 'DELETE',
  url: string,
  body?: unknown,
  headers: Record<string, string> = {},
): Promise<Reply> {
  const payload =
    body === undefined ? {} : { payload: typeof body === 'string' ? body : JSON.stringify(body) };
  const reply = await app.inject({
    method,
    url,
    headers: {
      host,
      authorization,
      ...(body !== undefined && { 'content-type': 'application/json' }),
      ...headers,
    },
    ...payload,
  });
  return { status: reply.statusCode, body: reply.body === '' ? undefined : reply.json() };
}
const make = async (plan: unknown = demo): Promise<string> =>
  (await call('POST', '/api/sites', { plan })).body.id;
const renamed = (name: string) => ({ ...demo, site: { ...demo.site, name } });

describe('sites', () => {
  test('are made, read, saved, listed and removed', async () => {
    const id = await make();
    expect((await call('GET', `/api/sites/${id}`)).body).toMatchObject({
      id,
      revision: 1,
      plan: { site: { name: 'Weir Street library' } },
    });
    expect(
      (await call('PUT', `/api/sites/${id}`, { base: 1, plan: renamed('Harbour % yard') })).body,
    ).toMatchObject({ revision: 2 });
    await store.settled();
    expect((await call('GET', '/api/sites?search=harbour%20%25')).body).toMatchObject({
      total: 1,
      rows: [{ id, name: 'Harbour % yard', revision: 2, blockers: 0 }],
    });
    expect((await call('GET', '/api/sites?search=h_rbour')).body.total).toBe(0);
    expect((await call('GET', `/api/sites/${id}/revisions`)).body).toMatchObject([
      { revision: 2 },
      { revision: 1 },
    ]);
    expect((await call('GET', `/api/sites/${id}/revisions/1`)).body.plan.site.name).toBe(
      'Weir Street library',
    );
    expect((await call('DELETE', `/api/sites/${id}`)).status).toBe(204);
    expect((await call('GET', `/api/sites/${id}`)).status).toBe(404);
  });

  test('a stale save is refused with what is there now, and overwrites nothing', async () => {
    const id = await make();
    await call('PUT', `/api/sites/${id}`, { base: 1, plan: renamed('First window') });
    const stale = await call('PUT', `/api/sites/${id}`, { base: 1, plan: renamed('Second window') });
    expect(stale).toMatchObject({
      status: 409,
      body: { error: 'stale', current: { revision: 2, plan: { site: { name: 'First window' } } } },
    });
    expect((await call('GET', `/api/sites/${id}`)).body.plan.site.name).toBe('First window');
  });

  test('a plan file of a site that is here is known again, with the revision it went on from', async () => {
    const id = await make(renamed('Lock keeper'));
    const noted = { ...renamed('Lock keeper'), site: { ...renamed('Lock keeper').site, notes: 'later' } };
    await call('PUT', `/api/sites/${id}`, { base: 1, plan: noted });
    await call('PUT', `/api/sites/${id}`, {
      base: 2,
      plan: { ...noted, site: { ...noted.site, town: 'Weirbridge' } },
    });
    const alike = async (plan: unknown) => (await call('POST', '/api/sites/alike', { plan })).body.sites;
    expect(await alike(noted)).toEqual([{ id, name: 'Lock keeper', revision: 3, base: 2, same: true }]);
    const edited = { ...renamed('Lock keeper'), site: { ...renamed('Lock keeper').site, street: 'Quay 1' } };
    expect(await alike(edited)).toMatchObject([{ id, base: 1, same: false }]);
    expect(await alike(renamed('Somewhere else'))).toEqual([]);
  });

  test('of saves at the same time exactly one wins', async () => {
    const id = await make();
    const replies = await Promise.all(
      Array.from({ length: 8 }, (_, index) =>
        call('PUT', `/api/sites/${id}`, { base: 1, plan: renamed(`Window ${index}`) }),
      ),
    );
    expect(replies.map((reply) => reply.status).sort()).toEqual([200, 409, 409, 409, 409, 409, 409, 409]);
  });

  test('records are added and kept in order', async () => {
    const id = await make();
    const tick = { kind: 'tick', subject: 'kit', initials: ' AB ', reading: '12 V', revision: 1 };
    expect((await call('POST', `/api/sites/${id}/records`, tick)).body).toMatchObject({
      kind: 'tick',
      initials: 'AB',
      reading: '12 V',
      seenFrom: '',
    });
    await call('POST', `/api/sites/${id}/records`, { ...tick, kind: 'untick' });
    expect(
      (await call('GET', `/api/sites/${id}/records`)).body.map((record: { kind: string }) => record.kind),
    ).toEqual(['tick', 'untick']);
    expect((await call('POST', `/api/sites/${id}/records`, { ...tick, initials: '' })).status).toBe(400);
    expect((await call('POST', '/api/sites/none/records', tick)).status).toBe(404);
  });
});

describe('what earlier jobs taught', () => {
  test('the card of a model is kept under its model, and found again by the next job', async () => {
    const card = {
      login: 'on the label',
      holdSeconds: 12,
      lights: [{ id: 'a', light: 'WAN', shows: 'red', stage: 'fault' }],
    };
    expect((await call('POST', '/api/cards', { model: ' Hall router ', card })).status).toBe(204);
    await call('POST', '/api/cards', { model: 'Hall router', card: { ...card, holdSeconds: 15 } });
    expect((await call('GET', '/api/cards')).body.cards).toMatchObject([
      { model: 'Hall router', card: { holdSeconds: 15, lights: [{ stage: 'fault', tryThis: '' }] } },
    ]);
    expect((await call('POST', '/api/cards', { model: '', card })).status).toBe(400);
    expect(
      (await call('POST', '/api/cards', { model: 'x', card: { lights: [{ stage: 'purple' }] } })).status,
    ).toBe(400);
  });

  test('times come from the records of all sites, and a record that waited says when it was seen', async () => {
    // By the clock of the server, an hour ago.
    const now = (
      await call('POST', `/api/sites/${await make()}/records`, {
        kind: 'timer',
        subject: 'kit',
        initials: 'AB',
        revision: 1,
      })
    ).body.at as string;
    const at = (minute: number): string => new Date(Date.parse(now) - (60 - minute) * 60_000).toISOString();
    for (let job = 0; job < 3; job += 1) {
      const id = await make();
      for (const [subject, minute] of [
        ['kit', 0],
        ['power', 4 + job],
      ] as const)
        await call('POST', `/api/sites/${id}/records`, {
          kind: 'tick',
          subject,
          initials: 'AB',
          revision: 1,
          at: at(minute),
          values: { volts: '12' },
          parts: { router: 'abc' },
        });
      expect((await call('GET', `/api/sites/${id}/records`)).body[1]).toMatchObject({
        values: { volts: '12' },
        parts: { router: 'abc' },
      });
    }
    const { power } = (await call('GET', '/api/times')).body;
    expect([power.lowSeconds, power.medianSeconds, power.highSeconds, power.count]).toEqual([
      240, 300, 360, 3,
    ]);
    const id = await make();
    const future = { kind: 'tick', subject: 'kit', initials: 'AB', revision: 1, at: '2999-01-01T00:00:00Z' };
    await call('POST', `/api/sites/${id}/records`, future);
    expect((await call('GET', `/api/sites/${id}/records`)).body[0].at < '2999').toBe(true);
  });
});

describe('templates', () => {
  const uplink = {
    ...soundPlan().uplinks[0]!,
    vlan: 7,
    type: 'pppoe',
    settings: {
      ...soundPlan().uplinks[0]!.settings,
      pppoe: { userName: 'pier@dial.example', secret: 'fibre', largePackets: true },
    },
    answers: [{ id: 'fault', answer: '0800', who: 'Desk', when: '' }],
  };

  test('keep how a line is entered, and not who it is for', async () => {
    expect((await call('PUT', '/api/templates', { name: 'Town fibre', uplink })).status).toBe(200);
    const kept = (await call('GET', '/api/templates')).body.templates;
    expect(kept).toHaveLength(1);
    expect(kept[0]).toMatchObject({
      name: 'Town fibre',
      uplink: {
        type: 'pppoe',
        vlan: 7,
        settings: { pppoe: { largePackets: true, userName: '', secret: '' } },
        answers: [],
      },
    });
    for (const own of ['pier@dial.example', '203.0.113.9', '0800'])
      expect(JSON.stringify(kept)).not.toContain(own);
  });

  test('are replaced by name, and forgotten', async () => {
    await call('PUT', '/api/templates', { name: 'Town fibre', uplink: { ...uplink, vlan: 35 } });
    expect((await call('GET', '/api/templates')).body.templates).toMatchObject([{ uplink: { vlan: 35 } }]);
    expect((await call('POST', '/api/templates/remove', { name: 'Town fibre' })).status).toBe(204);
    expect((await call('POST', '/api/templates/remove', { name: 'Town fibre' })).status).toBe(404);
  });

  test.each([
    ['no name', { name: ' ', uplink }],
    ['no uplink', { name: 'x', uplink: 7 }],
    ['a field nobody knows', { name: 'x', uplink: { ...uplink, colour: 'red' } }],
  ])('%s is refused', async (_name, body) =>
    expect((await call('PUT', '/api/templates', body)).status).toBe(400),
  );
});

test('what goes wrong inside is a sentence, and neither the answer nor the log has a word of a customer', async () => {
  const logged: unknown[] = [];
  const original = console.error;
  console.error = (...words: unknown[]) => void logged.push(words);
  const list = store.list;
  try {
    Object.assign(store, {
      list: () =>
        Promise.reject(new Error('Failed query: insert into sites params: Maren Holt, 2 Slipway Road')),
    });
    const reply = await call('GET', '/api/sites');
    expect(reply).toMatchObject({
      status: 500,
      body: { error: 'failed', says: expect.stringMatching(/\.$/) },
    });
    expect(JSON.stringify([reply.body, logged])).not.toMatch(/Maren|Slipway|insert into/);
    expect(logged).toHaveLength(1);
  } finally {
    Object.assign(store, { list });
    console.error = original;
  }
});

describe('bad requests get 4xx and a sentence', () => {
  const deep = `${'['.repeat(50_000)}${']'.repeat(50_000)}`;
  const cases: [string, () => Promise<Reply>, number][] = [
    ['bad JSON', () => call('POST', '/api/sites', '{"plan":'), 400],
    ['an empty body', () => call('POST', '/api/sites', ''), 400],
    [
      'another content type',
      () => call('POST', '/api/sites', 'plan=1', { 'content-type': 'application/x-www-form-urlencoded' }),
      415,
    ],
    ['an unknown field of the request', () => call('POST', '/api/sites', { plan: demo, colour: 'red' }), 400],
    [
      'an unknown field of the plan',
      () => call('POST', '/api/sites', { plan: { ...demo, colour: 'red' } }),
      400,
    ],
    ['a wrong type', () => call('POST', '/api/sites', { plan: { ...demo, site: { name: 7 } } }), 400],
    ['a number too large for the field', () => call('PUT', '/api/sites/x', { base: 1e99, plan: demo }), 400],
    ['deep nesting', () => call('POST', '/api/sites', `{"plan":${deep}}`), 400],
    [
      'a reserved key',
      () => call('POST', '/api/sites', '{"plan":{"__proto__":{"format":"netter-plan"}}}'),
      400,
    ],
    ['over-long text', () => call('POST', '/api/sites', { plan: renamed('x'.repeat(5000)) }), 400],
    ['a body over the limit', () => call('POST', '/api/sites', { plan: 'x'.repeat(6_000_000) }), 413],
    ['an unknown id', () => call('GET', '/api/sites/nothing-here'), 404],
    ['a hostile id', () => call('GET', "/api/sites/x'%20or%201=1"), 400],
    ['an unknown revision', () => call('GET', '/api/sites/nothing/revisions/9'), 404],
    ['a page number that is none', () => call('GET', '/api/sites?limit=ten'), 400],
    ['an unknown path', () => call('GET', '/api/nothing'), 404],
    ['another host name', () => call('GET', '/api/sites', undefined, { host: 'elsewhere.example' }), 421],
    [
      'another origin',
      () => call('DELETE', '/api/sites/x', undefined, { origin: 'http://elsewhere.example' }),
      403,
    ],
    [
      'a cross-site fetch',
      () => call('GET', '/api/sites', undefined, { 'sec-fetch-site': 'cross-site' }),
      403,
    ],
  ];
  test.each(cases)('%s', async (_name, request, status) => {
    const reply = await request();
    expect(reply.status).toBe(status);
    expect(reply.body).toMatchObject({
      error: expect.any(String),
      at: expect.any(String),
      says: expect.stringMatching(/\.$/),
    });
    expect(JSON.stringify(reply.body)).not.toMatch(/select|insert|node_modules|at Object/i);
  });
});

test('a route reads of a request only what its declaration checks', async () => {
  const routes = declared(Fastify());
  routes.post('/undeclared', async (request) => {
    // @ts-expect-error: without a declaration nobody knows what is in there.
    return { name: request.body?.name };
  });
  routes.post(
    '/declared/:id',
    {
      schema: {
        params: z.strictObject({ id: z.coerce.number() }),
        body: z.strictObject({ name: z.string() }),
      },
    },
    async (request) => ({ name: request.body.name.toUpperCase(), next: request.params.id + 1 }),
  );
  routes.setErrorHandler((error, _request, reply) => {
    const { status, code, at } = error as Refusal;
    void reply.status(status).send({ code, at });
  });
  const sent = async (url: string, payload?: object) => {
    const { statusCode, body } = await routes.inject({ method: 'POST', url, ...(payload && { payload }) });
    return [statusCode, JSON.parse(body)];
  };
  expect(await sent('/declared/4', { name: 'pier' })).toEqual([200, { name: 'PIER', next: 5 }]);
  expect(await sent('/declared/four', { name: 'pier' })).toEqual([400, { code: 'wrong-form', at: '/id' }]);
  expect(await sent('/declared/4', { name: 7 })).toEqual([400, { code: 'wrong-form', at: '/name' }]);
  expect(await sent('/declared/4')).toEqual([400, { code: 'wrong-form', at: '' }]);
});
