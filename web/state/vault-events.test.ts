import { expect, test } from '@jest/globals';
import { followVault, type VaultEventsAt } from './vault-events.ts';

/** A few windows of one browser: one lock for all, a channel between them, and what each asks of the server. */
function browser() {
  const waiting: (() => Promise<void>)[] = [];
  const windows: ((data: string) => void)[] = [];
  const sources: Record<string, (event: { data?: string }) => void>[] = [];
  const left: number[] = [];
  const open = (): VaultEventsAt => {
    const own = windows.length;
    return {
      locks: {
        request: ((_name: string, act: () => Promise<void>) => {
          waiting.push(act);
          if (waiting.length === 1) void act();
          return Promise.resolve();
        }) as unknown as LockManager['request'],
      },
      channel: {
        postMessage: (data: string) => windows.forEach((hear, index) => index !== own && hear(data)),
        addEventListener: ((_type: string, hear: (event: { data: string }) => void) =>
          windows.push((data) => hear({ data }))) as unknown as BroadcastChannel['addEventListener'],
      },
      leave: () => void left.push(own),
      source: () => {
        const listeners: Record<string, (event: { data?: string }) => void> = {};
        sources.push(listeners);
        return {
          addEventListener: ((type: string, hear: (event: { data?: string }) => void) => {
            listeners[type] = hear;
          }) as unknown as EventSource['addEventListener'],
          close: () => {},
        };
      },
    };
  };
  return { open, sources, left, next: () => (waiting.shift(), waiting[0]?.()) };
}

test('one window listens for all, each hears of a lock at once, and the next takes over', () => {
  const { open, sources, next } = browser();
  const heard: string[][] = [[], [], []];
  for (const list of heard) followVault((state) => list.push(state), open());
  expect(sources).toHaveLength(1);
  sources[0]!.message!({ data: 'open' });
  sources[0]!.message!({ data: 'locked' });
  expect(heard).toEqual([
    ['open', 'locked'],
    ['open', 'locked'],
    ['open', 'locked'],
  ]);
  void next();
  expect(sources).toHaveLength(2);
  sources[1]!.message!({ data: 'open' });
  expect(heard.map((list) => list.at(-1))).toEqual(['open', 'open', 'open']);
});

test('while the server is not heard, the vault counts as locked', () => {
  const { open, sources } = browser();
  const heard: string[] = [];
  followVault((state) => heard.push(state), open());
  sources[0]!.message!({ data: 'open' });
  sources[0]!.error!({});
  expect(heard).toEqual(['open', 'locked']);
});

test('a session that is ended elsewhere is ended in every window at once: locked, and begun afresh', () => {
  const { open, sources, left } = browser();
  const heard: string[][] = [[], []];
  for (const list of heard) followVault((state) => list.push(state), open());
  sources[0]!.message!({ data: 'open' });
  sources[0]!.message!({ data: 'signed-out' });
  expect(heard).toEqual([
    ['open', 'locked'],
    ['open', 'locked'],
  ]);
  expect(left.sort()).toEqual([0, 1]);
});
