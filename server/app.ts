import { randomBytes, randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import fastifyStatic from '@fastify/static';
import Fastify, { type FastifyError, type FastifyInstance, type FastifyReply } from 'fastify';
import { z } from 'zod';
import { asTemplate, largestPlanBytes, parsePlan, recordInputSchema, uplinkSchema } from '../core/index.ts';
import type { Store } from './store/store.ts';
import { vaultRoutes } from './vault/routes.ts';
import { Vault } from './vault/vault.ts';

export interface AppOptions {
  readonly store: Store;
  /** The vault over the same store; a test gives one that is cheaper to open. */
  readonly vault?: Vault;
  /** Folder of the built web app; undefined where only the interface for programs is wanted. */
  readonly webRoot?: string;
  /** Names and ports under which this server may be spoken to: "127.0.0.1:4860". */
  readonly hosts: ReadonlySet<string>;
}

/** An answer that is not a success: a status, a stable code, a sentence, and where. */
class Refusal extends Error {
  readonly status: number;
  readonly code: string;
  readonly at: string;
  readonly more: object;

  constructor(status: number, code: string, says: string, at = '', more: object = {}) {
    super(says);
    this.status = status;
    this.code = code;
    this.at = at;
    this.more = more;
  }
}

const missingSite = (): Refusal =>
  new Refusal(404, 'unknown-site', 'There is no such site here. It may have been deleted in another window.');

/** The form of a request, checked; what does not fit is refused with the place. */
function fitting<T extends z.ZodType>(schema: T, value: unknown): z.output<T> {
  const parsed = schema.safeParse(value);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0]!;
  const at = issue.path.length === 0 ? '' : `/${issue.path.map(String).join('/')}`;
  throw new Refusal(
    400,
    'wrong-form',
    issue.code === 'unrecognized_keys'
      ? `There is no field ${issue.keys.map((key) => `"${key}"`).join(', ')} here.`
      : `${at === '' ? 'The request' : `The field ${at}`} does not fit: ${issue.message}.`,
    at,
  );
}

function fittingPlan(value: unknown) {
  const plan = parsePlan(value);
  if (!plan.ok) throw new Refusal(400, plan.problem.code, plan.problem.says, plan.problem.at);
  return plan.value;
}

const idParams = z.strictObject({
  id: z.string().regex(/^[A-Za-z0-9-]{1,60}$/, 'a site id has letters, digits and "-"'),
});
const revisionParams = idParams.extend({
  number: z.coerce
    .number()
    .int()
    .min(1)
    .max(2 ** 31 - 1),
});
const listQuery = z.strictObject({
  search: z.string().max(200).default(''),
  offset: z.coerce.number().int().min(0).max(10_000_000).default(0),
  limit: z.coerce.number().int().min(1).max(200).default(50),
});
const createBody = z.strictObject({ plan: z.unknown() });
const saveBody = z.strictObject({ base: z.number().int().min(1), plan: z.unknown() });

const templateName = z.strictObject({ name: z.string().trim().min(1, 'a name is missing').max(100) });
const templateBody = templateName.extend({ uplink: z.unknown() });

