import * as z from 'zod';
import { parseDay, parseMoment } from '../base/days.ts';
import type { Result } from '../base/result.ts';
import { lineText, manyLines } from '../base/text.ts';

/*
 * A field of the plan stands once: its schema and what a person needs to know about it are made by one call. The
 * schema, its JSON Schema, the form, the findings, the run sheet, the docs and the search take it from there.
 */

/** A figure that stands in where nobody set one, and where it comes from. */
export interface Usual {
  readonly value: number;
  readonly source: string;
}

/**
 * What a field decides, from which follows which proofs fall when it changes: whether and where packets go, how much of
 * them passes, when lines change, or nothing that was ever proven (a name, a remark, a reading, a figure of a contract).
 * A field is a fact about the path unless it says otherwise.
 */
export const decisions = ['path', 'rate', 'switching'] as const;
export type Decides = (typeof decisions)[number] | 'nothing';

/** The sheets on which fields stand. */
export type FieldSheet =
  'site' | 'uplinks' | 'addresses' | 'wiring' | 'wifi' | 'second' | 'failover' | 'rules' | 'remote-access';

/** What a field decides, and the sheet on which it stands. */
export interface Marked {
  readonly decides: Decides;
  readonly sheet: FieldSheet;
}
export const unmarked: Marked = { decides: 'path', sheet: 'site' };
const marks = new WeakMap<z.ZodType, Partial<Marked>>();

/** A schema without its default. */
export const bare = (schema: z.ZodType): z.ZodType =>
  schema instanceof z.ZodDefault || schema instanceof z.ZodPrefault
    ? bare(schema.def.innerType as z.ZodType)
    : schema;

/** The marks of a schema within its owner: its own, those of its rows, and what neither says its owner's. */
export function marksUnder(schema: z.ZodType, owner: Marked): Marked {
  const inner = bare(schema);
  return {
    ...owner,
    ...(inner instanceof z.ZodArray && marks.get(inner.element as z.ZodType)),
    ...marks.get(inner),
    ...marks.get(schema),
  };
}

function marked<Schema extends z.ZodType>(schema: Schema, more: Partial<Marked>): Schema {
  marks.set(schema, { ...marks.get(schema), ...more });
  return schema;
}

/** A field, or all fields of a part, that decide nothing that was ever proven. */
export const cosmetic = <Schema extends z.ZodType>(schema: Schema): Schema =>
  marked(schema, { decides: 'nothing' });
/** A field that decides how much passes, and not whether. */
export const rate = <Schema extends z.ZodType>(schema: Schema): Schema => marked(schema, { decides: 'rate' });
/** A field that decides when lines change, and what follows. */
export const switching = <Schema extends z.ZodType>(schema: Schema): Schema =>
  marked(schema, { decides: 'switching' });
/** A part of the plan that stands on a sheet. */
export const onSheet = <Schema extends z.ZodType>(sheet: FieldSheet, schema: Schema): Schema =>
  marked(schema, { sheet });

interface Common {
  /** The standard term, as RFCs, ITU, 3GPP and IEEE say it. */
  readonly term: string;
  /** What it is, in one plain sentence. */
  readonly says: string;
  /** The words under which boxes and paperwork hide it. */
  readonly alsoCalled: readonly string[];
  /** What an empty field stands for, in a word or two. */
  readonly emptyMeans?: string;
  readonly example?: string;
  /** Why a row without it is a mistake, as a sentence; left out where empty is in order. */
  readonly lacking?: string;
  /** Rows of which that is true; all where it is left out. */
  readonly lackingWhen?: (row: Readonly<Record<string, unknown>>) => boolean;
}

export interface NumberField extends Common {
  readonly kind: 'number';
  readonly unit: string;
  readonly least: number;
  readonly most: number;
  readonly whole: boolean;
  readonly usual?: Usual;
  /** What is seldom left (common practice, no source): a figure outside is asked about, for units are exchanged. */
  readonly seldomOutside?: readonly [least: number, most: number];
}

/** Whether a day tells what happened or how long something goes on, and which days of its row it is not before. */
export interface DayLaw {
  readonly says: 'happened' | 'until' | 'from';
  readonly after: readonly string[];
}

