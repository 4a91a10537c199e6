import type { Socket } from 'node:net';
import type { FastifyRequest } from 'fastify';
import type { Server } from '../declared.ts';
import * as z from 'zod';
import { Refusal } from '../refusal.ts';
import { codeMinutes, type Access } from './access.ts';
import { sessionCookie } from './cookie.ts';
import { provenKey, unknownAccount } from './caller.ts';
import type { Account } from './peer.ts';

const signInBody = z.strictObject({ code: z.string().min(1, 'a code is missing').max(100) });
const endBody = z.strictObject({ id: z.uuid() });

/** What a browser says of itself, in the few words a person needs to tell it from others. */
export function browserLabel(agent: string): string {
  const name =
    [
      ['Firefox', /Firefox\//],
      ['Edge', /Edg\//],
      ['Chromium or Chrome', /Chrom(e|ium)\//],
      ['Safari', /Safari\//],
    ].find(([, pattern]) => (pattern as RegExp).test(agent))?.[0] ?? 'a browser';
  const system =
    [
      ['Windows', /Windows/],
      ['Android', /Android/],
      ['iOS', /iPhone|iPad/],
      ['macOS', /Mac OS/],
      ['Linux', /Linux/],
    ].find(([, pattern]) => (pattern as RegExp).test(agent))?.[0] ?? 'an unknown system';
  return `${String(name)} on ${String(system)}`;
}

const signInIdOf = (request: FastifyRequest): string | undefined =>
  request.caller?.kind === 'browser' ? request.caller.signIn.id : undefined;

/** Signing in and out, and the list of browsers that are signed in. */
export function accessRoutes(app: Server, access: Access, accountOf: (socket: Socket) => Account): void {
  app.post(
    '/api/sign-in',
    { schema: { body: signInBody }, config: { open: true } },
    async (request, reply) => {
      const { code } = request.body;
      const key = provenKey(request, access);
      const account = accountOf(request.socket);
      if (account === 'unknown') throw unknownAccount();
      const signedIn = await access.signIn(code, {
        label: browserLabel(String(request.headers['user-agent'] ?? '')),
        account,
        key,
      });
      if (!signedIn)
        throw new Refusal(
          401,
          'used-code',
          `This one-time address was used already, is older than ${codeMinutes} minutes, or is of an earlier start. If it was not you who used it, end the other browsers on the page "Data". A new one: npm run -s netter -- sign-in.`,
        );
      reply.header('Set-Cookie', sessionCookie(signedIn.token));
      return { signedIn: true };
    },
  );

  app.get('/api/session', async (request) => ({
    kind: request.caller!.kind,
    id: signInIdOf(request) ?? '',
  }));

  app.post('/api/sign-out', async (request, reply) => {
    const id = signInIdOf(request);
    if (id !== undefined) await access.end(id);
    return reply.header('Set-Cookie', sessionCookie('')).status(204).send();
  });

  /** A one-time address for another browser, asked for by one that is in or by the command line. */
  app.post('/api/sign-in/codes', async (request) => {
    const code = access.newCode(request.caller?.kind === 'command-line' ? 'terminal' : 'browser');
    // The name was checked at the gate.
    const address = `http://${request.headers.host}/sign-in#${code}`;
    return { address, code, minutes: codeMinutes };
  });

  app.get('/api/browsers', async (request) => ({
    browsers: access.list().map(({ id, label, startedAt, usedAt }) => ({
      id,
      label,
      startedAt,
      usedAt,
      thisOne: id === signInIdOf(request),
    })),
  }));

  app.post('/api/browsers/end', { schema: { body: endBody } }, async (request, reply) => {
    const { id } = request.body;
    if (!(await access.end(id)))
      throw new Refusal(404, 'unknown-browser', 'That browser is not signed in any more.');
    return reply.status(204).send();
  });
}
