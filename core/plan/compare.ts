import { valueText } from './figures.ts';
import { labelAt } from './labels.ts';
import type { Plan } from './schema.ts';

type Json = string | number | boolean | null | Json[] | { [key: string]: Json };

/** One value that differs between two plans. A path names list entries by id, so that moved rows stay the same row. */
export interface Difference {
  readonly path: string;
  /** Words for the place: "Subnet of Office". */
  readonly label: string;
  /** undefined: not there. */
  readonly before: Json | undefined;
  readonly after: Json | undefined;
  /** The two values in words. */
  readonly says: readonly [before: string, after: string];
}

const separator = '\u0001';
/** Last part of the path of a list's order, which is a value like any other. */
const orderPart = '@order';

interface Leaf {
  /** JSON Pointer in its own plan. */
  readonly at: string;
  readonly value: Json;
}

interface Leaves {
  readonly values: Map<string, Leaf>;
  /** Ids of the rows of each list, in order. */
  readonly orders: Map<string, { readonly at: string; readonly ids: readonly string[] }>;
}

interface Row {
  readonly id: string;
}
const isRows = (value: Json): value is Json[] & Row[] =>
  Array.isArray(value) &&
  value.every((entry) => typeof entry === 'object' && entry !== null && 'id' in entry);

/** All leaf values of a plan by path. A list entry that has an id is named by it; lists of texts are one value. */
function leaves(value: Json, path: string, at: string, found: Leaves): void {
  if (isRows(value)) {
    found.orders.set(path, { at, ids: (value as Row[]).map(({ id }) => id) });
    for (const [index, entry] of (value as (Json & Row)[]).entries())
      leaves(entry, `${path}${separator}#${entry.id}`, `${at}/${index}`, found);
  } else if (typeof value === 'object' && value !== null && !Array.isArray(value))
    for (const [key, inner] of Object.entries(value))
      leaves(inner, path === '' ? key : `${path}${separator}${key}`, `${at}/${key}`, found);
  else found.values.set(path, { at, value });
}

const leavesOf = (plan: Plan): Leaves => {
  const found: Leaves = { values: new Map(), orders: new Map() };
  leaves(plan as unknown as Json, '', '', found);
  return found;
};

const same = (a: Json | undefined, b: Json | undefined): boolean => JSON.stringify(a) === JSON.stringify(b);

/** Every value that differs, in the order of the plan; of a list that was sorted otherwise its order too. */
export function comparePlans(before: Plan, after: Plan): Difference[] {
  const [a, b] = [leavesOf(before), leavesOf(after)];
  const differences: Difference[] = [];
  for (const path of new Set([...a.values.keys(), ...b.values.keys()])) {
    const [was, is] = [a.values.get(path), b.values.get(path)];
    if (!same(was?.value, is?.value))
      differences.push({
        path,
        label: is ? labelAt(after, is.at) : labelAt(before, was!.at),
        before: was?.value,
        after: is?.value,
        says: [valueText(before, (was ?? is)!.at, was?.value), valueText(after, (is ?? was)!.at, is?.value)],
      });
  }
  for (const [path, { at, ids }] of a.orders) {
    const other = b.orders.get(path);
    if (!other) continue;
    // Rows that came or went are no change of order: only what both have is compared.
    const [there, here] = [new Set(other.ids), new Set(ids)];
    const was = ids.filter((id) => there.has(id));
    const is = other.ids.filter((id) => here.has(id));
    if (same(was, is)) continue;
    const named = (plan: Plan, list: string, all: readonly string[], shown: readonly string[]): string =>
      shown.map((id) => labelAt(plan, `${list}/${all.indexOf(id)}`)).join(', ');
    const says = [named(before, at, ids, was), named(after, other.at, other.ids, is)] as const;
    differences.push({
      path: `${path}${separator}${orderPart}`,
      label: `Order of ${labelAt(after, other.at)}`,
      before: says[0],
      after: says[1],
      says,
    });
  }
  return differences;
}

/** A field that both sides changed from the common base, to different values. */
export interface Conflict {
  readonly path: string;
  readonly label: string;
  readonly base: Json | undefined;
  readonly mine: Json | undefined;
  readonly theirs: Json | undefined;
  /** The three values in words. */
  readonly says: Readonly<Record<'base' | 'mine' | 'theirs', string>>;
}