export interface TextField extends Common {
  /** A secret is the name under which the vault keeps one. */
  readonly kind: 'text' | 'notes' | 'list' | 'secret';
  readonly longest: number;
  /** Addresses, keys and names of machines: the face with clear zeros. */
  readonly mono: boolean;
  /** Reads what was typed; left out where any text will do. */
  readonly read?: (text: string) => Result<unknown>;
  /** The text itself goes on, not what it was read as. */
  readonly keepsText: boolean;
  /** A list in which one value may stand twice: measurements. */
  readonly repeats?: boolean;
  /** People tell the rows of a list by it, so no two rows have the same. */
  readonly tellsApart?: boolean;
  /** Where it is a day: what that day says. */
  readonly day?: DayLaw;
  /** Nothing can be done without it; a rule looks at the row that it stands in. */
  readonly needed: boolean | ((row: Readonly<Record<string, unknown>>) => boolean);
}

export interface SwitchField extends Common {
  readonly kind: 'switch';
  readonly on: string;
  readonly off: string;
}

export interface ChoiceField extends Common {
  /** One of them, or several. */
  readonly kind: 'choice' | 'choices';
  readonly choices: readonly (readonly [value: string, title: string])[];
}

export interface ReferenceField extends Common {
  readonly kind: 'reference' | 'references';
  /** The list of the plan whose rows can be named. */
  readonly to: string;
  readonly repeats?: undefined;
}

/** A list of rows. */
export interface RowsField extends Common {
  readonly kind: 'rows';
  /** What one row is called: "network". */
  readonly one: string;
  readonly most: number;
  /** Two rows may say the same: measurements. */
  readonly repeats?: boolean;
}

export type Field = NumberField | TextField | SwitchField | ChoiceField | ReferenceField | RowsField;

const fields = new WeakMap<z.ZodType, Field>();

/** The catalogue entry of a schema, where it is a field. */
export const fieldOf = (schema: z.ZodType): Field | undefined => fields.get(schema);

/** A schema that is a field: `Value` is what the rest of the program computes with. */
export type Fielded<Schema extends z.ZodType, Value> = Schema & { readonly '~value': Value };

function entered<Value, Schema extends z.ZodType>(
  schema: Schema,
  field: Field,
  bounds: Record<string, unknown> = {},
): Fielded<Schema, Value> {
  const made = schema.meta({ title: field.term, description: describe(field), ...bounds });
  fields.set(made, field);
  return made as Fielded<Schema, Value>;
}

/** The sentence of a field with its unit and its usual value, for schemas and docs. */
export function describe(field: Field): string {
  const parts = [field.says];
  if (field.kind === 'number') {
    // What stands beside a number without measuring it is left out: "udp", "of 3", "ways".
    if (field.unit && !/^(?:udp|ways|of )/.test(field.unit)) parts.push(`Unit: ${field.unit}.`);
    if (field.usual) parts.push(`Usually ${field.usual.value} (${field.usual.source}).`);
  }
  if (field.emptyMeans) parts.push(`Empty: ${field.emptyMeans}.`);
  if (field.kind === 'secret') parts.push('Only the name of the secret in the vault, never the secret.');
  return parts.join(' ');
}

interface More {
  readonly alsoCalled?: readonly string[];
  readonly emptyMeans?: string;
  readonly example?: string;
  readonly lacking?: string;
  readonly lackingWhen?: Common['lackingWhen'];
}

const common = (term: string, says: string, more: More): Common => ({
  term,
  says,
  alsoCalled: more.alsoCalled ?? [],
  ...(more.emptyMeans !== undefined && { emptyMeans: more.emptyMeans }),
  ...(more.example !== undefined && { example: more.example }),
  ...(more.lacking !== undefined && { lacking: more.lacking }),
  ...(more.lackingWhen && { lackingWhen: more.lackingWhen }),
});

interface Bounds extends More {
  readonly unit?: string;
  readonly least?: number;
  readonly most: number;
  readonly seldomOutside?: NumberField['seldomOutside'];
}

type NumberSchema = z.ZodDefault<z.ZodNullable<z.ZodNumber>>;

function numeric(
  term: string,
  says: string,
  bounds: Bounds & { readonly usual?: Usual },
  whole: boolean,
): Fielded<NumberSchema, number | null> {
  const { unit = '', least = 0, most, usual, seldomOutside } = bounds;
  // A value out of bounds is kept as typed and marked, so the schema itself takes any number.
  return entered(
    z.number().nullable().default(null),
    {
      kind: 'number',
      ...common(term, says, bounds),
      ...{ unit, least, most, whole, ...(usual && { usual }), ...(seldomOutside && { seldomOutside }) },
    },
    { minimum: least, maximum: most, ...(whole && { multipleOf: 1 }) },
  );
}

/** A figure; empty where nobody knows it. `least` is 0 unless said otherwise; both ends belong to it. */
export const number = (term: string, says: string, bounds: Bounds) => numeric(term, says, bounds, false);
/** A whole figure; empty where nobody knows it. */
export const whole = (term: string, says: string, bounds: Bounds) => numeric(term, says, bounds, true);

