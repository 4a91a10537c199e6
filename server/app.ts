import type { Socket } from 'node:net';
import Fastify, { type FastifyError, type FastifyRequest } from 'fastify';
import { largestPlanBytes } from '../core/index.ts';
import type { Access } from './access/access.ts';
import { accountOf as accountAt, type Account } from './access/peer.ts';
import { accessRoutes } from './access/routes.ts';
import { assureFinal } from './access/final.ts';
import { installGate, refuseUnparsed } from './gate.ts';
import { keepingRoutes, type Keeping } from './keeping/routes.ts';
import { nothingThere, servePages } from './pages.ts';
import { asRefusal, type Refusal } from './refusal.ts';
import { declared, type Server } from './declared.ts';
import { siteRoutes } from './site-routes.ts';
import type { Store } from './store/store.ts';
import { vaultRoutes } from './vault/routes.ts';
import { Vault } from './vault/vault.ts';

export interface AppOptions {
  readonly store: Store;
  /** Who may speak to it. */
  readonly access: Access;
  /** The vault over the same store; a test gives one that is cheaper to open. */
  readonly vault?: Vault;
  /** Where backups are made and come in; undefined where there is no folder. */
  readonly keeping?: Keeping;
  /** Folder of the built web app; undefined where only the interface for programs is wanted. */
  readonly webRoot?: string;
  /** Names and ports under which this server may be spoken to: "127.0.0.1:4860". */
  readonly hosts: ReadonlySet<string>;
  /** Account at the other end of a connection; a test gives its own. */
  readonly accountOf?: (socket: Socket) => Account;
}

/** Requests whose head or body does not come are ended after so long. */
const headMs = 10_000;
const requestMs = 30_000;

/** The server: the interface for programs under /api, and the web app. It answers only to its own names. */
export function buildApp({
  store,
  access,
  vault = new Vault(store.vault),
  keeping,
  webRoot,
  hosts,
  accountOf = accountAt,
}: AppOptions): Server {
  const app = declared(
    Fastify({
      bodyLimit: largestPlanBytes + 65_536,
      logger: false,
      requestTimeout: requestMs,
      connectionTimeout: 120_000,
      // Whatever is still open when the server ends does not hold it.
      forceCloseConnections: true,
      clientErrorHandler: refuseUnparsed,
      http: { headersTimeout: headMs, connectionsCheckingInterval: 2_000, maxHeaderSize: 16_384 },
    }),
  );
  installGate(app, { hosts, access, accountOf });

  app.setErrorHandler((error: FastifyError | Refusal, _request, reply) => {
    const refusal = asRefusal(error);
    // Never the message: a failed query carries what it was asked to write.
    if (refusal.status >= 500)
      console.error(`A request failed: ${error.name} ${'code' in error ? error.code : ''}`.trim());
    void reply
      .status(refusal.status)
      .send({ error: refusal.code, at: refusal.at, says: refusal.message, ...refusal.more });
  });
  app.setNotFoundHandler(() => {
    throw nothingThere();
  });

  accessRoutes(app, access, accountOf);
  vaultRoutes(app, vault, access);
  const assure = (request: FastifyRequest, passphrase: string | undefined): Promise<void> =>
    assureFinal(request, passphrase, { access, vault });
  siteRoutes(app, store, assure);
  if (keeping) keepingRoutes(app, store, vault, keeping, assure);
  app.all('/api/*', async () => {
    throw nothingThere();
  });
  if (webRoot) servePages(app, webRoot, () => access.proofs.nonce());
  return app;
}
