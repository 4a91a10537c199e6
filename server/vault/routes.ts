import { createHash } from 'node:crypto';
import type { FastifyRequest } from 'fastify';
import type { Server } from '../declared.ts';
import * as z from 'zod';
import type { Access } from '../access/access.ts';
import { assureFinal, finalFields } from '../access/final.ts';
import { Refusal } from '../refusal.ts';
import { mostFileText, mostNameText, siteId } from '../store/limits.ts';
import { strengthOf, type Strength } from './strength.ts';
import { filePrefix, VaultRefusal, type Vault, type VaultState } from './vault.ts';

const passphrase = z.string().min(1, 'a passphrase is missing').max(500);
const name = z.string().trim().min(1, 'a name is missing').max(mostNameText);
const rowNumber = z
  .number()
  .int()
  .min(1)
  .max(2 ** 31 - 1);
const around = z.array(z.string().max(200)).max(20).default([]);

const bodies = {
  make: z.strictObject({ passphrase, around }),
  unlock: z.strictObject({ passphrase }),
  change: z.strictObject({ before: passphrase, after: passphrase, around }),
  forget: z.strictObject({ ...finalFields, sentence: z.string().max(200).optional() }),
  trashed: z.strictObject({ siteId, id: rowNumber }),
  erase: z.strictObject({ siteId, id: rowNumber, ...finalFields }),
  names: z.strictObject({ siteId }),
  put: z.strictObject({
    siteId,
    name: name.refine((each) => !each.startsWith(filePrefix), `"${filePrefix}" begins the names of files`),
    secret: z.string().min(1, 'a secret is missing').max(1000),
    /** Chosen by somebody else, such as the provider: it is kept as it is. */
    given: z.boolean().default(true),
    around,
  }),
  putFile: z.strictObject({
    siteId,
    name: name.startsWith(filePrefix, `the name of a file begins with "${filePrefix}"`),
    file: z.strictObject({
      name: z.string().trim().min(1, 'a file has a name').max(200),
      box: z.string().max(200),
      version: z.string().max(200),
      sha256: z.string().regex(/^[0-9a-f]{64}$/, 'a SHA-256 has 64 hexadecimal digits'),
      base64: z.base64('the file is not sent as base64').min(4, 'the file is empty').max(mostFileText),
    }),
  }),
  one: z.strictObject({ siteId, name }),
  authority: z.strictObject({ siteId, name, site: z.string().max(200) }),
  issue: z.strictObject({
    siteId,
    authorityName: name,
    authorityPem: z.string().max(8000),
    secretName: name,
    person: z.string().trim().min(1, 'a name is missing').max(200),
    use: z.enum(['client', 'server']),
    days: z.number().int().min(1).max(3650),
  }),
  pkcs12: z.strictObject({
    siteId,
    secretName: name,
    pem: z.string().max(8000),
    authorityPem: z.string().max(8000),
    person: z.string().max(200),
    password: z.string().min(8, 'a password for the file has at least eight characters').max(200),
    around,
  }),
  revocations: z.strictObject({
    siteId,
    authorityName: name,
    authorityPem: z.string().max(8000),
    revoked: z
      .array(z.strictObject({ serial: z.string().regex(/^[0-9a-f]{2,64}$/), date: z.string().max(40) }))
      .max(1000),
  }),
  strength: z.strictObject({ secret: z.string().max(1000), around }),
};

const statuses: Record<VaultRefusal['code'], number> = {
  'no-vault': 404,
  'vault-there': 409,
  locked: 423,
  'wrong-passphrase': 403,
  'no-secret': 404,
  'same-secret': 409,
  'name-in-use': 409,
  busy: 429,
  wait: 429,
  'too-large': 413,
};

/** Typed by whoever forgot the passphrase and ends the vault. */
export const forgetSentence = 'everything in it is gone';

/**
 * The vault's part of the interface. Everything is a POST: neither a passphrase nor a secret is ever in an address,
 * and no refusal repeats what was typed.
 */
