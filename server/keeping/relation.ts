/** A revision, and what tells it from every other: when it was saved, and the SHA-256 of its plan. */
export interface Fingerprint {
  readonly number: number;
  readonly is: string;
}

/**
 * How a site here and the same site in a backup stand to each other:
 * `new`: not here; `same`: the newest is the same; `behind`: their newest is here, and more came since; `ahead`:
 * theirs goes on from the newest here, which is their number `from`; `diverged`: both went on from their number
 * `from` (0 where nothing is common).
 */
export type Relation =
  | { readonly kind: 'new' | 'same' | 'behind' }
  | { readonly kind: 'ahead' | 'diverged'; readonly from: number };

/**
 * Histories are compared by what the revisions are, not by their numbers: a merge gives those of the other side new
 * ones. Both may have been thinned. Newest last.
 */
export function relationOf(here: readonly Fingerprint[], theirs: readonly Fingerprint[]): Relation {
  const newestHere = here.at(-1);
  const newestTheirs = theirs.at(-1);
  if (!newestHere) return { kind: 'new' };
  if (!newestTheirs) return { kind: 'behind' };
  if (newestHere.is === newestTheirs.is) return { kind: 'same' };
  const known = new Set(here.map(({ is }) => is));
  if (known.has(newestTheirs.is)) return { kind: 'behind' };
  const same = theirs.filter(({ is }) => is === newestHere.is).at(-1);
  if (same) return { kind: 'ahead', from: same.number };
  return { kind: 'diverged', from: theirs.filter(({ is }) => known.has(is)).at(-1)?.number ?? 0 };
}
