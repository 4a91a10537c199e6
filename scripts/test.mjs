import { existsSync, mkdtempSync, readFileSync } from 'node:fs';
import { spawnSync } from 'node:child_process';
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

/** A program of a Debian package, installed where it is missing and where this may be done. */
function program(name, purpose) {
  const there = () => existsSync(`/usr/bin/${name}`);
  if (there()) return true;
  console.log(`Installing ${name} ${purpose}.`);
  const apt = (...args) =>
    spawnSync('apt-get', args, {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    }).status === 0;
  if (!apt('update', '-qq') || !apt('install', '-y', '-qq', name))
    console.error(
      `${name} is missing, and apt-get could not install it. Install it as /usr/bin/${name} and run npm test again.`,
    );
  return there();
}

/**
 * Programs with which exported files are tried in network namespaces. Without them, or where nobody may make namespaces,
 * those tests are left out and say so: this is no failure of the program.
 */
function labPrograms() {
  const wanted = {
    nft: 'nftables',
    ip: 'iproute2',
    ping: 'iputils-ping',
    dnsmasq: 'dnsmasq-base',
    busybox: 'busybox',
    wg: 'wireguard-tools',
    'wireguard-go': 'wireguard-go',
  };
  const missing = Object.entries(wanted)
    .filter(([name]) => !['/usr/bin', '/usr/sbin', '/bin', '/sbin'].some((at) => existsSync(`${at}/${name}`)))
    .map(([, name]) => name);
  if (missing.length === 0 || process.platform !== 'linux' || process.getuid?.() !== 0) return;
  console.log(`Installing ${missing.join(', ')} to try exported files in network namespaces.`);
  const apt = (...args) =>
    spawnSync('apt-get', args, {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    });
  apt('update', '-qq');
  apt('install', '-y', '-qq', '--no-install-recommends', ...missing);
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
  // Each takes one core for most of a minute; beside each other they take two for less.
  const [[format, lint], types] = await Promise.all([
    inTurn(
      ['node_modules/prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.'],
      ['node_modules/eslint/bin/eslint.js', '.'],
    ),
    startNode(['node_modules/typescript/bin/tsc', '--noEmit']),
  ]);
  count(format === 0, 'format');
  count(lint === 0, 'lint and layers');
  count(types === 0, 'types');
  count(licencesAreFresh(), 'docs/licences.md is not up to date: npm run licences');
  count(program('tshark', 'to read the capture files that are written'), 'tshark');
  count(program('openssl', 'to read the certificates that are issued'), 'openssl');
  labPrograms();
  const built = buildApp();
  count(built, 'build');
  tests('unit', unitTests);
  if (built) {
    const browser = program('chromium', 'for the tests of the real interface');
    count(browser, 'chromium');
    if (browser) tests('e2e', ['--selectProjects=e2e']);
  }
}
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed === 0 && passed > 0 ? 0 : 1);
