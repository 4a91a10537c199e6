import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import type { Site } from '../../site/model.ts';
import { demoPlan, good } from '../../testing/plans.ts';
import { detection, falseAlarmsWorked } from '../../base/worked/failover.ts';
import { advise, type Demand } from './advisor.ts';
import { backupDataOf } from './demand.ts';
import { faultKinds, parseFault, type ScriptedFault } from './faults.ts';
import { detectionOf, predict, watchOf } from './predict.ts';
import { Queue } from './queue.ts';
import { pingRange, rehearsePromise } from './rehearse.ts';
import { simulate, type SimulationRun } from './simulate.ts';
import { Watcher } from './watcher.ts';
import { drawYears, linesAvailability, outageClasses, years } from './years.ts';

const siteOf = (change: (plan: Plan) => void = () => {}): Site => {
  const plan = demoPlan('farrow-sound');
  change(plan);
  return compile(plan);
};
const farrow = siteOf();
const cards = farrow.failover.promises[0]!;

const fault = (text: string, at = 60, lasts = 600, site = farrow): ScriptedFault =>
  good(parseFault(site, text, at, lasts));
const run = (text: string, { site = farrow, seed = 1, lasts = 600, until = 1500 } = {}): SimulationRun =>
  simulate(site, { faults: [fault(text, 60, lasts, site)], untilSeconds: until, seed });
const eventAt = (result: SimulationRun, says: RegExp): number =>
  result.events.find((event) => says.test(event.says))?.at ?? Number.NaN;
const flow = (result: SimulationRun, id: string) => result.flows.find((each) => each.id === id)!;

test('the queue lets things happen in the order of their time, and of one time in the order they were planned', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 0, max: 20 }), { maxLength: 60 }), (times) => {
      const queue = new Queue();
      const seen: [number, number][] = [];
      for (const [index, at] of times.entries()) queue.plan(at, () => seen.push([at, index]));
      queue.run(20);
      expect(seen).toEqual(
        times.map((at, index) => [at, index]).sort((a, b) => a[0]! - b[0]! || a[1]! - b[1]!),
      );
    }),
  );
});

describe('the watcher', () => {
  const watch = {
    ...watchOf(farrow, farrow.lines[0]!),
    downAfter: 3,
    upAfter: 2,
    holdSeconds: 20,
    window: undefined,
  };
  const lost = { lost: true, delayMs: 0 };
  const heard = { lost: false, delayMs: 20 };

  test('a trace by hand: two lost, one heard, three lost, then heard again and held', () => {
    const watcher = new Watcher(watch);
    const states = [lost, lost, heard, lost, lost, lost, heard, heard, heard, heard, heard, heard].map(
      (probe, index) => {
        watcher.round(index * 5, [probe]);
        return watcher.state;
      },
    );
    // Second answer in a row at 35 s begins the hold of 20 s, which ends at 55 s.
    expect(states).toEqual([
      'doubt',
      'doubt',
      'up',
      'doubt',
      'doubt',
      'down',
      'down',
      'holding',
      'holding',
      'holding',
      'holding',
      'up',
    ]);
  });

  test('one answer of several speaks for the line; a loss in the hold begins it anew', () => {
    const watcher = new Watcher(watch);
    for (let index = 0; index < 10; index += 1) watcher.round(index, [lost, heard]);
    expect(watcher.up).toBe(true);
    for (let index = 10; index < 13; index += 1) watcher.round(index, [lost, lost]);
    expect(watcher.up).toBe(false);
    watcher.round(20, [heard]);
    watcher.round(25, [heard]);
    watcher.round(30, [lost]);
    expect([watcher.state, watcher.believedAt]).toEqual(['down', undefined]);
  });

  test('a loss window notices a line that limps without three losses in a row', () => {
    const watcher = new Watcher({ ...watch, window: { probes: 10, lossPercent: 40, delayMs: undefined } });
    const heardAt: boolean[] = [];
    for (let index = 0; index < 8; index += 1) {
      watcher.round(index, [index % 2 === 0 ? lost : heard]);
      heardAt.push(watcher.up);
    }
    // The fourth loss, at round 6, is 4 of 10.
    expect(heardAt.indexOf(false)).toBe(6);
  });
});

