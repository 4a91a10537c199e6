import { asAt } from '../../../plan/at.ts';
import type { FieldHere } from '../../../plan/fields-of.ts';
import { labelAt } from '../../../plan/labels.ts';
import type { Check, Finding, Severity } from '../../../behaviour/domain-types/finding.ts';
import type { Site } from '../../../site/model.ts';
import type { Worked } from '../../../base/worked/worked.ts';
import { note } from '../note.ts';

/** A law for every field of a kind; it is quiet where another check speaks of the same field. */
export interface CatalogueLaw extends Check {
  /** Places of the catalogue. */
  readonly covers: readonly string[];
}

/** A finding about a field, which begins with its term and whose it is: "Contract rate of Fibre …". */
export function aboutField(
  { entered }: Site,
  { at }: FieldHere,
  rule: string,
  severity: Severity,
  says: string,
  why: Worked,
): Finding {
  const place = at();
  return note(rule, severity, asAt(place), `${labelAt(entered, place)} ${says}`, why);
}
