/**
 * A document with every part that says the same as before as the very object it was before: after a copy (between
 * threads, or out of JSON) what was computed of those parts is found again. Neither document is changed.
 */
export function keeping<Document>(before: unknown, after: Document): Document {
  return kept(before, after) as Document;
}

function kept(before: unknown, after: unknown): unknown {
  if (before === after || typeof before !== 'object' || typeof after !== 'object') return after;
  if (before === null || after === null) return after;
  if (Array.isArray(after)) return Array.isArray(before) ? keptList(before, after) : after;
  const old = before as Readonly<Record<string, unknown>>;
  const entries = Object.entries(after).map(([key, value]) => [key, kept(old[key], value)] as const);
  const same =
    entries.length === Object.keys(old).length && entries.every(([key, value]) => old[key] === value);
  return same ? before : Object.fromEntries(entries);
}

/** Rows are compared with the row of their id: one that was taken out moves all below it. */
function keptList(before: readonly unknown[], after: readonly unknown[]): readonly unknown[] {
  const byId = new Map(before.map((row) => [idOf(row), row] as const));
  const rows = after.map((row, index) => {
    const id = idOf(row);
    return kept(id === undefined ? before[index] : byId.get(id), row);
  });
  return rows.length === before.length && rows.every((row, index) => row === before[index]) ? before : rows;
}

const idOf = (row: unknown): unknown =>
  typeof row === 'object' && row !== null ? (row as { readonly id?: unknown }).id : undefined;
