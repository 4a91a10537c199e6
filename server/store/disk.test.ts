import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, test } from '@jest/globals';
import { root } from '../testing/store.ts';
import { FolderHeld, holdFolder } from './disk.ts';

const folder = mkdtempSync(join(tmpdir(), 'netter-lock-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('a folder is held once, by whatever name it is reached, and another folder is free', async () => {
  const data = join(folder, 'data');
  const first = await holdFolder(data);
  await expect(holdFolder(data)).rejects.toThrow(FolderHeld);
  symlinkSync(data, join(folder, 'by-another-name'));
  await expect(holdFolder(join(folder, 'by-another-name'))).rejects.toThrow('NETTER_DATA');
  const other = await holdFolder(join(folder, 'other'));
  await first.release();
  const again = await holdFolder(data);
  await again.release();
  await other.release();
});

test('a holder that was killed holds nothing', async () => {
  const data = join(folder, 'killed');
  const child = spawn(
    process.execPath,
    [
      '--import',
      'tsx',
      '--input-type=module',
      '-e',
      `const { holdFolder } = await import('./server/store/disk.ts');
       await holdFolder(${JSON.stringify(data)}); console.log('held'); setInterval(() => {}, 1000);`,
    ],
    { cwd: root, env: { ...process.env, NODE_OPTIONS: '' } },
  );
  await new Promise<void>((resolve, reject) => {
    child.stdout.on('data', (text) => String(text).includes('held') && resolve());
    child.once('exit', () => reject(new Error('The holder ended by itself.')));
  });
  await expect(holdFolder(data)).rejects.toThrow(FolderHeld);
  const ended = new Promise((resolve) => child.once('exit', resolve));
  child.kill('SIGKILL');
  await ended;
  await (await holdFolder(data)).release();
}, 60_000);
