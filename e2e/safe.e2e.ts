import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Browser, Page } from 'playwright-core';
import { freePort, launchBrowser, launchProfile, root, signedInPage, startServer } from './app.ts';

/** A running Netter on a folder of its own, and a browser that is signed in to it. */
interface Laptop {
  readonly page: Page;
  readonly address: string;
  readonly data: string;
  readonly server: () => ChildProcess;
  /** Ends the server, by a signal, and starts it again on the same folder. */
  readonly again: (signal: 'SIGTERM' | 'SIGKILL') => Promise<void>;
}

const folder = mkdtempSync(join(tmpdir(), 'netter-safe-'));
const passphrase = 'harbour lantern quietly seven otters';
let browser: Browser;
const servers: ChildProcess[] = [];

async function laptop(data: string): Promise<Laptop> {
  const port = await freePort();
  const ended = (child: ChildProcess): Promise<unknown> =>
    new Promise((resolve) => child.once('exit', resolve));
  let { server, signIn } = await startServer(data, port);
  servers.push(server);
  const page = await signedInPage(browser, signIn);
  return {
    page,
    address: `http://127.0.0.1:${port}`,
    data,
    server: () => server,
    again: async (signal) => {
      const gone = ended(server);
      server.kill(signal);
      await gone;
      ({ server, signIn } = await startServer(data, port));
      servers.push(server);
    },
  };
}

beforeAll(async () => {
  browser = await launchBrowser();
}, 90_000);
afterAll(async () => {
  await browser.close();
  for (const server of servers) server.kill('SIGKILL');
  rmSync(folder, { recursive: true, force: true });
});

const field = (page: Page, path: string) => page.locator(`[data-at="${path}"]`);
/** Waits until the server has what was typed: "saved" stands on the page before anything is typed too. */
async function saved(page: Page, text: string): Promise<void> {
  // `waitForFunction` takes a promise for an answer: the question is put again from here.
  const has = (): Promise<boolean> =>
    page.evaluate(
      async (wanted) => (await (await signed('/api/sites/weir-street')).text()).includes(wanted),
      text,
    );
  while (!(await has())) await page.waitForTimeout(50);
}
const notes = '/site/notes';
/** Names of the drafts that the browser keeps. */
const keptDrafts = (page: Page): Promise<string[]> =>
  page.evaluate(
    () =>
      new Promise<string[]>((resolve) => {
        const opened = indexedDB.open('netter');
        opened.onsuccess = () => {
          const all = opened.result.transaction('texts').objectStore('texts').getAllKeys();
          all.onsuccess = () => {
            opened.result.close();
            resolve(all.result.map(String).filter((key) => key.startsWith('netter-draft ')));
          };
        };
      }),
  );

