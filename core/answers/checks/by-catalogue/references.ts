import { practice, step, worked } from '../../../base/worked/worked.ts';
import type { Finding } from '../../../behaviour/domain-types/finding.ts';
import { lowered, type Field, type ReferenceField } from '../../../plan/field.ts';
import { fieldsOf } from '../../../plan/fields-of.ts';
import { fieldAt, pointersOf } from '../../../plan/places.ts';
import { valueAt } from '../../../plan/pointer.ts';
import { aboutField, type CatalogueLaw } from './found.ts';

const everyReference = fieldsOf(
  (field: Field): field is ReferenceField => field.kind === 'reference' || field.kind === 'references',
);

/** Every row that names another: the other is there. */
export const references: CatalogueLaw = {
  name: 'references',
  covers: everyReference.places,
  run: (site) => {
    const idsOf = new Map<string, ReadonlySet<unknown>>();
    const ids = (list: string): ReadonlySet<unknown> => {
      let known = idsOf.get(list);
      if (known === undefined) {
        const rows = pointersOf(site.entered, list).flatMap(
          (at) => valueAt(site.entered, at) as readonly { readonly id: string }[],
        );
        idsOf.set(list, (known = new Set(rows.map(({ id }) => id))));
      }
      return known;
    };
    const found: Finding[] = [];
    everyReference.each(site.entered, (here) => {
      const { field, value } = here;
      const named = (typeof value === 'string' ? [value] : (value as readonly string[])).filter(
        (id) => id !== '' && !ids(field.to).has(id),
      );
      if (named.length === 0) return;
      const list = fieldAt(field.to);
      const one = list?.kind === 'rows' ? list.one : lowered(field.term);
      found.push(
        aboutField(
          site,
          here,
          'reference-gone',
          'warning',
          `names ${named.length === 1 ? `a ${one} that is` : `${named.length} rows that are`} no longer in the plan: choose again${field.emptyMeans ? `, or leave it empty (${field.emptyMeans})` : ''}.`,
          worked(
            'Rows named and not there',
            named.length,
            '',
            [
              step(`rows of "${list?.term ?? field.to}"`, ids(field.to).size),
              step('not among them', named.length),
            ],
            practice,
          ),
        ),
      );
    });
    return found;
  },
};