export function vaultRoutes(app: Server, vault: Vault, access: Access): void {
  const route = <T extends z.ZodType>(
    path: string,
    schema: T,
    act: (body: z.output<T>, request: FastifyRequest) => Promise<unknown>,
  ): void => {
    app.post(`/api/vault/${path}`, { schema: { body: schema } }, async (request, reply) => {
      try {
        return (await act(request.body as z.output<T>, request)) ?? { state: await vault.state() };
      } catch (error) {
        if (!(error instanceof VaultRefusal)) throw error;
        if (error.waitSeconds > 0) reply.header('Retry-After', error.waitSeconds);
        throw new Refusal(statuses[error.code], error.code, error.message, '', {
          ...(error.waitSeconds > 0 && { waitSeconds: error.waitSeconds }),
        });
      }
    });
  };
  const strongEnough = (strength: Strength): void => {
    if (!strength.fit) throw new Refusal(422, 'weak-secret', strength.says);
  };

  const authorityOf = async (body: {
    siteId: string;
    authorityName: string;
    authorityPem: string;
  }): Promise<{ pem: string; keyPem: string }> => {
    const keyPem = await vault.reveal(body.siteId, body.authorityName);
    if (!/^-----BEGIN CERTIFICATE-----/.test(body.authorityPem))
      throw new Refusal(
        422,
        'no-authority',
        'There is no certificate of the authority in the plan: make the authority first.',
      );
    return { pem: body.authorityPem, keyPem };
  };

  app.get('/api/vault', async () => ({ state: await vault.state() }));
  // Server-sent events (HTML standard, section 9.2): every window hears of a lock at once.
  app.get('/api/vault/events', async (request, reply) => {
    reply.hijack();
    const { raw } = reply;
    raw.writeHead(200, {
      ...(reply.getHeaders() as Record<string, string>),
      'Content-Type': 'text/event-stream',
    });
    const send = (state: VaultState): void => void raw.write(`data: ${state}\n\n`);
    const leave = vault.follow(send);
    const alive = setInterval(() => raw.write(': alive\n\n'), 15_000);
    alive.unref();
    const { caller } = request;
    // A session that was ended elsewhere hears nothing more, and its windows clear themselves.
    const unfollow = access.onEnd((id) => {
      if (caller?.kind !== 'browser' || caller.signIn.id !== id) return;
      raw.end('data: signed-out\n\n');
    });
    request.raw.on('close', () => {
      leave();
      unfollow();
      clearInterval(alive);
    });
    send(await vault.state());
  });
  route('make', bodies.make, async (body) => {
    strongEnough(strengthOf(body.passphrase, body.around));
    await vault.make(body.passphrase);
  });
  route('unlock', bodies.unlock, (body) => vault.unlock(body.passphrase));
  route('lock', z.strictObject({}), async () => vault.lock());
  route('change', bodies.change, async (body) => {
    strongEnough(strengthOf(body.after, body.around));
    await vault.change(body.before, body.after);
  });
  route('forget', bodies.forget, async (body, request) => {
    if (body.passphrase === undefined && body.sentence?.trim().toLowerCase() !== forgetSentence)
      throw new Refusal(
        400,
        'wrong-sentence',
        `To end the vault, type its passphrase. Where that is forgotten, type this sentence: ${forgetSentence}.`,
        '/sentence',
      );
    await assureFinal(request, body.passphrase, { access, vault });
    await vault.destroy();
  });
  route('trash', bodies.names, async (body) => ({ trash: await vault.trash(body.siteId) }));
  route('put-back', bodies.trashed, (body) => vault.putBack(body.siteId, body.id));
  route('erase', bodies.erase, async (body, request) => {
    await assureFinal(request, body.passphrase, { access, vault });
    await vault.erase(body.siteId, body.id);
  });
  route('names', bodies.names, async (body) => ({ names: await vault.names(body.siteId) }));
  route('put', bodies.put, async (body) => {
    if (!body.given) strongEnough(strengthOf(body.secret, body.around));
    await vault.put(body.siteId, body.name, body.secret);
  });
  route('put-file', bodies.putFile, async (body) => {
    const bytes = Buffer.from(body.file.base64, 'base64');
    const sha256 = createHash('sha256').update(bytes).digest('hex');
    if (sha256 !== body.file.sha256)
      throw new Refusal(
        422,
        'damaged-file',
        'The file came here with another SHA-256 than the window computed: nothing was kept. Drop it once more.',
        '/file/sha256',
      );
    await vault.putFile(body.siteId, body.name, JSON.stringify(body.file));
  });
  route('reveal', bodies.one, async (body) => ({ secret: await vault.reveal(body.siteId, body.name) }));
  route('remove', bodies.one, (body) => vault.remove(body.siteId, body.name));
  // The certificate library is loaded when the first certificate is made: the start does not wait for it.
  const certificates = () => import('./authority.ts');
  /** What the certificate library cannot read is what was sent: a certificate, or a key that is none. */
  const readable = async <R>(work: Promise<R>): Promise<R> => {
    try {
      return await work;
    } catch (error) {
      if (error instanceof Refusal || error instanceof VaultRefusal) throw error;
      throw new Refusal(
        422,
        'broken-certificate',
        'The certificate, or the key under that name in the vault, cannot be read. Make the authority or the certificate again.',
      );
    }
  };
  // Private keys are made here and go straight into the vault; only certificates are answered.
  route('authority', bodies.authority, async (body) => {
    const { makeAuthority } = await certificates();
    const { pem, keyPem, until } = await readable(makeAuthority(body.site, new Date()));
    await vault.put(body.siteId, body.name, keyPem);
    return { pem, until };
  });
  route('issue', bodies.issue, async (body) => {
    const authority = await authorityOf(body);
    const { person, use, days } = body;
    const { issue } = await certificates();
    const { keyPem, ...issued } = await readable(
      issue(authority, { name: person, use, days, now: new Date() }),
    );
    await vault.put(body.siteId, body.secretName, keyPem);
    return issued;
  });
  // The file is asked for on purpose, and its key is sealed with the password that was typed for it.
  route(
    'pkcs12',
    bodies.pkcs12,
    async ({ siteId: site, secretName, pem, authorityPem, person, password, around: words }) => {
      const keyPem = await vault.reveal(site, secretName);
      strongEnough(strengthOf(password, words));
      const { toPkcs12 } = await import('./pkcs12.ts');
      const bytes = await readable(toPkcs12({ pem, keyPem, authorityPem, name: person }, password));
      return { base64: Buffer.from(bytes).toString('base64') };
    },
  );
  route('revocations', bodies.revocations, async (body) => {
    const authority = await authorityOf(body);
    const { revocations } = await certificates();
    return { pem: await readable(revocations(authority, body.revoked, new Date())) };
  });
  route('strength', bodies.strength, async (body) => strengthOf(body.secret, body.around));
}
