import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { clipboardSeconds, copyForAWhile, reveal } from './vault.ts';

let clipboard: string;
let focused: boolean;
let waiting: (() => void)[];
const original = globalThis.fetch;

beforeEach(() => {
  jest.useFakeTimers();
  clipboard = 'something of before';
  focused = true;
  waiting = [];
  Object.defineProperty(globalThis, 'navigator', {
    configurable: true,
    value: {
      clipboard: {
        writeText: async (text: string) => {
          clipboard = text;
        },
        readText: async () => clipboard,
      },
    },
  });
  Object.assign(globalThis, {
    document: { hasFocus: () => focused },
    addEventListener: (_type: string, act: () => void) => waiting.push(act),
  });
});
afterEach(() => {
  jest.useRealTimers();
  globalThis.fetch = original;
});
const pass = (seconds: number): Promise<void> => jest.advanceTimersByTimeAsync(seconds * 1000);

describe('a copied secret', () => {
  test('is on the clipboard for a while, and then gone', async () => {
    await copyForAWhile('line-secret');
    await pass(clipboardSeconds - 1);
    expect(clipboard).toBe('line-secret');
    await pass(2);
    expect(clipboard).toBe('');
  });

  test('what was copied meanwhile stays', async () => {
    await copyForAWhile('line-secret');
    clipboard = 'a telephone number';
    await pass(clipboardSeconds + 1);
    expect(clipboard).toBe('a telephone number');
  });

  test('a window in the background clears it when it comes back', async () => {
    await copyForAWhile('line-secret');
    focused = false;
    await pass(clipboardSeconds + 60);
    expect(clipboard).toBe('line-secret');
    focused = true;
    waiting.forEach((act) => act());
    await pass(0);
    expect(clipboard).toBe('');
  });
});

test('a secret is asked for in the body of a request, never in its address', async () => {
  const asked: [string, string][] = [];
  globalThis.fetch = (async (url: string, { body }: { body: string }) => {
    asked.push([url, body]);
    return new Response('{"secret":"line-secret"}');
  }) as unknown as typeof fetch;
  expect(await reveal('site', 'fibre')).toBe('line-secret');
  expect(asked).toEqual([['/api/vault/reveal', '{"siteId":"site","name":"fibre"}']]);
});
