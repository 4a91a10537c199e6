import { spawn } from 'node:child_process';
import { existsSync, readFileSync, rmSync } from 'node:fs';
import { homedir } from 'node:os';
import { join } from 'node:path';
import { Access } from './access/access.ts';
import { buildApp } from './app.ts';
import { ownerOnly, writeWhole } from './files.ts';
import { backupsOf, FolderRefused, openFolder } from './folder/folder.ts';
import { FolderHeld } from './folder/lock.ts';
import { seedDemoSites } from './folder/seed.ts';
import { backUpDaily } from './keeping/daily.ts';
import { Counter } from './store/counter.ts';
import { NotWritable } from './store/guard.ts';
import { lookThrough, type Integrity } from './store/integrity.ts';
import { Vault } from './vault/vault.ts';

const host = '127.0.0.1';
/** Ending is not held up longer than this by anything that is still open. */
const longestEndMs = 6_000;
/** How long the look through the data folder after the start may take. */
const longestLookMs = 10_000;
/** The first look whether the day's backup is there: the start is over by then. */
const firstBackupMs = 30_000;

/**
 * Starts the server on loopback and prints its address, and a one-time address to sign in with. `root` is the folder
 * of the program, where the built web app, the demo sites and the migrations are. What prevents the start is one
 * sentence and exit code 1.
 */
export async function serve(
  root: string,
  environment: NodeJS.ProcessEnv = process.env,
  args: readonly string[] = process.argv.slice(2),
): Promise<void> {
  ownerOnly();
  let end = async (): Promise<void> => {};
  let ending = false;
  /** Whatever ends the program, from its first line on: what is open is closed, and nothing holds it up. */
  const stop = (code: number): void => {
    if (ending) return;
    ending = true;
    setTimeout(() => process.exit(code), longestEndMs);
    void end()
      .catch(() => {})
      .finally(() => process.exit(code));
  };
  process.on('SIGINT', () => stop(0));
  process.on('SIGTERM', () => stop(0));
  process.on('SIGHUP', () => stop(0));
  stopWithParent(stop, environment);

  const folder = environment.NETTER_DATA || join(homedir(), '.netter');
  const wantedPort = Number(environment.NETTER_PORT || 4860);
  if (!Number.isInteger(wantedPort) || wantedPort < 0 || wantedPort > 65535)
    return fail(`NETTER_PORT is "${environment.NETTER_PORT}"; a port is a number from 1 to 65535.`);
  const program = (JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')) as { version: string })
    .version;
  try {
    const counter = new Counter();
    const opened = await openFolder(folder, {
      migrations: join(root, 'server/store/migrations'),
      program,
      adopt: args.includes('--adopt'),
      count: counter.count,
      fill: async (store) => {
        if (environment.NETTER_DEMO !== 'no') await seedDemoSites(store, join(root, 'demo'));
      },
      say: (sentence) => console.log(sentence),
    });
    const { store } = opened;
    end = () => opened.close();
    const access = await Access.open(store.signIns);
    const vault = new Vault(store.vault);
    const hosts = new Set<string>();
    const webRoot = join(root, 'dist/web');
    const backups = environment.NETTER_BACKUPS || backupsOf(folder);
    let backupProblem = '';
    let integrity: Integrity | undefined;
    const keeping = {
      folder,
      backups,
      program,
      problem: () => backupProblem,
      integrity: () => integrity,
    };
    const app = buildApp({
      store,
      vault,
      access,
      keeping,
      hosts,
      ...(existsSync(webRoot) && { webRoot }),
    });
    const running = join(folder, 'running.json');
    end = async () => {
      vault.lock();
      rmSync(running, { force: true });
      rmSync(join(folder, 'open.html'), { force: true });
      await app.close();
      await counter.end();
      await opened.close();
    };
    await app.listen({ host, port: wantedPort });
    const { port } = app.server.address() as { port: number };
    hosts.add(`${host}:${port}`).add(`localhost:${port}`);
    const address = `http://${host}:${port}`;
    writeWhole(running, JSON.stringify({ address, key: access.commandLineKey, pid: process.pid }));
    const signIn = `${address}/sign-in#${access.newCode()}`;
    console.log(`Netter is ready at ${address}`);
    console.log(`A browser that is new here signs in once with: ${signIn}`);
    if (process.stdout.isTTY && environment.NETTER_OPEN !== 'no') openBrowser(folder, signIn);
    store.tidyLater();
    integrity = await lookThrough(store, longestLookMs).catch(() => undefined);
    for (const { name, id, revision } of integrity?.damaged ?? [])
      console.error(`The site ${name || id} cannot be read as it was last saved (revision ${revision}).`);
    for (const table of integrity?.tables ?? [])
      console.error(`The table "${table}" in ${folder} is damaged. The rest works; see the page "Data".`);
    const backUp = async (): Promise<void> => {
      try {
        await backUpDaily(store, backups, program, new Date());
        backupProblem = '';
      } catch (error) {
        backupProblem = `The daily backup into ${backups} was not made. ${error instanceof NotWritable ? error.message : 'The folder cannot be written.'}`;
        console.error(backupProblem);
      }
    };
    setTimeout(() => void backUp(), firstBackupMs).unref();
    setInterval(() => void backUp(), 3_600_000).unref();
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (ending) return;
    await end().catch(() => {});
    if (error instanceof FolderHeld || error instanceof FolderRefused || error instanceof NotWritable)
      return fail(error.message);
    if (code === 'EADDRINUSE')
      return fail(
        `Port ${wantedPort} is in use by another program. Close it, or set NETTER_PORT to another port.`,
      );
    if (code === 'EACCES' || code === 'EPERM' || code === 'EROFS')
      return fail(`The data folder ${folder} cannot be written. Set NETTER_DATA to a folder that can.`);
    if (code === 'ENOSPC')
      return fail(`The disk with the data folder ${folder} is full. Delete something there and start again.`);
    return fail(`Netter could not start: ${((error as Error).message ?? 'unknown reason').slice(0, 300)}`);
  }
}

/** Started by npm, the server ends with it, even where npm is killed and cannot pass a signal on. */
function stopWithParent(stop: (code: number) => void, environment: NodeJS.ProcessEnv): void {
  if (environment.npm_lifecycle_event === undefined) return;
  const parent = process.ppid;
  setInterval(() => process.ppid !== parent && stop(0), 1_000).unref();
}

/**
 * Opens the one-time address in the usual browser. It goes through a file that only its owner can read: what stands
 * on a command line can be seen by every account of the machine.
 */
function openBrowser(folder: string, signIn: string): void {
  const file = join(folder, 'open.html');
  writeWhole(
    file,
    `<!doctype html><meta charset="utf-8"><meta http-equiv="refresh" content="0; url=${signIn}"><title>Netter</title><a href="${signIn}">Open Netter</a>\n`,
  );
  const [command, ...before] =
    process.platform === 'darwin'
      ? ['open']
      : process.platform === 'win32'
        ? ['cmd', '/c', 'start', '']
        : ['xdg-open'];
  const child = spawn(command!, [...before, file], { stdio: 'ignore', detached: true });
  // A machine without a browser or a desktop: the address stands in the terminal.
  child.once('error', () => {});
  child.unref();
}

function fail(says: string): void {
  console.error(says);
  process.exit(1);
}
