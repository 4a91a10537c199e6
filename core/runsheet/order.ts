/**
 * Orders things so that each comes after everything it needs; among those that may come next, the one that was
 * written first (Kahn's method). A need that does not exist is ignored; a circle is a mistake of the program.
 */
export function inOrder<T extends { readonly id: string; readonly needs: readonly string[] }>(
  items: readonly T[],
): T[] {
  const known = new Set(items.map((item) => item.id));
  const waiting = [...items];
  const placed = new Set<string>();
  const ordered: T[] = [];
  while (waiting.length > 0) {
    const next = waiting.findIndex((item) =>
      item.needs.every((need) => placed.has(need) || !known.has(need)),
    );
    if (next < 0)
      throw new Error(`Steps need each other in a circle: ${waiting.map((item) => item.id).join(', ')}`);
    const [item] = waiting.splice(next, 1);
    placed.add(item!.id);
    ordered.push(item!);
  }
  return ordered;
}
