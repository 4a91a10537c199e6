import { browser } from './browser.ts';
import { keyOf, largePlan, wiredPlan } from './large-plan.ts';
import { heardSchema, radioSchema, reachSchema } from '../core/plan/schema.ts';
import { demoPlan } from '../core/testing/plans.ts';
import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { PGlite } from '@electric-sql/pglite';
import {
  formatAddress,
  acceptance,
  bringUp,
  checkProfile,
  compareListing,
  compile,
  createRouter,
  endpointNames,
  exposure,
  ExposureMemory,
  flowOf,
  follow,
  followFrame,
  joinSites,
  judgeSurvey,
  parseListing,
  parseProfile,
  peerVerdict,
  parseQuery,
  planChannels,
  profileText,
  readPlan,
  runChecks,
  runSheet,
  runSum,
  simulate,
  sums,
  surveyReading,
  simulateClient,
  clientCapture,
  widthsFor,
  wiringReport,
  writePcapng,
  years,
  type Flow,
  type Plan,
  type Site,
} from '../core/index.ts';
import { Access } from '../server/access/access.ts';
import { buildApp } from '../server/app.ts';
import { openStore } from '../server/store/store.ts';

/** The speed of what exists, on stated sizes: median of several runs. Nothing here is asserted. */
const root = process.cwd();

interface Row {
  readonly work: string;
  readonly size: string;
  readonly measured: string;
  readonly aim: string;
}
const rows: Row[] = [];
const note = (work: string, size: string, measured: string, aim: string): void => {
  rows.push({ work, size, measured, aim });
};

const median = (values: number[]): number =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
async function time(runs: number, work: () => unknown): Promise<number> {
  const taken: number[] = [];
  for (let run = 0; run < runs; run += 1) {
    const start = performance.now();
    await work();
    taken.push(performance.now() - start);
  }
  return median(taken);
}
const ms = (value: number): string => `${value < 10 ? value.toFixed(1) : Math.round(value)} ms`;

const pppoePlan = (plan: Plan): Plan => ({
  ...plan,
  uplinks: plan.uplinks.map((uplink) => ({ ...uplink, type: 'pppoe', vlan: 7 })),
});

