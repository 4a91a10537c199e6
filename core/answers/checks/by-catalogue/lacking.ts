import type { Finding } from '../../../behaviour/domain-types/finding.ts';
import type { Field } from '../../../plan/field.ts';
import { fieldsOf } from '../../../plan/fields-of.ts';
import { said } from '../note.ts';
import { aboutField, type CatalogueLaw } from './found.ts';

type Needed = Field & { readonly lacking: string };
const everyNeeded = fieldsOf((field: Field): field is Needed => field.lacking !== undefined);

/** Rows that are of no use without a field that is empty: the catalogue says which, and why. */
export const lacking: CatalogueLaw = {
  name: 'lacking',
  covers: everyNeeded.places,
  run: (site) => {
    const found: Finding[] = [];
    everyNeeded.each(site.entered, (here) => {
      const { value, field, row } = here;
      if (field.lackingWhen?.(row) === false) return;
      if (value === null || (typeof value === 'string' && value.trim() === '') || (value as []).length === 0)
        found.push(
          aboutField(
            site,
            here,
            'lacking',
            'warning',
            `is missing: ${field.lacking}`,
            said(field.term, 'empty'),
          ),
        );
    });
    return found;
  },
};
