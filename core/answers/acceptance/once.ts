import type { Site } from '../../site/model.ts';

/** Computes something of a site when it is first asked for, and only once: a site never changes. */
export function onceFor<Value>(compute: (site: Site) => Value): (site: Site) => Value {
  const known = new WeakMap<Site, { readonly value: Value }>();
  return (site) => {
    const found = known.get(site) ?? { value: compute(site) };
    known.set(site, found);
    return found.value;
  };
}

/** The same of something of the site, by what tells it apart. */
export function onceForEach<Of, Value>(
  keyOf: (of: Of) => string,
  compute: (site: Site, of: Of) => Value,
): (site: Site, of: Of) => Value {
  const known = onceFor(() => new Map<string, { readonly value: Value }>());
  return (site, of) => {
    const mine = known(site);
    const key = keyOf(of);
    const found = mine.get(key) ?? { value: compute(site, of) };
    mine.set(key, found);
    return found.value;
  };
}
