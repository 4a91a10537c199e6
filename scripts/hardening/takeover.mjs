import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { launch, present, saveOn, sleep } from './server.mjs';

/** Processes of its own, the same disk: a container, or another machine with a share. */
const elsewhere = ['unshare', '-p', '-f', '--mount-proc', '--kill-child'];

/**
 * One program stands still, a second one takes the folder and saves, the first goes on and is ended in order, the
 * second is killed: nothing that the second acknowledged may be missing.
 */
export async function lostFolder(rounds) {
  const what = 'a program that lost the folder goes on';
  if (spawnSync(elsewhere[0], [...elsewhere.slice(1), 'true']).status !== 0)
    return { what, how: 'namespaces are not allowed here', result: 'not tried', good: true };
  let [saves, lost] = [0, 0];
  for (let round = 0; round < rounds; round += 1) {
    const folder = mkdtempSync(join(tmpdir(), 'netter-hard-lost-'));
    const data = join(folder, 'data');
    const first = launch(data);
    if (!(await first.ready())) return { what, how: '', result: first.output(), good: false };
    const { plan } = await present(data);
    const before = await saveOn(data, plan, 1, () => Date.now() % 7 === 0);
    first.child.kill('SIGSTOP');
    const second = launch(data, { before: elsewhere });
    if (!(await second.ready(90_000))) return { what, how: '', result: second.output(), good: false };
    const taken = await present(data);
    const until = Date.now() + 1_500;
    const done = await saveOn(data, taken.plan, taken.revision, () => Date.now() > until);
    saves += before.acknowledged + done.acknowledged;
    const note = readFileSync(join(data, 'running.json'), 'utf8');
    first.child.kill('SIGCONT');
    await sleep(300);
    await first.end();
    let untouched = false;
    try {
      untouched = readFileSync(join(data, 'running.json'), 'utf8') === note;
    } catch {
      // Gone: the first one removed what was the second one's.
    }
    await second.end('SIGKILL');
    await sleep(200);
    const third = launch(data);
    const there = (await third.ready(90_000)) ? await present(data) : { revision: 0, sound: false };
    if (!untouched || done.acknowledged === 0 || there.revision < done.revision || !there.sound) lost += 1;
    await third.end();
    rmSync(folder, { recursive: true, force: true });
  }
  return {
    what,
    how: `${rounds} rounds, ${saves} acknowledged saves`,
    result: `${lost} rounds in which something was lost`,
    good: lost === 0,
  };
}

/**
 * The same folder by another mount: of a bind, which has its device number, and of a file system in user space, which
 * has another. Both are refused while the first program lives, and say what to do.
 */
export async function otherMounts() {
  const what = 'the same folder by another mount, while it is in use';
  const folder = mkdtempSync(join(tmpdir(), 'netter-hard-mount-'));
  const data = join(folder, 'data');
  const first = launch(data);
  if (!(await first.ready())) return { what, how: '', result: first.output(), good: false };
  const tried = [];
  let opened = 0;
  for (const [kind, mount, unmount] of [
    ['a bind', ['mount', '--bind'], ['umount']],
    ['a file system in user space', ['bindfs'], ['umount']],
  ]) {
    const there = join(folder, kind.replaceAll(' ', '-'));
    mkdirSync(there, { mode: 0o700 });
    if (spawnSync(mount[0], [...mount.slice(1), data, there]).status !== 0) continue;
    const second = launch(there);
    const ready = await second.ready(30_000);
    if (ready || !/in use|another mount|another Netter/i.test(second.output())) opened += 1;
    if (ready) await second.end('SIGKILL');
    tried.push(kind);
    spawnSync(unmount[0], [...unmount.slice(1), there]);
  }
  await first.end();
  rmSync(folder, { recursive: true, force: true });
  return {
    what,
    how: tried.length > 0 ? tried.join(', ') : 'mounts are not allowed here',
    result:
      tried.length > 0 ? `${tried.length - opened} of ${tried.length} refused with the way out` : 'not tried',
    good: opened === 0,
  };
}
