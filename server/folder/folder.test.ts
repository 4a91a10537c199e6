import { createHash } from 'node:crypto';
import {
  chmodSync,
  closeSync,
  cpSync,
  existsSync,
  lstatSync,
  mkdirSync,
  mkdtempSync,
  openSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
  writeSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { soundPlan } from '../../core/testing/plans.ts';
import { lookThrough } from '../store/integrity.ts';
import { empty, migrations, root, runSource } from '../testing/store.ts';
import { Vault } from '../vault/vault.ts';
import { engine } from './engine.ts';
import { ownerOnly } from '../files.ts';
import { FolderRefused, openFolder, type FolderOptions } from './folder.ts';

const base = mkdtempSync(join(tmpdir(), 'netter-folder-'));
const options: FolderOptions = {
  migrations,
  empty,
  program: '0.2.0',
  fill: async (store) => {
    await store.create('quay', soundPlan());
  },
};
afterAll(() => rmSync(base, { recursive: true, force: true }));

const made = join(base, 'made');
beforeAll(async () => {
  const before = process.umask(0);
  ownerOnly();
  const { close } = await openFolder(made, options);
  await close();
  process.umask(before);
});

let copies = 0;
/** A data folder as it was left, to be spoiled. */
const copied = (): string => {
  const to = join(base, `copy-${(copies += 1)}`);
  cpSync(made, to, { recursive: true });
  return to;
};
const refusal = async (folder: string, more: Partial<FolderOptions> = {}): Promise<string> => {
  const error: unknown = await openFolder(folder, { ...options, ...more }).then(
    async ({ close }) => close(),
    (caught: unknown) => caught,
  );
  expect(error).toBeInstanceOf(FolderRefused);
  return (error as Error).message;
};
/** All that is in a folder but the lock: names, sizes and times of change. */
const stateOf = (folder: string): string[] =>
  readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => join(entry.parentPath, entry.name))
    .sort()
    .map((path) => `${path} ${lstatSync(path).size} ${lstatSync(path).mtimeMs}`);

describe('only its owner', () => {
  const wide = (folder: string): string[] =>
    [
      folder,
      ...readdirSync(folder, { recursive: true, encoding: 'utf8' }).map((name) => join(folder, name)),
    ].filter((path) => (lstatSync(path).mode & 0o077) !== 0);

  test('no file and no folder can be entered by another account, whatever the mask was', () =>
    expect(wide(made)).toEqual([]));

  test('a folder that others could read is closed to them at the next start', async () => {
    const folder = copied();
    chmodSync(folder, 0o755);
    chmodSync(join(folder, 'database/PG_VERSION'), 0o666);
    chmodSync(join(folder, 'database/base'), 0o777);
    const { close } = await openFolder(folder, options);
    expect(wide(folder)).toEqual([]);
    await close();
  });
});

