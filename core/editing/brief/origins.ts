import { asAt, type At } from '../../plan/at.ts';
import type { Patch } from '../../plan/patch.ts';
import { valueAt } from '../../plan/pointer.ts';
import type { Plan } from '../../plan/schema.ts';

/** A value of the plan that nobody confirmed yet, and where it came from. */
export interface Origin {
  /** JSON Pointer of the field as the plan stands. */
  readonly at: At;
  readonly says: string;
  readonly id: string;
}

/**
 * The pointer of today of a steady place, which names rows by their ids: it stays right when rows move. Undefined
 * where its row is gone.
 */
export function placeToday(plan: Plan, steady: string): string | undefined {
  let here: unknown = plan;
  const parts: string[] = [''];
  for (const part of steady.split('/').slice(1)) {
    const index = Array.isArray(here)
      ? here.findIndex((row: unknown) => (row as { id?: string } | null)?.id === part)
      : undefined;
    if (index === -1) return undefined;
    const key = index === undefined ? part : String(index);
    here = (here as Record<string, unknown> | undefined)?.[key];
    parts.push(key);
  }
  return here === undefined ? undefined : parts.join('/');
}

/** How a value is kept beside its origin. */
export const keptValue = (value: unknown): string => JSON.stringify(value ?? null).slice(0, 500);

/** What was set by a brief and nobody confirmed or changed since. */
export function openOrigins(plan: Plan): Origin[] {
  return plan.origins.flatMap(({ id, place, value, says }) => {
    const at = placeToday(plan, place);
    return at !== undefined && keptValue(valueAt(plan, at)) === value ? [{ at: asAt(at), says, id }] : [];
  });
}

/** Confirms the origins of these ids; all of them where none are named. What lapsed goes with them. */
export function confirmPatch(plan: Plan, ids?: ReadonlySet<string>): Patch {
  const open = new Set(openOrigins(plan).map(({ id }) => id));
  const left = ids === undefined ? [] : plan.origins.filter(({ id }) => open.has(id) && !ids.has(id));
  return [{ op: 'replace', path: '/origins', value: left }];
}
