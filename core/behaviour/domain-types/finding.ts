import type { At } from '../../plan/at.ts';
import type { Patch } from '../../plan/patch.ts';
import type { Worked } from '../../base/worked/worked.ts';
import type { Site } from '../../site/model.ts';

export type Severity = 'blocker' | 'warning' | 'advice';

/** Something that will not work, or not well. */
export interface Finding {
  readonly rule: string;
  readonly severity: Severity;
  /** JSON Pointer of the field the finding is about. */
  readonly at: At;
  /** Other fields it is about as well. */
  readonly also?: readonly At[];
  /** What happens to whom, in plain words. */
  readonly says: string;
  readonly why: Worked;
  readonly fix?: { readonly says: string; readonly patch: Patch };
  /** A question that Ask answers with a packet that shows it. */
  readonly packet?: string;
  /** What enters it as an accepted exception, for somebody to put a name, a reason and a day to. */
  readonly accept?: Patch;
  readonly source: string;
}

/** The fix that sets one value. */
export const replacing = (says: string, path: At, value: unknown): NonNullable<Finding['fix']> => ({
  says,
  patch: [{ op: 'replace', path, value }],
});

/** A check looks at the whole compiled site and says what it finds. One file, one concern. */
export interface Check {
  readonly name: string;
  /** `today` is an ISO 8601 date, or empty where no day is known. */
  readonly run: (site: Site, today: string) => Finding[];
}

export const severityOrder: Record<Severity, number> = { blocker: 0, warning: 1, advice: 2 };
