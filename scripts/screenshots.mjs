import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from 'playwright-core';
import { root } from './steps.mjs';

/** What a library's router and laptop say of themselves today. */
const foundPastes = [
  'inet 192.168.1.50/24 scope global dynamic eth0\ndefault via 192.168.1.1 dev eth0',
  'Model: Home box 4\nInternet\nConnection type: DHCP\nIP address: 198.51.100.77\nLAN\nIP address: 192.168.1.1\nSubnet mask: 255.255.255.0\nDHCP range: 192.168.1.100 - 192.168.1.199',
  '192.168.1.20 00:00:5e:00:53:81 door-counter static\n192.168.1.150 00:00:5e:00:53:82 camera reserved',
  'Counter page TCP 8443 192.168.1.20 443',
];

/** A made-up letter with two lines. */
const letter = `Order confirmation 40-2219
Customer: Lantern Books
Installation address: 4 Weir Street, Porthaven

Connection 1: fibre, 500/100 Mbit/s, PPPoE, VLAN 7
User name: 00471122@line.example
Password: Wren-Teapot-41
Connection 2: LTE as backup, APN internet.sim.example

Two tills and a card terminal, three cameras, the office printer.
Guests in the reading corner get Wi-Fi.
Card payments must be back within 60 seconds. The owner wants in from home.`;

/** Takes the pictures of docs/screenshots anew, from the demo sites, at 1280 x 800; or those that are named. */
const wanted = process.argv.slice(2);
const pictures = [
  ['sites', '/'],
  ['brief', '/new', { letter }],
  ['picture', '/sites/farrow-sound/picture?show=packet', { press: 'Next hop' }],
  ['site', '/sites/farrow-sound/site', { focus: '/site/notes' }],
  ['uplinks', '/sites/farrow-sound/uplinks', { focus: '/uplinks/0/settings/pppoe/userName' }],
  ['addresses', '/sites/hollin-edge/addresses', { focus: '/networks/0/prefix' }],
  ['rules', '/sites/hollin-edge/rules', { focus: '/forwards/0/outsidePorts' }],
  ['ask', '/sites/farrow-sound/ask?q=from+passengers+to+203.0.113.9+tcp+8443'],
  ['wiring', '/sites/weir-street/wiring', { choose: ['Follow', 'line cable'], look: 'dark' }],
  ['wifi', '/sites/hollin-edge/wifi', { top: '#radios' }],
  ['second', '/sites/larch-house/second', { press: 'Methods', top: '.second-ways' }],
  ['failover', '/sites/farrow-sound/failover', { focus: '/failover/promises/0/withinSeconds' }],
  [
    'remote-access',
    '/sites/farrow-sound/remote-access',
    { press: 'Open Idris Vane, laptop', top: '#people' },
  ],
  ['timeline', '/sites/farrow-sound/bench', { press: 'Run the failure', top: '.timeline' }],
  ['run-sheet', '/sites/farrow-sound/run-sheet', { open: "Change the router's own address" }],
  ['cabinet', '/sites/farrow-sound/cabinet'],
  ['found', '/sites/weir-street/found', { paste: foundPastes }],
  ['acceptance', '/sites/farrow-sound/acceptance'],
  ['handover', '/sites/farrow-sound/handover'],
];

const folder = mkdtempSync(join(tmpdir(), 'netter-'));
const data = join(folder, 'data');
const port = '4862';
const address = `http://127.0.0.1:${port}`;
const server = spawn(process.execPath, [join(root, 'scripts/start.mjs')], {
  cwd: root,
  env: { ...process.env, NETTER_DATA: data, NETTER_PORT: port },
});
const signIn = await new Promise((resolve) => {
  let output = '';
  server.stdout.on('data', (text) => {
    output += String(text);
    const found = /http:\S+\/sign-in#\S+/.exec(output);
    if (found) resolve(found[0]);
  });
});
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
});

const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
const first = await context.newPage();
await first.goto(signIn);
await first.getByRole('heading', { name: 'Netter' }).waitFor();

/** A few steps done, so that the run sheet and the acceptance have something to show. */
const record = (body) =>
  context.request.post(`${address}/api/sites/farrow-sound/records`, {
    data: { initials: 'RH', revision: 1, ...body },
  });
for (const subject of [
  'kit',
  'power',
  'laptop',
  'first-login',
  'admin-secret',
  'backup-before',
  'firmware',
  'remote-admin-off',
])
  await record({ kind: 'tick', subject });
await record({
  kind: 'evidence',
  subject: 'internet:office',
  rung: 'page',
  reading: 'timetable page opened on 10.24.10.140',
});
await record({
  kind: 'evidence',
  subject: 'internet:tickets',
  rung: 'ping-number',
  reading: '4 of 4 from 10.24.20.20',
});
await record({
  kind: 'evidence',
  subject: 'forward:tide',
  rung: 'outside-port',
  seenFrom: '203.0.113.9',
  reading: 'open',
});

for (const [
  name,
  path,
  { letter, focus, open, choose, press, paste, top, look = 'light' } = {},
] of pictures.filter(([each]) => wanted.length === 0 || wanted.includes(each))) {
  const page = await context.newPage();
  await page.emulateMedia({ colorScheme: look });
  await page.goto(address + path);
  await page.locator('h1').first().waitFor();
  await page.waitForTimeout(2500);
  if (letter) {
    await page.getByLabel('What you have of the site').fill(letter);
    await page.getByRole('button', { name: 'Show what was understood' }).click();
    await page.waitForTimeout(1500);
  }
  if (focus) await page.locator(`[data-at="${focus}"]`).focus();
  if (open) await page.getByRole('button', { name: open }).scrollIntoViewIfNeeded();
  if (choose) await page.getByRole('combobox', { name: choose[0], exact: true }).selectOption(choose[1]);
  for (const text of paste ?? []) {
    await page.getByLabel('Paste one listing or page').fill(text);
    await page.getByRole('button', { name: 'Add this paste' }).click();
  }
  if (press) await page.getByRole('button', { name: press }).first().click();
  await page.waitForTimeout(500);
  if (top) await page.locator(top).evaluate((element) => element.scrollIntoView());
  await page.waitForTimeout(200);
  await page.screenshot({ path: join(root, `docs/screenshots/${name}.png`) });
  await page.close();
}
await browser.close();
server.kill('SIGTERM');
await new Promise((resolve) => server.once('exit', resolve));
rmSync(folder, { recursive: true, force: true });
