import * as z from 'zod';
import { bare, chooserOf, fieldOf, type Field } from './field.ts';
import { catalogue } from './places.ts';
import { planSchema, type PlanValues } from './schema.ts';

/** A field where it stands in a plan. */
export interface FieldHere<Kind extends Field = Field> {
  readonly field: Kind;
  readonly value: unknown;
  /** JSON Pointer; written out only when it is asked for. */
  readonly at: () => string;
  /** The row or object of which it is a member. */
  readonly row: Readonly<Record<string, unknown>>;
}

export interface FieldsOf<Kind extends Field> {
  /** Where they stand in the catalogue. */
  readonly places: readonly string[];
  /** Calls back for every one of a plan. */
  readonly each: (values: PlanValues, visit: Visit<Kind>) => void;
}

type Visit<Kind extends Field> = (here: FieldHere<Kind>) => void;
type Walker<Kind extends Field> = (
  value: unknown,
  at: () => string,
  row: Readonly<Record<string, unknown>>,
  visit: Visit<Kind>,
) => void;

/**
 * The fields of one kind: where they stand, and what calls back for every one that is in use, in the order of the document: of settings that are kept
 * beside each other those that are chosen.
 */
export function fieldsOf<Kind extends Field>(wanted: (field: Field) => field is Kind): FieldsOf<Kind> {
  const walker = walkerOf(planSchema, wanted);
  return {
    places: catalogue().flatMap(({ at, field }) => (wanted(field) ? [at] : [])),
    each: (values, visit) => walker?.(values, () => '', {}, visit),
  };
}

/** Undefined where no field of that kind is below. */
function walkerOf<Kind extends Field>(
  schema: z.ZodType,
  wanted: (field: Field) => field is Kind,
  chooser = chooserOf(schema),
): Walker<Kind> | undefined {
  const field = fieldOf(schema);
  const here: Walker<Kind> | undefined =
    field && wanted(field) ? (value, at, row, visit) => visit({ field, value, at, row }) : undefined;
  const below = walkerBelow(bare(schema), wanted, chooser ?? chooserOf(bare(schema)));
  if (here === undefined || below === undefined) return here ?? below;
  return (...given) => {
    here(...given);
    below(...given);
  };
}

function walkerBelow<Kind extends Field>(
  schema: z.ZodType,
  wanted: (field: Field) => field is Kind,
  chooser: string | undefined,
): Walker<Kind> | undefined {
  if (schema instanceof z.ZodArray && schema.element instanceof z.ZodObject) {
    const element = walkerOf(schema.element, wanted);
    return (
      element &&
      ((value, at, row, visit) =>
        (value as readonly unknown[]).forEach((each, index) =>
          element(each, () => `${at()}/${index}`, row, visit),
        ))
    );
  }
  if (!(schema instanceof z.ZodObject)) return undefined;
  const members = Object.entries(schema.shape as Record<string, z.ZodType>).flatMap(([key, inner]) => {
    const walker = walkerOf(inner, wanted);
    return walker ? [[key, walker] as const] : [];
  });
  if (members.length === 0) return undefined;
  return (value, at, owner, visit) => {
    const row = value as Readonly<Record<string, unknown>>;
    for (const [key, walker] of members)
      if (chooser === undefined || owner[chooser] === key)
        walker(row[key], () => `${at()}/${key}`, row, visit);
  };
}
