import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { applyPatch } from '../../plan/patch.ts';
import type { Plan } from '../../plan/schema.ts';
import { reachSchema } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import type { Finding } from '../../behaviour/domain-types/finding.ts';
import { demoPlan, good, soundPlan } from '../../testing/plans.ts';
import { anyWish, demoNames, planOfWish } from '../../testing/wishes.ts';
import { runChecks } from './index.ts';
import { harmOf, type Harm } from './fix-safety.ts';

const today = '2026-03-02';
const harm = (plan: Plan, finding: Finding): Harm | undefined =>
  harmOf(compile(plan), compile(good(applyPatch(plan, finding.fix!.patch))), finding, (site) =>
    runChecks(site, today),
  );
const fixesOf = (plan: Plan): Finding[] => runChecks(compile(plan), today).filter(({ fix }) => fix);

describe('a fix mends, and does nothing else', () => {
  test.each(demoNames)('every fix that %s offers', (name) => {
    const plan = demoPlan(name);
    expect(fixesOf(plan).map((each) => [each.rule, harm(plan, each)])).toEqual(
      fixesOf(plan).map(({ rule }) => [rule, undefined]),
    );
  });

  test('what random plans offer is mended or not offered: the judge never throws', () =>
    fc.assert(
      fc.property(anyWish, (wish) => {
        const plan = planOfWish(wish);
        for (const finding of fixesOf(plan)) harm(plan, finding);
      }),
      { numRuns: 5 },
    ));

  const sound = (change: (plan: Plan) => unknown): [Plan, Finding] => {
    const plan = soundPlan(change as (plan: Plan) => void);
    return [plan, runChecks(compile(plan), today)[0]!];
  };
  const offered = (finding: Finding, patch: NonNullable<Finding['fix']>['patch']): Finding => ({
    ...finding,
    fix: { says: 'a fix', patch },
  });
  const [plan, finding] = sound((p) => (p.router.services[0]!.outside = true));
  const right = finding.fix!.patch;

  test.each<[Harm | undefined, NonNullable<Finding['fix']>['patch']]>([
    [undefined, right],
    ['stays', [{ op: 'replace', path: '/router/services/0/name', value: 'Page' }]],
    ['brings', [...right, { op: 'replace', path: '/networks/1/prefix', value: '10.24.10.0/24' }]],
    [
      'opens',
      [
        ...right,
        {
          op: 'add',
          path: '/reach/0',
          value: reachSchema.parse({ id: 'x', from: 'office', to: 'guests', protocol: 'tcp', ports: '80' }),
        },
        { op: 'replace', path: '/networks/1/purpose', value: 'other' },
      ],
    ],
  ])('%s', (expected, patch) => {
    expect(harm(plan, offered(finding, patch))).toBe(expected);
  });
});
