/** Sets the value at a JSON Pointer in a copy that shares everything else; the same object where nothing changes. */
export function setAt<T>(document: T, at: string, value: unknown): T {
  const parts = at
    .split('/')
    .slice(1)
    .map((part) => part.replace(/~1/g, '/').replace(/~0/g, '~'));
  return put(document, parts, value) as T;
}

function put(here: unknown, [part, ...rest]: string[], value: unknown): unknown {
  if (part === undefined) return value;
  const before = (here as Record<string, unknown>)[part];
  const after = put(before, rest, value);
  if (Object.is(before, after)) return here;
  if (Array.isArray(here)) {
    const copy = [...(here as unknown[])];
    copy[Number(part)] = after;
    return copy;
  }
  return { ...(here as object), [part]: after };
}
