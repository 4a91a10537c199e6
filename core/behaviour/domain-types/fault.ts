import { severityOrder, type Severity } from './finding.ts';

/** Something that is wrong with what was brought in from the field. */
export interface Fault {
  readonly rule: string;
  readonly severity: Severity;
  readonly says: string;
}

export type AddFault = (severity: Severity, rule: string, says: string) => void;

/** Takes faults down as they are found; `sorted` has the gravest first. */
export function faultList(): { readonly add: AddFault; readonly sorted: () => Fault[] } {
  const faults: Fault[] = [];
  return {
    add: (severity, rule, says) => void faults.push({ rule, severity, says }),
    sorted: () => faults.sort((a, b) => severityOrder[a.severity] - severityOrder[b.severity]),
  };
}
