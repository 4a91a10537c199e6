import type { Socket } from 'node:net';
import type { FastifyRequest } from 'fastify';
import { Refusal } from '../refusal.ts';
import type { Access, Caller } from './access.ts';
import { cookieOf } from './cookie.ts';
import type { Account } from './peer.ts';

/** Header of the proof, and of the nonce that it must hold (RFC 9449 sections 4.1 and 8). */
const proofHeader = 'dpop';
export const nonceHeader = 'DPoP-Nonce';

/** Who sends a request; undefined for somebody who was not let in. Refuses where that cannot be told. */
export function callerOf(
  request: FastifyRequest,
  access: Access,
  accountOf: (socket: Socket) => Account,
): Caller | undefined {
  const bearer = /^Bearer ([\w-]+)$/.exec(request.headers.authorization ?? '')?.[1];
  if (bearer !== undefined) return access.commandLine(bearer);
  const token = cookieOf(request.headers.cookie);
  if (token === undefined) return undefined;
  const account = accountOf(request.socket);
  if (account === 'unknown') throw unknownAccount();
  return access.browser(token, account, provenKey(request, access));
}

/** Thumbprint of the key that signed a request. */
export function provenKey(request: FastifyRequest, access: Access): string {
  const proof = request.headers[proofHeader];
  const path = (request.raw.url ?? '').split('?')[0];
  const proven = access.proofs.check(
    typeof proof === 'string' ? proof : undefined,
    request.method,
    `http://${request.headers.host}${path}`,
  );
  if ('key' in proven) return proven.key;
  throw new Refusal(
    401,
    proven.refused,
    'This request is not signed by the key of a browser that was let in. Reload the page; if this stays, sign in again: npm run -s netter -- sign-in.',
  );
}

export const unknownAccount = (): Refusal =>
  new Refusal(
    401,
    'unknown-account',
    'This system does not say which account opened this connection, so it is refused. Open the address in a browser on this machine, in the container or namespace where Netter runs, without a proxy in between.',
  );
