import * as z from 'zod';
import { bare, fieldOf, marksUnder, unmarked, type Field, type FieldSheet, type Marked } from './field.ts';
import { valueAt } from './pointer.ts';
import { planSchema } from './schema.ts';

/** A field of the catalogue and where it stands; rows of a list are written as "*". */
export interface PlacedField extends Marked {
  readonly at: string;
  readonly field: Field;
}

/** Calls back for every schema of the plan that has a place, in the order of the document. */
export function walk(
  visit: (schema: z.ZodType, at: string, marks: Marked) => void,
  schema: z.ZodType = planSchema,
  at = '',
  owner = unmarked,
): void {
  const marks = marksUnder(schema, owner);
  visit(schema, at, marks);
  const inner = bare(schema);
  if (inner instanceof z.ZodObject)
    for (const [key, member] of Object.entries(inner.shape as Record<string, z.ZodType>))
      walk(visit, member, `${at}/${key}`, marks);
  else if (inner instanceof z.ZodArray && inner.element instanceof z.ZodObject)
    walk(visit, inner.element, `${at}/*`, marks);
}

/** Every field of the plan, in the order of the document. */
export function catalogue(): PlacedField[] {
  const found: PlacedField[] = [];
  walk((schema, at, marks) => {
    const field = fieldOf(schema);
    if (field) found.push({ at, field, ...marks });
  });
  return found;
}

const known = new Map<string, PlacedField>(catalogue().map((each) => [each.at, each]));

// "/uplinks/0/name" stands in the catalogue as "/uplinks/*/name".
const placeOf = (at: string): string => at.replace(/\/\d+(?=\/|$)/g, '/*');

/** The field at a JSON Pointer of a plan, or at a place of the catalogue; undefined where none is. */
export const fieldAt = (at: string): Field | undefined => known.get(placeOf(at))?.field;

/** The term of the field at a pointer; for a row or an unknown place the last part of the pointer. */
export const termAt = (at: string): string => fieldAt(at)?.term ?? at.split('/').at(-1) ?? '';

/** Every list of the plan whose rows have an id, as places of the catalogue. */
export function rowLists(): string[] {
  const found: string[] = [];
  walk((schema, at) => {
    const inner = bare(schema);
    if (inner instanceof z.ZodArray && inner.element instanceof z.ZodObject && 'id' in inner.element.shape)
      found.push(at);
  });
  return found;
}

/** The values that a choice can have, in order. */
export function namesAt(at: string): string[] {
  const field = fieldAt(at);
  return field?.kind === 'choice' || field?.kind === 'choices' ? field.choices.map(([name]) => name) : [];
}

/** The title of a choice at a pointer: "Automatic (DHCP)" for the WAN type "dhcp". */
export function titleAt(at: string, value: string): string {
  const field = fieldAt(at);
  const choices = field?.kind === 'choice' || field?.kind === 'choices' ? field.choices : [];
  return choices.find(([each]) => each === value)?.[1] ?? value;
}

/** The usual value of a figure; 0 where it has none. */
export function usualAt(at: string): number {
  const field = fieldAt(at);
  return field?.kind === 'number' ? (field.usual?.value ?? 0) : 0;
}

/** The fields right below a place, in the order of the document: the settings of one WAN type, say. */
export function fieldsBelow(at: string): PlacedField[] {
  const place = `${placeOf(at)}/`;
  return [...known.values()].filter(
    (each) => each.at.startsWith(place) && !each.at.slice(place.length).includes('/'),
  );
}

const words = (text: string): string =>
  text
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();

/**
 * Fields whose term, other names, key or sentence hold what was typed; the closest first: the term itself, another
 * name for it, the beginning of either, then any of its words.
 */
export function searchFields(typed: string): PlacedField[] {
  const wanted = words(typed);
  if (wanted === '') return [];
  const rank = ({ at, field }: PlacedField): number => {
    const names = [field.term, ...field.alsoCalled].map(words);
    const key = at.split('/').at(-1)!.toLowerCase();
    if (names[0] === wanted) return 0;
    if (names.includes(wanted)) return 1;
    if (names.some((name) => name.startsWith(wanted)) || key === wanted) return 2;
    if (names.some((name) => ` ${name}`.includes(` ${wanted}`))) return 3;
    return ` ${words(field.says)}`.includes(` ${wanted}`) ? 4 : 5;
  };
  return [...known.values()]
    .map((each, index) => ({ each, index, rank: rank(each) }))
    .filter((found) => found.rank < 5)
    .sort((a, b) => a.rank - b.rank || a.index - b.index)
    .map(({ each }) => each);
}

/** Where a place of the catalogue stands in a plan, as JSON Pointers: one for each row of its lists. */
export function pointersOf(plan: unknown, at: string): string[] {
  const parts = at.split('/').slice(1);
  return parts.reduce<string[]>(
    (found, part) =>
      found.flatMap((pointer) => {
        if (part !== '*') return [`${pointer}/${part}`];
        const list = valueAt(plan, pointer);
        return Array.isArray(list) ? list.map((_, index) => `${pointer}/${index}`) : [];
      }),
    [''],
  );
}

/** The sheet on which a place of a plan stands: that of its field, or of the first field below it. */
export function sheetAt(at: string): FieldSheet {
  const place = placeOf(at);
  for (let part = place; part !== ''; part = part.slice(0, part.lastIndexOf('/'))) {
    const here = known.get(part) ?? [...known.values()].find((each) => each.at.startsWith(`${part}/`));
    if (here) return here.sheet;
  }
  return unmarked.sheet;
}
