import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { jest, root, unitTests } from '../steps.mjs';

/** Tests of one place with so many random cases in each property. A row that matches no test has failed. */
export function properties(what, path, runs, name) {
  const folder = mkdtempSync(join(tmpdir(), 'netter-hard-tests-'));
  const file = join(folder, 'report.json');
  spawnSync(
    process.execPath,
    [
      ...jest,
      ...unitTests,
      ...['--testPathPatterns', path, '--json', `--outputFile=${file}`, '--testTimeout=240000'],
      ...(name ? ['--testNamePattern', name] : []),
    ],
    { cwd: root, stdio: 'ignore', env: { ...process.env, NETTER_RUNS: String(runs) } },
  );
  const report = existsSync(file)
    ? JSON.parse(readFileSync(file, 'utf8'))
    : { numPassedTests: 0, numFailedTests: 0, success: false };
  rmSync(folder, { recursive: true, force: true });
  const tried = report.numPassedTests + report.numFailedTests;
  return {
    what,
    how: `${tried} tests${runs > 1 ? `, ${runs} random cases in each property` : ''}`,
    result: tried === 0 ? `no test is called ${path}` : `${report.numFailedTests} failed`,
    good: report.success && report.numPassedTests > 0,
  };
}
