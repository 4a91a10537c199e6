import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Browser, type BrowserContext, type Locator, type Page } from 'playwright-core';

/** Tests and the bench are run in the program's folder. */
export const root = process.cwd();
const axeSource = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/** The real server on an empty data folder, and the real interface in chromium. */
export interface App {
  readonly page: Page;
  readonly browser: Browser;
  readonly address: string;
  readonly folder: string;
  /** What must not have happened: console errors, page errors, requests that leave the machine. */
  readonly offences: string[];
  readonly close: () => Promise<void>;
}

export const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number };
      server.close(() => resolve(port));
    });
  });

/** Starts the server; with it, the one-time address that it prints. */
export async function startServer(
  data: string,
  port: number,
): Promise<{ server: ChildProcess; signIn: string }> {
  const child = spawn(process.execPath, ['--liftoff-only', 'scripts/start.mjs'], {
    cwd: root,
    env: { ...process.env, NODE_OPTIONS: '', NETTER_DATA: data, NETTER_PORT: String(port) },
  });
  const signIn = await new Promise<string>((resolve, reject) => {
    let output = '';
    const read = (text: Buffer): void => {
      output += text.toString();
      const found = /http:\S+\/sign-in#\S+/.exec(output);
      if (found) resolve(found[0]);
    };
    child.stdout.on('data', read);
    child.stderr.on('data', read);
    child.once('exit', (code) => reject(new Error(`The server ended with ${code}: ${output}`)));
  });
  return { server: child, signIn };
}

/** Waits until the locator shows the text, and says what it shows if it never does. */
export const shows = (locator: Locator, text: string | RegExp): Promise<void> =>
  locator.filter({ hasText: text }).first().waitFor();

/** Requests of a page that are under way, and when the last of them ended. */
const traffic = new WeakMap<Page, { open: number; at: number }>();
const quietMs = 500;

/** Waits until nothing was asked for some time. What is followed for as long as the page lives does not count. */
export async function quiet(page: Page): Promise<void> {
  const now = traffic.get(page)!;
  while (now.open > 0 || Date.now() - now.at < quietMs) await page.waitForTimeout(50);
}

/** Notes everything in a page that a person should never meet. */
export function watch(page: Page, address: string, offences: string[]): void {
  const now = { open: 0, at: Date.now() };
  traffic.set(page, now);
  const counted = (step: number) => (request: { url(): string }) => {
    if (request.url().includes('/api/vault/events')) return;
    Object.assign(now, { open: now.open + step, at: Date.now() });
  };
  page.on('request', counted(1)).on('requestfinished', counted(-1)).on('requestfailed', counted(-1));
  page.on('console', (message) => {
    if (message.type() === 'error') offences.push(`console: ${message.text()}`);
  });
  page.on('pageerror', (error) => offences.push(`page: ${error.message}`));
  page.on('request', (request) => {
    const url = request.url();
    if (!url.startsWith(address) && !url.startsWith('data:') && !url.startsWith('blob:'))
      offences.push(`left the machine: ${url}`);
  });
}

const browserOptions = {
  executablePath: '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
  timeout: 60_000,
};

export const launchBrowser = (): Promise<Browser> => chromium.launch(browserOptions);

/** A browser with a profile on the disk, which the next one with the same profile goes on from. */
export const launchProfile = (folder: string): Promise<BrowserContext> =>
  chromium.launchPersistentContext(folder, { ...browserOptions, viewport: { width: 1280, height: 800 } });

declare global {
  /** `fetch`, signed with the key that this browser keeps (RFC 9449): for tests that ask the server from a page. */
  function signed(url: string, init?: RequestInit): Promise<Response>;
}

