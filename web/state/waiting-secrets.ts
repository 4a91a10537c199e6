import { postJson } from './api.ts';
import { Signal } from './signal.ts';

/** A secret that was pasted with a brief. It is kept nowhere but in this window, until the vault takes it. */
export interface WaitingSecret {
  readonly siteId: string;
  readonly name: string;
  readonly value: string;
  readonly says: string;
}

export const waitingSecrets = new Signal<readonly WaitingSecret[]>([]);

/** Puts what waits for a site into the vault, which must be open. */
export async function keepWaiting(siteId: string): Promise<void> {
  for (const secret of waitingSecrets.get().filter((each) => each.siteId === siteId)) {
    await postJson('/api/vault/put', { siteId, name: secret.name, secret: secret.value });
    waitingSecrets.set(waitingSecrets.get().filter((each) => each !== secret));
  }
}

export const forgetWaiting = (siteId: string): void =>
  waitingSecrets.set(waitingSecrets.get().filter((each) => each.siteId !== siteId));
