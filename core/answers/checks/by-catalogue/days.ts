import { dayAfter, daysBetween, isDay } from '../../../base/days.ts';
import { practice, step, worked } from '../../../base/worked/worked.ts';
import type { Finding } from '../../../behaviour/domain-types/finding.ts';
import type { DayLaw, Field, TextField } from '../../../plan/field.ts';
import { fieldsOf, type FieldHere } from '../../../plan/fields-of.ts';
import { termAt } from '../../../plan/places.ts';
import type { Site } from '../../../site/model.ts';
import { aboutField, type CatalogueLaw } from './found.ts';

type DayField = TextField & { readonly day: DayLaw };
const everyDay = fieldsOf((field: Field): field is DayField => 'day' in field && field.day !== undefined);

/** Before this nothing was recorded that is still in use, and no agreement runs longer (common practice, no source). */
const earliest = '1990-01-01';
const longestDays = 30 * 365;

/** The day of a text that may have a time behind it. */
const dayOf = (value: unknown): string => String(value).trim().slice(0, 10);

/**
 * Every day of the plan: what happened is not in the future, no day is decades away, and what ends does not end before
 * it began. What cannot be read is said by its form.
 */
export const days: CatalogueLaw = {
  name: 'days',
  covers: everyDay.places,
  run: (site, today) => {
    const found: Finding[] = [];
    everyDay.each(site.entered, (here) => {
      const day = dayOf(here.value);
      if (isDay(day)) found.push(...lawsOf(site, here, day, today));
    });
    return found;
  },
};

function lawsOf(site: Site, here: FieldHere<DayField>, day: string, today: string): Finding[] {
  const {
    field: { day: law },
    row,
    at,
  } = here;
  const finding = (
    rule: string,
    says: string,
    from: string,
    to: string,
    first: string,
    second: string,
  ): Finding =>
    aboutField(
      site,
      here,
      rule,
      'warning',
      says,
      worked(
        'Days between',
        daysBetween(from, to),
        'days',
        [step(first, from), step(second, to), step('days', daysBetween(from, to))],
        practice,
      ),
    );
  const known = isDay(today);
  if (day < earliest || (known && day > dayAfter(today, longestDays)))
    return [
      finding(
        'day-absurd',
        `is ${day}, decades away: check the year.`,
        known ? today : earliest,
        day,
        known ? 'today' : 'earliest',
        'entered',
      ),
    ];
  if (law.says === 'happened' && known && day > today)
    return [
      finding(
        'day-to-come',
        `is ${day}, and that day has not come yet: check the date.`,
        today,
        day,
        'today',
        'entered',
      ),
    ];
  const place = at();
  const list = place.slice(0, place.lastIndexOf('/'));
  for (const earlier of law.after) {
    const other = dayOf(row[earlier]);
    if (!isDay(other) || other <= day) continue;
    const term = termAt(`${list}/${earlier}`);
    return [
      {
        ...finding(
          'days-reversed',
          `is ${day}, before "${term}", ${other}: one of the two is wrong.`,
          other,
          day,
          term,
          'entered',
        ),
        also: [`${list}/${earlier}` as Finding['at']],
      },
    ];
  }
  return [];
}
