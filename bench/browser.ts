import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { freePort, launchBrowser, root, signedInPage, startServer } from '../e2e/app.ts';
import { largePlan } from './large-plan.ts';

type Note = (work: string, size: string, measured: string, aim: string) => void;

const whole = (values: number[]): string => {
  const sorted = [...values].sort((a, b) => a - b);
  return `${Math.round(sorted[Math.floor(sorted.length / 2)]!)} ms, at most ${Math.round(sorted.at(-1)!)} ms`;
};

/** Time from each key to the paint that answers it, in the page itself. */
async function keys(page: Page, at: string): Promise<number[]> {
  const field = page.locator(`[data-at="${at}"]`);
  await field.focus();
  await page.waitForTimeout(1500);
  await page.evaluate(() => {
    const taken: number[] = [];
    Object.assign(globalThis, { taken });
    addEventListener(
      'keydown',
      () => {
        const began = performance.now();
        // The frame, then a task after it: the answer is painted.
        requestAnimationFrame(() => {
          const { port1, port2 } = new MessageChannel();
          port1.onmessage = () => void taken.push(performance.now() - began);
          port2.postMessage(0);
        });
      },
      { capture: true },
    );
  });
  await field.press('End');
  for (const letter of 'a name of some length') await field.press(letter, { delay: 60 });
  await page.waitForTimeout(500);
  return page.evaluate(() => (globalThis as unknown as { taken: number[] }).taken.slice(1));
}

/** Time from a click on a sheet's name until something of the sheet is painted. */
async function opened(page: Page, sheet: string, shows: string): Promise<number> {
  return page.evaluate(
    async ([href, wanted]) => {
      const began = performance.now();
      document.querySelector<HTMLElement>(`.rail a[href$="/${href}"]`)!.click();
      while (document.querySelector(wanted) === null) await new Promise(requestAnimationFrame);
      await new Promise(requestAnimationFrame);
      return performance.now() - began;
    },
    [sheet, shows] as const,
  );
}

/** The interface in the real browser, on the plan of five hundred devices and five hundred people. */
export async function browser(note: Note): Promise<void> {
  if (!existsSync(join(root, 'dist/web/index.html')))
    return note('a key in a field', 'in the browser', 'not built: run npm start once', 'under 100 ms');
  const folder = mkdtempSync(join(tmpdir(), 'netter-bench-'));
  const port = await freePort();
  const { server, signIn } = await startServer(folder, port);
  const chromium = await launchBrowser();
  try {
    const page = await signedInPage(chromium, signIn, 'folded');
    const put = (plan: unknown): Promise<string> =>
      page.evaluate(async (body) => {
        const reply = await signed('/api/sites', {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body,
        });
        return ((await reply.json()) as { id: string }).id;
      }, JSON.stringify({ plan }));
    const large = await put({ ...largePlan(), demo: false });
    for (const [title, id, size] of [
      ['a demo', 'farrow-sound', 'Farrow Sound'],
      ['the large plan', large, '50 networks, 500 devices, 500 peers'],
    ] as const) {
      await page.goto(`http://127.0.0.1:${port}/sites/${id}/site`);
      await page.locator('.mini-picture svg').first().waitFor();
      await page.waitForTimeout(2500);
      const pictures = [];
      for (let run = 0; run < 5; run += 1) {
        pictures.push(await opened(page, 'picture', '.sheet svg.picture [data-node]'));
        await opened(page, 'site', '[data-at="/site/name"]');
      }
      note('from the click to the picture', `${title}: ${size}, five times`, whole(pictures), 'under 200 ms');
    }
    for (const [sheet, at] of [
      ['addresses', '/devices/250/name'],
      ['rules', '/forwards/150/purpose'],
      ['remote-access', '/vpn/peers/250/person'],
    ] as const) {
      const first = at.replace(/\d+/, '0');
      note(
        'from the click to the sheet',
        `${sheet} of the large plan`,
        `${Math.round(await opened(page, sheet, `[data-at="${first}"]`))} ms`,
        '',
      );
      await page.evaluate((place) => document.querySelector(`[data-at="${place}"]`)?.scrollIntoView(), first);
      note('a key in a field', `${sheet} of the large plan`, whole(await keys(page, first)), 'under 100 ms');
    }
  } finally {
    await chromium.close();
    server.kill('SIGTERM');
    await new Promise((resolve) => server.once('exit', resolve));
    rmSync(folder, { recursive: true, force: true });
  }
}
