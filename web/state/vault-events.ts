import { eventStream } from './event-stream.ts';

export type VaultState = 'none' | 'locked' | 'open';
/** What the server says: the state of the vault, or that the session was ended elsewhere. */
type Heard = VaultState | 'signed-out';

/** What one window needs to follow the vault; a test gives its own. */
export interface VaultEventsAt {
  readonly locks: Pick<LockManager, 'request'>;
  readonly channel: Pick<BroadcastChannel, 'postMessage' | 'addEventListener'>;
  readonly source: () => Pick<EventSource, 'addEventListener' | 'close'>;
  /** Begins the window afresh: its session was ended, and nothing of what it shows may stay. */
  readonly leave: () => void;
}

const here = (): VaultEventsAt => ({
  locks: navigator.locks,
  channel: new BroadcastChannel('netter-vault'),
  source: () => eventStream('/api/vault/events'),
  leave: () => location.reload(),
});

/**
 * Calls back whenever the vault is opened or locked, in every window of this browser. One window listens to the
 * server for all (a browser keeps only six connections to one host) and passes on what it hears; when it is closed,
 * the next one listens. While the server is not heard, the vault counts as locked: what was on the screen goes.
 */
export function followVault(listener: (state: VaultState) => void, at: VaultEventsAt = here()): void {
  const hear = (heard: Heard): void => {
    listener(heard === 'signed-out' ? 'locked' : heard);
    if (heard === 'signed-out') at.leave();
  };
  at.channel.addEventListener('message', (event) => hear((event as MessageEvent<Heard>).data));
  const pass = (heard: Heard): void => {
    at.channel.postMessage(heard);
    hear(heard);
  };
  void at.locks.request(
    'netter-vault-events',
    () =>
      new Promise<void>(() => {
        const source = at.source();
        source.addEventListener('message', (event) => pass((event as MessageEvent<string>).data as Heard));
        source.addEventListener('error', () => pass('locked'));
      }),
  );
}
