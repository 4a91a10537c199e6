import { existsSync, fsyncSync, mkdirSync, realpathSync, unlinkSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { connect, createServer, type Server } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PGlite } from '@electric-sql/pglite';
import { NodeFS } from '@electric-sql/pglite/nodefs';

type Init = Parameters<NodeFS['init']>;
interface FileSystemModule {
  NODEFS: { stream_ops: { fsync?: (stream: { nfd: number }) => number } };
}

/** Folder on disk whose commits reach the disk: the stock one makes no fsync, so a power cut could lose them. */
class DurableFolder extends NodeFS {
  override async init(pg: Init[0], options: Init[1]): ReturnType<NodeFS['init']> {
    const { emscriptenOpts } = await super.init(pg, options);
    const addSync = (module: unknown): void => {
      (module as FileSystemModule).NODEFS.stream_ops.fsync = ({ nfd }) => {
        fsyncSync(nfd);
        return 0;
      };
    };
    return {
      emscriptenOpts: { ...emscriptenOpts, preRun: [...(emscriptenOpts.preRun ?? []), addSync] } as Init[1],
    };
  }
}

/** `-F` switches fsync off, so it is left out. The write-ahead log is kept small: nothing trims it by itself here. */
const startParams = [
  ...PGlite.defaultStartParams.filter((parameter) => parameter !== '-F'),
  ...[
    'fsync=on',
    'wal_sync_method=fsync',
    'max_wal_size=64MB',
    'min_wal_size=32MB',
    'wal_recycle=off',
  ].flatMap((setting) => ['-c', setting]),
];

/** Opens (or makes) the database in a folder. */
export async function openFolder(folder: string): Promise<PGlite> {
  mkdirSync(folder, { recursive: true });
  return PGlite.create({ fs: new DurableFolder(folder), startParams, relaxedDurability: false });
}

/** Somebody else holds the data folder. */
export class FolderHeld extends Error {}

/**
 * Takes the folder for this process. The database has no lock of its own, and two processes on one folder ruin it.
 * The lock is a listening socket named after the folder: it goes when the process goes, however it ends.
 */
export async function holdFolder(folder: string): Promise<{ release: () => Promise<void> }> {
  mkdirSync(folder, { recursive: true });
  const name = `netter-${createHash('sha256').update(realpathSync(folder)).digest('hex').slice(0, 32)}`;
  const [path, onDisk] =
    process.platform === 'linux'
      ? [`\0${name}`, false]
      : process.platform === 'win32'
        ? [`\\\\.\\pipe\\${name}`, false]
        : [join(tmpdir(), `${name}.sock`), true];
  let server = await listen(path);
  // A socket file outlives a killed process: nobody answers there, so it may go.
  if (!server && onDisk && !(await answers(path))) {
    if (existsSync(path)) unlinkSync(path);
    server = await listen(path);
  }
  if (!server)
    throw new FolderHeld(
      `The data folder ${folder} is in use by another running Netter. Close that one, or set NETTER_DATA to another folder.`,
    );
  const held = server;
  return { release: () => new Promise((resolve) => held.close(() => resolve())) };
}

const listen = (path: string): Promise<Server | undefined> =>
  new Promise((resolve, reject) => {
    const server = createServer((socket) => socket.destroy());
    server.once('error', (error: NodeJS.ErrnoException) =>
      error.code === 'EADDRINUSE' ? resolve(undefined) : reject(error),
    );
    server.listen(path, () => resolve(server));
    server.unref();
  });

const answers = (path: string): Promise<boolean> =>
  new Promise((resolve) => {
    const socket = connect(path);
    socket.once('connect', () => {
      socket.destroy();
      resolve(true);
    });
    socket.once('error', () => resolve(false));
  });
