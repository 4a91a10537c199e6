import { mkdirSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { PGlite } from '@electric-sql/pglite';
import { newDatabase, root } from './steps.mjs';

/** An empty database as the engine makes it (initdb(1)), packed: a new folder is unpacked instead of made in ten times the time. */
const database = await PGlite.create();
const packed = await database.dumpDataDir('gzip');
await database.close();
mkdirSync(join(root, 'dist'), { recursive: true });
const file = join(root, newDatabase);
writeFileSync(`${file}.draft`, Buffer.from(await packed.arrayBuffer()));
renameSync(`${file}.draft`, file);