describe('nothing is begun afresh over anything', () => {
  test.each(['PG_VERSION', 'global/pg_control', 'postgresql.conf', 'base'])(
    'without %s it is refused with the way out, and stays as it is',
    async (name) => {
      const folder = copied();
      rmSync(join(folder, 'database', name), { recursive: true });
      const before = stateOf(folder);
      const backups = `${folder}-backups`;
      expect(await refusal(folder)).toMatch(/is not whole: .* missing.*NETTER_DATA/);
      mkdirSync(backups);
      writeFileSync(join(backups, 'netter-2026-03-01.jsonl.gz'), '');
      expect(await refusal(folder)).toMatch(/restore .*netter-2026-03-01\.jsonl\.gz/);
      expect(stateOf(folder)).toEqual(before);
    },
  );

  test('a folder with other things in it, or with a database elsewhere, is refused', async () => {
    const folder = join(base, 'documents');
    mkdirSync(folder);
    writeFileSync(join(folder, 'letter.txt'), 'mine');
    expect(await refusal(folder)).toMatch(/holds other things \(letter\.txt\)/);
    const moved = copied();
    renameSync(join(moved, 'database'), join(moved, 'database-of-monday'));
    expect(await refusal(moved)).toMatch(/database-of-monday/);
    expect(readdirSync(folder)).toEqual(['letter.txt']);
  });

  test('a newer folder, another PostgreSQL and an unreadable stamp are refused and left untouched', async () => {
    const spoilt: [RegExp, (database: string) => void][] = [
      [/newer Netter \(9\.9\.9\)/, (at) => stamp(at, { format: 2, program: '9.9.9' })],
      [/newer Netter \(9\.9\.9\)/, (at) => stamp(at, { tables: 99, program: '9.9.9' })],
      [/PostgreSQL 15; this Netter brings 18/, (at) => writeFileSync(join(at, 'PG_VERSION'), '15\n')],
      [/stamp .* cannot be read/, (at) => writeFileSync(join(at, 'netter.json'), '{"format":')],
    ];
    for (const [says, spoil] of spoilt) {
      const folder = copied();
      spoil(join(folder, 'database'));
      const before = stateOf(folder);
      expect(await refusal(folder)).toMatch(says);
      expect(stateOf(folder)).toEqual(before);
    }
  });

  test('damaged files of the engine are one sentence, not its own words', async () => {
    const folder = copied();
    writeFileSync(join(folder, 'database/global/pg_control'), Buffer.alloc(8192));
    expect(await refusal(folder)).toMatch(/does not open: its files are damaged/);
  });
});

const stamp = (database: string, more: object): void => {
  const path = join(database, 'netter.json');
  writeFileSync(path, JSON.stringify({ ...(JSON.parse(readFileSync(path, 'utf8')) as object), ...more }));
};

describe('what earlier versions wrote', () => {
  test('without a stamp it is taken over only when told to, with a copy made first', async () => {
    const folder = copied();
    rmSync(join(folder, 'database/netter.json'));
    expect(await refusal(folder)).toMatch(/has no stamp.*npm start -- --adopt/);
    const { store, close } = await openFolder(folder, { ...options, adopt: true });
    expect(await store.read('quay')).toMatchObject({ kind: 'found' });
    await close();
    const copy = readdirSync(folder).find((name) => name.startsWith('database.before-'))!;
    expect(readFileSync(join(folder, copy, 'PG_VERSION'), 'utf8').trim()).toBe(engine.postgres);
    const again = await openFolder(folder, options);
    await again.close();
  });

  test('another build of the engine is carried over by dump and load, and the old one stays beside it', async () => {
    const folder = copied();
    const first = await openFolder(folder, options);
    const cost = { memoryKiB: 8, passes: 1, lanes: 1 };
    const vault = new Vault(first.store.vault, { cost });
    await vault.make('harbour lantern quietly seven otters');
    await vault.put('quay', 'fibre', 'line-p4ss');
    await first.close();
    stamp(join(folder, 'database'), { engine: 'PGlite 0.4.1' });
    const said: string[] = [];
    const { store, close } = await openFolder(folder, { ...options, say: (each) => said.push(each) });
    expect(said).toEqual([expect.stringContaining('from PGlite 0.4.1 to ' + engine.name)]);
    expect(await store.read('quay')).toMatchObject({ kind: 'found', saved: { revision: 1 } });
    const carried = new Vault(store.vault, { cost });
    await carried.unlock('harbour lantern quietly seven otters');
    expect(await carried.reveal('quay', 'fibre')).toBe('line-p4ss');
    await close();
    // Ended between the two renamings: nothing is begun afresh.
    const old = readdirSync(folder).find((name) => name.startsWith('database.old-engine'))!;
    rmSync(join(folder, 'database'), { recursive: true });
    const again = await openFolder(folder, options);
    expect(await again.store.read('quay')).toMatchObject({ kind: 'found' });
    await again.close();
    expect(existsSync(join(folder, 'database'))).toBe(true);
    expect(old).toMatch(/old-engine-\d+/);
  });

  test('the engine that is named is the one that is installed', () => {
    const { dependencies } = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')) as {
      dependencies: Record<string, string>;
    };
    expect(engine.name).toBe(`PGlite ${dependencies['@electric-sql/pglite']}`);
    expect(readFileSync(join(made, 'database/PG_VERSION'), 'utf8').trim()).toBe(engine.postgres);
  });
});

