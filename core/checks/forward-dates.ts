import { daysBetween, isDay } from '../days.ts';
import type { Check, Finding } from '../terms/finding.ts';
import type { Forward } from '../site/model.ts';
import { practice, step, worked } from '../worked/worked.ts';
import { note } from './note.ts';

/** Forwards that were to be closed again. */
export const forwardDates: Check = {
  name: 'forward dates',
  run: ({ forwards }, today) => forwards.flatMap((forward) => ended(forward, today)),
};

/** Days before the end at which somebody is asked (common practice, no source). */
const soonDays = 14;

function ended({ until, at, name, acceptedBy }: Forward, today: string): Finding[] {
  if (until === '') return [];
  const field = `${at}/until`;
  if (!isDay(until))
    return [
      note(
        'forward-date',
        'warning',
        field,
        `"${until}" is not a date; write it as 2027-03-01. Until then forward "${name}" has no end.`,
        worked('Last day', null, '', [step('typed', until)], 'ISO 8601'),
      ),
    ];
  if (today === '') return [];
  const left = daysBetween(today, until);
  const who = acceptedBy === '' ? 'Nobody is named who wanted it.' : `${acceptedBy} wanted it.`;
  const why = worked(
    'Days left',
    left,
    'days',
    [step('last day', until), step('today', today), step('left', left)],
    practice,
  );
  if (left < 0)
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
  return left <= soonDays
    ? [
        note(
          'forward-ends-soon',
          'advice',
          field,
          `Forward "${name}" is needed for ${left} more days. ${who}`,
          why,
        ),
      ]
    : [];
}
