import { figure, practice, step, worked } from '../../../base/worked/worked.ts';
import type { Finding } from '../../../behaviour/domain-types/finding.ts';
import type { Field, NumberField } from '../../../plan/field.ts';
import { fieldsOf } from '../../../plan/fields-of.ts';
import { aboutField, type CatalogueLaw } from './found.ts';

type Bounded = NumberField & { readonly seldomOutside: readonly [number, number] };
const everyFigure = fieldsOf(
  (field: Field): field is Bounded => field.kind === 'number' && field.seldomOutside !== undefined,
);

/** Figures that are possible and hardly ever right: a unit was exchanged, or a digit is one too many. */
export const figures: CatalogueLaw = {
  name: 'figures',
  covers: everyFigure.places,
  run: (site) => {
    const found: Finding[] = [];
    everyFigure.each(site.entered, (here) => {
      const { value, field } = here;
      const {
        seldomOutside: [least, most],
        unit,
        term,
      } = field;
      if (typeof value !== 'number' || (value >= least && value <= most)) return;
      found.push(
        aboutField(
          site,
          here,
          'figure-unusual',
          'warning',
          `is ${figure(value)} ${unit}. Usual is ${figure(least)} to ${figure(most)} ${unit}: check the figure and its unit.`,
          worked(
            term,
            value,
            unit,
            [
              step('entered', `${figure(value)} ${unit}`),
              step('usual', `${figure(least)} to ${figure(most)} ${unit}`),
            ],
            practice,
          ),
        ),
      );
    });
    return found;
  },
};
