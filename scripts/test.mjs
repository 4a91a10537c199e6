import { existsSync, mkdtempSync, readFileSync } from 'node:fs';
import { spawn } from 'node:child_process';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { licencesAreFresh } from './licences.mjs';
import { buildApp, installPackages, jest, nodeIsFit, runNode, startNode, unitTests } from './steps.mjs';

/** Every check of the project, in the order in which a failure is cheapest; ends with one line of counts. */
let passed = 0;
let failed = 0;
const count = (good, name) => {
  if (good) passed += 1;
  else failed += 1;
  if (!good) console.error(`FAILED: ${name}`);
};

const results = mkdtempSync(join(tmpdir(), 'netter-test-'));

function tests(name, selected) {
  const file = join(results, `${name}.json`);
  const status = runNode([...jest, ...selected, '--maxWorkers=2', '--json', `--outputFile=${file}`], {
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (!existsSync(file)) return count(false, `${name}: Jest did not run`);
  const report = JSON.parse(readFileSync(file, 'utf8'));
  passed += report.numPassedTests;
  failed +=
    report.numFailedTests +
    report.testResults.filter((suite) => suite.status === 'failed' && suite.assertionResults.length === 0)
      .length;
  if (status !== 0 && report.success) count(false, `${name}: Jest ended with ${status}`);
}

/** Programs of Debian packages that the tests need, by the file that is there once each is installed. */
const needed = { tshark: 'tshark', openssl: 'openssl', chromium: 'chromium' };
/** With these, exported files are tried in network namespaces; without, those tests are left out and say so. */
const lab = {
  nft: 'nftables',
  ip: 'iproute2',
  ping: 'iputils-ping',
  dnsmasq: 'dnsmasq-base',
  busybox: 'busybox',
  wg: 'wireguard-tools',
  'wireguard-go': 'wireguard-go',
};
const isThere = (name) =>
  ['/usr/bin', '/usr/sbin', '/bin', '/sbin'].some((at) => existsSync(`${at}/${name}`));
const missing = (programs) => Object.keys(programs).filter((name) => !isThere(name));

const started = (command, args, options) =>
  new Promise((resolve) =>
    spawn(command, args, options)
      .on('error', () => resolve(-1))
      .on('exit', (status) => resolve(status)),
  );

/** Installs what is missing, where this may be done, all at once; a missing tool of the lab is no failure. */
async function installPrograms() {
  const tryLab = process.platform === 'linux' && process.getuid?.() === 0;
  const packages = [
    ...missing(needed).map((name) => needed[name]),
    ...(tryLab ? missing(lab).map((name) => lab[name]) : []),
  ];
  if (packages.length === 0) return;
  console.log(`Installing ${packages.join(', ')}.`);
  const options = {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
  };
  await started('apt-get', ['update', '-qq'], options);
  const all = ['install', '-y', '-qq', '--no-install-recommends', ...packages];
  // One package that does not exist here must not keep the others away.
  if ((await started('apt-get', all, options)) !== 0)
    for (const each of packages)
      await started('apt-get', ['install', '-y', '-qq', '--no-install-recommends', each], options);
  for (const name of missing(needed))
    console.error(`${name} is missing, and apt-get could not install it. Install it and run npm test again.`);
}

/** Runs programs one after the other, and returns how each ended. */
async function inTurn(...each) {
  const ended = [];
  for (const args of each) ended.push(await startNode(args));
  return ended;
}

if (!nodeIsFit) count(false, `Node 20.19 or newer is needed; this is ${process.versions.node}`);
else if (!installPackages({ develop: true })) count(false, 'packages');
else {
  // Each takes one core for most of a minute; beside each other they take two for less. Packages come meanwhile.
  const [[format, lint], [types, unused]] = await Promise.all([
    inTurn(
      ['node_modules/prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.'],
      ['node_modules/eslint/bin/eslint.js', '.'],
    ),
    inTurn(
      ['node_modules/typescript/bin/tsc', '--noEmit'],
      ['node_modules/knip/bin/knip.js', '--no-progress'],
    ),
    installPrograms(),
  ]);
  count(format === 0, 'format');
  count(lint === 0, 'lint and layers');
  count(types === 0, 'types');
  count(unused === 0, 'exports, files and packages that nobody uses');
  count(licencesAreFresh(), 'docs/licences.md is not up to date: npm run licences');
  for (const name of Object.keys(needed)) count(isThere(name), name);
  const built = buildApp();
  count(built, 'build');
  tests('unit', unitTests);
  if (built && isThere('chromium')) tests('e2e', ['--selectProjects=e2e']);
}
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed === 0 && passed > 0 ? 0 : 1);
