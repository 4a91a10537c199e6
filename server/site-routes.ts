import { randomUUID } from 'node:crypto';
import type { FastifyRequest } from 'fastify';
import type { Server } from './declared.ts';
import * as z from 'zod';
import { asTemplate, kitSchema, recordInputSchema, uplinkSchema } from '../core/index.ts';
import { finalFields } from './access/final.ts';
import { fitting, fittingPlan, Refusal } from './refusal.ts';
import {
  mostCards,
  mostModelText,
  mostRevision,
  mostTemplates,
  mostTemplateText,
  revisionNumber,
  siteId,
} from './store/limits.ts';
import type { Store } from './store/store.ts';

const missingSite = (): Refusal =>
  new Refusal(
    404,
    'unknown-site',
    'There is no such site here. It may have been deleted in another window: the page "Data" has what was deleted.',
  );

const idParams = z.strictObject({ id: siteId });
const eraseBody = z.strictObject({ id: siteId, ...finalFields });
const revisionParams = idParams.extend({ number: z.coerce.number().pipe(revisionNumber) });
const listQuery = z.strictObject({
  search: z.string().max(200).default(''),
  show: z.enum(['all', 'open', 'due', 'awaiting', 'unproven']).default('all'),
  sort: z.enum(['saved', 'name', 'customer', 'due']).default('saved'),
  offset: z.coerce.number().int().min(0).max(10_000_000).default(0),
  limit: z.coerce.number().int().min(1).max(200).default(50),
});
const createBody = z.strictObject({ plan: z.unknown() });
const saveBody = z.strictObject({ base: revisionNumber, plan: z.unknown() });
const keepBody = z.strictObject({ revision: revisionNumber, why: z.enum(['print', 'file']) });
const templateName = z.strictObject({
  name: z.string().trim().min(1, 'a name is missing').max(mostTemplateText),
});
/** The card of a model, as a row of the equipment holds it. */
const cardBody = z.strictObject({
  model: z.string().trim().min(1, 'a model is missing').max(mostModelText),
  card: kitSchema.shape.card,
});
const templateBody = templateName.extend({ uplink: z.unknown() });

const full = (what: string, most: number): Refusal =>
  new Refusal(409, 'list-full', `Not kept: there are ${most} ${what} already, which is the maximum.`);

