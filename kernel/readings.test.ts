import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Plan } from '../core/plan/schema.ts';
import { compile } from '../core/site/compile.ts';
import type { Site } from '../core/site/model.ts';
import { demoPlan, soundPlan } from '../core/testing/plans.ts';
import { anyWish, demoNames, planOfWish } from '../core/testing/wishes.ts';
import { isConfused } from './compare.ts';
import { misreadings, mistakeOf, noMistake, wrongStages } from './planted.ts';
import { compareReadings, type Mistake } from './readings.ts';

/*
 * Two readings of a plan: the stages by which Ask answers, and a small one from docs/plan-format.md alone that shares
 * no code with them. `npm run kernel` asks them more.
 */
const wished = (seed: number, numRuns: number): Plan[] =>
  fc
    .sample(anyWish, { seed, numRuns })
    .map(planOfWish)
    .filter((plan) => !isConfused(compile(plan)));

describe('both readings agree', () => {
  test.each(demoNames.filter((name) => !isConfused(compile(demoPlan(name)))))('on %s', (name) => {
    const { questions, arrived, differences } = compareReadings(demoPlan(name), 200, 1);
    expect(differences).toEqual([]);
    expect(questions).toBeGreaterThan(150);
    expect(arrived).toBeGreaterThan(30);
  });

  test('on random plans', () => {
    for (const plan of [soundPlan(), ...wished(7, 25)])
      expect(compareReadings(plan, 40, 7).differences).toEqual([]);
  });
});

describe('a mistake in one of them is found', () => {
  // Enough plans that each kind of row is in some.
  const plans = [...demoNames.map(demoPlan), ...wished(11, 40)].filter((plan) => !isConfused(compile(plan)));
  const isFound = (mistake: (plan: Plan) => Mistake): boolean =>
    plans.some((plan) => compareReadings(plan, 60, 11, mistake(plan)).differences.length > 0);

  test('and nothing is found where there is none', () => {
    const copied = (site: Site): Site => ({
      ...site,
      vpn: {
        ...site.vpn,
        peers: site.vpn.peers.map((peer) => ({ ...peer })),
        sites: site.vpn.sites.map((far) => ({ ...far })),
      },
    });
    expect(isFound(() => ({ site: copied }))).toBe(false);
    expect(isFound((plan) => mistakeOf(undefined, noMistake, compile(plan)))).toBe(false);
  });

  test.each(Object.entries(misreadings))('of the plan: %s', (_name, site) => {
    expect(isFound((plan) => mistakeOf(site, undefined, compile(plan)))).toBe(true);
  });
  test.each(Object.entries(wrongStages))('of the stages: %s', (_name, router) => {
    expect(isFound((plan) => mistakeOf(undefined, router, compile(plan)))).toBe(true);
  });
});
