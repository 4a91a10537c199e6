import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Page } from 'playwright-core';
import { axeFindings, openApp, type App } from './app.ts';

/*
 * Somebody who never saw the product, on an empty folder, with the letter of a made-up shop: from the paste to a plan
 * without a blocker. Every key and every click is counted.
 */

const letter = `Harbour Lines: order confirmation 40-2219
Customer: Lantern Books
Installation address: 4 Weir Street, Porthaven

Your connection 1 is a fibre line with 500/100 Mbit/s. Dial in with PPPoE on VLAN 7.
User name: 00471122@line.example
Password: Wren-Teapot-41

Connection 2 is an LTE card as a backup.
APN: internet.sim.example
Data: 20 GB a month

To be connected: two tills and a card terminal, three cameras, the office printer.
Guests in the reading corner get Wi-Fi. The owner wants in from home.
Card payments must be back within 60 seconds.
Kind regards`;

let app: App;
let page: Page;
let gestures = 0;
const press = async (key: string): Promise<void> => {
  gestures += 1;
  await page.keyboard.press(key);
};
const type = async (text: string): Promise<void> => {
  gestures += text.length;
  await page.keyboard.type(text);
};

beforeAll(async () => {
  app = await openApp('folded');
  page = app.page;
}, 120_000);
afterAll(() => app.close());

describe('from a letter to a plan', () => {
  test('a two-line shop: no blocker, in forty keys and clicks beyond the paste', async () => {
    gestures += 1;
    await page.getByRole('link', { name: 'New site' }).click();
    const field = page.getByLabel('What you have of the site');
    await field.waitFor();
    await page.evaluate((text) => navigator.clipboard.writeText(text), letter);
    await page.keyboard.press('Control+v');
    await page.getByText('VLAN ID of the fibre line').waitFor();
    await page.getByText('Kind regards').waitFor();
    expect(await page.locator('.understood').textContent()).not.toContain('Teapot');
    // One question at a time; Enter takes the likely answer, and what is typed answers too.
    const asked: string[] = [];
    for (;;) {
      const question = page.locator('.question');
      const title = (await question.locator('h2').textContent()) ?? '';
      if (title === 'No open questions') break;
      expect(asked).not.toContain(title);
      asked.push(title);
      await question.focus();
      if (title.startsWith('By which name')) {
        await question.getByRole('textbox').focus();
        await type('books.dns.example');
      }
      await press('Enter');
      await page.waitForFunction(
        (before) => document.querySelector('.question h2')?.textContent !== before,
        title,
      );
    }
    expect(asked.length).toBeLessThanOrEqual(12);
    expect(await page.getByRole('region', { name: 'Resulting plan' }).textContent()).not.toMatch(/blocker/);
    expect(await axeFindings(page)).toEqual([]);
    gestures += 1;
    await page.getByRole('button', { name: 'Make the site' }).click();
    await page.getByRole('heading', { name: 'Picture', exact: true }).waitFor();
    await page.getByRole('button', { name: /^Fibre,.*, line/ }).waitFor();
    expect(await page.locator('.rail').textContent()).not.toMatch(/blocker/);
    expect(gestures).toBeLessThanOrEqual(40);
    // The password waits for the vault, and is nowhere else.
    await page.getByText('password of the fibre line').waitFor();
    const saved = await page.evaluate(async () =>
      (await signed(location.pathname.replace('/sites', '/api/sites').replace('/picture', ''))).text(),
    );
    expect(saved).toContain('00471122@line.example');
    expect(saved).not.toContain('Teapot');
  }, 120_000);

  test('every value says where it came from, until somebody confirms it', async () => {
    await page.getByRole('link', { name: 'Uplinks' }).click();
    await page.locator('[data-at="/uplinks/0/vlan"]').focus();
    const workings = page.getByRole('complementary', { name: 'Workings' });
    await workings.getByText('From the text, line 5').waitFor();
    await workings.getByRole('button', { name: 'Confirm', exact: true }).click();
    await workings.getByText('From the text, line 5').waitFor({ state: 'detached' });
  }, 60_000);

  test('a folded figure opens by search, and F7 opens them all', async () => {
    const mtu = page.locator('[data-at="/uplinks/0/mtuBytes"]');
    expect(await mtu.count()).toBe(0);
    await page.keyboard.press('Control+k');
    await page.keyboard.type('maximum transmission');
    await page.getByRole('option', { name: /^MTU/ }).click();
    await page.locator('[data-at="/uplinks/0/mtuBytes"]:focus').waitFor();
    await page.keyboard.press('F7');
    await page.locator('[data-at="/uplinks/1/mtuBytes"]').waitFor();
    await page.keyboard.press('F7');
    await page.locator('[data-at="/uplinks/1/mtuBytes"]').waitFor({ state: 'detached' });
  }, 60_000);

  test('Ask finds a device, a finding, a command and another site while it is typed', async () => {
    const option = async (typed: string, name: RegExp): Promise<void> => {
      await page.keyboard.press('Control+k');
      await page.keyboard.type(typed);
      await page.getByRole('option', { name }).first().waitFor();
      await page.keyboard.press('Escape');
    };
    await option('camera 2', /^Camera 2/);
    await option('vault', /^Open the vault/);
    await option('farrow', /^Farrow Sound ferry office/);
    await option('from office to internet tcp 443', /^from office to internet tcp 443/);
  }, 60_000);

  test('the picture follows a packet, and is walked by arrows', async () => {
    await page.getByRole('link', { name: /^1\s*Picture/ }).click();
    await page.getByRole('button', { name: 'A packet' }).click();
    await page.getByText('Arrives.').waitFor();
    await page.getByRole('button', { name: 'Next hop' }).click();
    await page.locator('.node-on').first().waitFor();
    const focused = (): Promise<string | undefined> =>
      page.evaluate(() => (document.activeElement as SVGElement | null)?.dataset.node);
    await page.locator('.node-router').focus();
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('ArrowRight');
    expect(await focused()).not.toBe('router');
    await page.locator('.node-network').first().focus();
    await page.keyboard.press('Enter');
    await page.locator('[data-at^="/networks/"]:focus').waitFor();
    expect(await axeFindings(page)).toEqual([]);
    expect(app.offences).toEqual([]);
  }, 60_000);
});
