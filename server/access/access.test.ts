import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { memoryStore, type movedClock } from '../testing/store.ts';
import type { Store } from '../store/store.ts';
import { Access } from './access.ts';
import { browserLabel } from './routes.ts';

let store: Store;
let clock: ReturnType<typeof movedClock>;
const browser = { label: 'Firefox on Linux', account: 1000 };
const minutes = 1;
const days = 24 * 60;

beforeAll(async () => {
  ({ store, clock } = await memoryStore());
}, 60_000);
afterAll(() => store.close());

const open = (): Promise<Access> => Access.open(store.signIns, clock);
const inside = async (access: Access, account: number | undefined = 1000) =>
  (await access.signIn(access.newCode(), { ...browser, account }))!;

describe('a one-time address', () => {
  test('lets one browser in, once', async () => {
    const access = await open();
    const code = access.newCode();
    const { token } = (await access.signIn(code, browser))!;
    expect(access.browser(token, 1000)).toMatchObject({
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

  test('of an earlier start lets nobody in', async () => {
    const code = (await open()).newCode();
    expect(await (await open()).signIn(code, browser)).toBeUndefined();
  });
});

describe('a session', () => {
  test('goes on after a restart, and only its hash is kept', async () => {
    const { token } = await inside(await open());
    expect((await open()).browser(token, 1000)).toBeDefined();
    expect(JSON.stringify(await store.signIns.list())).not.toContain(token);
  });

  test('works for the account that began it and for the administrator, where the system tells', async () => {
    const access = await open();
    const { token } = await inside(access);
    expect(
      [1000, 0, undefined, 1001, 65534].map((account) => access.browser(token, account) !== undefined),
    ).toEqual([true, true, true, false, false]);
    const unknown = await access.signIn(access.newCode(), { label: 'x', account: undefined });
    expect(access.browser(unknown!.token, 1001)).toBeDefined();
  });

  test('ends when it is ended, and after ninety days without use', async () => {
    const access = await open();
    const [one, two] = [await inside(access), await inside(access)];
    expect(await access.end(one.signIn.id)).toBe(true);
    expect(await access.end(one.signIn.id)).toBe(false);
    expect(access.browser(one.token, 1000)).toBeUndefined();
    clock.later(80 * days);
    expect(access.browser(two.token, 1000)).toBeDefined();
    clock.later(80 * days);
    expect(access.browser(two.token, 1000)).toBeDefined();
    clock.later(91 * days);
    expect(access.browser(two.token, 1000)).toBeUndefined();
    expect((await open()).list().some(({ id }) => id === two.signIn.id)).toBe(false);
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
    expect(access.browser(first.token, 1000)).toBeUndefined();
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