/** Sites, their revisions and records, the trash, and templates of uplinks. */
export function siteRoutes(
  app: Server,
  store: Store,
  assure: (request: FastifyRequest, passphrase: string | undefined) => Promise<void>,
): void {
  app.get('/api/cards', async () => ({ cards: await store.cards() }));

  app.post('/api/cards', { schema: { body: cardBody } }, async (request, reply) => {
    const { model, card } = request.body;
    if (!(await store.keepCard(model, card))) throw full('models', mostCards);
    return reply.status(204).send();
  });

  app.get('/api/templates', async () => ({ templates: await store.templates.list() }));

  app.put('/api/templates', { schema: { body: templateBody } }, async (request) => {
    const { name, uplink } = request.body;
    const kept = asTemplate(fitting(uplinkSchema, uplink));
    if (!(await store.templates.put(name, kept))) throw full('templates', mostTemplates);
    return { name, uplink: kept };
  });

  app.post('/api/templates/remove', { schema: { body: templateName } }, async (request, reply) => {
    const { name } = request.body;
    if (!(await store.templates.remove(name)))
      throw new Refusal(404, 'unknown-template', `There is no template called "${name}".`);
    return reply.status(204).send();
  });

  app.get('/api/sites', { schema: { querystring: listQuery } }, async (request) => {
    const { search, offset, limit, show, sort } = request.query;
    return store.list(search.trim(), offset, limit, show, sort);
  });

  /** How many sites there are of each kind that the list can be narrowed to. */
  app.get('/api/due', async () => store.due());

  /** What was chosen on the newest sites, and is offered to the next one. */
  app.get('/api/habits', async () => store.habits());

  app.post('/api/sites', { schema: { body: createBody } }, async (request, reply) => {
    const { plan } = request.body;
    const id = randomUUID();
    const saved = await store.create(id, fittingPlan(plan));
    return reply.status(201).send({ id, ...saved });
  });

  /** Sites that a plan from a file may be another state of. */
  app.post('/api/sites/alike', { schema: { body: createBody } }, async (request) => {
    const { plan } = request.body;
    return { sites: await store.alike(fittingPlan(plan)) };
  });

  app.get('/api/sites/:id', { schema: { params: idParams } }, async (request) => {
    const params = request.params;
    const found = await store.read(params.id);
    if (found.kind === 'missing') throw missingSite();
    if (found.kind === 'damaged') throw damagedSite(found);
    return { id: params.id, ...found.saved };
  });

  app.put('/api/sites/:id', { schema: { params: idParams, body: saveBody } }, async (request) => {
    const params = request.params;
    const { base, plan } = request.body;
    if (base >= mostRevision)
      throw new Refusal(
        409,
        'last-revision',
        `Not saved: revision ${base} is the last number a site can have. Save the plan as a file and open it as a new site.`,
      );
    const result = await store.save(params.id, base, fittingPlan(plan));
    if (result.kind === 'missing') throw missingSite();
    if (result.kind === 'damaged') throw damagedSite(result);
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

  app.delete('/api/sites/:id', { schema: { params: idParams } }, async (request, reply) => {
    const params = request.params;
    if (!(await store.remove(params.id))) throw missingSite();
    return reply.status(204).send();
  });

  app.get('/api/sites/:id/revisions', { schema: { params: idParams } }, async (request) => {
    const params = request.params;
    const found = await store.revisions(params.id);
    if (found.length === 0) throw missingSite();
    return found;
  });

  app.get('/api/sites/:id/revisions/:number', { schema: { params: revisionParams } }, async (request) => {
    const params = request.params;
    const found = await store.revision(params.id, params.number);
    if (found.kind === 'damaged')
      throw new Refusal(
        422,
        'damaged-revision',
        `Revision ${params.number} cannot be read: its row in the data folder is damaged. Choose another revision.`,
      );
    if (found.kind === 'missing')
      throw new Refusal(404, 'unknown-revision', 'That revision is not kept any more, or never was.');
    return found.saved;
  });

  /** A revision that a print or a file names is not thinned. */
  app.post(
    '/api/sites/:id/kept',
    { schema: { params: idParams, body: keepBody } },
    async (request, reply) => {
      const params = request.params;
      const { revision, why } = request.body;
      if (!(await store.keep(params.id, revision, why))) throw missingSite();
      return reply.status(204).send();
    },
  );

  /** A damaged site goes on from the newest revision that can be read. */
  app.post('/api/sites/:id/recover', { schema: { params: idParams } }, async (request) => {
    const params = request.params;
    const recovered = await store.recover(params.id);
    if (!recovered)
      throw new Refusal(
        409,
        'nothing-to-recover',
        'This site is not damaged, or no revision of it can be read. Restore it from a backup on the page "Data".',
      );
    return recovered;
  });

  app.get('/api/sites/:id/records', { schema: { params: idParams } }, async (request) => {
    const params = request.params;
    const found = await store.records(params.id);
    if (!found) throw missingSite();
    return found;
  });

  app.post(
    '/api/sites/:id/records',
    { schema: { params: idParams, body: recordInputSchema } },
    async (request, reply) => {
      const params = request.params;
      const record = await store.addRecord(params.id, request.body);
      if (!record) throw missingSite();
      return reply.status(201).send(record);
    },
  );

  /** How long steps took on all sites, so that the next estimate is better. */
  app.get('/api/times', async () => store.times());

  app.get('/api/trash', async () => ({ sites: await store.trash() }));

  app.post('/api/trash/restore', { schema: { body: idParams } }, async (request, reply) => {
    const body = request.body;
    if (!(await store.putBack(body.id))) throw missingSite();
    return reply.status(204).send();
  });

  app.post('/api/trash/erase', { schema: { body: eraseBody } }, async (request, reply) => {
    const body = request.body;
    await assure(request, body.passphrase);
    if (!(await store.erase(body.id))) throw missingSite();
    return reply.status(204).send();
  });
}

function damagedSite({ newestReadable, revision }: { newestReadable: number | undefined; revision: number }) {
  return new Refusal(
    422,
    'damaged-site',
    newestReadable === revision
      ? `The entry of this site in the list is lost: its row in the data folder is damaged. Revision ${revision} can be read, and the site can go on from it. The other sites work.`
      : newestReadable === undefined
        ? `The newest revision of this site (${revision}) cannot be read, and no older one either: its rows in the data folder are damaged. Restore the site from a backup on the page "Data". The other sites work.`
        : `The newest revision of this site (${revision}) cannot be read: its row in the data folder is damaged. Revision ${newestReadable} can be read, and the site can go on from it. The other sites work.`,
    '',
    { revision, newestReadable: newestReadable ?? null },
  );
}
