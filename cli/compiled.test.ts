import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, test } from '@jest/globals';
import { runCompiled } from './compiled.mjs';

const folder = mkdtempSync(join(tmpdir(), 'netter-compiled-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const script = join(folder, 'sum.cjs');
const kept = `${script}.compiled`;

test('what was compiled of another text is not run, though the two are of one length', () => {
  writeFileSync(script, 'exports.answer = () => 41;');
  const first = runCompiled(script);
  expect((first.exports.answer as () => number)()).toBe(41);
  first.keep();
  writeFileSync(script, 'exports.answer = () => 42;');
  expect((runCompiled(script).exports.answer as () => number)()).toBe(42);
});

test('a kept file that is damaged, cut short or empty does no harm', () => {
  const { keep } = runCompiled(script);
  keep();
  const whole = readFileSync(kept);
  expect(statSync(kept).size).toBeGreaterThan(100);
  const noisy = (from: number, to: number): Buffer => Buffer.from(whole).fill(0xa5, from, to);
  const damaged = [noisy(0, 30), noisy(34, 60), noisy(110, 200), noisy(whole.length - 9, whole.length)];
  for (const spoilt of [...damaged, whole.subarray(0, 150), whole.subarray(0, 32), Buffer.alloc(0)]) {
    writeFileSync(kept, spoilt);
    expect((runCompiled(script).exports.answer as () => number)()).toBe(42);
  }
});
