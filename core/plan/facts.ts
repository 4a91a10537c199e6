import { once } from '../base/once.ts';
import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import * as z from 'zod';
import { bare, chooserOf, fieldOf, lowered, marksUnder, type Decides, type Marked } from './field.ts';
import { nameOf } from './labels.ts';
import { fieldAt, walk } from './places.ts';
import { planSchema, type PlanValues } from './schema.ts';

/*
 * What evidence stands on. A part of the plan is named by its keys and, for a row, its id: "/networks/office",
 * "/router", "/router/services". What a part decides is all that the catalogue does not call cosmetic; the rows of a
 * list below a row belong to it, those below anything else are parts of their own.
 */

/** Something that a part decides. */
export type Decision = Exclude<Decides, 'nothing'>;

/** The plan by its parts, as far as they decide something. */
export interface Facts {
  /** Hash of what a part decides in one respect; that of nothing for a part that is not there. */
  readonly hash: (part: string, decides: Decision) => string;
  /** The parts that stand at the top: sections and whole lists. */
  readonly sections: readonly string[];
  /** "the network Office", "Port forwards": a part in words. */
  readonly title: (part: string) => string;
}

/** Twelve hexadecimal digits of the SHA-256 are plenty to tell two states of one part apart. */
export const hashOf = (facts: unknown): string =>
  bytesToHex(sha256(utf8ToBytes(JSON.stringify(tidy(facts)) ?? ''))).slice(0, 12);

/** A value without what is empty: a field that a later version adds, and nobody filled, changes no hash. */
function tidy(value: unknown): unknown {
  if (typeof value === 'bigint') return String(value);
  if (Array.isArray(value)) return value.map(tidy);
  if (value === null || typeof value !== 'object') return value;
  const kept = Object.entries(value).flatMap(([key, each]) => {
    const inner = tidy(each);
    const empty =
      inner === undefined ||
      inner === null ||
      inner === '' ||
      inner === false ||
      (typeof inner === 'object' && Object.keys(inner).length === 0);
    return empty ? [] : [[key, inner] as const];
  });
  return Object.fromEntries(kept.sort(([a], [b]) => (a < b ? -1 : 1)));
}

/** Leaves of a value what decides something in one respect. */
type Picker = (value: unknown, row: Readonly<Record<string, unknown>>, inRow: boolean) => unknown;

function pickerOf(schema: z.ZodType, decides: Decision, owner: Marked, chooser = chooserOf(schema)): Picker {
  const marks = marksUnder(schema, owner);
  const inner = bare(schema);
  if (inner instanceof z.ZodArray && inner.element instanceof z.ZodObject) {
    const element = pickerOf(inner.element, decides, marks);
    return (value, _, inRow) =>
      inRow ? (value as unknown[]).map((each) => element(each, {}, true)) : undefined;
  }
  if (inner instanceof z.ZodObject) {
    const by = chooser ?? chooserOf(inner);
    const members = Object.entries(inner.shape as Record<string, z.ZodType>).map(
      ([key, member]) => [key, pickerOf(member, decides, marks)] as const,
    );
    return (value, row, inRow) => {
      const found = value as Readonly<Record<string, unknown>>;
      return Object.fromEntries(
        // Of settings that are kept beside each other only those in use decide anything.
        members.flatMap(([key, pick]) =>
          by === undefined || row[by] === key ? [[key, pick(found[key], found, inRow)]] : [],
        ),
      );
    };
  }
  const mine = fieldOf(schema) ? marks.decides === decides : decides === 'path' && marks.decides === 'path';
  return (value) => (mine ? value : undefined);
}

/** The schema of every place, with what it decides; ids of rows as "*". */
const places = new Map<string, { readonly schema: z.ZodType; readonly marks: Marked }>();
walk((schema, at, marks) => places.set(at, { schema, marks }));

const pickers = new Map<string, Picker>();
function pickerAt(place: string, decides: Decision): Picker {
  const key = `${decides} ${place}`;
  const known = pickers.get(key);
  if (known) return known;
  const { schema, marks } = places.get(place)!;
  const made = pickerOf(schema, decides, marks);
  pickers.set(key, made);
  return made;
}

interface Found {
  /** As the catalogue writes it: "/networks/*". */
  readonly place: string;
  readonly value: unknown;
  /** The object in which it stands. */
  readonly owner: Readonly<Record<string, unknown>>;
  readonly row: Readonly<Record<string, unknown>> | undefined;
}

/** A section and its lists; a list is one part. */
const partsBelow = (place: string): string[] =>
  [...places.keys()].filter(
    (each) =>
      each === place ||
      (each.startsWith(`${place}/`) && !each.includes('*') && fieldAt(each)?.kind === 'rows'),
  );

/** What the values of a plan decide, part by part. Every hash is computed once, when it is asked for. */
export const factsOf = once((values: PlanValues): Facts => {
  const hashes = new Map<string, string>();
  const rowsById = new WeakMap<object, ReadonlyMap<string, unknown>>();
  const rowOf = (list: readonly unknown[], id: string): unknown => {
    const rows =
      rowsById.get(list) ?? new Map(list.map((row) => [(row as { readonly id: string }).id, row] as const));
    rowsById.set(list, rows);
    return rows.get(id);
  };
  const find = (part: string): Found | undefined => {
    let found: Found = { place: '', value: values, owner: {}, row: undefined };
    for (const key of part.split('/').slice(1)) {
      const { value } = found;
      if (value === null || typeof value !== 'object') return undefined;
      const isList = Array.isArray(value);
      const next = isList ? rowOf(value, key) : (value as Record<string, unknown>)[key];
      const place = `${found.place}/${isList ? '*' : key}`;
      if (next === undefined || !places.has(place)) return undefined;
      found = {
        place,
        value: next,
        owner: isList ? {} : (value as Record<string, unknown>),
        row: isList ? (next as Record<string, unknown>) : found.row,
      };
    }
    return found;
  };
  const compute = (part: string, decides: Decision): string => {
    const found = find(part);
    if (!found) return hashOf(undefined);
    const pick = pickerAt(found.place, decides);
    const whole = found.row !== undefined || Array.isArray(found.value);
    return hashOf(pick(found.value, found.owner, whole));
  };
  return {
    sections: Object.keys(planSchema.shape)
      .filter((key) => !['format', 'version'].includes(key))
      .flatMap((key) => partsBelow(`/${key}`)),
    hash: (part, decides) => {
      const key = `${decides} ${part}`;
      const hash = hashes.get(key) ?? compute(part, decides);
      hashes.set(key, hash);
      return hash;
    },
    title: (part) => titleOf(part, find(part)),
  };
});

type Section = {
  [Key in keyof PlanValues]: PlanValues[Key] extends readonly unknown[] ? never : Key;
}[keyof PlanValues];

/** What the parts are called that are no lists. */
const sectionTitles: Partial<Record<Section, string>> = {
  router: 'the settings of the router',
  failover: 'how lines are watched and shared',
  vpn: 'the VPN server',
};

function titleOf(part: string, found: Found | undefined): string {
  const keys = part.split('/').slice(1);
  const own = fieldAt(part);
  if (own) return lowered(own.term);
  const list = fieldAt(keys.length > 1 ? `/${keys.slice(0, -1).join('/')}` : '');
  if (list?.kind !== 'rows') return sectionTitles[keys[0] as Section] ?? 'the plan';
  const row = found?.row;
  if (!row) return `a ${list.one} that is gone`;
  const name = nameOf(row, keys.at(-2)!, 0);
  return name === '' ? `a ${list.one}` : `the ${list.one} ${name}`;
}
