import { spawn } from 'node:child_process';
import { homedir } from 'node:os';
import { join } from 'node:path';
import { buildApp, installPackages, root } from './steps.mjs';

/*
 * Both halves from the source, reloaded on every change: the server restarts, the page reloads in place. The data
 * folder is one of its own, so that work on the program never touches sites.
 */
const port = process.env.NETTER_PORT || '4861';
const pagePort = process.env.NETTER_PAGE_PORT || '5173';

// The server serves what was built where nothing else does; the page of Vite takes precedence.
if (!installPackages({ develop: true }) || !buildApp()) process.exit(1);

const env = {
  ...process.env,
  NETTER_DATA: process.env.NETTER_DATA || join(homedir(), '.netter-dev'),
  NETTER_PORT: port,
  NETTER_OPEN: 'no',
  NETTER_PAGE_PORT: pagePort,
};
const start = (args, stdout) =>
  spawn(process.execPath, args, { cwd: root, env, stdio: ['ignore', stdout, 'inherit'] });
const server = start(
  ['node_modules/tsx/dist/cli.mjs', 'watch', '--clear-screen=false', 'scripts/dev-server.ts'],
  'pipe',
);
// What the server says of its own address is said of the page.
server.stdout.on('data', (text) =>
  process.stdout.write(String(text).replaceAll(`127.0.0.1:${port}`, `127.0.0.1:${pagePort}`)),
);
const page = start(['node_modules/vite/bin/vite.js', '--config', 'web/vite.config.ts'], 'inherit');

const end = () => [server, page].forEach((each) => each.kill());
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, end);
for (const each of [server, page])
  each.on('exit', (code) => {
    process.exitCode ||= code ?? 0;
    end();
  });