/** The server: the interface for programs under /api, and the web app. It answers only to its own names. */
export function buildApp({
  store,
  vault = new Vault(store.vault),
  webRoot,
  hosts,
}: AppOptions): FastifyInstance {
  const app = Fastify({ bodyLimit: largestPlanBytes + 65_536, logger: false });

  app.addHook('onRequest', async (request, reply) => {
    reply.header('X-Content-Type-Options', 'nosniff');
    reply.header('Referrer-Policy', 'no-referrer');
    reply.header('Cross-Origin-Resource-Policy', 'same-origin');
    reply.header('X-Frame-Options', 'DENY');
    // A page from elsewhere may make the browser call this server: by another name (rebinding), or across origins.
    if (!hosts.has(request.headers.host ?? ''))
      throw new Refusal(
        421,
        'wrong-host',
        'This server does not answer to that name. Open the address it printed when it started.',
      );
    const { origin } = request.headers;
    if (origin !== undefined && !hosts.has(origin.replace(/^http:\/\//, '')))
      throw new Refusal(403, 'wrong-origin', 'A page from elsewhere may not use this server.');
    const site = request.headers['sec-fetch-site'];
    if (request.url.startsWith('/api') && site !== undefined && site !== 'same-origin' && site !== 'none')
      throw new Refusal(403, 'wrong-origin', 'A page from elsewhere may not use this server.');
    if (request.url.startsWith('/api')) reply.header('Cache-Control', 'no-store');
  });

  app.setErrorHandler((error: FastifyError | Refusal, _request, reply) => {
    const refusal = error instanceof Refusal ? error : fromFastify(error);
    if (refusal.status >= 500) console.error(error.message.slice(0, 300));
    void reply
      .status(refusal.status)
      .send({ error: refusal.code, at: refusal.at, says: refusal.message, ...refusal.more });
  });

  vaultRoutes(app, vault, { fitting, refuse: (status, code, says) => new Refusal(status, code, says) });

  app.get('/api/templates', async () => ({ templates: await store.templates.list() }));

  app.put('/api/templates', async (request) => {
    const { name, uplink } = fitting(templateBody, request.body);
    const kept = asTemplate(fitting(uplinkSchema, uplink));
    await store.templates.put(name, kept);
    return { name, uplink: kept };
  });

  app.post('/api/templates/remove', async (request, reply) => {
    const { name } = fitting(templateName, request.body);
    if (!(await store.templates.remove(name)))
      throw new Refusal(404, 'unknown-template', `There is no template called "${name}".`);
    return reply.status(204).send();
  });

  app.get('/api/sites', async (request) => {
    const { search, offset, limit } = fitting(listQuery, request.query);
    return store.list(search.trim(), offset, limit);
  });

  app.post('/api/sites', async (request, reply) => {
    const { plan } = fitting(createBody, request.body);
    const id = randomUUID();
    const saved = await store.create(id, fittingPlan(plan));
    return reply.status(201).send({ id, ...saved });
  });

  app.get('/api/sites/:id', async (request) => {
    const { id } = fitting(idParams, request.params);
    const found = await store.read(id);
    if (!found) throw missingSite();
    return { id, ...found };
  });

  app.put('/api/sites/:id', async (request) => {
    const { id } = fitting(idParams, request.params);
    const { base, plan } = fitting(saveBody, request.body);
    const result = await store.save(id, base, fittingPlan(plan));
    if (result.kind === 'missing') throw missingSite();
    if (result.kind === 'stale')
      throw new Refusal(
        409,
        'stale',
        `This site was saved elsewhere as revision ${result.current.revision}. Nothing was overwritten: choose what to keep.`,
        '',
        { current: result.current },
      );
    return result.saved;
  });

  app.delete('/api/sites/:id', async (request, reply) => {
    const { id } = fitting(idParams, request.params);
    if (!(await store.remove(id))) throw missingSite();
    return reply.status(204).send();
  });

  app.get('/api/sites/:id/revisions', async (request) => {
    const { id } = fitting(idParams, request.params);
    const found = await store.revisions(id);
    if (found.length === 0) throw missingSite();
    return found;
  });

  app.get('/api/sites/:id/revisions/:number', async (request) => {
    const { id, number } = fitting(revisionParams, request.params);
    const found = await store.revision(id, number);
    if (!found)
      throw new Refusal(404, 'unknown-revision', 'That revision is not kept any more, or never was.');
    return found;
  });

  app.get('/api/sites/:id/records', async (request) => {
    const { id } = fitting(idParams, request.params);
    if (!(await store.read(id))) throw missingSite();
    return store.records(id);
  });

  app.post('/api/sites/:id/records', async (request, reply) => {
    const { id } = fitting(idParams, request.params);
    const record = await store.addRecord(id, fitting(recordInputSchema, request.body));
    if (!record) throw missingSite();
    return reply.status(201).send(record);
  });

  app.all('/api/*', async () => {
    throw new Refusal(404, 'unknown-path', 'There is nothing at that address.');
  });

  if (webRoot) serveWeb(app, webRoot);
  return app;
}

function serveWeb(app: FastifyInstance, webRoot: string): void {
  const page = readFileSync(join(webRoot, 'index.html'), 'utf8');
  const sendPage = (reply: FastifyReply): FastifyReply => {
    const nonce = randomBytes(16).toString('base64');
    return reply
      .header('Content-Type', 'text/html; charset=utf-8')
      .header('Cache-Control', 'no-store')
      .header(
        'Content-Security-Policy',
        `default-src 'none'; script-src 'self'; worker-src 'self'; style-src 'self' 'nonce-${nonce}'; font-src 'self'; img-src 'self' data:; connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'`,
      )
      .send(page.replaceAll('%NONCE%', nonce));
  };
  void app.register(fastifyStatic, {
    root: webRoot,
    index: false,
    immutable: true,
    maxAge: '1y',
    wildcard: false,
  });
  app.get('/', (_request, reply) => sendPage(reply));
  app.setNotFoundHandler((request, reply) => {
    if (request.method === 'GET' && !/\.[a-z0-9]+$/i.test(request.url.split('?')[0] ?? ''))
      return sendPage(reply);
    return reply
      .status(404)
      .send({ error: 'unknown-path', at: '', says: 'There is nothing at that address.' });
  });
}

/** What the framework refuses, in a sentence. */
function fromFastify(error: FastifyError): Refusal {
  switch (error.code) {
    case 'FST_ERR_CTP_INVALID_JSON_BODY':
    case 'FST_ERR_CTP_EMPTY_JSON_BODY':
      return new Refusal(400, 'not-json', 'The request is not JSON.');
    case 'FST_ERR_CTP_BODY_TOO_LARGE':
      return new Refusal(413, 'too-large', 'The request is larger than any plan is (4 MB).');
    case 'FST_ERR_CTP_INVALID_MEDIA_TYPE':
      return new Refusal(415, 'wrong-type', 'Send JSON, with the content type application/json.');
    default: {
      const status = error.statusCode ?? 500;
      if (status < 500) return new Refusal(status, 'bad-request', 'The request cannot be understood.');
      return new Refusal(
        500,
        'failed',
        'The server could not do that. Nothing was saved; try again, and keep the window open.',
      );
    }
  }
}
