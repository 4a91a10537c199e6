import { expect, test } from '@jest/globals';
import { applyPatch } from '../plan/patch.ts';
import { planSchema, type Plan } from '../plan/schema.ts';
import type { Finding } from '../terms/finding.ts';
import { good } from './plans.ts';

/** What is broken, the rule that must name it, and where: one change to a sound plan. */
export type Broken = readonly [rule: string, at: string, change: (plan: Plan) => unknown];

/** Every broken plan is named in words and figures, and every fix that is offered mends what it was offered for. */
export function everyRuleIsNamed(
  broken: readonly Broken[],
  planOf: (change: (plan: Plan) => unknown) => Plan,
  findings: (plan: Plan) => Finding[],
  leastFixes: number,
): void {
  const findingOf = ([rule, at]: Broken, plan: Plan): Finding | undefined =>
    findings(plan).find((each) => each.rule === rule && each.at === at);

  test.each(broken)('%s at %s', (...each) => {
    const found = findingOf(each, planOf(each[2]));
    expect(found?.says.length).toBeGreaterThan(30);
    expect(found?.why.steps.length).toBeGreaterThan(0);
  });

  test('each fix that is offered mends what it was offered for', () => {
    let mended = 0;
    for (const each of broken) {
      const plan = planOf(each[2]);
      const fix = findingOf(each, plan)?.fix;
      if (!fix) continue;
      const after = planSchema.parse(good(applyPatch(plan, fix.patch)));
      expect([each[0], findingOf(each, after)]).toEqual([each[0], undefined]);
      mended += 1;
    }
    expect(mended).toBeGreaterThanOrEqual(leastFixes);
  });
}
