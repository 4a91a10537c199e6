import { expect, test } from '@jest/globals';
import { applyPatch } from '../plan/patch.ts';
import { planSchema, type Plan } from '../plan/schema.ts';
import type { Finding } from '../behaviour/domain-types/finding.ts';
import { good } from './plans.ts';

/** What is broken, the rule that must name it, and where: one change to a sound plan. */
export type Broken = readonly [rule: string, at: string, change: (plan: Plan) => unknown];

/** Every broken plan is named in words and figures, and the rules that have a fix offer it: it corrects the fault. */
export function everyRuleIsNamed(
  broken: readonly Broken[],
  planOf: (change: (plan: Plan) => unknown) => Plan,
  findings: (plan: Plan) => Finding[],
  withFix: readonly string[],
): void {
  const findingOf = ([rule, at]: Broken, plan: Plan): Finding | undefined =>
    findings(plan).find((each) => each.rule === rule && each.at === at);

  test.each(broken)('%s at %s', (...each) => {
    const found = findingOf(each, planOf(each[2]));
    expect(found?.says.length).toBeGreaterThan(30);
    expect(found?.why.steps.length).toBeGreaterThan(0);
  });

  test(`a fix is offered for ${withFix.length === 0 ? 'none' : withFix.join(', ')}, and it corrects what it was offered for`, () => {
    const offered = new Set<string>();
    for (const each of broken) {
      const plan = planOf(each[2]);
      const fix = findingOf(each, plan)?.fix;
      if (!fix) continue;
      const after = planSchema.parse(good(applyPatch(plan, fix.patch)));
      expect([each[0], findingOf(each, after)]).toEqual([each[0], undefined]);
      offered.add(each[0]);
    }
    expect([...offered].sort()).toEqual([...withFix].sort());
  });
}
