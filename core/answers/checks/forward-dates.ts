import { daysBetween, isDay } from '../../base/days.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import type { Forward } from '../../site/model.ts';
import { practice, step, worked, type Worked } from '../../base/worked/worked.ts';
import { note } from './note.ts';

/** Forwards that were to be closed again. */
export const forwardDates: Check = {
  name: 'forward dates',
  run: ({ forwards }, today) => forwards.flatMap((forward) => ended(forward, today)),
};

/** Days before the end at which somebody is asked (common practice, no source). */
const soonDays = 14;

function ended({ until, at, name, acceptedBy }: Forward, today: string): Finding[] {
  const day = lastDay(until, today);
  if (!day) return [];
  const { kind, left, why } = day;
  const field = `${at}/until` as const;
  const who = acceptedBy === '' ? 'No requester is named.' : `${acceptedBy} wanted it.`;
  if (kind === 'over')
    return [
      note(
        'forward-ended',
        'warning',
        field,
        `Forward "${name}" was needed until ${until}, and it is still open. ${who} Close it, or give it a later day.`,
        why,
        { says: 'Remove the forward', patch: [{ op: 'remove', path: at }] },
      ),
    ];
  return [
    note(
      'forward-ends-soon',
      'advice',
      field,
      `Forward "${name}" is needed for ${left} more days. ${who}`,
      why,
    ),
  ];
}

/** How a last day stands: over, or near; undefined where it is neither, or cannot be read. */
export function lastDay(
  until: string,
  today: string,
): { readonly kind: 'over' | 'soon'; readonly left: number; readonly why: Worked } | undefined {
  if (!isDay(until) || today === '') return undefined;
  const left = daysBetween(today, until);
  const why = worked(
    'Days left',
    left,
    'days',
    [step('last day', until), step('today', today), step('left', left)],
    practice,
  );
  return left > soonDays ? undefined : { kind: left < 0 ? 'over' : 'soon', left, why };
}
