import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { memoryStore, type movedClock } from '../testing/store.ts';
import type { Store } from '../store/store.ts';
import { Access } from './access.ts';
import type { Account } from './peer.ts';
import { browserLabel } from './routes.ts';

let store: Store;
let clock: ReturnType<typeof movedClock>;
const key = 'a thumbprint';
const browser = { label: 'Firefox on Linux', account: 1000, key };
const minutes = 1;
const days = 24 * 60;

beforeAll(async () => {
  ({ store, clock } = await memoryStore());
});
afterAll(() => store.close());

const open = (): Promise<Access> => Access.open(store.signIns, clock);
const inside = async (access: Access, account: Account = 1000) =>
  (await access.signIn(access.newCode(), { ...browser, account }))!;

describe('a one-time address', () => {
  test('lets one browser in, once', async () => {
    const access = await open();
    const code = access.newCode();
    const { token } = (await access.signIn(code, browser))!;
    expect(access.browser(token, 1000, key)).toMatchObject({
      kind: 'browser',
      signIn: { label: 'Firefox on Linux' },
    });
    expect(await access.signIn(code, browser)).toBeUndefined();
    expect(await access.signIn('made up', browser)).toBeUndefined();
  });

  test('of several that come with it at once, one gets in', async () => {
    const access = await open();
    const code = access.newCode();
    const tries = await Promise.all(Array.from({ length: 5 }, () => access.signIn(code, browser)));
    expect(tries.filter((each) => each !== undefined)).toHaveLength(1);
  });

  test('is too old after half an hour, whatever the wall clock says', async () => {
    const access = await open();
    const code = access.newCode();
    clock.running += 31 * 60_000;
    expect(await access.signIn(code, browser)).toBeUndefined();
    const other = access.newCode();
    clock.at = new Date(clock.at.getTime() + 365 * days * 60_000);
    expect(await access.signIn(other, browser)).toBeDefined();
  });

  test('can be used again where the sign-in could not be kept', async () => {
    const { add } = store.signIns;
    let full = true;
    const rows = {
      ...store.signIns,
      add: (row: Parameters<typeof add>[0]) => (full ? Promise.reject(new Error('full')) : add(row)),
    };
    const access = await Access.open(rows, clock);
    const code = access.newCode();
    await expect(access.signIn(code, browser)).rejects.toThrow('full');
    full = false;
    expect(await access.signIn(code, browser)).toBeDefined();
    expect(await access.signIn(code, browser)).toBeUndefined();
  });

  test('of an earlier start lets nobody in', async () => {
    const code = (await open()).newCode();
    expect(await (await open()).signIn(code, browser)).toBeUndefined();
  });
});

describe('a session', () => {
  test('goes on after a restart, and only its hash is kept', async () => {
    const { token } = await inside(await open());
    expect((await open()).browser(token, 1000, key)).toBeDefined();
    expect(JSON.stringify(await store.signIns.list())).not.toContain(token);
  });

  test('works for the account that began it and for the administrator; what is unknown is refused', async () => {
    const access = await open();
    const { token } = await inside(access);
    const accounts: Account[] = [1000, 0, 'untold', 1001, 65534, 'unknown'];
    expect(accounts.map((account) => access.browser(token, account, key) !== undefined)).toEqual([
      true,
      true,
      true,
      false,
      false,
      false,
    ]);
    // Begun where the system does not tell, and shown where it does: nobody knows whose it is.
    const untold = await inside(access, 'untold');
    expect(access.browser(untold.token, 1001, key)).toBeUndefined();
    expect(access.browser(untold.token, 'untold', key)).toBeDefined();
  });

  test('works with its own key only, and one of before there were keys is gone', async () => {
    const access = await open();
    const { token, signIn } = await inside(access);
    for (const other of [undefined, '', 'another thumbprint'])
      expect(access.browser(token, 1000, other)).toBeUndefined();
    await store.signIns.add({ ...signIn, id: 'earlier', tokenHash: 'earlier', key: null });
    expect((await open()).list().map(({ id }) => id)).not.toContain('earlier');
    expect((await store.signIns.list()).map(({ id }) => id)).not.toContain('earlier');
  });

  test('ends when it is ended, and after ninety days without use', async () => {
    const access = await open();
    const [one, two] = [await inside(access), await inside(access)];
    expect(await access.end(one.signIn.id)).toBe(true);
    expect(await access.end(one.signIn.id)).toBe(false);
    expect(access.browser(one.token, 1000, key)).toBeUndefined();
    clock.later(80 * days);
    expect(access.browser(two.token, 1000, key)).toBeDefined();
    clock.later(80 * days);
    expect(access.browser(two.token, 1000, key)).toBeDefined();
    clock.later(91 * days);
    expect(access.browser(two.token, 1000, key)).toBeUndefined();
    expect((await open()).list().some(({ id }) => id === two.signIn.id)).toBe(false);
  });

  test('that made itself another one is not begun anew by it', async () => {
    const access = await open();
    const other = (await access.signIn(access.newCode('browser'), browser))!;
    expect(access.browser(other.token, 1000, key)).toBeDefined();
    expect(access.isFresh(other.signIn.id)).toBe(false);
  });

  test('that ends is told to whoever follows, once', async () => {
    const access = await open();
    const ended: string[] = [];
    const stop = access.onEnd((id) => ended.push(id));
    const [one, two] = [await inside(access), await inside(access)];
    await access.end(one.signIn.id);
    stop();
    await access.end(two.signIn.id);
    expect(ended).toEqual([one.signIn.id]);
  });

  test('counts as begun anew for ten minutes, and not after a restart', async () => {
    const access = await open();
    const { signIn } = await inside(access);
    expect(access.isFresh(signIn.id)).toBe(true);
    clock.later(9 * minutes);
    expect(access.isFresh(signIn.id)).toBe(true);
    expect((await open()).isFresh(signIn.id)).toBe(false);
    clock.later(2 * minutes);
    expect(access.isFresh(signIn.id)).toBe(false);
  });

  test('there are never more than fifty: the one used longest ago makes room', async () => {
    const access = await open();
    const first = await inside(access);
    for (let count = 0; count < 50; count += 1) {
      clock.later(1);
      await inside(access);
    }
    expect(access.list()).toHaveLength(50);
    expect(access.browser(first.token, 1000, key)).toBeUndefined();
  });

  test('the command line has its own key, new at every start', async () => {
    const [one, two] = [await open(), await open()];
    expect(one.commandLine(one.commandLineKey)).toEqual({ kind: 'command-line' });
    expect(one.commandLine(two.commandLineKey)).toBeUndefined();
  });
});

test.each([
  ['Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0', 'Firefox on Linux'],
  [
    'Mozilla/5.0 (Windows NT 10.0) AppleWebKit/537.36 Chrome/140.0 Safari/537.36 Edg/140.0',
    'Edge on Windows',
  ],
  [
    'Mozilla/5.0 (Macintosh; Intel Mac OS X 10_15_7) AppleWebKit/605 Version/17 Safari/605',
    'Safari on macOS',
  ],
  ['', 'a browser on an unknown system'],
])('%s is %s', (agent, label) => expect(browserLabel(agent)).toBe(label));