export interface Merge {
  readonly conflicts: readonly Conflict[];
  /** Changes of one side only, which merge by themselves. */
  readonly fromMine: readonly Difference[];
  readonly fromTheirs: readonly Difference[];
  /** The merged plan, given which side wins each conflict (mine where nothing is said). */
  readonly resolve: (choices: Readonly<Record<string, 'mine' | 'theirs'>>) => Plan;
}

/** Merges two plans that grew from one base, value by value. */
export function mergePlans(base: Plan, mine: Plan, theirs: Plan): Merge {
  const mineChanges = new Map(comparePlans(base, mine).map((change) => [change.path, change]));
  const theirChanges = new Map(comparePlans(base, theirs).map((change) => [change.path, change]));
  const conflicts: Conflict[] = [];
  const fromMine: Difference[] = [];
  const fromTheirs: Difference[] = [];
  for (const [path, change] of mineChanges) {
    const other = theirChanges.get(path);
    if (!other) fromMine.push(change);
    else if (!same(change.after, other.after))
      conflicts.push({
        path,
        label: change.label,
        base: change.before,
        mine: change.after,
        theirs: other.after,
        says: { base: change.says[0], mine: change.says[1], theirs: other.says[1] },
      });
  }
  for (const [path, change] of theirChanges) if (!mineChanges.has(path)) fromTheirs.push(change);
  const resolve = (choices: Readonly<Record<string, 'mine' | 'theirs'>>): Plan => {
    // Start from theirs and write in what mine changed and won: rows that mine added or removed follow their leaves.
    const result = structuredClone(theirs) as unknown as Json;
    const wins = [
      ...fromMine,
      ...conflicts
        .filter(({ path }) => (choices[path] ?? 'mine') === 'mine')
        .map(({ path, label, mine: value }) => ({ path, label, before: undefined, after: value })),
    ];
    for (const change of wins)
      write(result, change.path.split(separator), change.after, mine as unknown as Json);
    return result as unknown as Plan;
  };
  return { conflicts, fromMine, fromTheirs, resolve };
}

/** Sets or removes one value, by a path with ids. A row that is missing is taken whole from `source`. */
function write(target: Json, path: readonly string[], value: Json | undefined, source: Json): void {
  let here = target;
  let there: Json | undefined = source;
  for (const [depth, part] of path.entries()) {
    const last = depth === path.length - 1;
    if (part === orderPart) {
      if (isRows(here) && there !== undefined && isRows(there)) reorder(here, there);
      return;
    }
    if (part.startsWith('#') && Array.isArray(here)) {
      const id = part.slice(1);
      const byId = (entry: Json): boolean => (entry as { id?: string }).id === id;
      const sourceRow: Json | undefined = Array.isArray(there) ? there.find(byId) : undefined;
      const place = here.findIndex(byId);
      if (sourceRow === undefined) {
        // Removed on the winning side.
        if (place >= 0) here.splice(place, 1);
        return;
      }
      if (place < 0) {
        here.splice(
          placeFor(id, here as Json[] & Row[], there as Json[] & Row[]),
          0,
          structuredClone(sourceRow),
        );
        return;
      }
      here = here[place]!;
      there = sourceRow;
    } else if (typeof here === 'object' && here !== null && !Array.isArray(here)) {
      if (last) {
        if (value === undefined) delete here[part];
        else here[part] = structuredClone(value);
        return;
      }
      here = here[part]!;
      there = typeof there === 'object' && there !== null && !Array.isArray(there) ? there[part] : undefined;
    } else return;
  }
}

/** Where a new row belongs: after the row before it in its own plan, the nearest that is there too. */
function placeFor(id: string, here: readonly Row[], there: readonly Row[]): number {
  const index = there.findIndex((row) => row.id === id);
  for (let before = index - 1; before >= 0; before -= 1) {
    const place = here.findIndex((row) => row.id === there[before]!.id);
    if (place >= 0) return place + 1;
  }
  return 0;
}

/** Puts the rows that both lists have in the order of the other list; rows of its own keep their places. */
function reorder(here: Json[] & Row[], there: readonly Row[]): void {
  const rows = new Map((here as Row[]).map((row) => [row.id, row]));
  const wanted = there.flatMap(({ id }) => rows.get(id) ?? []);
  const shared = new Set(wanted.map(({ id }) => id));
  let next = 0;
  for (const [place, row] of (here as Row[]).entries())
    if (shared.has(row.id)) {
      here[place] = wanted[next] as Json & Row;
      next += 1;
    }
}
