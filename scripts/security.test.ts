import { existsSync, readFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';

/** Rows of the table of ASVS in SECURITY.md: what is claimed, and the tests that are named for it. */
const rows = readFileSync('SECURITY.md', 'utf8')
  .split('\n')
  .filter((line) => /^\| V\d+ /.test(line))
  .map((line) => line.split('|').map((cell) => cell.trim()))
  .map(([, requirement, , tests]) => [requirement!, tests!] as const);

test('every chapter has its row', () => expect(rows.length).toBeGreaterThan(20));

test.each(rows)('%s: the tests that are named for it are there', (_requirement, tests) => {
  const named = [...tests.matchAll(/`([^`]+)`: ([^;`]+)/g)];
  expect(named.length).toBeGreaterThan(0);
  for (const [, file, title] of named) {
    expect([file, existsSync(file!)]).toEqual([file, true]);
    expect(readFileSync(file!, 'utf8').replaceAll("\\'", "'")).toContain(title!.trim());
  }
});
