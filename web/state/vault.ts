import { createContext, useContext } from 'react';
import useSWR, { mutate as mutateAll } from 'swr';
import { postJson } from './api.ts';
import { followVault, type VaultState } from './vault-events.ts';

/** Seconds after which a copied secret is cleared from the clipboard. */
export const clipboardSeconds = 30;

/** Opens the vault's dialog, for one secret or for all. */
export const VaultContext = createContext<(name?: string) => void>(() => {});
export const useVaultDialog = (): ((name?: string) => void) => useContext(VaultContext);

/** What the vault is like now, and the way to have it looked at again. */
export function useVault(): { state: VaultState | undefined; again: () => Promise<unknown> } {
  const { data, mutate } = useSWR<{ state: VaultState }>('/api/vault');
  return { state: data?.state, again: () => mutate() };
}

let following = false;

/** Follows the vault from now on, once a window: what it hears is what `useVault` says, at once. */
export function beginToFollowVault(): void {
  if (following) return;
  following = true;
  followVault((state) => {
    void mutateAll('/api/vault', { state }, { revalidate: false });
    if (state !== 'open') forgetCopied();
  });
}

/** Names of the secrets of a site; only while the vault is open. */
export const useSecretNames = (siteId: string, state: VaultState | undefined) =>
  useSWR(state === 'open' ? ['vault-names', siteId] : null, () =>
    postJson<{ names: string[] }>('/api/vault/names', { siteId }),
  );

export const reveal = async (siteId: string, name: string): Promise<string> =>
  (await postJson<{ secret: string }>('/api/vault/reveal', { siteId, name })).secret;

/** What was copied last and is not cleared yet. */
let copied: string | undefined;

/** What was copied goes with the lock. */
function forgetCopied(): void {
  if (copied !== undefined) void clear(copied);
}

/** Puts a secret on the clipboard, and clears it there after a while, unless something else was copied meanwhile. */
export async function copyForAWhile(secret: string): Promise<void> {
  await navigator.clipboard.writeText(secret);
  copied = secret;
  setTimeout(() => void clear(secret), clipboardSeconds * 1000);
}

async function clear(secret: string): Promise<void> {
  // A window in the background may neither read nor write the clipboard: it is cleared when it comes back.
  if (!document.hasFocus()) {
    addEventListener('focus', () => void clear(secret), { once: true });
    return;
  }
  copied = undefined;
  const there = await navigator.clipboard.readText().catch(() => secret);
  if (there === secret) await navigator.clipboard.writeText('').catch(() => {});
}
