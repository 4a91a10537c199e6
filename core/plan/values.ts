import * as z from 'zod';
import type { Problem } from '../base/result.ts';
import { chooserOf, fieldOf, type NumberField, type TextField } from './field.ts';
import { planSchema, type Plan, type PlanValues } from './schema.ts';

/** A field whose content cannot be used, and what that means. */
export interface FieldProblem extends Problem {
  /** JSON Pointer of the field. */
  readonly at: string;
  readonly term: string;
  /** The job cannot be done without this value: an empty field counts too. */
  readonly needed: boolean;
  /** What stands in the field. */
  readonly typed: string;
}

type Row = Readonly<Record<string, unknown>>;
type Note = ((problem: FieldProblem) => void) | undefined;
/** A place that is written out only when something is wrong there. */
type Place = () => string;
type Reader = (value: unknown, at: Place, note: Note, row: Row) => unknown;

/**
 * Reads every field of a plan by the catalogue: figures within their bounds, with the usual value where there is none;
 * texts as what they stand for. What cannot be used is noted and stands as if it were empty; in a part that is not in
 * use (another WAN type's settings) it is not noted. Never fails.
 */
export function valuesOf(plan: Plan): { values: PlanValues; problems: readonly FieldProblem[] } {
  const problems: FieldProblem[] = [];
  const values = readPlanSchema(
    plan,
    () => '',
    (problem) => problems.push(problem),
    {},
  ) as PlanValues;
  return { values, problems };
}

function readerOf(schema: z.ZodType, chooser = chooserOf(schema)): Reader {
  const field = fieldOf(schema);
  if (field?.kind === 'number') return (value, at, note) => figure(field, value as number | null, at, note);
  if (field?.kind === 'list' && field.read)
    return (value, at, note, row) =>
      (value as string[]).flatMap((each) => read(field, each, at, note, row) ?? []);
  if ((field?.kind === 'text' || field?.kind === 'secret') && (field.read || field.needed !== false))
    return (value, at, note, row) => {
      const found = read(field, value as string, at, note, row);
      return field.keepsText ? value : found;
    };
  if (schema instanceof z.ZodDefault || schema instanceof z.ZodPrefault)
    return readerOf(schema.def.innerType as z.ZodType, chooser);
  if (schema instanceof z.ZodArray && schema.element instanceof z.ZodObject) {
    const element = kept(readerOf(schema.element));
    return (value, at, note, row) =>
      (value as object[]).map((each, index) => element(each, () => `${at()}/${index}`, note, row));
  }
  if (schema instanceof z.ZodObject) return objectReader(schema, chooser);
  return (value) => value;
}

/**
 * Reads a row of a list once: an edit leaves all other rows the very objects they were, and what they are read as does
 * not hang on where they stand. What was read is frozen, so that nobody changes it in place afterwards.
 */
function kept(reader: Reader): (value: object, at: Place, note: Note, row: Row) => unknown {
  const known = new WeakMap<object, { made: unknown; problems: readonly FieldProblem[] }>();
  return (value, at, note, row) => {
    let found = known.get(value);
    if (found === undefined) {
      const problems: FieldProblem[] = [];
      const made = reader(
        value,
        () => '',
        (problem) => problems.push(problem),
        row,
      );
      freeze(value);
      known.set(value, (found = { made, problems }));
    }
    if (note) for (const problem of found.problems) note({ ...problem, at: `${at()}${problem.at}` });
    return found.made;
  };
}

function freeze(value: object): void {
  if (Object.isFrozen(value)) return;
  Object.freeze(value);
  for (const each of Object.values(value)) if (each !== null && typeof each === 'object') freeze(each);
}

/** Reads the members of an object; where one of them is in use, named beside it, only that one is heard of. */
function objectReader(schema: z.ZodObject, chooser: string | undefined): Reader {
  const members = Object.entries(schema.shape as Record<string, z.ZodType>).map(
    ([key, inner]) => [key, readerOf(inner)] as const,
  );
  return (value, at, note, row) => {
    const made: Record<string, unknown> = {};
    for (const [key, reader] of members) {
      const heard = chooser === undefined || row[chooser] === key ? note : undefined;
      made[key] = reader((value as Row)[key], () => `${at()}/${key}`, heard, value as Row);
    }
    return made;
  };
}

/** The figure where it is within its bounds, else the usual one, else nothing. */
function figure(field: NumberField, value: number | null, at: Place, note: Note): number | null {
  if (value === null) return field.usual?.value ?? null;
  const says = outOfBounds(field, value);
  if (says === undefined) return value;
  note?.({ code: 'out-of-bounds', says, at: at(), term: field.term, needed: true, typed: String(value) });
  return field.usual?.value ?? null;
}

/** Why a figure is none that the field can have; undefined where it is one. */
export function outOfBounds(field: NumberField, value: number): string | undefined {
  const { least, most, whole, unit } = field;
  const named = (figureOf: number): string => `${figureOf}${unit === '' ? '' : ` ${unit}`}`;
  if (value < least) return `${named(value)} is below the minimum of ${named(least)}.`;
  if (value > most) return `${named(value)} is above the maximum of ${named(most)}.`;
  return whole && !Number.isInteger(value) ? `${value} is not a whole number.` : undefined;
}

/** What the text is read as; undefined, with a problem noted, where it cannot be read or is missing. */
function read(field: TextField, typed: string, at: Place, note: Note, row: Row): unknown {
  const isNeeded = (): boolean => (typeof field.needed === 'function' ? field.needed(row) : field.needed);
  if (typed.trim() === '') {
    if (note && field.kind !== 'list' && isNeeded())
      note({
        code: 'empty',
        says: `${field.term} is missing.`,
        at: at(),
        term: field.term,
        needed: true,
        typed: '',
      });
    return undefined;
  }
  const result = field.read?.(typed);
  if (!result) return typed;
  if (result.ok) return result.value;
  note?.({ ...result.problem, at: at(), term: field.term, needed: isNeeded(), typed });
  return undefined;
}

const readPlanSchema = readerOf(planSchema);