describe('closed form and simulation agree', () => {
  test('a line that dies beyond the first hop is found between best and worst, on average at the mean (RFC 5880 section 6.8.4)', () => {
    const taken: number[] = [];
    const site = siteOf((plan) => {
      Object.assign(plan.uplinks[0]!.watch, {
        intervalSeconds: 5,
        timeoutSeconds: 2,
        downAfter: 3,
        windowProbes: null,
      });
      plan.uplinks[0]!.failures.measuredLossPercent = 0;
    });
    for (let seed = 1; seed <= 300; seed += 1) {
      const result = run('beyond:fibre', { site, seed, lasts: 100, until: 100 });
      taken.push(eventAt(result, /^Fibre counts as down/) - 60);
    }
    // A probe that is on its way when the line dies is not answered any more either: 14 ms of slack.
    expect(Math.min(...taken)).toBeGreaterThanOrEqual(12 - 0.02);
    expect(Math.max(...taken)).toBeLessThanOrEqual(17 + 0.02);
    const mean = taken.reduce((sum, each) => sum + each, 0) / taken.length;
    // Uniform over 5 s: a deviation of 1.44 s, so the mean of 300 lies within four times 0.083 s.
    expect(Math.abs(mean - 14.5)).toBeLessThan(0.34);
  });

  test('for any way of watching, found within the bounds and back within the prediction', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 15 }),
        fc.constantFrom(0.5, 1, 2),
        fc.integer({ min: 2, max: 5 }),
        fc.integer({ min: 1, max: 10_000 }),
        (intervalSeconds, timeoutSeconds, downAfter, seed) => {
          const site = siteOf((plan) => {
            Object.assign(plan.uplinks[0]!.watch, {
              intervalSeconds,
              timeoutSeconds,
              downAfter,
              windowProbes: null,
            });
            plan.uplinks[0]!.failures.measuredLossPercent = 0;
            plan.uplinks[1]!.failures.measuredLossPercent = 0;
          });
          const result = run('beyond:fibre', { site, seed, lasts: 300, until: 360 });
          const found = detectionOf(watchOf(site, site.lines[0]!))!;
          const down = eventAt(result, /^Fibre counts as down/) - 60;
          expect(down).toBeGreaterThanOrEqual(found.bestSeconds - 0.02);
          expect(down).toBeLessThanOrEqual(found.worstSeconds + 0.02);
          const { worstSeconds } = predict(site, site.failover.promises[0]!);
          expect(flow(result, 'cards').longestGap).toBeLessThanOrEqual(worstSeconds! + 0.1);
        },
      ),
      { numRuns: 60 },
    );
  });

  test('false alarms of random loss come as often as the formula says', () => {
    const site = siteOf((plan) => {
      const [fibre] = plan.uplinks;
      Object.assign(fibre!.watch, {
        intervalSeconds: 5,
        timeoutSeconds: 2,
        downAfter: 2,
        upAfter: 1,
        holdSeconds: 0,
        windowProbes: null,
      });
      fibre!.watch.targets.length = 1;
      fibre!.failures.measuredLossPercent = 5;
      plan.failover.back = 'at-once';
    });
    const hours = 200;
    const result = simulate(site, { faults: [], untilSeconds: hours * 3600, seed: 3 });
    const alarms = result.events.filter(({ says }) => says === 'Fibre counts as down.').length;
    const expected = (Number(falseAlarmsWorked(5, 5, 2).value) / 720) * hours;
    expect(Math.abs(alarms - expected)).toBeLessThan(4 * Math.sqrt(expected));
  });

  test('drawn years have the availability of IEC 61078, whatever the rates', () => {
    const rate = fc.record({
      perYear: fc.integer({ min: 5, max: 60 }),
      repairHours: fc.integer({ min: 1, max: 40 }),
    });
    fc.assert(
      fc.property(rate, rate, rate, fc.integer({ min: 1, max: 1000 }), (one, two, shared, seed) => {
        const site = siteOf((plan) => {
          Object.assign(plan.uplinks[0]!.failures, one);
          Object.assign(plan.uplinks[1]!.failures, two);
          Object.assign(plan.failover.causes[0]!, shared);
        });
        const drawn = years(site, site.failover.promises[0]!, 2000, seed);
        const out = 1 - linesAvailability(site);
        // Outages are few and of exponential length: twice their count is the relative variance.
        const count = 2000 * (shared.perYear + 1);
        expect(Math.abs(1 - drawn.availability - out) / out).toBeLessThan(6 * Math.sqrt(2 / count) + 0.02);
        expect(drawn.availabilityComputed).toBe(linesAvailability(site));
      }),
      { numRuns: 15 },
    );
  });
});