test('killed while it is made, a folder is made anew at the next start', async () => {
  const folder = join(base, 'killed');
  const script = `
    const { openFolder } = await import('./server/folder/folder.ts');
    await openFolder(${JSON.stringify(folder)}, { migrations: ${JSON.stringify(migrations)}, program: '0.2.0', empty: ${JSON.stringify(empty)},
      fill: async () => { console.log('filling'); await new Promise((resolve) => setTimeout(resolve, 60_000)); } });`;
  const child = runSource(script);
  await new Promise<void>((resolve, reject) => {
    child.stdout!.on('data', (text) => String(text).includes('filling') && resolve());
    child.once('exit', () => reject(new Error('It ended by itself.')));
  });
  child.kill('SIGKILL');
  await new Promise((resolve) => child.once('exit', resolve));
  expect(readdirSync(folder).some((name) => name.startsWith('database.unfinished'))).toBe(true);
  expect(existsSync(join(folder, 'database'))).toBe(false);
  const { store, close } = await openFolder(folder, options);
  expect(await store.read('quay')).toMatchObject({ kind: 'found' });
  await close();
  expect(readdirSync(folder)).toEqual(['database']);
});

test('what is removed from the vault is in no file of the folder any more', async () => {
  const folder = copied();
  const { store, close } = await openFolder(folder, options);
  const vault = new Vault(store.vault, { cost: { memoryKiB: 8, passes: 1, lanes: 1 } });
  await vault.make('harbour lantern quietly seven otters');
  for (const name of ['kept', 'removed', 'replaced']) await vault.put('quay', name, `secret-${name}`);
  const marks = new Map<string, string>();
  for (const name of ['kept', 'removed', 'replaced'])
    marks.set(name, (await store.vault.sealed('quay', name))!);
  marks.set('header', (await store.vault.read())!.sealedKey);
  const found = (): string[] => {
    const files = readdirSync(folder, { recursive: true, withFileTypes: true })
      .filter((entry) => entry.isFile())
      .map((entry) => readFileSync(join(entry.parentPath, entry.name)));
    return [...marks].filter(([, mark]) => files.some((file) => file.includes(mark))).map(([name]) => name);
  };
  expect(found().sort()).toEqual(['header', 'kept', 'removed', 'replaced']);
  await vault.put('quay', 'replaced', 'another');
  await vault.remove('quay', 'removed');
  const [trashed] = await vault.trash('quay');
  await vault.erase('quay', trashed!.id);
  expect(found().sort()).toEqual(['header', 'kept']);
  await vault.change('harbour lantern quietly seven otters', 'granite pelican under violet Tuesday');
  expect(found()).toEqual([]);
  expect(await vault.reveal('quay', 'kept')).toBe('secret-kept');
  await close();
});

/** Files of a database, by what they hold. */
async function fileOf(folder: string, of: string): Promise<string> {
  const { store, close } = await openFolder(folder, options);
  const { rows } = await store.database.query<{ path: string }>(`select pg_relation_filepath(${of}) as path`);
  await close();
  return join(folder, 'database', rows[0]!.path);
}

