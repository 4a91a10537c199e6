/** Computes something of a thing that never changes when it is first asked for, and only once for each. */
export function once<Of extends object, Value>(compute: (of: Of) => Value): (of: Of) => Value {
  const known = new WeakMap<Of, { readonly value: Value }>();
  return (of) => {
    let found = known.get(of);
    if (found === undefined) known.set(of, (found = { value: compute(of) }));
    return found.value;
  };
}

/** The same of something within it, by what tells it apart. */
export function onceForEach<Within extends object, Of, Key, Value>(
  keyOf: (of: Of) => Key,
  compute: (within: Within, of: Of) => Value,
): (within: Within, of: Of) => Value {
  const known = once((_: Within) => new Map<Key, { readonly value: Value }>());
  return (within, of) => {
    const mine = known(within);
    const key = keyOf(of);
    let found = mine.get(key);
    if (found === undefined) mine.set(key, (found = { value: compute(within, of) }));
    return found.value;
  };
}

/**
 * Makes something of a row again only where the row, or anything else that it is made from, has become another: an
 * edit of one row leaves what was made of the others.
 */
export function onceWhile<Of extends object, Rest extends readonly unknown[], Value>(
  make: (of: Of, ...rest: Rest) => Value,
): (of: Of, ...rest: Rest) => Value {
  const known = new WeakMap<Of, { readonly rest: Rest; readonly value: Value }>();
  return (of, ...rest) => {
    const before = known.get(of);
    if (before?.rest.length === rest.length && rest.every((each, index) => each === before.rest[index]))
      return before.value;
    const value = make(of, ...rest);
    known.set(of, { rest, value });
    return value;
  };
}
