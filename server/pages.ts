import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import fastifyStatic from '@fastify/static';
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify';
import { Refusal } from './refusal.ts';

/** The web app: its built files, and one page for every address, so that a reload stays where it is. */
/** `proofNonce`: what the first signed requests of a page are to hold. */
export function servePages(app: FastifyInstance, webRoot: string, proofNonce: () => string): void {
  const page = readFileSync(join(webRoot, 'index.html'), 'utf8');
  void app.register(fastifyStatic, { root: join(webRoot, 'assets'), serve: false, cacheControl: false });

  app.get('/assets/*', { config: { kind: 'asset', open: true } }, (request, reply) => {
    const name = (request.params as { '*': string })['*'];
    // Built files lie side by side: a name with a folder in it is none of them.
    if (!/^[\w.-]+$/.test(name) || !existsSync(join(webRoot, 'assets', name))) throw nothingThere();
    return reply.sendFile(name);
  });

  app.get('/*', { config: { kind: 'page', open: true } }, (request: FastifyRequest, reply: FastifyReply) => {
    if (/\.[a-z0-9]+$/i.test((request.params as { '*': string })['*'])) throw nothingThere();
    return reply
      .type('text/html; charset=utf-8')
      .send(page.replaceAll('%NONCE%', request.nonce).replaceAll('%PROOF%', proofNonce()));
  });
}

export const nothingThere = (): Refusal =>
  new Refusal(404, 'unknown-path', 'There is nothing at that address.');
