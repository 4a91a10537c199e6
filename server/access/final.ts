import type { FastifyRequest } from 'fastify';
import * as z from 'zod';
import { Refusal } from '../refusal.ts';
import type { Vault } from '../vault/vault.ts';
import type { Access } from './access.ts';

/** What comes with a request for something that cannot be undone. */
export const finalFields = { passphrase: z.string().min(1).max(500).optional() };

/**
 * Refuses what cannot be undone, unless the passphrase of the vault comes with it, or the session was begun within
 * the last minutes with a one-time address from the terminal.
 */
export async function assureFinal(
  request: FastifyRequest,
  passphrase: string | undefined,
  { access, vault }: { readonly access: Access; readonly vault: Vault },
): Promise<void> {
  if (passphrase !== undefined) return vault.verify(passphrase);
  const { caller } = request;
  if (caller?.kind === 'browser' && access.isFresh(caller.signIn.id)) return;
  throw new Refusal(
    403,
    'begin-anew',
    'This cannot be undone. Type the passphrase of the vault, or sign in again: run npm run -s netter -- sign-in in a terminal, open the address it prints, and do it within ten minutes.',
  );
}
