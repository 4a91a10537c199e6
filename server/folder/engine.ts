import { existsSync, fsyncSync, mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { PGlite } from '@electric-sql/pglite';
import { NodeFS } from '@electric-sql/pglite/nodefs';
import { overwrite } from '../files.ts';

/** The engine that writes the folder: a folder of another one is carried over by dump and load. */
export const engine = { postgres: '18', name: 'PGlite 0.5.16' } as const;

type Init = Parameters<NodeFS['init']>;
interface Node {
  readonly parent: Node;
  readonly name: string;
}
type Operation = (...args: never[]) => unknown;
interface NodeFileSystem {
  realPath(node: Node): string;
  stream_ops: {
    fsync?: (stream: { nfd: number }) => number;
    open(stream: { flags: number }): void;
  } & Partial<Record<(typeof streamWrites)[number], Operation>>;
  node_ops: {
    unlink(parent: Node, name: string): void;
    setattr(node: Node, attributes: { size?: number; mode?: number }): void;
  } & Partial<Record<(typeof nodeWrites)[number], Operation>>;
}

/** Tables and the write-ahead log: what may hold something that was erased. */
const holdsRows = /\/(base|pg_wal)\//;
const erase = (path: string, from: number): void => {
  if (holdsRows.test(path)) overwrite(path, from);
};

/** File of an empty database, which the build makes (scripts/new-database.mjs), in the folder of the program. */
export const emptyDatabase = 'dist/new-database.tar.gz';

/** "Read-only file system" and "truncate", as the engine's runtime numbers them (its own `errno.h`, `fcntl.h`). */
const readOnlyFileSystem = 69;
const truncates = 0o1000;
/** What changes files: each asks the fence first. */
const nodeWrites = ['mknod', 'rename', 'unlink', 'rmdir', 'symlink', 'setattr'] as const;
const streamWrites = ['write', 'msync', 'allocate'] as const;

/**
 * Folder on disk whose commits reach the disk (the stock one makes no fsync, so a power cut could lose them) and
 * whose files are overwritten before they are given up. Before each change of a file the fence is asked, which throws
 * where another program holds the folder by now: it stands here because the engine writes by itself too, when it
 * runs out of room in memory and when it ends.
 */
class DurableFolder extends NodeFS {
  readonly #fence: () => void;

  constructor(folder: string, fence: () => void) {
    super(folder);
    this.#fence = fence;
  }

  override async init(pg: Init[0], options: Init[1]): ReturnType<NodeFS['init']> {
    const { emscriptenOpts } = await super.init(pg, options);
    const improve = (module: unknown): void => {
      const { NODEFS: files, FS } = module as {
        NODEFS: NodeFileSystem;
        FS: { ErrnoError: new (code: number) => Error };
      };
      files.stream_ops.fsync = ({ nfd }) => {
        fsyncSync(nfd);
        return 0;
      };
      const { unlink, setattr } = files.node_ops;
      files.node_ops.unlink = (parent, name) => {
        const path = `${files.realPath(parent)}/${name}`;
        // Best effort: a file that cannot be overwritten is still given up.
        quietly(() => erase(path, 0));
        unlink(parent, name);
      };
      files.node_ops.setattr = (node, attributes) => {
        const { size, mode } = attributes;
        if (size !== undefined) quietly(() => erase(files.realPath(node), size));
        // The engine asks for files that everybody may read and write: its owner is enough.
        setattr(node, { ...attributes, ...(mode !== undefined && { mode: mode & ~0o077 }) });
      };
      const fenced =
        (act: Operation): Operation =>
        (...args) => {
          try {
            this.#fence();
          } catch {
            throw new FS.ErrnoError(readOnlyFileSystem);
          }
          return act(...args);
        };
      for (const name of nodeWrites)
        files.node_ops[name] = fenced(files.node_ops[name] as Operation) as never;
      for (const name of streamWrites)
        if (files.stream_ops[name]) files.stream_ops[name] = fenced(files.stream_ops[name]);
      const { open } = files.stream_ops;
      const openTruncated = fenced(open as Operation) as typeof open;
      files.stream_ops.open = (stream) => (stream.flags & truncates ? openTruncated : open)(stream);
    };
    return {
      emscriptenOpts: { ...emscriptenOpts, preRun: [...(emscriptenOpts.preRun ?? []), improve] } as Init[1],
    };
  }
}

function quietly(act: () => void): void {
  try {
    act();
  } catch {
    // What was tried is an addition to what is done anyway.
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

/**
 * Opens the database in a folder, or makes one: out of `empty`, the file of an empty database, where that is there.
 * `fence` throws where this program may not write there any more.
 */
export async function openEngine(
  folder: string,
  fence: () => void = () => {},
  empty?: string,
): Promise<PGlite> {
  fence();
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  return open(folder, fence, startParams, existsSync(join(folder, 'PG_VERSION')) ? undefined : empty);
}

const open = (folder: string, fence: () => void, params: string[], empty?: string): Promise<PGlite> =>
  PGlite.create({
    fs: new DurableFolder(folder, fence),
    startParams: params,
    relaxedDurability: false,
    ...(empty !== undefined && existsSync(empty) && { loadDataDir: new Blob([readFileSync(empty)]) }),
  });

/** Builds the indexes of the engine's own tables anew: it is started without them (`-P`, postgres(1)). */
export async function mendEngine(folder: string, fence: () => void): Promise<void> {
  const engineAlone = await open(folder, fence, [...startParams, '-P']);
  try {
    const { rows } = await engineAlone.query<{ name: string }>('select current_database() as name');
    await engineAlone.exec(`REINDEX SYSTEM "${rows[0]!.name}"`);
  } finally {
    await engineAlone.close();
  }
}
