import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { runChecks } from '../checks/index.ts';
import { compile } from '../../site/compile.ts';
import type { Site } from '../../site/model.ts';
import { brokenSites } from '../../testing/broken-sites.ts';
import { demoPlan, soundPlan } from '../../testing/plans.ts';
import { anyWish, demoNames, planOfWish } from '../../testing/wishes.ts';
import { durationsOf, learntFrom } from './learnt.ts';
import { runSheet } from './sheet.ts';
import { summaryOf, timeOfDay, timeOfDayText } from './summary.ts';

/**
 * Walks a run sheet with a bundle of cables in the hand: which lines hang on the router, which of them carries the
 * default route, what the laptop may open. It knows steps by their names only, and nothing of how they were ordered.
 */
function expectWalkable(site: Site): void {
  const steps = runSheet(site);
  const ids = new Set(steps.map(({ id }) => id));
  const done = new Set<string>();
  let plugged = new Set<string>();
  for (const step of steps) {
    const [kind = '', id = ''] = step.id.split(':');
    for (const need of step.needs)
      if (ids.has(need)) expect([step.id, need, done.has(need)]).toEqual([step.id, need, true]);
    // "Unplugged meanwhile: every other line".
    if (kind === 'uplink') plugged = new Set([id]);
    if (step.id === 'lines') plugged = new Set(site.lines.map((line) => line.id));
    const holder = site.lines.find((line) => plugged.has(line.id))?.id;
    if (['standing', 'page', 'size', 'rate'].includes(kind)) expect([step.id, holder]).toEqual([step.id, id]);
    if (['pull', 'brown-out', 'second-network'].includes(kind)) {
      expect([step.id, plugged.has(id)]).toEqual([step.id, true]);
      for (const network of site.networks) expect(done.has(`internet:${network.id}`)).toBe(true);
    }
    // A plan that is sound reaches every page that it tells to open; one that is not may say that it does not.
    if (step.reach.kind === 'cut-off')
      expect([step.id, runChecks(site, '').some(({ severity }) => severity === 'blocker')]).toEqual([
        step.id,
        true,
      ]);
    done.add(step.id);
  }
  const before = (a: string, b: string): void => {
    const [first, second] = [a, b].map((id) => steps.findIndex((step) => step.id === id));
    if (first! >= 0 && second! >= 0) expect([a, b, first! < second!]).toEqual([a, b, true]);
  };
  before('admin-secret', 'backup-before');
  before('backup-before', 'firmware');
  for (const { id, phase } of steps) {
    if (['inside', 'uplink', 'rules'].includes(phase)) before('firmware', id);
    if (/^(?:activation|values):/.test(id)) before(id, 'kit');
    if (phase === 'proof' && id !== 'save') before('save', id);
  }
}

