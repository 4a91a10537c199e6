import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** Folder of the program. Nothing here needs a package, so that it runs on a fresh clone, on any desktop system. */
export const root = dirname(dirname(fileURLToPath(import.meta.url)));

const [major, minor] = process.versions.node.split('.').map(Number);
export const nodeIsFit = major > 20 || (major === 20 && minor >= 19);

/** Hash of files and whole folders, so that a step is done again only when something it uses has changed. */
function fingerprint(paths) {
  const hash = createHash('sha256');
  const add = (path) => {
    const full = join(root, path);
    if (!existsSync(full)) return;
    if (statSync(full).isDirectory()) for (const name of readdirSync(full).sort()) add(join(path, name));
    else if (!/\.test\.tsx?$/.test(path)) hash.update(path.replaceAll('\\', '/')).update(readFileSync(full));
  };
  paths.forEach(add);
  return hash.digest('hex');
}

const stampOf = (file) => (existsSync(join(root, file)) ? readFileSync(join(root, file), 'utf8') : '');

/** Runs a program of Node's or a package's in the program's folder; its exit code. */
export function runNode(args, options = {}) {
  return spawnSync(process.execPath, args, { cwd: root, stdio: 'inherit', ...options }).status ?? 1;
}

/**
 * What runs Jest. Code of the database is compiled once and quickly: a test runs it too briefly for more to pay.
 */
export const jest = [
  '--liftoff-only',
  ...['--import', './scripts/plain-node.mjs'],
  '--no-warnings',
  'node_modules/jest/bin/jest.js',
];
/** Every test but those in a browser. */
export const unitTests = ['--selectProjects=unit', '--selectProjects=web', '--selectProjects=page'];

/** The same without waiting: a promise of its exit code. */
export const startNode = (args) =>
  new Promise((ended) => {
    const child = spawn(process.execPath, args, { cwd: root, stdio: 'inherit' });
    child.once('error', () => ended(1));
    child.once('exit', (code) => ended(code ?? 1));
  });

const packagesIn = (file) => {
  try {
    return JSON.parse(readFileSync(join(root, file), 'utf8')).packages;
  } catch {
    return {};
  }
};

/** Whether what npm notes of what it installed (package-lock.json, npm-ci(1)) is all that the lock file asks for. */
function packagesAreThere(wanted, there, develop) {
  return Object.entries(wanted).every(
    ([path, { version, dev, devOptional, optional }]) =>
      path === '' ||
      optional ||
      (!develop && (dev || devOptional)) ||
      (there[path]?.version === version && existsSync(join(root, path))),
  );
}

/**
 * Packages as the lock file says, whoever installed them; true where they are there. `develop` adds those that only
 * tests and checks need: whoever only starts the program does not get them, and who has them keeps them.
 */
export function installPackages({ develop = false } = {}) {
  const wanted = packagesIn('package-lock.json');
  const there = packagesIn('node_modules/.package-lock.json');
  if (packagesAreThere(wanted, there, develop)) return true;
  const all = develop || Object.values(there).some(({ dev }) => dev);
  console.log('Installing packages from the lock file. This takes about a minute.');
  const npm = process.env.npm_execpath;
  const args = ['ci', '--no-audit', '--no-fund', '--loglevel=error', ...(all ? [] : ['--omit=dev'])];
  const status =
    npm && /\.c?js$/.test(npm)
      ? runNode([npm, ...args])
      : (spawnSync('npm', args, { cwd: root, stdio: 'inherit', shell: process.platform === 'win32' })
          .status ?? 1);
  return status === 0;
}

/** An empty database of the engine that is installed, which new folders begin with. */
export const newDatabase = 'dist/new-database.tar.gz';

function buildDatabase() {
  const stamp = 'dist/.netter-database';
  const wanted = fingerprint(['package-lock.json', 'scripts/new-database.mjs']);
  if (stampOf(stamp) === wanted && existsSync(join(root, newDatabase))) return true;
  if (runNode(['scripts/new-database.mjs']) !== 0) return false;
  writeFileSync(join(root, stamp), wanted);
  return true;
}

/** When the newest file of a kind below some folders was written, in milliseconds. */
const newest = (paths) =>
  Math.max(
    ...paths.map((path) => {
      const full = join(root, path);
      const found = statSync(full);
      if (!found.isDirectory()) return found.mtimeMs;
      return newest(readdirSync(full).map((name) => join(path, name)));
    }),
  );

/** The command line, built. */
export const commandLine = join(root, 'dist/netter.cjs');

/**
 * The command line as one file; true where it is there and no source is newer. Looks at times and not at texts: a
 * command is over in less time than reading them takes. What is said goes where no answer of a command goes.
 */
export function buildCommandLine() {
  const sources = ['package-lock.json', 'core', 'cli'];
  if (existsSync(commandLine) && statSync(commandLine).mtimeMs >= newest(sources)) return true;
  console.error('Building netter. This takes some seconds, and happens when its source has changed.');
  const args = ['node_modules/vite/bin/vite.js', 'build', '--config', 'cli/vite.config.ts'];
  return (
    runNode([...args, '--logLevel', 'warn'], {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, NODE_ENV: 'production' },
    }) === 0 && runNode(['cli/keep-compiled.mjs']) === 0
  );
}

/** The web app, the server, the command line and an empty database, built; true where they are there. */
export function buildApp() {
  const stamp = 'dist/.netter-built';
  const wanted = fingerprint(['package-lock.json', 'core', 'web', 'server', 'tsconfig.json']);
  if (stampOf(stamp) === wanted && existsSync(join(root, 'dist/web/index.html')))
    return buildDatabase() && buildCommandLine();
  console.log('Building the app. This takes about half a minute.');
  const vite = 'node_modules/vite/bin/vite.js';
  // What is built is what people get, whoever starts the build: a test runner's environment must not reach it.
  const env = { ...process.env, NODE_ENV: 'production' };
  for (const config of ['web/vite.config.ts', 'server/vite.config.ts'])
    if (runNode([vite, 'build', '--config', config, '--logLevel', 'warn'], { env }) !== 0) return false;
  writeFileSync(join(root, stamp), wanted);
  return buildDatabase() && buildCommandLine();
}
