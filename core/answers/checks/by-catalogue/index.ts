import type { CatalogueLaw } from './found.ts';
import { days } from './days.ts';
import { figures } from './figures.ts';
import { lacking } from './lacking.ts';
import { references } from './references.ts';
import { rowsTwice, toldApart } from './rows.ts';
import { listedTwice, placeholders } from './texts.ts';

/**
 * Laws that hold for every field of a kind, as the catalogue describes it: a new field is judged without a new rule.
 * Where a rule of its own speaks of the same field, that one knows more and these are quiet.
 */
export const byCatalogue: readonly CatalogueLaw[] = [
  lacking,
  references,
  days,
  figures,
  placeholders,
  listedTwice,
  toldApart,
  rowsTwice,
];
