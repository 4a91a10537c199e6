import { createHash } from 'node:crypto';
import {
  createReadStream,
  openSync,
  closeSync,
  fsyncSync,
  createWriteStream,
  renameSync,
  rmSync,
} from 'node:fs';
import { dirname } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip, createGzip } from 'node:zlib';
import * as z from 'zod';
import { ownerFile, syncFolder } from '../files.ts';
import { deepest, isShallow, nulIn } from '../shape.ts';
import { travels } from '../store/facts.ts';
import { mostCards, mostRevision, mostSealedText, mostTemplates, siteId } from '../store/limits.ts';
import { mostCost } from '../vault/seal.ts';

/**
 * A backup is one file of JSON texts, one a line, compressed (JSON, RFC 8259; gzip, RFC 1952). The first line says
 * what it is, the last how many lines come before it and their SHA-256 (FIPS 180-4). Any tool that knows gzip and
 * JSON reads it.
 */
const format = 'netter-backup';
const version = 1;
const longestLineBytes = 16 * 2 ** 20;

const when = z.iso.datetime();
const number = z.number().int().min(0).max(mostRevision);
const text = z.string().max(20_000);

const headSchema = z.strictObject({
  kind: z.literal('head'),
  format: z.literal(format),
  version: z.number().int(),
  madeAt: when,
  program: text,
});
const endSchema = z.strictObject({ kind: z.literal('end'), lines: number, sha256: z.string() });

/** What the lines between the first and the last hold. A site is followed by all that is its own. */
const entrySchema = z.discriminatedUnion('kind', [
  z
    .strictObject({ kind: z.literal('fact'), name: text, value: text })
    .refine(({ name, value }) => travels(name, value), 'no such fact is known, or not with that value'),
  z.strictObject({
    kind: z.literal('vault'),
    salt: text,
    cost: z.strictObject({
      memoryKiB: z.number().int().min(8).max(mostCost.memoryKiB),
      passes: z.number().int().min(1).max(mostCost.passes),
      lanes: z.number().int().min(1).max(mostCost.lanes),
    }),
    sealedKey: text,
  }),
  z.strictObject({ kind: z.literal('template'), name: text, uplink: z.unknown() }),
  z.strictObject({
    kind: z.literal('site'),
    id: siteId,
    revision: number,
    savedAt: when,
    deletedAt: when.nullable(),
  }),
  z.strictObject({ kind: z.literal('revision'), number, savedAt: when, plan: z.unknown() }),
  z.strictObject({
    kind: z.literal('record'),
    at: when,
    act: z.enum(['tick', 'untick', 'timer', 'evidence', 'waive']),
    subject: text,
    initials: text,
    reading: text,
    values: z.record(text, text).nullable().default(null),
    parts: z.record(text, text).nullable().default(null),
    rung: text.nullable(),
    seenFrom: text,
    revision: number,
  }),
  z.strictObject({ kind: z.literal('kept'), number, why: z.enum(['print', 'file']) }),
  z.strictObject({
    kind: z.literal('secret'),
    name: text,
    sealed: z.string().max(mostSealedText),
    deletedAt: when.nullable(),
  }),
  /** A row that could not be read when the backup was made. */
  z.strictObject({ kind: z.literal('damaged'), what: text }),
]);

export type Entry = z.output<typeof entrySchema>;
export type EntryOf<Kind extends Entry['kind']> = Extract<Entry, { kind: Kind }>;
export type Head = Pick<z.output<typeof headSchema>, 'madeAt' | 'program'>;

/** Why a file is not taken as a backup. */
export class NoBackup extends Error {}

/** Writes entries as a backup: whole or not at all, for its owner only, and read back before it counts. Answers how many things could not be read. */
export async function writeBackupFile(
  path: string,
  head: Head,
  entries: AsyncIterable<Entry>,
): Promise<{ readonly damaged: number }> {
  const draft = `${path}.${process.pid}.draft`;
  let lines = 0;
  let damaged = 0;
  async function* texts(): AsyncGenerator<string> {
    const hash = createHash('sha256');
    const line = (value: object): string => {
      const row = `${JSON.stringify(value)}\n`;
      hash.update(row);
      lines += 1;
      return row;
    };
    yield line({ kind: 'head', format, version, ...head });
    for await (const entry of entries) {
      // What could not be read back would cost the whole backup: it is named in it instead.
      const fits =
        entrySchema.safeParse(entry).success &&
        nulIn(entry) === undefined &&
        isShallow(JSON.stringify(entry));
      if (entry.kind === 'damaged' || !fits) damaged += 1;
      yield line(fits ? entry : { kind: 'damaged', what: whatIs(entry) });
    }
    yield `${JSON.stringify({ kind: 'end', lines, sha256: hash.digest('hex') })}\n`;
  }
  try {
    await pipeline(Readable.from(texts()), createGzip(), createWriteStream(draft, { mode: ownerFile }));
    const file = openSync(draft, 'r+');
    fsyncSync(file);
    closeSync(file);
    let read = 0;
    for await (const _ of readBackupFile(draft)) read += 1;
    // The head is a line, but no entry.
    if (read !== lines - 1) throw new NoBackup('The backup reads back with fewer lines than were written.');
    renameSync(draft, path);
    syncFolder(dirname(path));
    return { damaged };
  } catch (error) {
    rmSync(draft, { force: true });
    throw error;
  }
}