describe('the order of a visit', () => {
  test.each(demoNames)('%s can be walked', (name) => expectWalkable(compile(demoPlan(name))));

  test('of broken plans too', () => {
    for (const [, , change] of brokenSites) expectWalkable(compile(soundPlan(change)));
  });

  test('and of random ones', () => {
    fc.assert(
      fc.property(anyWish, (wish) => expectWalkable(compile(planOfWish(wish)))),
      { numRuns: 25 },
    );
  });

  test.each(demoNames)(
    '%s, as a replacement: nothing is taken away before the new router is complete, and there is a way back',
    (name) => {
      const plan = demoPlan(name);
      Object.assign(plan.visit, { kind: 'replacement', oldRouter: 'Hall router', oldAddress: '192.168.1.1' });
      const site = compile(plan);
      expectWalkable(site);
      const steps = runSheet(site);
      const at = (id: string): number => steps.findIndex((step) => step.id === id);
      expect(at('old-read')).toBeLessThan(at('laptop'));
      for (const { id, phase } of steps)
        if (phase === 'inside' || id === 'reach') expect([id, at(id) < at('old-off')]).toEqual([id, true]);
      for (const line of site.lines) expect(at(`uplink:${line.id}`)).toBeGreaterThan(at('old-off'));
      expect(at('old-keep')).toBeGreaterThan(at('power-cut'));
      const { noReturn, outages } = summaryOf(site, steps);
      expect(noReturn?.id).toBe('old-off');
      for (const { network, span } of outages) {
        const again = steps[at(`internet:${network.id}`)]!.times.end[1];
        expect([network.id, span[1] >= again - noReturn!.times.start[1]]).toEqual([network.id, true]);
      }
    },
  );

  test.each(demoNames)(
    '%s, as a swap: the settings file is loaded, the keys are looked at, everything is proven anew',
    (name) => {
      const plan = demoPlan(name);
      plan.visit.kind = 'swap';
      const site = compile(plan);
      const steps = runSheet(site);
      const ids = steps.map(({ id }) => id);
      expect(ids).toContain('restore');
      expect(ids.some((id) => /^(?:pool|network|forward|reach|reservations)\b/.test(id))).toBe(false);
      for (const line of site.lines) expect(ids).toContain(`forget:${line.id}`);
      if (site.vpn.way !== 'none') expect(ids).toContain('keys');
      for (const network of site.networks) expect(ids).toContain(`internet:${network.id}`);
      expect(ids.indexOf('firmware')).toBeLessThan(ids.indexOf('restore'));
      expect(ids.indexOf('restore')).toBeLessThan(ids.indexOf('reconnect'));
    },
  );

  test('waits run beside the work of the hands: the whole is shorter than its parts', () => {
    const steps = runSheet(compile(demoPlan('farrow-sound')));
    const sum = steps.reduce((total, { highSeconds }) => total + highSeconds, 0);
    const walks = steps.filter((step, index) => step.place !== steps[index - 1]?.place).length;
    expect(Math.max(...steps.map(({ times }) => times.end[1]))).toBeLessThan(sum + walks * 45);
    const firmware = steps.find(({ id }) => id === 'firmware')!;
    const labels = steps.find(({ id }) => id === 'labels')!;
    expect(labels.times.start[1]).toBeLessThan(firmware.times.end[1]);
    expect(labels.times.start[1]).toBeGreaterThanOrEqual(firmware.times.free[1]);
  });

  test('a page of the equipment that a rule shuts off is opened from the equipment itself', () => {
    const steps = runSheet(compile(demoPlan('hollin-edge')));
    const box = steps.find(({ id }) => id.startsWith('box:'))!;
    expect(box.reach).toMatchObject({ kind: 'reached', from: expect.stringContaining('a LAN port of') });
  });
});

test('times of day, over midnight too', () => {
  expect([timeOfDay('9:05'), timeOfDay('23:59'), timeOfDay('24:00'), timeOfDay('soon')]).toEqual([
    32_700,
    86_340,
    undefined,
    undefined,
  ]);
  expect([timeOfDayText(32_700), timeOfDayText(86_400 + 60)]).toEqual(['09:05', '00:01, the next day']);
});

describe('times of earlier jobs', () => {
  const tick = (id: number, subject: string, minute: number, kind: 'tick' | 'timer' = 'tick') => ({
    id,
    kind,
    subject,
    at: new Date(Date.UTC(2026, 2, 2, 9, minute)).toISOString(),
    initials: 'AB',
    reading: '',
    seenFrom: '',
    revision: 1,
  });

  test('a step took from its timer, or from the tick before, to its own tick; breaks and second ticks do not count', () => {
    expect(
      durationsOf([
        tick(1, 'kit', 0),
        tick(2, 'power', 4),
        tick(3, 'sync:a', 5, 'timer'),
        tick(4, 'sync:a', 9),
        tick(5, 'power', 30),
        tick(6, 'rate:a', 30 + 200),
      ]),
    ).toEqual([
      { kind: 'power', seconds: 240 },
      { kind: 'sync', seconds: 240 },
    ]);
  });

  test('the median and the spread, and none from fewer than three', () => {
    const minutes = (kind: string, ...all: number[]) => all.map((each) => ({ kind, seconds: each * 60 }));
    const learnt = learntFrom([...minutes('power', 2, 3, 10), ...minutes('sync', 1, 2)]);
    expect(learnt).toEqual({
      power: { lowSeconds: 120, medianSeconds: 180, highSeconds: 600, count: 3 },
    });
    const power = runSheet(compile(soundPlan()), learnt).find(({ id }) => id === 'power')!;
    expect([power.lowSeconds, power.highSeconds, power.learntFrom]).toEqual([120, 600, 3]);
  });
});
