import type { Plan } from './schema.ts';

type Json = string | number | boolean | null | Json[] | { [key: string]: Json };

/** One value that differs between two plans. A path names list entries by id, so that moved rows stay the same row. */
export interface Difference {
  readonly path: string;
  /** Words for the path: "Networks · Office · prefix". */
  readonly label: string;
  /** undefined: not there. */
  readonly before: Json | undefined;
  readonly after: Json | undefined;
}

const separator = '\u0001';

/** All leaf values of a plan by path. A list entry that has an id is named by it; lists of texts are one value. */
function leaves(
  value: Json,
  path: string[],
  labels: string[],
  found: Map<string, { label: string; value: Json }>,
): void {
  const isRows =
    Array.isArray(value) &&
    value.every((entry) => typeof entry === 'object' && entry !== null && 'id' in entry);
  if (Array.isArray(value) && isRows)
    for (const entry of value as { id: string; name?: string; purpose?: string }[])
      leaves(
        entry as Json,
        [...path, `#${entry.id}`],
        [...labels, entry.name || entry.purpose || entry.id],
        found,
      );
  else if (typeof value === 'object' && value !== null && !Array.isArray(value))
    for (const [key, inner] of Object.entries(value)) leaves(inner, [...path, key], [...labels, key], found);
  else found.set(path.join(separator), { label: labels.join(' · '), value });
}

const leavesOf = (plan: Plan): Map<string, { label: string; value: Json }> => {
  const found = new Map<string, { label: string; value: Json }>();
  leaves(plan as unknown as Json, [], [], found);
  return found;
};

const same = (a: Json | undefined, b: Json | undefined): boolean => JSON.stringify(a) === JSON.stringify(b);

/** Every value that differs, in the order of the plan. */
export function comparePlans(before: Plan, after: Plan): Difference[] {
  const [a, b] = [leavesOf(before), leavesOf(after)];
  const differences: Difference[] = [];
  for (const path of new Set([...a.keys(), ...b.keys()])) {
    const [was, is] = [a.get(path), b.get(path)];
    if (!same(was?.value, is?.value))
      differences.push({ path, label: (is ?? was)!.label, before: was?.value, after: is?.value });
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
        here.push(structuredClone(sourceRow));
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
