import { spawnSync } from 'node:child_process';
import { copyFileSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ask, launch, present, saveOn, sleep } from './server.mjs';

const temporary = (name) => mkdtempSync(join(tmpdir(), `netter-hard-${name}-`));
const run = (...args) => spawnSync(args[0], args.slice(1), { encoding: 'utf8' });

/** Sites that are saved at the same time. */
const savedSites = ['weir-street', 'farrow-sound', 'mill-lane', 'larch-house'];

/**
 * The server is killed while several save, at moments spread over its life; each revision that was acknowledged must
 * be there, and be the one that was sent.
 */
export async function killed(rounds) {
  const folder = temporary('kill');
  const data = join(folder, 'data');
  const acknowledged = new Map(savedSites.map((site) => [site, []]));
  const newest = new Map(savedSites.map((site) => [site, 1]));
  let [saves, lost] = [0, 0];
  const look = async (server) => {
    if (!(await server.ready())) return server.output();
    for (const site of savedSites) {
      for (const number of acknowledged.get(site)) {
        const { status, body } = await ask(data, `/api/sites/${site}/revisions/${number}`);
        if (status !== 200 || body.plan.site.notes !== `saved on ${number - 1}`) lost += 1;
      }
      // Old ones may be thinned one day: each is looked at once.
      acknowledged.set(site, []);
      newest.set(site, (await present(data, site)).revision);
    }
    return undefined;
  };
  for (let round = 0; round < rounds; round += 1) {
    const server = launch(data);
    const problem = await look(server);
    if (problem !== undefined) return { what: 'kill -9 while saving', how: '', result: problem, good: false };
    setTimeout(() => server.child.kill('SIGKILL'), 120 + ((round * 137) % 900));
    await Promise.all(
      savedSites.map(async (site) => {
        const { plan } = await present(data, site).catch(() => ({}));
        if (!plan) return;
        const from = newest.get(site);
        const done = await saveOn(data, plan, from, () => false, site);
        saves += done.acknowledged;
        for (let number = from + 1; number <= done.revision; number += 1) acknowledged.get(site).push(number);
      }),
    );
    await server.ended;
  }
  const server = launch(data);
  const problem = await look(server);
  await server.end();
  rmSync(folder, { recursive: true, force: true });
  return {
    what: 'kill -9 while several save',
    how: `${rounds} rounds, ${savedSites.length} sites at a time, ${saves} acknowledged saves, each looked at`,
    result: problem ?? `${lost} lost`,
    good: problem === undefined && lost === 0 && saves > 0,
  };
}

/** The server is killed while it makes its folder; the next start makes it whole. */
export async function killedAtBirth(tries) {
  const folder = temporary('birth');
  const places = [];
  let broken = 0;
  for (let one = 0; one < tries; one += 1) {
    const data = join(folder, `data-${one}`);
    const afterMs = 150 + one * (6_000 / tries);
    const server = launch(data);
    await sleep(afterMs);
    await server.end(one % 3 === 2 ? 'SIGTERM' : 'SIGKILL');
    places.push(Math.round(afterMs));
    const again = launch(data);
    const good = (await again.ready()) && (await ask(data, '/api/sites')).body.total === 5;
    if (!good) broken += 1;
    await again.end();
    rmSync(data, { recursive: true, force: true });
  }
  rmSync(folder, { recursive: true, force: true });
  return {
    what: 'ended while a new folder is made',
    how: `${tries} tries, ${places[0]} to ${places.at(-1)} ms after the start`,
    result: `${broken} folders that did not start again`,
    good: broken === 0,
  };
}