describe('the ferry office', () => {
  test('card terminals are back within 45 s under six faults, whatever the moment', () => {
    for (let seed = 1; seed <= 12; seed += 1)
      for (const { kind, longestGap, kept } of rehearsePromise(farrow, cards, seed))
        expect([kind, kept, longestGap <= 45]).toEqual([kind, true, true]);
    expect(predict(farrow, cards)).toMatchObject({ worstSeconds: 21, says: '' });
  });

  test.each<[planted: string, change: (plan: Plan) => void, fault: string]>([
    [
      'a target that is the first hop',
      (p) => p.uplinks[0]!.watch.targets.forEach((each) => (each.host = '203.0.113.9')),
      'beyond',
    ],
    ['no target at all', (p) => (p.uplinks[0]!.watch.targets = []), 'beyond'],
    ['a probe a minute', (p) => (p.uplinks[0]!.watch.intervalSeconds = 60), 'beyond'],
    ['no loss window', (p) => (p.uplinks[0]!.watch.windowProbes = null), 'loss'],
    ["the line's own DNS servers", (p) => (p.failover.resolvers = 'line'), 'resolver'],
    [
      'tickets pinned to the fibre',
      (p) => p.failover.rules.unshift({ ...p.failover.rules[0]!, id: 'x', network: 'tickets' }),
      'pull',
    ],
    ['no source NAT on the backup', (p) => (p.uplinks[1]!.sourceNat = false), 'pull'],
  ])('%s breaks the promise, and it shows', (_planted, change, kind) => {
    const broken = siteOf(change);
    const rehearsed = rehearsePromise(broken, broken.failover.promises[0]!);
    expect(rehearsed.find((each) => each.kind === kind)).toMatchObject({ kept: false });
  });

  test('a target asked over any line makes traffic go back to a dead line, again and again', () => {
    const flaps = siteOf((plan) => {
      plan.uplinks[0]!.watch.targets.forEach((each) => (each.pinned = false));
      Object.assign(plan.uplinks[0]!.watch, { holdSeconds: 0, upAfter: 2 });
      plan.failover.back = 'at-once';
    });
    expect(run('beyond:fibre', { site: flaps }).switches).toBeGreaterThan(8);
    expect(run('beyond:fibre').switches).toBe(2);
  });

  test('a pulled cable is noticed at once, and passengers wait for the fibre so that the cap lasts', () => {
    const pulled = run('pull:fibre');
    expect(eventAt(pulled, /no link/)).toBeCloseTo(61, 5);
    expect(flow(pulled, 'web-passengers').longestGap).toBeGreaterThan(500);
    // Tickets, office and plant carry 1.75 Mb/s together until the way back.
    const away = eventAt(pulled, /^Back to Fibre/) - 61;
    expect(pulled.backupGigabytes).toBeCloseTo((away * 1.75) / 8000, 1);
  });

  test('the way back: held, at once, by hand', () => {
    const back = (way: Plan['failover']['back']): number =>
      eventAt(
        run('beyond:fibre', {
          site: siteOf((plan) => {
            plan.failover.back = way;
          }),
        }),
        /Traffic leaves by Fibre/,
      );
    const believed = eventAt(run('beyond:fibre'), /Fibre counts as up again/);
    // Ten answers 2 s apart, then 60 s of hold, after the fault ended at 660 s.
    expect(believed).toBeGreaterThan(660 + 18 + 60 - 1);
    expect(believed).toBeLessThan(660 + 20 + 60 + 2);
    expect(back('at-once')).toBeCloseTo(believed, 5);
    expect(back('hold')).toBeCloseTo(believed + 300, 5);
    expect(back('by-hand')).toBeNaN();
  });

  test.each([
    [12, 3, 15 * 3600],
    [2, 3, 3600],
    [3, 3, 24 * 3600],
    [23, 0, 3600],
  ])('the way back at a quiet hour: begun at %d o’clock, it waits for %d', (startHour, quietHour, wait) => {
    const result = simulate(
      siteOf((plan) => Object.assign(plan.failover, { back: 'quiet-hour', quietHour })),
      { faults: [fault('beyond:fibre', 60, 600)], untilSeconds: wait + 7200, seed: 1, startHour },
    );
    const back = eventAt(result, /Traffic leaves by Fibre/);
    // The next time that clock shows the hour, counted from the beginning of the run.
    expect(back % (24 * 3600)).toBeCloseTo(wait % (24 * 3600), 0);
    expect(back).toBeGreaterThan(eventAt(result, /Fibre counts as up again/));
  });

  test('a session that is kept on a dead line times out first: 100 s for TCP (RFC 1122 section 4.2.3.5)', () => {
    const worst = (sessions: 'keep' | 'end'): number => {
      const site = siteOf((plan) => {
        plan.failover.sessions = sessions;
        plan.failover.promises[0]!.kind = 'transfer';
      });
      return predict(site, site.failover.promises[0]!).worstSeconds!;
    };
    expect(worst('keep') - worst('end')).toBeCloseTo(100, 6);
  });

  test('a DNS server that is gone costs its timeout of 5 s (resolv.conf(5), option timeout)', () => {
    const worst = (resolvers: Plan['failover']['resolvers']): number => {
      const site = siteOf((plan) => (plan.failover.resolvers = resolvers));
      return predict(site, site.failover.promises[0]!).worstSeconds!;
    };
    expect(worst('line') - worst('own')).toBeCloseTo(5, 6);
  });

  test('the backup carries through the hold too: twelve failures a year of no length, an hour of hold', () => {
    const site = siteOf((plan) => {
      Object.assign(plan.uplinks[0]!.failures, { perYear: 12, repairHours: 0.001 });
      plan.failover.backHoldSeconds = 3600;
      plan.failover.loads = plan.failover.loads.filter(({ network }) => network !== 'passengers');
    });
    const mbps = site.failover.loads.reduce((sum, load) => sum + load.mbps, 0);
    // One failure a month, an hour each: 3600 s × Mb/s / 8000 in GB; probes beside it are hundredths.
    const probes = backupDataOf(site)!.value - (3600 * mbps) / 8000;
    expect(probes).toBeGreaterThan(0);
    expect(probes).toBeLessThan(0.1);
  });

  test('a backup carries only what may use it; with no loads noted nothing is said', () => {
    const plain = (plan: Plan): void => {
      Object.assign(plan.uplinks[0]!.failures, { perYear: 12, repairHours: 10 });
      plan.failover.backHoldSeconds = 0;
      plan.failover.rules = [];
      plan.uplinks[1]!.watch.targets = [];
      plan.failover.loads = [
        { id: 'a', network: 'office', mbps: 1.5 },
        { id: 'b', network: 'tickets', mbps: 0.25 },
      ];
    };
    // Unavailable 120 h in 8760 + 120: 9.86 h of a month of 730 h, at 1.75 Mb/s: 7.77 GB.
    const hours = Math.round((1 - 8760 / (8760 + 120)) * 730 * 100) / 100;
    expect(backupDataOf(siteOf(plain))!.value).toBeCloseTo((hours * 3600 * 1.75) / 8000, 6);
    const kept = siteOf((plan) => {
      plain(plan);
      plan.failover.rules = [
        { ...demoPlan('farrow-sound').failover.rules[0]!, network: 'office', lines: ['fibre'] },
      ];
    });
    expect(backupDataOf(kept)!.value).toBeCloseTo((hours * 3600 * 0.25) / 8000, 6);
    expect(backupDataOf(siteOf((plan) => void (plan.failover.loads = [])))).toBeUndefined();
  });

  test('three failures in ten take the link away and are seen at once (common practice, no source)', () => {
    const site = siteOf((plan) => {
      Object.assign(plan.uplinks[0]!.failures, { perYear: 20, repairHours: 10 });
      Object.assign(plan.uplinks[0]!.watch, { intervalSeconds: 120, downAfter: 3, windowProbes: null });
      plan.failover.causes = [];
    });
    const { classes, outages } = years(site, site.failover.promises[0]!, 2000, 3);
    // Probes need four minutes at least; a lost link is over within 15 s and the terminal's next try.
    expect((classes[0]! + classes[1]!) / outages).toBeCloseTo(0.3, 1);
    expect(classes[2]! / outages).toBeLessThan(0.01);
  });

  test('sessions that are kept on a dead line hold a tunnel there until the line is back', () => {
    const kept = run('beyond:fibre', {
      site: siteOf((plan) => {
        plan.failover.sessions = 'keep';
      }),
    });
    expect(flow(kept, 'tunnel-office').longestGap).toBeGreaterThan(590);
    expect(flow(run('beyond:fibre'), 'tunnel-office').longestGap).toBeLessThan(40);
    // RFC 1122 section 4.2.3.5: a connection gives up after at least 100 s.
    expect(flow(kept, 'transfer-office').longestGap).toBeGreaterThanOrEqual(100);
  });

  test('a backup that is dialled takes the time of its stand-in, and nothing passes meanwhile', () => {
    const dialled = siteOf((plan) => {
      const backup = plan.uplinks[1]!;
      Object.assign(backup, { standby: 'dialled', type: 'cellular' });
      Object.assign(backup.handoff, { mode: 'none' });
      backup.settings.cellular.apn = 'internet.example';
    });
    const result = run('pull:fibre', { site: dialled });
    expect(flow(result, 'cards').longestGap).toBeGreaterThan(12);
    expect(eventAt(result, /Cellular is dialled/)).toBeCloseTo(61, 5);
    const slow = simulate(dialled, {
      faults: [fault('pull:fibre'), fault('attach-slow:cellular:120', 0, 900, dialled)],
      untilSeconds: 1500,
      seed: 1,
    });
    expect(flow(slow, 'cards').longestGap).toBeGreaterThan(120);
  });

  test('a visitor follows the name: update and cache, and never behind carrier NAT', () => {
    const never = run('beyond:fibre');
    expect(flow(never, 'inbound-plant').longestGap).toBeGreaterThan(590);
    const open = siteOf((plan) => {
      Object.assign(plan.failover, { dynamicName: 'pier.example', ttlSeconds: 60, updateSeconds: 20 });
      Object.assign(plan.uplinks[1]!.handoff, { mode: 'none' });
      plan.uplinks[1]!.settings.dhcp.expectedAddress = '198.51.100.200';
    });
    const follows = flow(run('beyond:fibre', { site: open }), 'inbound-plant').longestGap;
    expect(follows).toBeGreaterThan(20);
    expect(follows).toBeLessThan(20 + 60 + 20 + 10);
  });

  test('the whole site: nothing works until the router has started, then it comes back by itself', () => {
    const result = run('restart', { lasts: 60, until: 900 });
    const { longestGap, stillBroken } = flow(result, 'cards');
    expect(stillBroken).toBe(false);
    expect(longestGap).toBeGreaterThan(60 + 60);
    expect(eventAt(result, /router has started/)).toBeGreaterThan(180);
  });

  test('every fault, alone and with another, ends; the same seed is the same run', () => {
    const texts = faultKinds.map(({ kind }) => (kind === 'restart' ? kind : `${kind}:fibre`));
    fc.assert(
      fc.property(fc.subarray(texts, { minLength: 1, maxLength: 3 }), fc.nat({ max: 999 }), (some, seed) => {
        const script = {
          faults: some.map((text, index) => fault(text, 30 + 40 * index, 120)),
          untilSeconds: 3000,
          seed,
        };
        const first = simulate(farrow, script);
        expect(simulate(farrow, script)).toEqual(first);
        for (const { segments } of first.lanes) {
          expect(segments[0]!.from).toBe(0);
          expect(segments.at(-1)!.to).toBe(3000);
          segments.slice(1).forEach((each, index) => expect(each.from).toBe(segments[index]!.to));
        }
        for (const each of first.flows) expect(each.secondsLost).toBeGreaterThanOrEqual(each.longestGap);
        expect(first.flows.some(({ kind, stillBroken }) => kind === 'card' && stillBroken)).toBe(false);
      }),
      { numRuns: 40 },
    );
  });
});

