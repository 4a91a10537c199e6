import { spawnSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { buildApp, installPackages, root } from './steps.mjs';
import { fullDisk, killed, killedAtBirth, powerCuts } from './hardening/ends.mjs';
import { others } from './hardening/others.mjs';
import { properties } from './hardening/properties.mjs';
import { lostFolder, otherMounts } from './hardening/takeover.mjs';

/**
 * Tries to break what must hold, and prints, or with --write writes, the table of SECURITY.md with the commit
 * and the day on which it was made.
 */
if (!installPackages({ develop: true }) || !buildApp()) process.exit(1);

const rows = [];
const note = (row) => {
  rows.push(row);
  console.error(`${row.good ? 'good' : 'FAILED'}: ${row.what}: ${row.how}; ${row.result}`);
};

note(await killed(10));
note(await killedAtBirth(6));
note(await powerCuts(4));
for (const megabytes of [90, 140, 250]) note(await fullDisk(megabytes));
for (const row of await others()) note(row);
note(await lostFolder(2));
note(await otherMounts());

/** Property tests with many more runs than `npm test` takes: what is tried, where, and how often. */
for (const [what, path, runs, name] of [
  ['hostile requests, every route', 'server/hostile', 40],
  ['hostile texts, every reader', 'core/hostile', 1000],
  ['letters that are written from facts, read back', 'core/intake/letter/written', 2000],
  ['any plan that is let in', 'core/plan/any-plan', 400],
  ['formats that leave', 'core/base/encode/', 400],
  ['hostile plans, every output, read by its own program', 'kernel/hostile', 15],
  ['mistakes made on purpose in the meaning of a plan', 'kernel/readings', 1],
  ['backups made up by somebody, and the largest of everything', 'server/keeping/limits', 1],
  ['proofs of requests', 'server/access/', 1],
  [
    'damage that can be mended, and who lost the folder',
    'server/folder/folder.test',
    1,
    'built anew|lost the folder|killed program',
  ],
])
  note(properties(what, path, runs, name));

const heavy = spawnSync(process.execPath, ['--import', 'tsx', 'bench/heavy.ts'], {
  cwd: root,
  encoding: 'utf8',
});
const measured = heavy.stdout
  .trim()
  .split('\n')
  .filter((line) => line !== '');
for (const line of measured) {
  const { what, size, compileMs, checksMs, sheetMs, acceptanceMs } = JSON.parse(line);
  note({
    what: `heavy plan: ${what}`,
    how: `${size} %`,
    result: `compile ${compileMs}, checks ${checksMs}, run sheet ${sheetMs}, acceptance ${acceptanceMs} ms`,
    good: true,
  });
}
if (heavy.status !== 0 || measured.length === 0)
  note({ what: 'heavy plans', how: '', result: 'the measuring did not end', good: false });

const git = (...args) => spawnSync('git', args, { cwd: root, encoding: 'utf8' }).stdout.trim();
const commit = `${git('rev-parse', '--short', 'HEAD')}${git('status', '--porcelain', '--', 'core', 'server', 'web') === '' ? '' : ' with changes'}`;
const table = [
  `Commit ${commit}, ${new Date().toISOString().slice(0, 10)}.`,
  '',
  '| what is tried | how much | result |',
  '| --- | --- | --- |',
  ...rows.map(({ what, how, result, good }) => `| ${what} | ${how} | ${good ? '' : 'FAILED: '}${result} |`),
].join('\n');
console.log(table);
const failed = rows.filter(({ good }) => !good).length;
console.log(`\n${rows.length - failed} passed, ${failed} failed`);
if (process.argv.includes('--write')) {
  const file = join(root, 'SECURITY.md');
  const text = readFileSync(file, 'utf8');
  const [before] = text.split('<!-- hardening -->');
  const after = text.split('<!-- /hardening -->')[1];
  writeFileSync(file, `${before}<!-- hardening -->\n\n${table}\n\n<!-- /hardening -->${after}`);
  spawnSync(process.execPath, ['node_modules/prettier/bin/prettier.cjs', '--write', 'SECURITY.md'], {
    cwd: root,
  });
}
process.exit(failed === 0 ? 0 : 1);