async function core(): Promise<void> {
  const plan = largePlan();
  const size = '50 networks, 300 forwards, 500 devices, 500 peers';
  note('compile + all checks', size, ms(await time(25, () => runChecks(compile(plan)))), 'under 50 ms');
  let latest = plan;
  note(
    'one edit to all findings',
    size,
    ms(
      await time(25, () => {
        const name = `${latest.networks[7]!.name}a`;
        latest = {
          ...latest,
          networks: latest.networks.map((each, index) => (index === 7 ? { ...each, name } : each)),
        };
        return runChecks(compile(latest), '2026-03-02');
      }),
    ),
    'under 20 ms',
  );
  const site = compile(plan);
  note('run sheet + acceptance', size, ms(await time(15, () => acceptance(site, [], runSheet(site)))), '');

  note(
    'a profile for each person',
    '500 peers',
    ms(await time(15, () => site.vpn.peers.map((peer) => profileText(site, peer)))),
    '',
  );
  const [client] = site.vpn.peers;
  const texts = site.vpn.peers.map((peer) => profileText(site, peer));
  note(
    'read and judge profiles from the field',
    '500 profiles',
    ms(
      await time(15, () =>
        texts.map((each) => {
          const profile = parseProfile(each);
          return profile.ok && checkProfile(site, profile.value);
        }),
      ),
    ),
    '',
  );
  const listing = site.vpn.peers
    .map(
      ({ publicKey, address }) =>
        `peer: ${publicKey}\n  allowed ips: ${address ? formatAddress(address) : ''}/32`,
    )
    .join('\n');
  note(
    "a router's own list, read and compared",
    '500 far ends',
    ms(
      await time(15, () => {
        const listed = parseListing(listing, '2026-08-15');
        return listed.ok && compareListing(site, listed.value, '2026-08-15');
      }),
    ),
    '',
  );
  const branches = Array.from({ length: 20 }, (_, index) =>
    compile({
      ...plan,
      site: { ...plan.site, name: `Branch ${index}` },
      networks: plan.networks.slice(0, 3),
      devices: [],
      forwards: [],
      reach: [],
      vpn: { ...plan.vpn, publicKey: keyOf(9000 + index), peers: [], groups: [] },
    }),
  );
  note(
    'sites joined, every block in use twice',
    '20 sites, 190 tunnels',
    ms(await time(5, () => joinSites(branches))),
    '',
  );
  if (client) {
    const trip = simulateClient(site, client, 'roaming');
    note(
      'a client on the wire, with the true handshake',
      '4 frames',
      ms(await time(15, () => clientCapture(site, client, 'roaming', trip, 'router', 1_772_442_000))),
      '',
    );
  }
  if (client)
    note(
      'who reaches what',
      '500 devices',
      ms(
        await time(15, () =>
          site.devices.map(
            (device) =>
              device.address &&
              peerVerdict(site, client, { destination: device.address, protocol: 'tcp', port: 8443 }),
          ),
        ),
      ),
      '',
    );

  const names = endpointNames(site);
  const flows: Flow[] = [];
  for (let index = 0; flows.length < 2000; index += 1) {
    const query = parseQuery(
      index % 3 === 0
        ? `from internet to fibre tcp ${10_000 + (index % 300)}`
        : `from ${names[(index * 7) % names.length]} to ${index % 2 === 0 ? 'internet' : names[(index * 13) % names.length]} tcp 443`,
    );
    const flow = query.ok ? flowOf(site, query.value) : undefined;
    if (flow?.ok) flows.push(flow.value);
  }
  const router = createRouter(site, new Set());
  const pass = (): void => {
    for (const flow of flows) follow(site, flow, router);
  };
  pass();
  const taken = await time(15, pass);
  note(
    'packets through the site',
    size,
    `${Math.round((2 * flows.length) / taken)} 000 a second (a flow is two: there and back)`,
    'over 200 000 a second',
  );

  const examples = sums.map(
    ({ name, inputs }) =>
      [name, Object.fromEntries(inputs.map((each) => [each.name, each.example]))] as const,
  );
  note(
    'sums, each on its example',
    `${sums.length} sums`,
    ms(await time(25, () => examples.map(([name, given]) => runSum(name, given)))),
    '',
  );
  const line = compile(pppoePlan(plan)).lines[0]!;
  let seed = 0;
  const rehearse = (): void => {
    const exchange = bringUp(line, '', (seed += 1));
    if (exchange) writePcapng(exchange.messages, 0);
  };
  note('rehearse PPPoE and write its capture', 'one line', ms(await time(50, rehearse)), '');
  const ferry = readPlan(readFileSync(join(root, 'demo/farrow-sound.json'), 'utf8'));
  if (!ferry.ok) throw new Error(ferry.problem.says);
  const office = compile(ferry.value);
  const promise = office.failover.promises[0]!;
  note(
    'random failures of a site with two lines',
    '10 000 site-years',
    ms(await time(5, () => years(office, promise, 10_000, (seed += 1)))),
    'under 2 s',
  );
  note(
    'a fault, second by second',
    '25 minutes of Farrow Sound',
    ms(
      await time(15, () =>
        simulate(office, {
          faults: [{ kind: 'loss', line: 'fibre', atSeconds: 60, forSeconds: 600, amount: 40 }],
          untilSeconds: 1500,
          seed: (seed += 1),
        }),
      ),
    ),
    '',
  );
  const readings = Array.from({ length: 2000 }, (_, index) =>
    surveyReading.parse({
      id: `r${index}`,
      place: `place ${index % 20}`,
      sinrDb: index % 17,
      downMbps: 10 + (index % 31),
    }),
  );
  const withRules = demoPlan('farrow-sound');
  const [, , , inside] = withRules.networks;
  withRules.devices.push(
    ...Array.from({ length: 100 }, (_, index) => ({
      ...withRules.devices[0]!,
      id: `x${index}`,
      name: `Device ${index}`,
      mac: '',
      network: inside!.id,
      address: `10.24.40.${30 + index}`,
      services: [{ id: 's', name: 'Web', protocol: 'tcp' as const, ports: `${8000 + index}` }],
    })),
  );
  for (let index = 0; index < 500; index += 1) {
    withRules.reach.push(
      reachSchema.parse({
        id: `x${index}`,
        from: withRules.networks[index % 3]!.id,
        to: inside!.id,
        device: `x${index % 100}`,
        service: 's',
      }),
    );
    withRules.forwards.push({
      ...withRules.forwards[0]!,
      id: `x${index}`,
      device: `x${index % 100}`,
      service: 's',
      outsidePorts: `${10_000 + index}`,
      sources: index % 3 === 0 ? [`198.51.100.${index % 250}`] : [],
    });
  }
  const ruled = compile(withRules);
  note('who can reach what', '1 000 rules, 7 senders', ms(await time(15, () => exposure(ruled))), '');
  const memory = new ExposureMemory();
  const rows = (plan: Plan): number => [...memory.rows(plan, compile(plan))].length;
  rows(withRules);
  let turn = 0;
  const edited = (change: (plan: Plan, turn: number) => void): number => {
    const next = structuredClone(withRules);
    change(next, (turn += 1));
    const begun = performance.now();
    rows(next);
    return performance.now() - begun;
  };
  const middle = (change: (plan: Plan, turn: number) => void): number =>
    Array.from({ length: 9 }, () => edited(change)).sort((a, b) => a - b)[4]!;
  note(
    'the same after an edit',
    'one rule between networks, compiled anew',
    ms(middle((next, each) => (next.reach[40]!.device = `x${each}`))),
    '',
  );
  note(
    'the same after an edit',
    'one forward, compiled anew',
    ms(middle((next, each) => (next.forwards[40]!.outsidePorts = String(20_000 + each)))),
    '',
  );
  const cabled = compile(wiredPlan());
  note(
    'the cabling: ways, loops, loads',
    '500 ports, 60 VLANs',
    ms(await time(9, () => wiringReport(cabled))),
    '',
  );
  const radios = Array.from({ length: 40 }, (_, index) => ({
    id: `r${index}`,
    band: index % 2 === 0 ? ('2.4' as const) : ('5' as const),
    width: index % 2 === 0 ? 20 : 40,
  }));
  const heard = Array.from({ length: 60 }, (_, index) => ({
    ssid: `n${index}`,
    band: index % 2 === 0 ? ('2.4' as const) : ('5' as const),
    channel: index % 2 === 0 ? 1 + (index % 11) : 36 + 4 * (index % 4),
    width: 20,
    signalDbm: -50 - (index % 40),
  }));
  note(
    'channels for all radios together',
    '40 radios, 60 others',
    ms(await time(5, () => planChannels(radios, heard))),
    '',
  );
  const aired = crowdedAir(plan);
  note(
    'channel widths for all radios together',
    '40 radios, 60 others',
    ms(await time(5, () => widthsFor(aired))),
    '',
  );
  const [counter] = cabled.wiring.boxes.filter(({ device }) => device !== undefined);
  if (counter)
    note(
      'a frame followed through switches that learn',
      '500 ports, 60 VLANs',
      ms(await time(9, () => followFrame(cabled, counter.sockets[0]!, 0))),
      '',
    );
  note('judge a survey', '2 000 readings', ms(await time(15, () => judgeSurvey(readings, 20))), '');

  const text = JSON.stringify(plan);
  note(
    'read a plan file',
    `${Math.round(text.length / 1024)} kB`,
    ms(await time(15, () => readPlan(text))),
    '',
  );
}