test('lines that share the load by weight: sessions stick, and move when a line dies', () => {
  const shared = siteOf((plan) => {
    plan.failover.sharing = 'weights';
    plan.failover.rules = [];
    plan.uplinks[0]!.weight = 3;
    plan.uplinks[1]!.weight = 1;
  });
  const result = simulate(shared, { faults: [fault('pull:fibre')], untilSeconds: 1200, seed: 2 });
  expect(result.flows.filter(({ kind }) => kind !== 'inbound').every(({ stillBroken }) => !stillBroken)).toBe(
    true,
  );
  const both = simulate(shared, { faults: [], untilSeconds: 1200, seed: 2 });
  expect(both.flows.every(({ secondsLost }) => secondsLost === 0)).toBe(true);
});

describe('the advisor', () => {
  const demand: Demand = {
    withinSeconds: 45,
    falsePerMonth: 1,
    probeGigabytes: 5,
    lossPercent: 1,
    delayMs: 40,
    targets: 2,
    afterSeconds: 12,
  };

  test('what it advises keeps the promise, and every rarer probe breaks it', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 15, max: 300 }),
        fc.double({ min: 0, max: 20, noNaN: true }),
        fc.integer({ min: 1, max: 3 }),
        fc.integer({ min: 5, max: 400 }),
        (withinSeconds, lossPercent, targets, delayMs) => {
          const wish = { ...demand, withinSeconds, lossPercent, targets, delayMs };
          const { setting, says } = advise(wish);
          const holds = (interval: number, timeout: number, count: number): boolean =>
            detection(interval, timeout, count).worstSeconds <= withinSeconds - wish.afterSeconds &&
            Number(falseAlarmsWorked(lossPercent, interval, count, targets).value) <= wish.falsePerMonth;
          expect(says).not.toBe('');
          if (!setting) return;
          const { intervalSeconds, timeoutSeconds, downAfter } = setting;
          expect(holds(intervalSeconds, timeoutSeconds, downAfter)).toBe(true);
          expect(timeoutSeconds * 1000).toBeGreaterThanOrEqual(3 * delayMs);
          for (const rarer of [2, 3, 5, 10, 15, 20, 30, 60].filter((each) => each > intervalSeconds))
            for (let count = 2; count <= 10; count += 1)
              expect(holds(rarer, timeoutSeconds, count)).toBe(false);
        },
      ),
    );
  });

  test.each([
    [{ afterSeconds: 60 }, /change alone takes 60 s/],
    [{ withinSeconds: 14 }, /promise more time/],
    [{ lossPercent: 30, targets: 1 }, /have the line repaired/],
    [{ probeGigabytes: 0.001 }, /fewer targets/],
  ] as const)('the demand that makes it impossible is named: %j', (change, says) => {
    const advice = advise({ ...demand, ...change });
    expect(advice.setting).toBeUndefined();
    expect(advice.says).toMatch(says);
  });
});

