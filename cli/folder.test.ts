import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { run, runOnFolder } from './main.ts';

const folder = mkdtempSync(join(tmpdir(), 'netter-cli-folder-'));
const before = process.env.NETTER_DATA;
beforeAll(() => {
  process.env.NETTER_DATA = join(folder, 'data');
});
afterAll(() => {
  if (before === undefined) delete process.env.NETTER_DATA;
  else process.env.NETTER_DATA = before;
});

async function netter(...args: string[]) {
  let [stdout, stderr] = ['', ''];
  const exit = await runOnFolder(args, {
    stdout: { write: (text) => (stdout += text) },
    stderr: { write: (text) => (stderr += text) },
  });
  return {
    exit,
    stdout,
    stderr: stderr === '' ? undefined : (JSON.parse(stderr) as { error: string; says: string }),
  };
}

test.each([
  [['backup'], 'usage'],
  [['backup', '--all'], 'usage'],
  [['backup', 'a', 'b'], 'usage'],
  [['restore'], 'usage'],
  [['restore', join(folder, 'nothing.gz')], 'unreadable'],
  [['sign-in', 'now'], 'usage'],
  [['sign-in'], 'not-running'],
])('%j is refused in a sentence, and nothing is begun', async (args, error) =>
  expect(await netter(...args)).toMatchObject({
    exit: 2,
    stdout: '',
    stderr: { error, says: expect.stringMatching(/\.$/) },
  }),
);

test('a backup never replaces a file that is there', async () => {
  const file = join(folder, 'there.jsonl.gz');
  writeFileSync(file, 'mine');
  expect(await netter('backup', file)).toMatchObject({ exit: 2, stderr: { error: 'exists' } });
});

test('other commands are not of the folder, and are named together with these', () => {
  expect(runOnFolder(['check'], process)).toBeUndefined();
  expect(runOnFolder(['constructor'], process)).toBeUndefined();
  let said = '';
  run(['nothing'], { stdout: process.stdout, stderr: { write: (text) => (said += text) } });
  expect(said).toMatch(/check, .*backup, restore/);
});