/** A site with forty radios in two bands, and sixty others around. */
function crowdedAir(plan: Plan): Site {
  const band = (index: number): '2.4' | '5' => (index % 2 === 0 ? '2.4' : '5');
  return compile({
    ...plan,
    wifi: {
      ...plan.wifi,
      radios: Array.from({ length: 40 }, (_, index) =>
        radioSchema.parse({ id: `r${index}`, band: band(index) }),
      ),
      heard: Array.from({ length: 60 }, (_, index) =>
        heardSchema.parse({
          id: `h${index}`,
          ssid: `n${index}`,
          band: band(index),
          channel: index % 2 === 0 ? 1 + (index % 11) : 36 + 4 * (index % 4),
          signal: -50 - (index % 40),
        }),
      ),
    },
  });
}

async function server(): Promise<void> {
  const database = await PGlite.create();
  const store = await openStore(database, { migrations: join(root, 'server/store/migrations') });
  const access = await Access.open(store.signIns);
  const app = buildApp({ store, access, hosts: new Set(['bench']) });
  const headers = { host: 'bench', authorization: `Bearer ${access.commandLineKey}` };
  const demo = readPlan(readFileSync(join(root, 'demo/farrow-sound.json'), 'utf8'));
  if (!demo.ok) throw new Error(demo.problem.says);
  await store.create('first', demo.value);
  await database.exec(
    `insert into sites (id, name, customer, town, demo, revision, saved_at, touched, blockers, warnings, words)
     select 'x' || n, 'Site ' || n, 'Customer ' || n % 300, 'Town ' || n % 900, false, 1, now() - n * interval '1 minute', 20000 - n, n % 4, n % 7, 'site ' || n || chr(10) || (select words from sites where id = 'first') from generate_series(1, 9999) n`,
  );
  const get = (url: string): Promise<unknown> => app.inject({ method: 'GET', url, headers });
  note('first page of the list', '10 000 sites', ms(await time(15, () => get('/api/sites'))), 'under 100 ms');
  note(
    'search in the list',
    '10 000 sites',
    ms(await time(15, () => get('/api/sites?search=town%2077'))),
    '',
  );
  let base = 1;
  note(
    'save a revision (in memory)',
    'Farrow Sound',
    ms(
      await time(25, async () => {
        await app.inject({
          method: 'PUT',
          url: '/api/sites/first',
          headers,
          payload: { base, plan: { ...demo.value, site: { ...demo.value.site, notes: `${base}` } } },
        });
        base += 1;
      }),
    ),
    '',
  );
  await app.close();
  await store.close();
}