test('random years: every outage is in one class, progress rises, and it can be stopped', () => {
  const result = years(farrow, cards, 300, 7);
  expect(result.classes.reduce((sum, each) => sum + each, 0)).toBe(result.outages);
  expect(result.classes).toHaveLength(outageClasses.length);
  expect(years(farrow, cards, 300, 7)).toEqual(result);
  const steps: number[] = [];
  const slow = drawYears(farrow, cards, 300, 7);
  for (let step = slow.next(); !step.done; step = slow.next()) steps.push(step.value);
  expect(steps.length).toBeGreaterThan(20);
  expect([...steps].sort((a, b) => a - b)).toEqual(steps);
  // Without the power strip most outages are within what was promised.
  const apart = siteOf((plan) => {
    plan.failover.causes = [];
  });
  expect(years(apart, apart.failover.promises[0]!, 2000, 7).kept).toBeGreaterThan(0.99);
});

test('a fault that cannot be read says how to write it', () => {
  expect(parseFault(farrow, 'fire:fibre', 0, 1)).toMatchObject({ ok: false, problem: { code: 'fault' } });
  expect(parseFault(farrow, 'pull:copper', 0, 1)).toMatchObject({
    ok: false,
    problem: { says: expect.stringContaining('pull:fibre') },
  });
  expect(parseFault(farrow, 'loss:fibre:lots', 0, 1)).toMatchObject({ ok: false });
  expect(fault('loss:Fibre')).toMatchObject({ line: 'fibre', amount: 40 });
});

