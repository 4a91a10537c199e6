/*
 * What a damaged disk took and can be built anew from what is left: indexes, those of large values among them, and
 * the list of changes that the tables have seen. Rows cannot: what is damaged there is named and worked around.
 */
import type { PGlite } from '@electric-sql/pglite';
import { readMigrationFiles } from 'drizzle-orm/migrator';
import { isDamage } from './damage.ts';

const migrationsTable = '__drizzle_migrations';

/** Whether an error is one after which building anew is worth a try. */
export function mayBeMended(error: unknown): boolean {
  // A list of changes that reads as empty: the first change is made again, and meets its own table (42P07).
  const states = ['42P07', '42701', '42P06', '42P01', '3F000'];
  for (let each = error; each instanceof Error; each = each.cause)
    if (states.includes(String((each as { code?: unknown }).code))) return true;
  return isDamage(error);
}

/** Indexes of every table anew; names of the tables of which they were made, and of those that do not let it. */
export async function rebuildIndexes(
  database: Pick<PGlite, 'query' | 'exec'>,
): Promise<{ readonly rebuilt: string[]; readonly damaged: string[] }> {
  const { rows } = await database.query<{ schema: string; name: string }>(
    "select schemaname as schema, tablename as name from pg_tables where schemaname in ('public', 'drizzle')",
  );
  const [rebuilt, damaged]: [string[], string[]] = [[], []];
  for (const { schema, name } of rows)
    try {
      await database.exec(`REINDEX TABLE "${schema}"."${name}"`);
      rebuilt.push(`indexes of the table ${name}`);
    } catch (error) {
      if (!isDamage(error)) throw error;
      damaged.push(name);
    }
  return { rebuilt, damaged };
}

/**
 * The list of changes that the tables have seen, anew where it cannot be read or lacks some.
 * @param seen how many they have seen, by the stamp of the folder
 */
async function rebuildMigrations(database: PGlite, folder: string, seen: number): Promise<string[]> {
  const count = await database
    .query<{ count: number }>(`select count(*)::int as count from drizzle."${migrationsTable}"`)
    .then(({ rows }) => rows[0]!.count)
    .catch(() => 0);
  if (count >= seen || seen === 0) return [];
  await database.exec(`
    CREATE SCHEMA IF NOT EXISTS drizzle;
    DROP TABLE IF EXISTS drizzle."${migrationsTable}";
    CREATE TABLE drizzle."${migrationsTable}" (id SERIAL PRIMARY KEY, hash text NOT NULL, created_at bigint);`);
  for (const { hash, folderMillis } of readMigrationFiles({ migrationsFolder: folder }).slice(0, seen))
    await database.query(`insert into drizzle."${migrationsTable}" (hash, created_at) values ($1, $2)`, [
      hash,
      folderMillis,
    ]);
  return ['list of changes of the tables'];
}

/** Builds anew what can be; names of what was. `seen`: changes that the tables have seen, by the stamp of the folder. */
export async function mend(database: PGlite, folder: string, seen: number): Promise<string[]> {
  const migrations = await rebuildMigrations(database, folder, seen);
  return [...migrations, ...(await rebuildIndexes(database)).rebuilt];
}