/** From the command to the first answer, on a data folder that is there already. */
async function start(): Promise<void> {
  if (!existsSync(join(root, 'dist/server/main.mjs')))
    return note('start to first answer', 'later start', 'not built: run npm start once', 'under 3 s');
  const folder = mkdtempSync(join(tmpdir(), 'netter-bench-'));
  const port = await new Promise<number>((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port: free } = probe.address() as { port: number };
      probe.close(() => resolve(free));
    });
  });
  const once = async (): Promise<number> => {
    const began = performance.now();
    const child = spawn(process.execPath, ['scripts/start.mjs'], {
      cwd: root,
      env: { ...process.env, NODE_OPTIONS: '', NETTER_DATA: folder, NETTER_PORT: String(port) },
      stdio: 'ignore',
    });
    for (;;) {
      const file = join(folder, 'running.json');
      const { key } = existsSync(file)
        ? (JSON.parse(readFileSync(file, 'utf8')) as { key: string })
        : { key: '' };
      const headers = { authorization: `Bearer ${key}` };
      const reply = await fetch(`http://127.0.0.1:${port}/api/sites`, { headers }).catch(() => undefined);
      if (reply?.ok) break;
      await new Promise((resolve) => setTimeout(resolve, 10));
    }
    const taken = performance.now() - began;
    child.kill('SIGTERM');
    await new Promise((resolve) => child.once('exit', resolve));
    return taken;
  };
  note('start to first answer', 'new data folder', ms(await once()), '');
  note(
    'start to first answer',
    'later start',
    ms(median([await once(), await once(), await once()])),
    'under 3 s',
  );
  rmSync(folder, { recursive: true, force: true });
}

function weight(): void {
  const folder = join(root, 'dist/web/assets');
  if (!existsSync(folder)) return;
  const page = readFileSync(join(root, 'dist/web/index.html'), 'utf8');
  const scripts = readdirSync(folder).filter((name) => name.endsWith('.js'));
  const kB = (names: string[]): number =>
    names.reduce((sum, name) => sum + gzipSync(readFileSync(join(folder, name))).length, 0) / 1000;
  const first = scripts.filter((name) => page.includes(name));
  const worker = scripts.filter((name) => name.includes('worker'));
  note('script of the first load', 'the list, compressed', `${Math.round(kB(first))} kB`, 'under 350 kB');
  /** A script and all that it needs before it runs; what it asks for later is not counted. */
  const needed = (names: readonly string[], known = new Set<string>()): Set<string> => {
    for (const name of names) {
      if (known.has(name)) continue;
      known.add(name);
      const text = readFileSync(join(folder, name), 'utf8');
      needed(
        [...text.matchAll(/(?:from|import)\s*["'`]\.\/([^"'`]+\.js)["'`]/g)].map(([, found]) => found!),
        known,
      );
    }
    return known;
  };
  const binder = scripts.filter((name) => name.startsWith('site-page-'));
  const sheets = readFileSync(join(root, 'web/sheets/index.ts'), 'utf8');
  const weights = [...sheets.matchAll(/import\('\.\/[\w-]+\/([\w-]+)\.tsx'\)/g)]
    .map(([, sheet]) => sheet!)
    .flatMap((sheet) => {
      const chunk = scripts.find((name) => name.replace(/-[\w-]{8}\.js$/, '') === sheet);
      return chunk ? [{ sheet, kB: kB([...needed([...first, ...binder, chunk])]) }] : [];
    })
    .sort((a, b) => b.kB - a.kB);
  const [heaviest] = weights;
  if (!heaviest) throw new Error('No sheet was found among the scripts: see web/sheets/index.ts.');
  note(
    'script of a sheet',
    `the heaviest, ${heaviest.sheet}, compressed`,
    `${Math.round(heaviest.kB)} kB, and ${Math.round(kB(worker))} kB in the worker`,
    'under 350 kB',
  );
}

await core();
await server();
await start();
await browser(note);
weight();
const widths = (['work', 'size', 'measured', 'aim'] as const).map(
  (key) => [key, Math.max(key.length, ...rows.map((row) => row[key].length))] as const,
);
const print = (row: Row): void =>
  console.log(
    widths
      .map(([key, width]) => row[key].padEnd(width))
      .join('  ')
      .trimEnd(),
  );
print({ work: 'work', size: 'size', measured: 'measured', aim: 'aim' });
rows.forEach(print);
