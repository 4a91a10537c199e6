import { practice } from '../../../base/worked/worked.ts';
import type { Finding } from '../../../behaviour/domain-types/finding.ts';
import type { Field, ReferenceField, TextField } from '../../../plan/field.ts';
import { fieldsOf } from '../../../plan/fields-of.ts';
import { said } from '../note.ts';
import { aboutField, type CatalogueLaw } from './found.ts';

/** What people type to fill a field that they do not know yet. */
const placeholder =
  /^(?:tb[acd]|to be (?:announced|confirmed|done|defined)|to ?do|n\/?a|x{2,}|test|asdf|qwertz|qwerty|unknown|not known|ask|lorem ipsum|change ?me|foo|bar|dummy|sample|placeholder|fill in|later)$/i;
const onlySigns = /^[?._\-!*]+$/;

const isPlaceholder = (text: string): boolean =>
  onlySigns.test(text) || placeholder.test(text.replace(/[.!?]{1,3}$/, ''));

const everyText = fieldsOf(
  (field: Field): field is TextField => field.kind === 'text' || field.kind === 'secret',
);

/** Texts that only fill a field. */
export const placeholders: CatalogueLaw = {
  name: 'placeholders',
  covers: everyText.places,
  run: (site) => {
    const found: Finding[] = [];
    everyText.each(site.entered, (here) => {
      const { value, field } = here;
      if (typeof value !== 'string' || value === '' || value.length > 24 || !isPlaceholder(value.trim()))
        return;
      found.push(
        aboutField(
          site,
          here,
          'placeholder',
          'warning',
          `is "${value.trim()}", which says nothing. Find it out, or leave the field empty.`,
          { ...said(field.term, value), source: practice },
        ),
      );
    });
    return found;
  },
};

const everyList = fieldsOf(
  (field: Field): field is TextField | ReferenceField => field.kind === 'list' || field.kind === 'references',
);

/** A value of the plan as text, to compare it by. */
export const textOf = (value: unknown): string =>
  JSON.stringify(value, (_key, each: unknown) => (typeof each === 'bigint' ? String(each) : each));

/** Lists in which one value stands twice: one of the two was meant to be another. */
export const listedTwice: CatalogueLaw = {
  name: 'listed twice',
  covers: everyList.places,
  run: (site) => {
    const found: Finding[] = [];
    everyList.each(site.entered, (here) => {
      const values = here.value as readonly unknown[];
      if (values.length < 2 || here.field.repeats) return;
      if (new Set(values.map(textOf)).size < values.length)
        found.push(
          aboutField(
            site,
            here,
            'listed-twice',
            'warning',
            'has one value twice: the second does nothing, or was meant to be another.',
            said('Values', String(values.length)),
          ),
        );
    });
    return found;
  },
};
