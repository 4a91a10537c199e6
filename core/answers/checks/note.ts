import type { At } from '../../plan/at.ts';
import type { Finding, Severity } from '../../behaviour/domain-types/finding.ts';
import { practice, step, type Worked, worked } from '../../base/worked/worked.ts';

/** A finding whose source is that of its working. */
export const note = (
  rule: string,
  severity: Severity,
  at: At,
  says: string,
  why: Worked,
  fix?: Finding['fix'],
): Finding => ({ rule, severity, at, says, why, source: why.source, ...(fix && { fix }) });

/** A working that only says what stands in the plan. */
export const said = (name: string, value: string): Worked =>
  worked(name, value, '', [step(name.toLowerCase(), value)], practice);
