import { existsSync } from 'node:fs';
import { homedir } from 'node:os';
import { join } from 'node:path';
import { buildApp } from './app.ts';
import { FolderHeld, holdFolder, openFolder } from './store/disk.ts';
import { seedDemoSites } from './store/seed.ts';
import { openStore } from './store/store.ts';

const host = '127.0.0.1';

/**
 * Starts the server on loopback and prints its address. `root` is the folder of the program, where the built web
 * app, the demo sites and the migrations are. What prevents the start is one sentence and exit code 1.
 */
export async function serve(root: string, environment: NodeJS.ProcessEnv = process.env): Promise<void> {
  const folder = environment.NETTER_DATA || join(homedir(), '.netter');
  const port = Number(environment.NETTER_PORT || 4860);
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    return fail(`NETTER_PORT is "${environment.NETTER_PORT}"; a port is a number from 1 to 65535.`);
  try {
    const lock = await holdFolder(folder);
    const database = join(folder, 'database');
    if (!existsSync(database))
      console.log('Preparing the data folder. This happens once and takes about ten seconds.');
    const store = await openStore(await openFolder(database), join(root, 'server/store/migrations'));
    await seedDemoSites(store, join(root, 'demo'));
    const hosts = new Set([`${host}:${port}`, `localhost:${port}`]);
    const webRoot = join(root, 'dist/web');
    const app = buildApp({ store, hosts, ...(existsSync(webRoot) && { webRoot }) });
    await app.listen({ host, port });
    console.log(`Netter is ready at http://${host}:${port}`);

    let closing = false;
    const stop = async (): Promise<void> => {
      if (closing) return;
      closing = true;
      await app.close();
      await store.close();
      await lock.release();
      process.exit(0);
    };
    process.on('SIGINT', () => void stop());
    process.on('SIGTERM', () => void stop());
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException;
    if (error instanceof FolderHeld) return fail(message);
    if (code === 'EADDRINUSE')
      return fail(`Port ${port} is in use by another program. Close it, or set NETTER_PORT to another port.`);
    if (code === 'EACCES' || code === 'EPERM' || code === 'EROFS')
      return fail(`The data folder ${folder} cannot be written. Set NETTER_DATA to a folder that can.`);
    return fail(`Netter could not start: ${(message ?? 'unknown reason').slice(0, 300)}`);
  }
}

function fail(says: string): void {
  console.error(says);
  process.exit(1);
}
