import { describe, expect, test } from '@jest/globals';
import { promisesOf } from '../acceptance/promises.ts';
import { strengthOf } from '../../behaviour/domain-types/rungs.ts';
import { mediumNames } from '../../plan/schema.ts';
import { valueAt } from '../../plan/pointer.ts';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import { demoPlan, soundPlan } from '../../testing/plans.ts';
import { wanTypeNames } from '../../plan/schema.ts';
import { wayTitles, type WayName } from '../../plan/schema.ts';
import { runSheet } from './sheet.ts';

const changed = (name: string, change: (plan: Plan) => unknown): Plan => {
  const plan = demoPlan(name);
  change(plan);
  return plan;
};

/** Plans of every kind: all demos, every WAN type, every medium, every way in, a hub, and what is hardly begun. */
const plans: [string, Plan][] = [
  ...['farrow-sound', 'hollin-edge', 'weir-street', 'mill-lane', 'larch-house'].map(
    (name): [string, Plan] => [name, demoPlan(name)],
  ),
  ...wanTypeNames.map((type): [string, Plan] => [type, soundPlan((plan) => (plan.uplinks[0]!.type = type))]),
  ...mediumNames.map((medium): [string, Plan] => [
    `over ${medium}`,
    soundPlan((plan) => (plan.uplinks[0]!.medium = medium)),
  ]),
  ...(Object.keys(wayTitles) as WayName[]).map((way): [string, Plan] => [
    `way in: ${way}`,
    changed('farrow-sound', (plan) => (plan.vpn.way = way)),
  ]),
  [
    'a hub of two',
    changed('weir-street', (plan) => {
      plan.vpn.hub = true;
      plan.vpn.sites.push({ ...plan.vpn.sites[0]!, id: 'third', name: 'Third', prefixes: ['10.99.0.0/24'] });
    }),
  ],
  ['no line', soundPlan((plan) => (plan.uplinks = []))],
  ['no network', soundPlan((plan) => Object.assign(plan, { networks: [], devices: [], forwards: [] }))],
];

describe.each(plans)('the run sheet of %s', (_name, plan) => {
  const site = compile(plan);
  const steps = runSheet(site);
  const promises = new Map(promisesOf(site).map((promise) => [promise.id, promise]));

  test('has each step once, after everything that it needs', () => {
    const done = new Set<string>();
    for (const { id, needs } of steps) {
      expect([id, done.has(id)]).toEqual([id, false]);
      for (const need of needs.filter((each) => steps.some((step) => step.id === each)))
        expect([id, need, done.has(need)]).toEqual([id, need, true]);
      done.add(id);
    }
  });

  test('says for each step why, how long, what proves it and what to do if not', () => {
    for (const { title, why, proof, ifNot, lowSeconds, highSeconds } of steps) {
      for (const words of [title, why, proof, ifNot])
        expect([title, words.length > 3]).toEqual([title, true]);
      expect([title, lowSeconds <= highSeconds]).toEqual([title, true]);
    }
  });

  test('has no value that only a program would say, and each comes from a place that the plan has', () => {
    for (const { title, entries } of steps)
      for (const { label, value, at } of entries) {
        expect([title, label, value]).toEqual([
          title,
          label,
          expect.not.stringMatching(/undefined|NaN|\[object|null/),
        ]);
        if (at !== undefined) expect([title, at, valueAt(plan, at)]).not.toEqual([title, at, undefined]);
      }
  });

  test('gathers evidence for promises that exist, and for each that people are let in or joined', () => {
    const proven = new Set<string>();
    for (const { id, evidence } of steps)
      for (const { promise, rung } of evidence) {
        expect([id, promise, promises.has(promise)]).toEqual([id, promise, true]);
        expect(strengthOf(rung)).toBeGreaterThanOrEqual(0);
        if (promises.get(promise)!.needs.includes(rung)) proven.add(promise);
      }
    // Where the way in is entered from this sheet, every person and every joined site has a step that is enough.
    if (['wireguard', 'ikev2', 'tls'].includes(plan.vpn.way))
      for (const [id, { kind }] of promises)
        if (kind === 'peer' || kind === 'site') expect([id, proven.has(id)]).toEqual([id, true]);
  });
});