describe('what the installer sees on site', () => {
  const plain = siteOf((plan) => {
    Object.assign(plan.uplinks[0]!.watch, {
      intervalSeconds: 5,
      timeoutSeconds: 2,
      downAfter: 3,
      windowProbes: null,
      carrier: false,
    });
  });
  const [fibre, cellular] = plain.lines;

  test('a running ping: at best the third probe is lost at once, at worst five seconds later; the change and one ping more', () => {
    const { bestSeconds, worstSeconds } = detectionOf(watchOf(plain, fibre!))!;
    // By hand: probes every 5 s, three lost, 2 s until the last counts: 2 × 5 + 2 = 12 s, and one interval more at worst.
    expect([bestSeconds, worstSeconds]).toEqual([12, 17]);
    const pulled = pingRange(plain, fibre!, cellular!, 'pull')!;
    expect(pulled).toEqual(pingRange(plain, fibre!, cellular!, 'beyond'));
    expect(pulled.fromSeconds).toBeGreaterThanOrEqual(bestSeconds - 1);
    expect(pulled.toSeconds - pulled.fromSeconds).toBeGreaterThanOrEqual(worstSeconds - bestSeconds + 2);
  });

  test('a router that looks at the link shows a pulled cable within seconds, and a line dead beyond it no sooner than its probes', () => {
    const looking = siteOf((plan) => (plan.uplinks[0]!.watch.carrier = true));
    const [line, backup] = looking.lines;
    const pulled = pingRange(looking, line!, backup!, 'pull')!;
    const beyond = pingRange(looking, line!, backup!, 'beyond')!;
    expect(pulled.fromSeconds).toBe(0);
    expect(pulled.toSeconds).toBeLessThan(beyond.toSeconds);
    // Nothing is probed: nobody notices that it is dead beyond the first hop.
    const blind = siteOf((plan) => (plan.uplinks[0]!.watch.targets = []));
    expect(pingRange(blind, blind.lines[0]!, blind.lines[1]!, 'beyond')).toBeUndefined();
  });

  test('a line that comes and goes is seen to do so, and one that is gone is gone once', () => {
    const states = (text: string): number =>
      run(text, { lasts: 600, until: 1500 }).lanes.find(({ id }) => id === 'line-fibre')!.segments.length;
    // Up, no link, coming up, up.
    expect(states('pull:fibre')).toBe(4);
    expect(states('flapping:fibre')).toBeGreaterThan(8);
  });

  test('switching back by hand: the backup carries on until the end, and says why', () => {
    const manual = siteOf((plan) => (plan.failover.back = 'by-hand'));
    const result = run('pull:fibre', { site: manual, until: 4000 });
    expect(result.events.some(({ says }) => says === 'Fibre waits until it is switched back by hand.')).toBe(
      true,
    );
    const active = result.lanes.find(({ kind }) => kind === 'active')!;
    expect(active.segments.at(-1)!.state).toBe('Cellular');
    const held = run('pull:fibre', { until: 4000 }).lanes.find(({ kind }) => kind === 'active')!;
    expect(held.segments.at(-1)!.state).toBe('Fibre');
  });
});
