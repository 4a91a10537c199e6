import { once } from '../../../base/once.ts';
import { slug } from '../../../base/text.ts';
import { practice, step, worked } from '../../../base/worked/worked.ts';
import type { Finding } from '../../../behaviour/domain-types/finding.ts';
import { asAt } from '../../../plan/at.ts';
import { lowered, type Field, type RowsField, type TextField } from '../../../plan/field.ts';
import { fieldsOf } from '../../../plan/fields-of.ts';
import { labelAt } from '../../../plan/labels.ts';
import { termAt } from '../../../plan/places.ts';
import { note } from '../note.ts';
import { aboutField, type CatalogueLaw } from './found.ts';
import { textOf } from './texts.ts';

type Telling = TextField & { readonly tellsApart: true };
const everyTelling = fieldsOf(
  (field: Field): field is Telling => 'tellsApart' in field && field.tellsApart === true,
);

/** Two rows of one list under one name or label: people, and the labels on the cables, mean either. */
export const toldApart: CatalogueLaw = {
  name: 'told apart',
  covers: everyTelling.places,
  run: (site) => {
    const found: Finding[] = [];
    const known = new Map<string, string>();
    everyTelling.each(site.entered, (here) => {
      const name = slug(String(here.value));
      if (name === '') return;
      const place = here.at();
      const [, list = '', key = ''] = /^(.*)\/\d+\/(\w+)$/.exec(place) ?? [];
      const same = `${list} ${key} ${name}`;
      const first = known.get(same);
      if (first === undefined) known.set(same, place);
      else
        found.push({
          ...aboutField(
            site,
            here,
            'same-label',
            'warning',
            `is "${String(here.value).trim()}", as in another row of "${termAt(list)}": nobody can tell the two apart. Give each its own.`,
            worked('Rows under this name', 2, '', [step('name', name), step('rows', 2)], practice),
          ),
          also: [asAt(first)],
        });
    });
    return found;
  },
};

const everyList = fieldsOf((field: Field): field is RowsField => field.kind === 'rows' && !field.repeats);

/** What a row says, but for the id by which it is told from others; rows do not change. */
const saysOf = once(({ id: _, ...row }: Readonly<Record<string, unknown>>): string => textOf(row));

/** Two rows of one list that say the same in every field. */
export const rowsTwice: CatalogueLaw = {
  name: 'rows twice',
  covers: everyList.places,
  run: (site) => {
    const found: Finding[] = [];
    everyList.each(site.entered, ({ field, value, at }) => {
      const rows = value as readonly Readonly<Record<string, unknown>>[];
      if (rows.length < 2) return;
      const known = new Set<string>();
      rows.forEach((row, index) => {
        const text = saysOf(row);
        const place = `${at()}/${index}`;
        if (known.has(text))
          found.push(
            note(
              'row-twice',
              'warning',
              asAt(place),
              `${labelAt(site.entered, place)} is entered twice as a ${field.one} with the same values in every field. Remove one, or complete it.`,
              worked(
                `Rows of "${lowered(field.term)}" that are the same`,
                2,
                '',
                [step('rows', rows.length)],
                practice,
              ),
              { says: 'Remove the second', patch: [{ op: 'remove', path: asAt(place) }] },
            ),
          );
        known.add(text);
      });
    });
    return found;
  },
};
