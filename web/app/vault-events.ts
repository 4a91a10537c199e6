export type VaultState = 'none' | 'locked' | 'open';

/** What one window needs to follow the vault; a test gives its own. */
export interface VaultEventsAt {
  readonly locks: Pick<LockManager, 'request'>;
  readonly channel: Pick<BroadcastChannel, 'postMessage' | 'addEventListener'>;
  readonly source: () => Pick<EventSource, 'addEventListener' | 'close'>;
}

const here = (): VaultEventsAt => ({
  locks: navigator.locks,
  channel: new BroadcastChannel('netter-vault'),
  source: () => new EventSource('/api/vault/events'),
});

/**
 * Calls back whenever the vault is opened or locked, in every window of this browser. One window listens to the
 * server for all (a browser keeps only six connections to one host) and passes on what it hears; when it is closed,
 * the next one listens. While the server is not heard, the vault counts as locked: what was on the screen goes.
 */
export function followVault(listener: (state: VaultState) => void, at: VaultEventsAt = here()): void {
  at.channel.addEventListener('message', (event) => listener((event as MessageEvent<VaultState>).data));
  const pass = (state: VaultState): void => {
    at.channel.postMessage(state);
    listener(state);
  };
  void at.locks.request(
    'netter-vault-events',
    () =>
      new Promise<void>(() => {
        const source = at.source();
        source.addEventListener('message', (event) =>
          pass((event as MessageEvent<string>).data as VaultState),
        );
        source.addEventListener('error', () => pass('locked'));
      }),
  );
}
