import { spawn } from 'node:child_process';
import { existsSync, readFileSync, rmSync } from 'node:fs';
import { homedir } from 'node:os';
import { join } from 'node:path';
import { causesOf } from './causes.ts';
import { Access } from './access/access.ts';
import { buildApp } from './app.ts';
import { ownerOnly, writeWhole } from './files.ts';
import { emptyDatabase } from './folder/engine.ts';
import { backupsOf, FolderRefused, openFolder } from './folder/folder.ts';
import { FolderHeld } from './folder/lock.ts';
import { seedDemoSites } from './folder/seed.ts';
import { Counter } from './store/counter.ts';
import { NotWritable } from './store/guard.ts';
import { Upkeep } from './upkeep.ts';
import { Vault } from './vault/vault.ts';

const host = '127.0.0.1';
/** Ending is not held up longer than this by anything that is still open. */
const longestEndMs = 6_000;

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
      empty: join(root, emptyDatabase),
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
    const upkeep = new Upkeep(store, backups, program);
    const keeping = { folder, backups, program, upkeep };
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
      if (saysOf(running)?.key === access.commandLineKey) {
        rmSync(running, { force: true });
        rmSync(join(folder, 'open.html'), { force: true });
      }
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
    await upkeep.begin(opened.rebuilt);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (ending) return;
    await end().catch(() => {});
    const said = causesOf(error).find(
      (each) => each instanceof FolderHeld || each instanceof FolderRefused || each instanceof NotWritable,
    );
    if (said) return fail(said.message);
    if (code === 'EADDRINUSE')
      return fail(
        `Port ${wantedPort} is in use by another program. Close it, or set NETTER_PORT to another port.`,
      );
    if (code === 'EACCES' || code === 'EPERM' || code === 'EROFS')
      return fail(`The data folder ${folder} cannot be written. Set NETTER_DATA to a folder that can.`);
    if (code === 'ENOSPC')
      return fail(`The disk with the data folder ${folder} is full. Delete something there and start again.`);
    // Never the words of the database: they are nobody's, and a query carries what was to be written.
    const ofDatabase = causesOf(error).some((each) =>
      /^[0-9A-Z]{5}$/.test(String((each as { code?: unknown }).code)),
    );
    const reason = ofDatabase
      ? `the database in ${folder} does not do what it should. Keep the folder as it is, set NETTER_DATA to a new one, and restore the newest backup there.`
      : (causesOf(error).at(-1)?.message.split('\n')[0] ?? 'unknown reason').slice(0, 300);
    return fail(`Netter could not start: ${reason}`);
  }
}

/**
 * Started by npm, the server ends with it, even where npm is killed and cannot pass a signal on. Between npm and the
 * server there may be a shell, which then goes on alone: so it is looked at as well whose child that is.
 */
function stopWithParent(stop: (code: number) => void, environment: NodeJS.ProcessEnv): void {
  if (environment.npm_lifecycle_event === undefined) return;
  const lineage = (): string => `${process.ppid} ${parentOf(process.ppid)}`;
  const begun = lineage();
  setInterval(() => lineage() !== begun && stop(0), 1_000).unref();
}

/** Parent of a process, where the system has /proc (proc(5), field 4 of stat); 0 elsewhere. */
function parentOf(pid: number): number {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'latin1');
    return Number(stat.slice(stat.lastIndexOf(')') + 2).split(' ')[1]);
  } catch {
    return 0;
  }
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

/** What the note of the running program says: another one may have taken the folder. */
function saysOf(running: string): { readonly key?: string } | undefined {
  try {
    return JSON.parse(readFileSync(running, 'utf8')) as { key?: string };
  } catch {
    return undefined;
  }
}

function fail(says: string): void {
  console.error(says);
  process.exit(1);
}
