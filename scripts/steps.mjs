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

/** The same without waiting: a promise of its exit code. */
export const startNode = (args) =>
  new Promise((ended) => {
    const child = spawn(process.execPath, args, { cwd: root, stdio: 'inherit' });
    child.once('error', () => ended(1));
    child.once('exit', (code) => ended(code ?? 1));
  });

/**
 * Packages as the lock file says; true where they are there. `develop` adds those that only tests and checks need:
 * whoever only starts the program does not get them.
 */
export function installPackages({ develop = false } = {}) {
  const stamp = 'node_modules/.netter-installed';
  const wanted = fingerprint(['package-lock.json']);
  const there = stampOf(stamp);
  if (there === `all ${wanted}` || (!develop && there === `run ${wanted}`)) return true;
  console.log('Installing packages from the lock file. This takes about a minute.');
  const npm = process.env.npm_execpath;
  const args = ['ci', '--no-audit', '--no-fund', '--loglevel=error', ...(develop ? [] : ['--omit=dev'])];
  const status =
    npm && /\.c?js$/.test(npm)
      ? runNode([npm, ...args])
      : (spawnSync('npm', args, { cwd: root, stdio: 'inherit', shell: process.platform === 'win32' })
          .status ?? 1);
  if (status === 0) writeFileSync(join(root, stamp), `${develop ? 'all' : 'run'} ${wanted}`);
  return status === 0;
}

/** The web app and the server, built; true where they are there. */
export function buildApp() {
  const stamp = 'dist/.netter-built';
  const wanted = fingerprint(['package-lock.json', 'core', 'web', 'server', 'tsconfig.json']);
  if (stampOf(stamp) === wanted && existsSync(join(root, 'dist/web/index.html'))) return true;
  console.log('Building the app. This takes about fifteen seconds.');
  const vite = 'node_modules/vite/bin/vite.js';
  // What is built is what people get, whoever starts the build: a test runner's environment must not reach it.
  const env = { ...process.env, NODE_ENV: 'production' };
  for (const config of ['web/vite.config.ts', 'server/vite.config.ts'])
    if (runNode([vite, 'build', '--config', config, '--logLevel', 'warn'], { env }) !== 0) return false;
  writeFileSync(join(root, stamp), wanted);
  return true;
}
