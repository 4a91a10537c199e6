import { compile, deskOf, runChecks, type Desk, type Plan, type SiteRecord } from '../../core/index.ts';

/** What the list shows of a site that has to be worked out: how many findings, and what is due. */
export interface Counts {
  readonly blockers: number | null;
  readonly warnings: number | null;
  readonly desk: Desk | null;
}

export const uncounted: Counts = { blockers: null, warnings: null, desk: null };

/** Counts here and now. The server has it done in a thread of its own: see `counter.ts`. */
export const countFindings = async (plan: Plan, records: readonly SiteRecord[]): Promise<Counts> => {
  const site = compile(plan);
  const findings = runChecks(site);
  return {
    blockers: findings.filter(({ severity }) => severity === 'blocker').length,
    warnings: findings.filter(({ severity }) => severity === 'warning').length,
    desk: deskOf(plan, site, records),
  };
};