type Usually = Bounds & { readonly usual: Usual };
type UsualNumber = Fielded<NumberSchema, number>;
/** A figure that has a usual value: empty means that one. */
export const usualNumber = (term: string, says: string, bounds: Usually): UsualNumber =>
  numeric(term, says, bounds, false) as UsualNumber;
/** A whole figure that has a usual value: empty means that one. */
export const usualWhole = (term: string, says: string, bounds: Usually): UsualNumber =>
  numeric(term, says, bounds, true) as UsualNumber;

export const usually = (value: number, source: string): Usual => ({ value, source });

interface TextMore extends More {
  readonly longest?: number;
  readonly mono?: boolean;
  readonly needed?: TextField['needed'];
  readonly repeats?: boolean;
  readonly tellsApart?: boolean;
}

type TextSchema = z.ZodDefault<z.ZodString>;

const textField = (
  kind: TextField['kind'],
  term: string,
  says: string,
  longest: number,
  more: TextMore,
  read?: TextField['read'],
  keepsText = true,
): TextField => ({
  kind,
  ...common(term, says, more),
  longest,
  mono: more.mono ?? (read !== undefined || kind === 'secret'),
  keepsText,
  needed: more.needed ?? false,
  ...(more.repeats && { repeats: true }),
  ...(more.tellsApart && { tellsApart: true }),
  ...(read && { read }),
});

/** One line of words, 200 characters at most unless said otherwise. */
export function text(term: string, says: string, more: TextMore = {}): Fielded<TextSchema, string> {
  const longest = more.longest ?? 200;
  return entered(lineText(longest).default(''), textField('text', term, says, longest, more));
}

/** One short line of letters and digits, such as a serial number. */
export const short = (term: string, says: string, more: TextMore = {}) =>
  text(term, says, { longest: 64, mono: true, ...more });

/** Several lines. */
export function notes(term: string, says: string, longest = 10_000): Fielded<TextSchema, string> {
  return entered(manyLines(longest).default(''), textField('notes', term, says, longest, {}));
}

/** A text that is read as something; what cannot be read is kept as typed and marked. */
export function typed<Value>(
  term: string,
  says: string,
  read: (text: string) => Result<Value>,
  more: TextMore = {},
): Fielded<TextSchema, Value | undefined> {
  const longest = more.longest ?? 64;
  return entered(lineText(longest).default(''), textField('text', term, says, longest, more, read, false));
}

/** A text that must have a form, and goes on as text. */
export function formed(
  term: string,
  says: string,
  read: (text: string) => Result<unknown>,
  more: TextMore = {},
): Fielded<TextSchema, string> {
  const longest = more.longest ?? 64;
  return entered(lineText(longest).default(''), textField('text', term, says, longest, more, read));
}

interface DayMore extends More {
  /** Fields of the same row whose days it does not come before. */
  readonly after?: readonly string[];
}

const dayField = (
  term: string,
  says: string,
  law: DayLaw['says'],
  { after = [], ...more }: DayMore,
  read: (text: string) => Result<unknown>,
): Fielded<TextSchema, string> =>
  entered(lineText(64).default(''), {
    ...textField('text', term, `${says} (ISO 8601).`, 64, more, read),
    day: { says: law, after },
  });

/** A day of the calendar: what happened on it, or until or from when something is so. `says` has no full stop. */
export const day = (term: string, says: string, law: DayLaw['says'], more: DayMore = {}) =>
  dayField(term, says, law, more, parseDay);

/** The same with a time of day, where one is known. */
export const moment = (term: string, says: string, law: DayLaw['says'], more: DayMore = {}) =>
  dayField(term, says, law, more, parseMoment);

/** The name under which the vault keeps a secret, never the secret. */
export function secret(term: string, says: string, more: TextMore = {}): Fielded<TextSchema, string> {
  return entered(lineText(64).default(''), textField('secret', term, says, 64, more));
}

type TextsSchema = z.ZodDefault<z.ZodArray<z.ZodString>>;

/** Several values that are each read as something. */
export function typedList<Value>(
  term: string,
  says: string,
  read: (text: string) => Result<Value>,
  most: number,
  more: TextMore = {},
): Fielded<TextsSchema, readonly Value[]> {
  return entered(
    z.array(lineText(64)).max(most).default([]),
    textField('list', term, says, 64, more, read, false),
    { maxItems: most },
  );
}

/** Yes or no; `on` and `off` are what the two states are called. */
export function yesNo(
  term: string,
  says: string,
  usual: boolean,
  more: More & { readonly on?: string; readonly off?: string } = {},
): Fielded<z.ZodDefault<z.ZodBoolean>, boolean> {
  const { on = 'yes', off = 'no' } = more;
  return entered(z.boolean().default(usual), { kind: 'switch', ...common(term, says, more), on, off });
}