describe('what can be built anew is, and is named; nobody reads the words of the engine', () => {
  const noise = (file: string): void =>
    writeFileSync(file, Buffer.from(Array.from(readFileSync(file), (_, at) => (at * 197 + 31) & 255)));
  const toast =
    "(select i.indexrelid from pg_class c join pg_index i on i.indrelid = c.reltoastrelid where c.relname = 'revisions')";
  test.each([
    ['the list of changes', "'drizzle.__drizzle_migrations'", rmSync, /list of changes/],
    ['an index', "'sites_pkey'", noise, /table sites/],
    ['an index of the engine', "'pg_class_oid_index'", noise, /own tables/],
    ['the index of large values', toast, rmSync, /indexes/],
  ] as const)(
    '%s',
    async (_what, of, spoil, named) => {
      const folder = copied();
      spoil(await fileOf(folder, of));
      const said: string[] = [];
      const { store, rebuilt, close } = await openFolder(folder, {
        ...options,
        say: (each) => said.push(each),
      });
      const { rebuilt: all, damaged, tables } = await lookThrough(store, 10_000, rebuilt);
      expect(all.join()).toMatch(named);
      expect([damaged, tables]).toEqual([[], []]);
      expect(await store.read('quay')).toMatchObject({ kind: 'found' });
      expect(said.join()).not.toMatch(/relation|index "|block|page in/);
      await close();
    },
    60_000,
  );
});

describe('who lost the folder', () => {
  /** Every file of a folder but the lock: its name and what it holds. */
  const contents = (folder: string): string =>
    readdirSync(folder, { recursive: true, withFileTypes: true })
      .filter((entry) => entry.isFile() && entry.name !== 'lock')
      .map((entry) => {
        const path = join(entry.parentPath, entry.name);
        return `${path} ${createHash('sha256').update(readFileSync(path)).digest('hex')}`;
      })
      .sort()
      .join('\n');

  test('writes no byte any more: not by saving, not by tidying, not at its end', async () => {
    const folder = copied();
    const { store, close } = await openFolder(folder, options);
    await store.settled();
    const lock = join(folder, 'lock');
    const { id } = JSON.parse(readFileSync(lock, 'utf8')) as { id: string };
    writeFileSync(
      lock,
      readFileSync(lock, 'utf8').replace(
        id,
        id.replace(/^./, (first) => (first === '0' ? '1' : '0')),
      ),
    );
    const before = contents(folder);
    await expect(store.save('quay', 1, soundPlan())).rejects.toMatchObject({ code: 'lock-lost' });
    // Past the guard before queries, as the engine itself would: its own pages, its log, its checkpoint.
    const engineItself = store.database as unknown as { exec(text: string): Promise<unknown> };
    await expect(engineItself.exec('CHECKPOINT')).rejects.toThrow();
    await expect(engineItself.exec('select pg_switch_wal()')).rejects.toThrow();
    await close();
    expect(contents(folder)).toBe(before);
    expect(existsSync(lock)).toBe(true);
  });

  test('has open files that nobody reads any more: the next one works on files of its own', async () => {
    const folder = copied();
    const file = join(folder, 'database', 'global', 'pg_control');
    const held = openSync(file, 'r+');
    const holder = {
      id: 'x',
      host: 'van',
      boot: 'other',
      place: '',
      processes: 'pid:[1]',
      pid: 7,
      began: '9',
    };
    writeFileSync(join(folder, 'lock'), JSON.stringify({ ...holder, beat: 1 }));
    const { store, close } = await openFolder(folder, { ...options, silence: 800 });
    // Woken in the middle of a write, past every check.
    writeSync(held, Buffer.alloc(200, 0xff), 0, 200, 0);
    closeSync(held);
    expect(await store.read('quay')).toMatchObject({ kind: 'found' });
    await close();
    const again = await openFolder(folder, options);
    expect(await again.store.read('quay')).toMatchObject({ kind: 'found' });
    await again.close();
  });
});

test('what a killed program leaves is gone at the next start: a backup that was looked at, drafts, half a database', async () => {
  const folder = copied();
  for (const name of ['incoming-3f0c6f0a', 'running.json.77.draft', 'database.unfinished-dump'])
    writeFileSync(join(folder, name), 'sealed');
  await (await openFolder(folder, options)).close();
  expect(readdirSync(folder).sort()).toEqual(['database']);
});
