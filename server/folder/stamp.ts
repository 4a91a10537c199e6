import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import * as z from 'zod';
import { engine } from './engine.ts';
import { writeWhole } from '../files.ts';

/** The layout of the data folder. A later one is not touched. */
const format = 1;

/** What a data folder says of itself: it lies in the folder of the database, and comes and goes with it. */
const stampSchema = z.object({
  format: z.number().int(),
  /** Version of the program that wrote it last. */
  program: z.string(),
  /** Version of PostgreSQL, and the build of it. */
  postgres: z.string(),
  engine: z.string(),
  /** How many migrations the tables have seen. */
  tables: z.number().int(),
  madeAt: z.string(),
});
export type Stamp = z.output<typeof stampSchema>;

const fileOf = (database: string): string => join(database, 'netter.json');

export const newStamp = (program: string, tables: number, now: Date): Stamp => ({
  format,
  program,
  postgres: engine.postgres,
  engine: engine.name,
  tables,
  madeAt: now.toISOString(),
});

export const writeStamp = (database: string, stamp: Stamp): void =>
  writeWhole(fileOf(database), `${JSON.stringify(stamp, null, 2)}\n`);

/** The stamp of a database's folder: undefined where there is none, `unreadable` where it is no stamp. */
export function readStamp(database: string): Stamp | undefined | 'unreadable' {
  if (!existsSync(fileOf(database))) return undefined;
  try {
    const parsed = stampSchema.safeParse(JSON.parse(readFileSync(fileOf(database), 'utf8')));
    return parsed.success ? parsed.data : 'unreadable';
  } catch {
    return 'unreadable';
  }
}

/** Whether a stamp is of a program that is newer than this one. */
export const isNewer = (stamp: Stamp, tables: number): boolean =>
  stamp.format > format || stamp.tables > tables || Number(stamp.postgres) > Number(engine.postgres);
