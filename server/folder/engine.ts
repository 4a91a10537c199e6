import { closeSync, fsyncSync, ftruncateSync, mkdirSync, openSync, statSync, writeSync } from 'node:fs';
import { PGlite } from '@electric-sql/pglite';
import { NodeFS } from '@electric-sql/pglite/nodefs';

/** The engine that writes the folder: a folder of another one is carried over by dump and load. */
export const engine = { postgres: '18', name: 'PGlite 0.5.16' } as const;

type Init = Parameters<NodeFS['init']>;
interface Node {
  readonly parent: Node;
  readonly name: string;
}
interface NodeFileSystem {
  realPath(node: Node): string;
  stream_ops: { fsync?: (stream: { nfd: number }) => number };
  node_ops: {
    unlink(parent: Node, name: string): void;
    setattr(node: Node, attributes: { size?: number; mode?: number }): void;
  };
}

/** Tables and the write-ahead log: what may hold something that was erased. */
const holdsRows = /\/(base|pg_wal)\//;
const zeros = Buffer.alloc(1 << 20);

/** Overwrites a file from `from` on, so that what it held is not left in the free space of the disk. */
function overwrite(path: string, from: number): void {
  if (!holdsRows.test(path)) return;
  const file = openSync(path, 'r+');
  try {
    const { size } = statSync(path);
    for (let at = from; at < size; at += zeros.length)
      writeSync(file, zeros, 0, Math.min(zeros.length, size - at), at);
    fsyncSync(file);
    ftruncateSync(file, from);
  } finally {
    closeSync(file);
  }
}

/**
 * Folder on disk whose commits reach the disk (the stock one makes no fsync, so a power cut could lose them) and
 * whose files are overwritten before they are given up.
 */
class DurableFolder extends NodeFS {
  override async init(pg: Init[0], options: Init[1]): ReturnType<NodeFS['init']> {
    const { emscriptenOpts } = await super.init(pg, options);
    const improve = (module: unknown): void => {
      const files = (module as { NODEFS: NodeFileSystem }).NODEFS;
      files.stream_ops.fsync = ({ nfd }) => {
        fsyncSync(nfd);
        return 0;
      };
      const { unlink, setattr } = files.node_ops;
      files.node_ops.unlink = (parent, name) => {
        const path = `${files.realPath(parent)}/${name}`;
        // Best effort: a file that cannot be overwritten is still given up.
        quietly(() => overwrite(path, 0));
        unlink(parent, name);
      };
      files.node_ops.setattr = (node, attributes) => {
        const { size, mode } = attributes;
        if (size !== undefined) quietly(() => overwrite(files.realPath(node), size));
        // The engine asks for files that everybody may read and write: its owner is enough.
        setattr(node, { ...attributes, ...(mode !== undefined && { mode: mode & ~0o077 }) });
      };
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

/** Opens (or makes) the database in a folder. */
export async function openEngine(folder: string): Promise<PGlite> {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  return PGlite.create({ fs: new DurableFolder(folder), startParams, relaxedDurability: false });
}
