/** JSON Pointer (RFC 6901) of a path of keys and indices. */
export const pointer = (path: readonly PropertyKey[]): string =>
  path.map((part) => `/${String(part).replace(/~/g, '~0').replace(/\//g, '~1')}`).join('');

/** The value at a JSON Pointer, or undefined. */
export function valueAt(document: unknown, at: string): unknown {
  let value = document;
  for (const part of at.split('/').slice(1)) {
    if (typeof value !== 'object' || value === null) return undefined;
    value = (value as Record<string, unknown>)[part.replace(/~1/g, '/').replace(/~0/g, '~')];
  }
  return value;
}
