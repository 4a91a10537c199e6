import { randomBytes } from 'node:crypto';
import type { Socket } from 'node:net';
import type { FastifyInstance, FastifyReply } from 'fastify';
import { callerOf, nonceHeader } from './access/caller.ts';
import type { Account } from './access/peer.ts';
import type { Access, Caller } from './access/access.ts';
import { Refusal } from './refusal.ts';

/** What an answer is, which decides its headers. Everything that is not said to be a page or an asset is `api`. */
type Kind = 'page' | 'asset' | 'api';

declare module 'fastify' {
  interface FastifyContextConfig {
    readonly kind?: Kind;
    /** Answered to a browser that was not let in. Pages and assets are: they hold nothing of anybody. */
    readonly open?: boolean;
  }
  interface FastifyRequest {
    caller: Caller | undefined;
    nonce: string;
  }
}

const policyOf = (kind: Kind, nonce: string): string =>
  kind === 'page'
    ? `default-src 'none'; script-src 'self'; worker-src 'self'; style-src 'self' 'nonce-${nonce}'; font-src 'self'; img-src 'self' data:; connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'; object-src 'none'`
    : kind === 'asset'
      ? // A worker takes the policy of its own script.
        "default-src 'none'; script-src 'self'; connect-src 'self'; frame-ancestors 'none'"
      : "default-src 'none'; frame-ancestors 'none'; sandbox";

/**
 * The one place that decides about every request and every response: what the request must be like, who may send
 * it, and the headers of whatever is answered, refusals included. A route is closed unless it says `open`.
 */
export function installGate(
  app: FastifyInstance,
  {
    hosts,
    access,
    accountOf,
  }: {
    readonly hosts: ReadonlySet<string>;
    readonly access: Access;
    readonly accountOf: (socket: Socket) => Account;
  },
): void {
  app.decorateRequest('caller', undefined);
  app.decorateRequest('nonce', '');

  app.addHook('onRequest', async (request, reply) => {
    request.nonce = randomBytes(16).toString('base64');
    // Decided by the route that will answer, not by how its address was written.
    const config = request.routeOptions.config ?? {};
    const kind = config.kind ?? 'api';
    setHeaders(reply, kind, request.nonce);
    if (!request.raw.url?.startsWith('/'))
      throw new Refusal(400, 'wrong-target', 'Ask for a path of this server, such as /api/sites.');
    if (!hosts.has(request.headers.host ?? ''))
      throw new Refusal(
        421,
        'wrong-host',
        'This server does not answer to that name. Open the address it printed when it started.',
      );
    const { origin } = request.headers;
    const from = request.headers['sec-fetch-site'];
    const elsewhere =
      (origin !== undefined && !hosts.has(origin.replace(/^http:\/\//, ''))) ||
      // A link to a page may be followed from anywhere; nothing else may be asked for from elsewhere.
      (from !== undefined && from !== 'same-origin' && from !== 'none' && kind !== 'page');
    if (elsewhere) throw new Refusal(403, 'wrong-origin', 'A page from elsewhere may not use this server.');
    if (kind === 'api') {
      reply.header(nonceHeader, access.proofs.nonce());
      if (config.open !== true) request.caller = callerOf(request, access, accountOf);
      if (!request.caller && config.open !== true)
        throw new Refusal(
          401,
          'not-signed-in',
          'This browser is not signed in. Open the one-time address that Netter printed when it started, or ask for a new one in a terminal: npm run -s netter -- sign-in.',
        );
    }
  });

  app.addHook('onSend', async (request, reply) => {
    setHeaders(reply, request.routeOptions.config?.kind ?? 'api', request.nonce);
  });
}

/** The headers of whatever is answered. */
const headersOf = (kind: Kind, nonce: string, keep: boolean): Record<string, string> => ({
  'X-Content-Type-Options': 'nosniff',
  'X-Frame-Options': 'DENY',
  'Referrer-Policy': 'no-referrer',
  'Cross-Origin-Resource-Policy': 'same-origin',
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
  'Permissions-Policy': 'camera=(), microphone=(), geolocation=(), usb=(), serial=()',
  'Content-Security-Policy': policyOf(kind, nonce),
  // The names of built files change with them, so they can be kept for good. Nothing else is kept.
  'Cache-Control': keep ? 'public, max-age=31536000, immutable' : 'no-store',
});

function setHeaders(reply: FastifyReply, kind: Kind, nonce: string): void {
  reply.headers(headersOf(kind, nonce, kind === 'asset' && reply.statusCode < 300));
}

/** What Node's own parser refuses never gets to a route: it is answered here, in the same way. */
export function refuseUnparsed(error: NodeJS.ErrnoException, socket: Socket): void {
  if (error.code === 'ECONNRESET' || !socket.writable) {
    socket.destroy();
    return;
  }
  const [status, says] =
    error.code === 'HPE_HEADER_OVERFLOW'
      ? ['431 Request Header Fields Too Large', 'The head of the request is too long.']
      : error.code === 'ERR_HTTP_REQUEST_TIMEOUT'
        ? ['408 Request Timeout', 'The request did not come within its time.']
        : ['400 Bad Request', 'The request cannot be understood.'];
  const body = JSON.stringify({ error: 'bad-request', at: '', says });
  const headers = {
    ...headersOf('api', '', false),
    'Content-Type': 'application/json; charset=utf-8',
    'Content-Length': String(Buffer.byteLength(body)),
    Connection: 'close',
  };
  const rows = Object.entries(headers).map(([name, value]) => `${name}: ${value}`);
  socket.end([`HTTP/1.1 ${status}`, ...rows, '', body].join('\r\n'));
}