describe('only its owner', () => {
  let one: Laptop;
  beforeAll(async () => {
    one = await laptop(join(folder, 'one'));
  }, 90_000);

  test('a browser that was not let in sees no site, and gets in with an address that works once', async () => {
    const stranger = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const page = await stranger.newPage();
    await page.goto(`${one.address}/sites/farrow-sound/uplinks`);
    await page.getByRole('heading', { name: 'Sign in' }).waitFor();
    expect(await page.content()).not.toMatch(/Farrow|Hollin|Weir/);
    expect(await page.evaluate(async () => (await fetch('/api/sites')).status)).toBe(401);
    await one.page.goto(`${one.address}/data`);
    await one.page.getByRole('button', { name: 'Sign in another browser' }).click();
    const address = await one.page.getByText(/sign-in#/).innerText();
    await page.getByLabel('One-time address').fill(address);
    await page.getByRole('button', { name: 'Sign in' }).click();
    await page.getByRole('heading', { name: 'Farrow Sound ferry office' }).waitFor();
    // The same address in a third browser.
    const late = await (await browser.newContext()).newPage();
    await late.goto(address);
    await late.getByText(/was used already/).waitFor();
    await one.page.reload();
    await one.page.getByRole('button', { name: /End the session of/ }).click();
    await one.page.getByRole('button', { name: /End the session of/ }).waitFor({ state: 'detached' });
    // Nothing is asked for there: the page hears of it, and begins afresh.
    await page.getByRole('heading', { name: 'Sign in' }).waitFor();
    await stranger.close();
  }, 60_000);

  test('another account of the machine gets nothing, not even with a cookie that it caught', async () => {
    const { cookies } = await one.page.context().storageState();
    const session = cookies.find(({ name }) => name === 'netter-session')!;
    expect(session).toMatchObject({ httpOnly: true, sameSite: 'Strict', path: '/', domain: '127.0.0.1' });
    // By a socket of either family: the mapped address stands in another table of the kernel.
    const { port } = new URL(one.address);
    const script = (cookie: string, family: string): string =>
      `const s = require('net').connect({ port: ${port}, host: '${family}' }); let t = '';
       s.on('data', (d) => (t += d)).on('close', () => console.log(t.split(' ')[1], t.length));
       s.write('GET /api/sites HTTP/1.1\\r\\nHost: 127.0.0.1:${port}\\r\\nCookie: ${cookie}\\r\\nConnection: close\\r\\n\\r\\n');`;
    const as = (account: number, cookie: string, family = '127.0.0.1'): string =>
      spawnSync(process.execPath, ['-e', script(cookie, family)], {
        encoding: 'utf8',
        uid: account,
        gid: account,
        cwd: '/',
        env: {},
      }).stdout.trim();
    const caught = `netter-session=${session.value}`;
    const own = process.getuid!();
    // Not even the same account gets in with the cookie alone: the browser's key never leaves it.
    for (const family of ['127.0.0.1', '::ffff:127.0.0.1']) {
      expect(as(own, caught, family)).toMatch(/^401 /);
      expect(as(own, '', family)).toMatch(/^401 /);
    }
    expect(await one.page.evaluate(async () => (await signed('/api/sites')).status)).toBe(200);
    if (own !== 0) return; // Only the administrator can become somebody else.
    const other = 65534;
    for (const family of ['127.0.0.1', '::ffff:127.0.0.1'])
      for (const cookie of ['', caught]) expect(as(other, cookie, family)).toMatch(/^401 /);
    const read = spawnSync('/bin/ls', [one.data], { encoding: 'utf8', uid: other, gid: other });
    expect(read.status).not.toBe(0);
  }, 30_000);

  test('locked means gone: in every window, on the screen, and in what could be saved', async () => {
    const { page } = one;
    await page.goto(`${one.address}/sites/farrow-sound/remote-access`);
    const second = await page.context().newPage();
    await second.goto(`${one.address}/sites/farrow-sound/remote-access`);
    const vaultOf = (of: Page) => of.getByRole('button', { name: 'Vault', exact: true });
    await vaultOf(page).click();
    await page.getByLabel('Passphrase', { exact: true }).fill(passphrase);
    await page.getByLabel('Repeat the passphrase').fill(passphrase);
    await page.getByRole('button', { name: 'Make the vault' }).click();
    await page.getByText('Nothing is kept for this site yet').waitFor();
    await page.getByRole('button', { name: 'Close' }).click();
    const show = async (of: Page): Promise<void> => {
      await of.getByRole('button', { name: 'Open Idris Vane, laptop' }).click();
      const showing = of.getByRole('button', { name: 'Show it with its secrets' });
      await showing.waitFor();
    };
    await show(second);
    await page.evaluate(async () => {
      const { plan } = (await (await signed('/api/sites/farrow-sound')).json()) as {
        plan: { vpn: { peers: { secret: string; preshared: string }[] } };
      };
      for (const { secret, preshared } of plan.vpn.peers)
        for (const name of [secret, preshared])
          if (name !== '')
            await signed('/api/vault/put', {
              method: 'POST',
              headers: { 'content-type': 'application/json' },
              body: JSON.stringify({
                siteId: 'farrow-sound',
                name,
                secret: btoa(name.padEnd(32, '.')),
                given: true,
              }),
            });
    });
    await second.getByRole('button', { name: 'Show it with its secrets' }).click();
    await second.getByRole('img', { name: 'The profile as a code to scan' }).waitFor();
    await vaultOf(page).click();
    await page.getByRole('button', { name: 'Lock' }).click();
    await second.getByRole('img', { name: 'The profile as a code to scan' }).waitFor({ state: 'detached' });
    await second.getByRole('button', { name: 'Save the profile' }).waitFor({ state: 'detached' });
    expect(await second.content()).not.toMatch(/PrivateKey = [A-Za-z0-9+/]{40}/);
    // Opened again, what was on the screen does not come back by itself.
    await page.getByLabel('Passphrase', { exact: true }).fill(passphrase);
    await page.getByRole('button', { name: 'Open it' }).click();
    await second.getByRole('button', { name: 'Show it with its secrets' }).waitFor();
    await second.close();
    await page.getByRole('button', { name: 'Lock' }).click();
  }, 90_000);

  test('what was typed and not saved survives a crash of the browser', async () => {
    const { page, address } = one;
    await page.goto(`${address}/sites/weir-street/site`);
    await field(page, notes).waitFor();
    // The server does not answer, and the browser dies before it does.
    await page.route('**/api/sites/weir-street', (route) =>
      route.request().method() === 'PUT' ? route.abort() : route.continue(),
    );
    await field(page, notes).fill('typed in the dark');
    await page.getByText('not saved').waitFor();
    const crashed = await page.context().newPage();
    await crashed.goto(`${address}/`);
    const living = (): Promise<number> =>
      crashed.evaluate(
        async () =>
          ((await navigator.locks.query()).held ?? []).filter(({ name }) => name?.startsWith('netter-window'))
            .length,
      );
    const before = await living();
    await page.close({ runBeforeUnload: false });
    // A window that still lives saves by itself: the other one opens once it is gone.
    while ((await living()) >= before) await crashed.waitForTimeout(50);
    await crashed.goto(`${address}/sites/weir-street/site`);
    // Taken up as if it had just been typed, saved, and then kept in the browser no longer.
    await saved(crashed, 'typed in the dark');
    while ((await keptDrafts(crashed)).length > 0) await crashed.waitForTimeout(50);
    expect(await field(crashed, notes).inputValue()).toBe('typed in the dark');
    Object.assign(one, { page: crashed });
  }, 60_000);
});

test('a session that is ended elsewhere leaves no secret on its screen, and nothing to save', async () => {
  const one = await laptop(join(folder, 'ended'));
  await one.page.goto(`${one.address}/data`);
  await one.page.getByRole('button', { name: 'Sign in another browser' }).click();
  const other = await signedInPage(browser, await one.page.getByText(/sign-in#/).innerText());
  await other.goto(`${one.address}/sites/hollin-edge/wifi`);
  await other.getByRole('button', { name: 'Vault', exact: true }).waitFor();
  await one.page.reload();
  await one.page.getByRole('button', { name: /End the session of/ }).click();
  // Nothing is clicked there: the page begins afresh by itself.
  await other.getByRole('heading', { name: 'Sign in' }).waitFor();
  expect(await other.content()).not.toMatch(/Hollin/);
  await other.context().close();
  one.server().kill('SIGKILL');
}, 90_000);

test('what is typed stays, even if the browser is killed in the same second', async () => {
  const { server, signIn } = await startServer(join(folder, 'typed'), await freePort());
  servers.push(server);
  const profile = join(folder, 'profile');
  const open = async (): Promise<Page> => {
    const context = await launchProfile(profile);
    const page = context.pages()[0] ?? (await context.newPage());
    page.setDefaultTimeout(30_000);
    return page;
  };
  const address = new URL(signIn).origin;
  let page = await open();
  await page.goto(signIn);
  await page.getByRole('heading', { name: 'Netter' }).waitFor();
  await page.goto(`${address}/sites/weir-street/site`);
  await page.route('**/api/sites/weir-street', (route) =>
    route.request().method() === 'PUT' ? route.abort() : route.continue(),
  );
  await field(page, '/site/name').waitFor();
  await page.keyboard.press('F7');
  await field(page, notes).pressSequentially('the last words', { delay: 5 });
  while ((await keptDrafts(page)).length === 0) await page.waitForTimeout(10);
  await page.waitForTimeout(250);
  // Every process of it at once, as a power cut would.
  spawnSync('pkill', ['-KILL', '-f', `user-data-dir=${profile}`]);
  await new Promise((resolve) => setTimeout(resolve, 500));
  page = await open();
  // The browser writes its cookies out only now and then: a young session may have to sign in again.
  const { key } = JSON.parse(readFileSync(join(folder, 'typed', 'running.json'), 'utf8')) as { key: string };
  const code = await fetch(`${address}/api/sign-in/codes`, {
    method: 'POST',
    headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
    body: '{}',
  });
  await page.goto(((await code.json()) as { address: string }).address);
  await page.getByRole('heading', { name: 'Netter' }).waitFor();
  await page.goto(`${address}/sites/weir-street/site`);
  await page.waitForFunction(
    (at) =>
      document.querySelector<HTMLTextAreaElement>(`[data-at="${at}"]`)?.value.includes('the last words'),
    notes,
  );
  await page.context().close();
}, 120_000);

test('two laptops: backed up on one, restored on the other, changed on both, merged both ways', async () => {
  const [one, two] = [await laptop(join(folder, 'first')), await laptop(join(folder, 'second'))];
  const edit = async ({ page, address }: Laptop, path: string, value: string): Promise<void> => {
    await page.goto(`${address}/sites/weir-street/site`);
    await field(page, path).fill(value);
    await page.keyboard.press('Tab');
    await saved(page, value);
  };
  const backUp = async ({ page, address }: Laptop): Promise<string> => {
    await page.goto(`${address}/data`);
    await page.getByRole('button', { name: 'Back up now' }).click();
    return (await page.getByText('Written and read back').innerText())
      .replace('Written and read back:', '')
      .trim();
  };
  const look = async ({ page, address }: Laptop, file: string): Promise<void> => {
    await page.goto(`${address}/data`);
    await page.getByLabel('Backup file').setInputFiles(file);
    await page.getByText('it is whole').waitFor();
  };
  const row = ({ page }: Laptop) => page.getByRole('row', { name: /Weir Street/ });
  await edit(one, '/site/customer', 'Weir Street readers');
  // The demo sites of two laptops began at different moments: the first restore takes those of the other.
  await two.page.goto(`${two.address}/sites/weir-street/handover`);
  await two.page.getByRole('button', { name: 'Remove site' }).click();
  await two.page.getByRole('button', { name: 'Remove it' }).click();
  await two.page.getByRole('heading', { name: 'Netter' }).waitFor();
  await two.page.goto(`${two.address}/data`);
  await two.page.getByRole('button', { name: 'Erase Weir Street library' }).click();
  await two.page.getByRole('button', { name: 'Erase', exact: true }).click();
  await two.page.getByText('Empty. A site that is removed').waitFor();
  await look(two, await backUp(one));
  await two.page.getByText('not here: will be added').waitFor();
  await two.page.getByRole('button', { name: /^Bring in/ }).click();
  await two.page.getByText(/Added: 1\./).waitFor();
  await edit(two, '/site/town', 'Weirbridge');
  await edit(one, notes, 'the key is at the desk');
  await look(two, await backUp(one));
  await row(two).getByRole('button', { name: /Merge/ }).click();
  await two.page.getByText('Both sides can be kept whole').waitFor();
  await two.page.getByRole('button', { name: 'Merge as chosen' }).click();
  await row(two).getByText('here is newer').waitFor();
  await two.page.goto(`${two.address}/sites/weir-street/site`);
  expect(await field(two.page, '/site/town').inputValue()).toBe('Weirbridge');
  expect(await field(two.page, notes).inputValue()).toBe('the key is at the desk');
  await look(one, await backUp(two));
  await row(one).getByText('newer in backup').waitFor();
  await one.page.getByRole('button', { name: /^Bring in/ }).click();
  await one.page.getByText(/Brought forward: 1\./).waitFor();
  await one.page.goto(`${one.address}/sites/weir-street/site`);
  expect(await field(one.page, '/site/town').inputValue()).toBe('Weirbridge');
}, 180_000);

test('the command line backs up beside the running server, and restores into an empty folder', async () => {
  const file = join(folder, 'by-hand.jsonl.gz');
  const netter = (data: string, ...args: string[]) =>
    spawnSync(process.execPath, ['cli/netter.mjs', ...args], {
      cwd: root,
      encoding: 'utf8',
      env: { ...process.env, NODE_OPTIONS: '', NETTER_DATA: data },
    });
  expect(netter(join(folder, 'first'), 'backup', file)).toMatchObject({ status: 0, stderr: '' });
  const restored = netter(join(folder, 'third'), 'restore', file);
  expect(restored).toMatchObject({ status: 0, stderr: '' });
  expect(JSON.parse(restored.stdout)).toMatchObject({ added: 5, diverged: [] });
  const again = netter(join(folder, 'third'), 'restore', file);
  expect(JSON.parse(again.stdout)).toMatchObject({ added: 0, unchanged: 5 });
  const address = (JSON.parse(netter(join(folder, 'first'), 'sign-in').stdout) as { address: string })
    .address;
  const page = await signedInPage(browser, address);
  await page.close();
}, 90_000);

/** A small disk in memory; undefined where this account may not mount one. */
function smallDisk(megabytes: number): string | undefined {
  const at = join(folder, 'disk');
  mkdirSync(at);
  return spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${megabytes}m`, 'tmpfs', at]).status === 0
    ? at
    : undefined;
}

test('a disk that fills up: a plain "not saved", reading goes on, and room brings it back without a restart', async () => {
  const disk = smallDisk(260);
  if (disk === undefined) return; // Mounting is not allowed here: the guard has its own test.
  try {
    const one = await laptop(join(disk, 'data'));
    const { page, address } = one;
    await page.goto(`${address}/sites/weir-street/site`);
    await field(page, notes).fill('with room');
    await saved(page, 'with room');
    const free = (): number =>
      Number(spawnSync('df', ['--output=avail', '-B1', disk], { encoding: 'utf8' }).stdout.split('\n')[1]);
    writeFileSync(join(disk, 'film.bin'), Buffer.alloc(free() - 30 * 2 ** 20));
    await field(page, notes).fill('without room');
    await page.getByText(/Not saved: the disk .* MiB are needed/).waitFor();
    // What is typed can be taken away as a file, and other sites can still be read.
    await page.getByRole('button', { name: 'Save what is typed as a file' }).waitFor();
    expect(await page.evaluate(async () => (await signed('/api/sites/hollin-edge')).status)).toBe(200);
    rmSync(join(disk, 'film.bin'));
    await saved(page, 'without room');
    await one.again('SIGTERM');
    await page.goto(`${address}/sites/weir-street/site`);
    expect(await field(page, notes).inputValue()).toBe('without room');
    one.server().kill('SIGKILL');
  } finally {
    await new Promise((resolve) => setTimeout(resolve, 300));
    spawnSync('umount', ['-l', disk]);
  }
}, 120_000);

test('ending npm, even by force, ends the server', async () => {
  const port = await freePort();
  const npm = spawn('npm', ['start'], {
    cwd: root,
    env: { ...process.env, NODE_OPTIONS: '', NETTER_DATA: join(folder, 'npm'), NETTER_PORT: String(port) },
  });
  await new Promise<void>((resolve) => {
    npm.stdout.on('data', (text) => String(text).includes('ready at') && resolve());
  });
  const answers = (): Promise<boolean> =>
    fetch(`http://127.0.0.1:${port}/`).then(
      () => true,
      () => false,
    );
  expect(await answers()).toBe(true);
  npm.kill('SIGKILL');
  npm.stdout.destroy();
  npm.stderr.destroy();
  for (let tries = 0; tries < 60 && (await answers()); tries += 1)
    await new Promise((resolve) => setTimeout(resolve, 250));
  expect(await answers()).toBe(false);
}, 60_000);