/** Written from RFC 9449 and not from the app's own code, which it is to check. */
const signing = `globalThis.signed = async (url, init = {}) => {
  const opened = (request) => new Promise((done, failed) => { request.onsuccess = () => done(request.result); request.onerror = failed; });
  const database = await opened(indexedDB.open('netter'));
  const { privateKey, publicKey } = await opened(database.transaction('keys').objectStore('keys').get('session'));
  database.close();
  const { kty, crv, x, y } = await crypto.subtle.exportKey('jwk', publicKey);
  const coded = (bytes) => btoa(String.fromCharCode(...new Uint8Array(bytes))).replace(/\\+/g, '-').replace(/\\//g, '_').replace(/=/g, '');
  const part = (value) => coded(new TextEncoder().encode(JSON.stringify(value)));
  const { origin, pathname } = new URL(url, location.origin);
  const send = async (nonce) => {
    const text = part({ typ: 'dpop+jwt', alg: 'ES256', jwk: { kty, crv, x, y } }) + '.' +
      part({ jti: crypto.randomUUID(), htm: init.method ?? 'GET', htu: origin + pathname, nonce });
    const signature = await crypto.subtle.sign({ name: 'ECDSA', hash: 'SHA-256' }, privateKey, new TextEncoder().encode(text));
    return fetch(url, { ...init, headers: { ...init.headers, dpop: text + '.' + coded(signature) } });
  };
  const first = await send(document.querySelector('meta[name=dpop-nonce]').content);
  return first.status === 401 ? send(first.headers.get('dpop-nonce')) : first;
};`;

/** A browser of its own (cookies, storage), signed in with a one-time address, on a page that is ready. */
export async function signedInPage(
  browser: Browser,
  signIn: string,
  figures: 'open' | 'folded' = 'open',
): Promise<Page> {
  const context = await browser.newContext({
    viewport: { width: 1280, height: 800 },
    reducedMotion: 'reduce',
    permissions: ['clipboard-read', 'clipboard-write'],
    acceptDownloads: true,
  });
  // Every field is in sight, as somebody has it who left the figures open; the brief begins as a newcomer has them.
  if (figures === 'open') await context.addInitScript(() => localStorage.setItem('netter-figures', 'open'));
  await context.addInitScript(signing);
  const page = await context.newPage();
  page.setDefaultTimeout(30_000);
  await page.goto(signIn);
  await page.getByRole('heading', { name: 'Netter' }).waitFor();
  return page;
}

export async function openApp(figures: 'open' | 'folded' = 'open'): Promise<App> {
  if (!existsSync(join(root, 'dist/web/index.html')))
    throw new Error('The app is not built: npm test builds it first.');
  const folder = mkdtempSync(join(tmpdir(), 'netter-e2e-'));
  const port = await freePort();
  const address = `http://127.0.0.1:${port}`;
  const { server, signIn } = await startServer(join(folder, 'data'), port);
  const browser = await launchBrowser();
  const page = await signedInPage(browser, signIn, figures);
  const offences: string[] = [];
  watch(page, address, offences);
  return {
    page,
    browser,
    address,
    folder,
    offences,
    close: async () => {
      await browser.close();
      server.kill('SIGTERM');
      await new Promise((resolve) => server.once('exit', resolve));
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** Serious and critical accessibility findings of the page as it is, by the rules of axe. */
export async function axeFindings(page: Page): Promise<string[]> {
  await page.evaluate(axeSource);
  return page.evaluate(async () => {
    const axe = (
      globalThis as unknown as {
        axe: {
          run: (
            context: Document,
            options: object,
          ) => Promise<{ violations: { id: string; impact: string; nodes: { html: string }[] }[] }>;
        };
      }
    ).axe;
    const { violations } = await axe.run(document, {
      resultTypes: ['violations'],
      selectors: false,
      // Only a rule that is off by default reads the style sheets.
      preload: false,
    });
    return violations
      .filter(({ impact }) => impact === 'serious' || impact === 'critical')
      .map(({ id, nodes }) => `${id}: ${nodes[0]?.html.slice(0, 160)}`);
  });
}
