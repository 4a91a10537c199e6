import { createHash } from 'node:crypto';
import {
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, test } from '@jest/globals';
import { runSource } from '../testing/store.ts';
import { FolderHeld, holdFolder } from './lock.ts';

const folder = mkdtempSync(join(tmpdir(), 'netter-lock-'));
const newFolder = (name: string): string => {
  mkdirSync(join(folder, name));
  return join(folder, name);
};
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('a folder is held once, by whatever name it is reached, and another folder is free', async () => {
  const data = newFolder('data');
  const first = await holdFolder(data);
  await expect(holdFolder(data)).rejects.toThrow(FolderHeld);
  symlinkSync(data, join(folder, 'by-another-name'));
  await expect(holdFolder(join(folder, 'by-another-name'))).rejects.toThrow('NETTER_DATA');
  const other = await holdFolder(newFolder('other'));
  first.release();
  (await holdFolder(data)).release();
  other.release();
  expect(existsSync(join(data, 'lock'))).toBe(false);
});

test('a holder that was killed holds nothing', async () => {
  const data = newFolder('killed');
  const child = runSource(
    `const { holdFolder } = await import('./server/folder/lock.ts');
     await holdFolder(${JSON.stringify(data)}); console.log('held'); setInterval(() => {}, 1000);`,
  );
  await new Promise<void>((resolve, reject) => {
    child.stdout!.on('data', (text) => String(text).includes('held') && resolve());
    child.once('exit', () => reject(new Error('The holder ended by itself.')));
  });
  await expect(holdFolder(data)).rejects.toThrow(FolderHeld);
  const ended = new Promise((resolve) => child.once('exit', resolve));
  child.kill('SIGKILL');
  await ended;
  (await holdFolder(data)).release();
});

/** A holder that this kernel cannot tell about: on another machine, or in a container with processes of its own. */
const far = (beat: number): string =>
  JSON.stringify({
    id: 'far',
    host: 'van',
    boot: 'other',
    place: '',
    processes: 'pid:[1]',
    pid: 7,
    began: '9',
    beat,
  });

test('a holder elsewhere holds as long as its beat goes on, and is followed once that stands still', async () => {
  const data = newFolder('shared');
  const path = join(data, 'lock');
  writeFileSync(path, far(1));
  let beat = 1;
  const alive = setInterval(() => writeFileSync(path, far((beat += 1))), 200);
  await expect(holdFolder(data, 1_500)).rejects.toThrow(/another running Netter on van/);
  clearInterval(alive);
  const followed = await holdFolder(data, 800);
  // Whoever wakes up and finds the folder taken writes nothing more.
  writeFileSync(path, far(99));
  expect(() => followed.check()).toThrow(/another Netter has taken/);
  followed.release();
  expect(readFileSync(path, 'utf8')).toBe(far(99));
});

test('a copy of a folder that is held, and the same folder by another mount, look alike: refused, with the way out', async () => {
  const data = newFolder('original');
  const copied = join(folder, 'copied');
  const lock = await holdFolder(data);
  cpSync(data, copied, { recursive: true });
  await expect(holdFolder(copied)).rejects.toThrow(/or a copy\..*delete the file .*copied\/lock/);
  rmSync(join(copied, 'lock'));
  (await holdFolder(copied)).release();
  await expect(holdFolder(data)).rejects.toThrow(FolderHeld);
  lock.release();
});

test('a lock is given up by its own holder only, even where another one took it meanwhile', async () => {
  const data = newFolder('late');
  const lock = await holdFolder(data);
  expect(lock.fromSilent).toBe(false);
  writeFileSync(join(data, 'lock'), far(1));
  lock.release();
  expect(readFileSync(join(data, 'lock'), 'utf8')).toBe(far(1));
  // Nobody can say of a holder elsewhere that it has ended: it was silent, and may go on.
  expect((await holdFolder(data, 300)).fromSilent).toBe(true);
});

test('a folder that Netter 0.1 holds is held', async () => {
  if (process.platform !== 'linux') return;
  const data = newFolder('earlier');
  const name = createHash('sha256').update(data).digest('hex').slice(0, 32);
  const server = createServer((socket) => socket.destroy()).listen(`\0netter-${name}`);
  await new Promise((resolve) => server.once('listening', resolve));
  await expect(holdFolder(data)).rejects.toThrow(FolderHeld);
  await new Promise((resolve) => server.close(resolve));
  (await holdFolder(data)).release();
});

test('of several that find a dead holder at the same time, one gets the folder', async () => {
  for (let round = 0; round < 5; round += 1) {
    const data = newFolder(`race-${round}`);
    writeFileSync(join(data, 'lock'), 'cut sho');
    const tries = await Promise.allSettled(Array.from({ length: 6 }, () => holdFolder(data, 300)));
    const held = tries.filter(({ status }) => status === 'fulfilled');
    expect(held).toHaveLength(1);
    (held[0] as PromiseFulfilledResult<{ release: () => void }>).value.release();
  }
});
