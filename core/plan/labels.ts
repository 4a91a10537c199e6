import { valueAt } from './pointer.ts';
import { termAt } from './places.ts';

interface Named {
  readonly name?: unknown;
  readonly person?: unknown;
  readonly model?: unknown;
  readonly purpose?: unknown;
  readonly host?: unknown;
}

/** What a row is called by people: its name; for a box its model, for a forward what it is for; a promise has its number. */
export function nameOf(row: Named, list: string, index: number): string {
  const told =
    list === 'forwards'
      ? [row.purpose]
      : list === 'peers'
        ? [row.person, row.name]
        : list === 'promises'
          ? [`promise ${index + 1}`]
          : [row.name ?? row.model ?? row.host ?? row.person];
  return told.filter((each) => typeof each === 'string' && each.trim() !== '').join(', ');
}

/** The name of the innermost row around a place of the plan, "Office"; empty where none has a name. */
export function ownerAt(plan: unknown, at: string): string {
  const parts = at.split('/');
  let owner = '';
  for (let depth = 3; depth <= parts.length; depth += 1) {
    if (!/^\d+$/.test(parts[depth - 1]!)) continue;
    const row = valueAt(plan, parts.slice(0, depth).join('/'));
    if (typeof row === 'object' && row !== null)
      owner = nameOf(row, parts[depth - 2]!, Number(parts[depth - 1])) || owner;
  }
  return owner;
}

/** "MTU of Fibre": a place in the plan, as a person would say it. */
export function labelAt(plan: unknown, at: string): string {
  const owner = ownerAt(plan, at);
  const row = /\/(\d+)$/.exec(at);
  const term = row ? termAt(at.slice(0, row.index)) : termAt(at);
  if (row) return owner || `${term}, row ${Number(row[1]) + 1}`;
  return owner === '' || owner === valueAt(plan, at) ? term : `${term} of ${owner}`;
}
