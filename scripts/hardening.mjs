import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildApp, installPackages, root } from './steps.mjs';
import { fullDisk, killed, killedAtBirth, powerCuts } from './hardening/ends.mjs';
import { others } from './hardening/others.mjs';

/** Tries to break what must hold, for ten minutes at most, and prints the table of SECURITY.md. */
if (!installPackages({ develop: true }) || !buildApp()) process.exit(1);

const rows = [];
const note = (row) => {
  rows.push(row);
  console.error(`${row.good ? 'good' : 'FAILED'}: ${row.what}: ${row.how}; ${row.result}`);
};

note(await killed(12));
note(await killedAtBirth(8));
note(await powerCuts(5));
for (const megabytes of [90, 140, 250]) note(await fullDisk(megabytes));
for (const row of await others()) note(row);

/** The property tests with many more runs than `npm test` takes. */
function properties(what, pattern, runs) {
  const folder = mkdtempSync(join(tmpdir(), 'netter-hard-tests-'));
  const file = join(folder, 'report.json');
  spawnSync(
    process.execPath,
    [
      ...[
        '--experimental-vm-modules',
        '--no-warnings',
        'node_modules/jest/bin/jest.js',
        '--selectProjects',
        'unit',
      ],
      ...['--testPathPatterns', pattern, '--json', `--outputFile=${file}`, '--testTimeout=240000'],
    ],
    { cwd: root, stdio: 'ignore', env: { ...process.env, NETTER_RUNS: String(runs) } },
  );
  const report = JSON.parse(readFileSync(file, 'utf8'));
  rmSync(folder, { recursive: true, force: true });
  note({
    what,
    how: `${report.numTotalTests} tests, ${runs} random cases in each property`,
    result: `${report.numFailedTests} failed`,
    good: report.success && report.numPassedTests > 0,
  });
}
properties('hostile requests, every route', 'server/hostile', 60);
properties('hostile texts, every reader', 'core/readings/hostile', 1500);
properties('any plan that is let in', 'core/plan/any-plan', 600);
properties('formats that leave', 'core/formats/encode', 400);

const heavy = spawnSync(process.execPath, ['--import', 'tsx', 'bench/heavy.ts'], {
  cwd: root,
  encoding: 'utf8',
});
for (const line of heavy.stdout.trim().split('\n')) {
  const { what, size, compileMs, checksMs, sheetMs, acceptanceMs } = JSON.parse(line);
  note({
    what: `heavy plan: ${what}`,
    how: `${size} %`,
    result: `compile ${compileMs}, checks ${checksMs}, run sheet ${sheetMs}, acceptance ${acceptanceMs} ms`,
    good: true,
  });
}

console.log('| what is tried | how much | result |');
console.log('| --- | --- | --- |');
for (const { what, how, result } of rows) console.log(`| ${what} | ${how} | ${result} |`);
const failed = rows.filter(({ good }) => !good).length;
console.log(`\n${rows.length - failed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