/** What the disk holds at one instant is copied and mounted elsewhere, as after a power cut. */
export async function powerCuts(cuts) {
  const what = 'power cut (copied ext4)';
  const folder = temporary('power');
  const image = join(folder, 'disk.img');
  const at = join(folder, 'disk');
  mkdirSync(at);
  const mounted =
    run('truncate', '-s', '400M', image).status === 0 &&
    run('mkfs.ext4', '-q', '-F', image).status === 0 &&
    run('mount', '-o', 'loop', image, at).status === 0;
  if (!mounted) return { what, how: 'loop mounts are not allowed here', result: 'not tried', good: true };
  const copy = join(folder, 'copy.img');
  const other = join(folder, 'copy');
  mkdirSync(other);
  let [saves, lost] = [0, 0];
  try {
    const server = launch(join(at, 'data'));
    if (!(await server.ready())) return { what, how: '', result: server.output(), good: false };
    let { revision, plan } = await present(join(at, 'data'));
    for (let cut = 0; cut < cuts; cut += 1) {
      const until = Date.now() + 150 + ((cut * 211) % 600);
      const done = await saveOn(join(at, 'data'), plan, revision, () => Date.now() > until);
      revision = done.revision;
      saves += done.acknowledged;
      // Nothing more is written from here on; what is not on the disk yet is not in the copy.
      server.child.kill('SIGSTOP');
      copyFileSync(image, copy);
      server.child.kill('SIGCONT');
      if (run('mount', '-o', 'loop', copy, other).status !== 0) lost += 1;
      else {
        // The program of the first disk lives: its lock came along, and a person who copies a folder takes it away.
        rmSync(join(other, 'data', 'lock'), { force: true });
        const after = launch(join(other, 'data'));
        const good = await after.ready(90_000);
        const there = good ? await present(join(other, 'data')) : { revision: 0, sound: false };
        if (there.revision < revision || !there.sound) lost += 1;
        await after.end('SIGKILL');
        await sleep(100);
        run('umount', '-l', other);
      }
    }
    await server.end();
  } finally {
    await sleep(200);
    run('umount', '-l', other);
    run('umount', '-l', at);
    rmSync(folder, { recursive: true, force: true });
  }
  return { what, how: `${cuts} cuts, ${saves} acknowledged saves`, result: `${lost} lost`, good: lost === 0 };
}

/** A disk fills up while sites are saved, and gets room again. */
export async function fullDisk(megabytes) {
  const what = `disk of ${megabytes} MB, filled up`;
  const folder = temporary('disk');
  const at = join(folder, 'disk');
  mkdirSync(at);
  if (run('mount', '-t', 'tmpfs', '-o', `size=${megabytes}m`, 'tmpfs', at).status !== 0)
    return { what, how: 'mounts are not allowed here', result: 'not tried', good: true };
  try {
    const data = join(at, 'data');
    const server = launch(data);
    if (!(await server.ready())) {
      const said = server.output().trim().split('\n').at(-1);
      return { what, how: 'start', result: `refused: ${said.slice(0, 60)} …`, good: /disk/.test(said) };
    }
    const { plan } = await present(data);
    const until = Date.now() + 4_000;
    const first = await saveOn(data, plan, 1, () => Date.now() > until - 2_500);
    const free = Number(run('df', '--output=avail', '-B1', at).stdout.split('\n')[1]);
    writeFileSync(join(at, 'film.bin'), Buffer.alloc(Math.max(0, free - 12 * 2 ** 20)));
    const full = await saveOn(data, plan, first.revision, () => Date.now() > until);
    const reads = (await ask(data, '/api/sites/hollin-edge')).status;
    rmSync(join(at, 'film.bin'));
    const later = Date.now() + 1_000;
    const again = await saveOn(data, plan, full.revision, () => Date.now() > later);
    const good = full.acknowledged === 0 && full.refused > 0 && reads === 200 && again.acknowledged > 0;
    await server.end();
    return {
      what,
      how: `${first.acknowledged} saves, then full: ${full.refused} refused, reading ${reads}`,
      result: `with room again ${again.acknowledged} saves, no restart`,
      good,
    };
  } finally {
    await sleep(200);
    run('umount', '-l', at);
    rmSync(folder, { recursive: true, force: true });
  }
}