type EnumSchema<Name extends string> = z.ZodDefault<z.ZodEnum<{ [Key in Name]: Key }>>;

/** One of several, each with its title. */
export function choice<Name extends string>(
  term: string,
  says: string,
  titles: Readonly<Record<Name, string>>,
  usual: NoInfer<Name>,
  more: More = {},
): Fielded<EnumSchema<Name>, Name> {
  const names = Object.keys(titles) as [Name, ...Name[]];
  return entered(z.enum(names).default(usual as never) as unknown as EnumSchema<Name>, {
    kind: 'choice',
    ...common(term, says, more),
    choices: names.map((name) => [name, titles[name]] as const),
  });
}

/** Any of several, each with its title. */
export function choices<Name extends string>(
  term: string,
  says: string,
  titles: Readonly<Record<Name, string>>,
  more: More = {},
): Fielded<z.ZodDefault<z.ZodArray<z.ZodEnum<{ [Key in Name]: Key }>>>, readonly Name[]> {
  const names = Object.keys(titles) as [Name, ...Name[]];
  return entered(
    z.array(z.enum(names)).max(names.length).default([]) as unknown as z.ZodDefault<
      z.ZodArray<z.ZodEnum<{ [Key in Name]: Key }>>
    >,
    { kind: 'choices', ...common(term, says, more), choices: names.map((name) => [name, titles[name]]) },
  );
}

/** What tells one row of a list from another. */
export const id = z
  .string()
  .regex(/^[A-Za-z0-9_-]{1,40}$/, 'an identifier has 1 to 40 letters, digits, "-" or "_"');

type ReferenceSchema = z.ZodDefault<z.ZodUnion<readonly [z.ZodString, z.ZodLiteral<''>]>>;

/** Names a row of another list of the plan, or none. */
export const refersTo = (
  to: string,
  term: string,
  says: string,
  more: More = {},
): Fielded<ReferenceSchema, string> =>
  entered(z.union([id, z.literal('')]).default(''), { kind: 'reference', ...common(term, says, more), to });

/** Names several rows of another list of the plan, in order. */
export const refersToSome = (to: string, term: string, says: string, most: number, more: More = {}) =>
  entered<readonly string[], z.ZodDefault<z.ZodArray<typeof id>>>(z.array(id).max(most).default([]), {
    kind: 'references',
    ...common(term, says, more),
    to,
  });

/** A term within a sentence: "port forwards", but "Wi-Fi networks" and "DNS servers". */
export const lowered = (term: string): string =>
  /^\p{Lu}[^\p{Lu}]*$/u.test(term.split(' ')[0]!) ? term.slice(0, 1).toLowerCase() + term.slice(1) : term;

/** A list of rows, each with an id of its own; `one` is what a row is called where its term has no plain singular. */
export function rows<Row extends z.ZodObject>(
  term: string,
  says: string,
  row: Row,
  most: number,
  one = lowered(term).replace(/s$/, ''),
): z.ZodDefault<z.ZodArray<Row>> {
  const made = z.array(row).max(most).default([]).meta({ title: term, description: says, maxItems: most });
  fields.set(made, { kind: 'rows', term, says, alsoCalled: [], most, one });
  return made;
}

/** A list in which two rows may say the same. */
export function repeated<List extends z.ZodType>(list: List): List {
  fields.set(list, { ...(fields.get(list) as RowsField), repeats: true });
  return list;
}

/** An object whose members are kept beside each other, of which a field beside it names the one in use. */
const chosenBy = new WeakMap<z.ZodType, string>();
export function oneInUse<Shape extends z.ZodRawShape>(shape: Shape, by: string) {
  const made = z.strictObject(shape).prefault({} as never);
  chosenBy.set(made, by);
  return made;
}
export const chooserOf = (schema: z.ZodType): string | undefined => chosenBy.get(schema);

/** What the program computes with once a part of the plan has been read. */
export type ValueOf<Schema> = Schema extends { readonly '~value': infer Value }
  ? Value
  : Schema extends z.ZodDefault<infer Inner> | z.ZodPrefault<infer Inner>
    ? ValueOf<Inner>
    : Schema extends z.ZodArray<infer Element>
      ? readonly ValueOf<Element>[]
      : Schema extends z.ZodObject<infer Shape>
        ? { readonly [Key in keyof Shape]: ValueOf<Shape[Key]> }
        : Schema extends z.ZodType
          ? z.output<Schema>
          : never;
