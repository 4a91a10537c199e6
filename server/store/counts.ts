import { compile, runChecks, type Plan } from '../../core/index.ts';

/** How many findings a plan has, for the list of sites. */
export interface Counts {
  readonly blockers: number | null;
  readonly warnings: number | null;
}

/** Counts here and now. The server has it done in a thread of its own: see `counter.ts`. */
export const countFindings = async (plan: Plan): Promise<Counts> => {
  const findings = runChecks(compile(plan));
  return {
    blockers: findings.filter(({ severity }) => severity === 'blocker').length,
    warnings: findings.filter(({ severity }) => severity === 'warning').length,
  };
};