/** What an entry is, for people. */
function whatIs(entry: Entry): string {
  switch (entry.kind) {
    case 'revision':
    case 'kept':
      return `revision ${entry.number}`;
    case 'fact':
    case 'template':
    case 'secret':
      return `the ${entry.kind} "${entry.name.slice(0, 200)}"`;
    case 'site':
      return `the site ${entry.id.slice(0, 100)}`;
    case 'record':
      return `a record of ${entry.at}`;
    default:
      return `the ${entry.kind}`;
  }
}

/** Where an entry may stand, and how many of a kind there may be: anything else was not written by Netter. */
class Order {
  #site = false;
  readonly #counts = { fact: 0, vault: 0, template: 0 };

  /** Why an entry does not belong where it stands; undefined where it does. */
  wrong(entry: Entry): string | undefined {
    if (entry.kind === 'site') this.#site = true;
    else if (entry.kind in this.#counts) {
      const kind = entry.kind as keyof typeof mostOf;
      if (this.#site) return `a ${kind} stands after the sites`;
      this.#counts[kind] += 1;
      if (this.#counts[kind] > mostOf[kind])
        return `there are more than ${mostOf[kind]} of the kind "${kind}"`;
    } else if (entry.kind !== 'damaged' && !this.#site) return `a ${entry.kind} stands before any site`;
    return undefined;
  }
}
const mostOf = { fact: mostCards + 10, vault: 1, template: mostTemplates } as const;

/** First line of a backup. */
export async function headOf(path: string): Promise<Head> {
  for await (const line of linesOf(path)) return readHead(line);
  throw new NoBackup('The file is empty.');
}

/**
 * Entries of a backup, in order. What was handed out before an error was found is not to be trusted: read it whole
 * once before anything is done with it.
 */
export async function* readBackupFile(path: string): AsyncGenerator<Entry> {
  const hash = createHash('sha256');
  const order = new Order();
  let count = 0;
  let ended = false;
  for await (const line of linesOf(path)) {
    if (ended) throw new NoBackup('There is more after the last line of the backup: the file was changed.');
    if (count === 0) readHead(line);
    else {
      const value = parsed(line, count + 1);
      const end = endSchema.safeParse(value);
      if (end.success) {
        if (end.data.lines !== count || end.data.sha256 !== hash.digest('hex'))
          throw new NoBackup(
            'The backup is damaged: its lines are not those that were written. Take another one; nothing was restored from this.',
          );
        ended = true;
        continue;
      }
      const entry = entrySchema.safeParse(value);
      const wrong = entry.success
        ? (order.wrong(entry.data) ??
          (nulIn(entry.data) === undefined ? undefined : 'it holds the character NUL'))
        : entry.error.issues[0]!.message;
      if (!entry.success || wrong !== undefined)
        throw new NoBackup(
          `Line ${count + 1} of the backup is not understood: ${wrong}. Nothing was restored from this file.`,
        );
      yield entry.data;
    }
    hash.update(`${line}\n`);
    count += 1;
  }
  if (!ended)
    throw new NoBackup(
      'The backup is cut short: its last line is missing. Take another one; nothing was restored from this.',
    );
}

function readHead(line: string): Head {
  const head = headSchema.safeParse(parsed(line, 1));
  if (!head.success)
    throw new NoBackup('That is not a backup of Netter: its first line says nothing of the kind.');
  if (head.data.version > version)
    throw new NoBackup(`A newer Netter (${head.data.program}) made this backup. Restore it with that one.`);
  return { madeAt: head.data.madeAt, program: head.data.program };
}

function parsed(line: string, place: number): unknown {
  if (!isShallow(line))
    throw new NoBackup(
      `Line ${place} of the backup is nested more than ${deepest} deep; a plan is not. Nothing was restored from this file.`,
    );
  try {
    return JSON.parse(line) as unknown;
  } catch {
    throw new NoBackup(`Line ${place} of the backup is no JSON text: the file is damaged.`);
  }
}

async function* linesOf(path: string): AsyncGenerator<string> {
  const decoder = new TextDecoder();
  let pieces: string[] = [];
  let length = 0;
  try {
    for await (const chunk of createReadStream(path).pipe(createGunzip())) {
      const rows = decoder.decode(chunk as Buffer, { stream: true }).split('\n');
      for (const [place, row] of rows.entries()) {
        pieces.push(row);
        length += row.length;
        if (length > longestLineBytes) throw new NoBackup('A line of the backup is longer than any plan is.');
        if (place < rows.length - 1) {
          yield pieces.join('');
          pieces = [];
          length = 0;
        }
      }
    }
  } catch (error) {
    const { code } = error as { code?: string };
    if (code === 'Z_DATA_ERROR')
      throw new NoBackup('That is not a backup of Netter, or it is damaged: it does not unpack.');
    if (code === 'Z_BUF_ERROR')
      throw new NoBackup('The backup is cut short: copy it again, whole. Nothing was restored from this.');
    throw error;
  }
  if (length > 0) yield pieces.join('');
}
