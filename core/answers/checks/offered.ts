import { onceWhile } from '../../base/once.ts';
import { applyPatch } from '../../plan/patch.ts';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import type { Site } from '../../site/model.ts';
import type { Finding } from '../../behaviour/domain-types/finding.ts';
import { harmOf } from './fix-safety.ts';
import { runChecks } from './index.ts';

const checked = onceWhile((site: Site, today: string): readonly Finding[] => runChecks(site, today));

/** Whether a fix mends what it is offered for and does no harm. `after` is the site with the fix applied. */
export const mends = (before: Site, after: Site, finding: Finding, today: string): boolean =>
  harmOf(before, after, finding, (site) => checked(site, today)) === undefined;

/** Everything that is wrong with a plan, with the fixes that were tried and do no harm; the others are left out. */
export function checkPlan(plan: Plan, today = ''): readonly Finding[] {
  const site = compile(plan);
  return checked(site, today).map((finding) => {
    const { fix, ...rest } = finding;
    const after = fix && applyPatch(plan, fix.patch);
    return fix && !(after?.ok && mends(site, compile(after.value), finding, today)) ? rest : finding;
  });
}
