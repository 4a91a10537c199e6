import { describe, expect, test } from '@jest/globals';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import type { Site } from '../../site/model.ts';
import { demoPlan, good } from '../../testing/plans.ts';
import { backupDataOf } from './demand.ts';
import { parseFault } from './faults.ts';
import { detectionOf, predict, watchOf } from './predict.ts';
import { pingRange } from './rehearse.ts';
import { simulate, type SimulationRun } from './simulate.ts';
import { Watcher } from './watcher.ts';

const siteOf = (change: (plan: Plan) => unknown = () => {}): Site => {
  const plan = demoPlan('farrow-sound');
  change(plan);
  return compile(plan);
};
const farrow = siteOf();
const run = (text: string, site = farrow): SimulationRun =>
  simulate(site, { faults: [good(parseFault(site, text, 60, 120))], untilSeconds: 900, seed: 1 });
const states = (result: SimulationRun, id: string): string[] =>
  result.lanes.find((lane) => lane.id === id)!.segments.map(({ state }) => state);

describe('what the log of a run says, line by line', () => {
  const backAgain = ['Fibre counts as up again.', 'Back to Fibre.', 'Traffic leaves by Fibre.'];
  test.each<[fault: string, line: string, log: string[], of?: Site]>([
    [
      'restart',
      'good dead starting good',
      [
        'Power is off: the whole site loses power.',
        'Power is back; everything starts at its own pace.',
        'The router has started.',
        'Cellular has a session.',
        'Traffic leaves by Cellular.',
        'Fibre has a session.',
        'Traffic leaves by Fibre.',
      ],
    ],
    [
      'pull:fibre',
      'good dead starting good',
      [
        'Fibre: cable pulled.',
        'Fibre has no link: the router counts it as down at once.',
        'Traffic leaves by Cellular.',
        'Fibre: that is over (cable pulled).',
        'Fibre has a session.',
        ...backAgain,
      ],
    ],
    [
      'pull:fibre',
      'good dead starting good',
      [
        'Fibre: cable pulled.',
        'Fibre counts as down.',
        'Traffic leaves by Cellular.',
        'Fibre: that is over (cable pulled).',
        'Fibre has a session.',
        ...backAgain,
      ],
      siteOf((plan) => (plan.uplinks[0]!.watch.carrier = false)),
    ],
    [
      'beyond:fibre',
      'good dead good',
      [
        'Fibre: no internet past first hop.',
        'Fibre counts as down.',
        'Traffic leaves by Cellular.',
        'Fibre: that is over (no internet past first hop).',
        ...backAgain,
      ],
    ],
    [
      'resolver:fibre',
      'good limping good',
      ["Fibre: the provider's DNS servers fail.", "Fibre: that is over (the provider's DNS servers fail)."],
    ],
    [
      'flapping:fibre',
      'good dead good dead good dead good',
      [
        'Fibre: line flapping.',
        'Fibre counts as down.',
        'Traffic leaves by Cellular.',
        'Fibre: that is over (line flapping).',
        ...backAgain,
      ],
    ],
  ])('%s', (text, line, log, of = farrow) => {
    const result = run(text, of);
    expect(result.events.map(({ says }) => says)).toEqual(log);
    expect(states(result, 'line-fibre').join(' ')).toBe(line);
  });

  test('the order of the log is that of its times, and a switch takes its 2 s at most', () => {
    const { events } = run('beyond:fibre');
    const [, down, away] = events;
    expect(events.map(({ at }) => at)).toEqual(events.map(({ at }) => at).sort((a, b) => a - b));
    expect(away!.at - down!.at).toBeLessThanOrEqual(2);
  });

  test('power: every lane is out from the cut on, sessions are lost, and the backup comes first', () => {
    const result = run('restart');
    for (const id of ['line-fibre', 'line-cellular']) expect(states(result, id)[1]).toBe('dead');
    expect(states(result, 'active')).toEqual(['Fibre', '', 'Cellular', 'Fibre']);
    const lost = Object.fromEntries(result.flows.map(({ id, sessionsLost }) => [id, sessionsLost]));
    expect(lost).toMatchObject({ 'transfer-office': 1, 'call-office': 1, 'tunnel-office': 1, cards: 0 });
    // Nothing works before the router runs again, more than a minute after the power.
    for (const { longestGap } of result.flows) expect(longestGap).toBeGreaterThan(120 + 60);
  });
});

describe('who is watched', () => {
  const kinds = (of: Site): string[] =>
    simulate(of, { faults: [], untilSeconds: 1, seed: 1 }).flows.map(({ id }) => id);

  test('the promises first, then what the site has: guests, the office, whoever comes in', () => {
    expect(kinds(farrow)).toEqual([
      'cards',
      'office',
      'web-passengers',
      'transfer-office',
      'call-office',
      'tunnel-office',
      'inbound-plant',
    ]);
  });

  test('with no promises, payment and guests are still watched; with no forward nobody comes in', () => {
    expect(
      kinds(siteOf((plan) => Object.assign(plan, { forwards: [] }, (plan.failover.promises = [])))),
    ).toEqual([
      'card-tickets',
      'web-passengers',
      'web-office',
      'transfer-office',
      'call-office',
      'tunnel-office',
    ]);
  });
});

describe('how a promise adds up', () => {
  test('found, changed, tried again: 9 + 2 + 10 = 21 s at worst (RFC 5880 section 6.8.4)', () => {
    const { worked } = predict(farrow, farrow.failover.promises[0]!);
    expect(worked!.steps.map(({ says, value }) => `${says} ${value}`)).toEqual([
      'at best 8 s',
      'Fibre is found down 9 s',
      'Cellular is kept up: the routes change + 2 s',
      'card payments try again + 10 s',
      'at worst 21 s',
    ]);
    expect(worked!.means).toBe('Within the 45 s that were promised.');
  });

  test('a running ping while the line dies beyond: found at 7 to 9 s, one less and one more, and the change', () => {
    const [fibre, cellular] = farrow.lines;
    expect(detectionOf(watchOf(farrow, fibre!))).toEqual({ bestSeconds: 7, meanSeconds: 8, worstSeconds: 9 });
    expect(pingRange(farrow, fibre!, cellular!, 'beyond')).toEqual({ fromSeconds: 7, toSeconds: 12 });
    expect(pingRange(farrow, fibre!, cellular!, 'pull')).toEqual({ fromSeconds: 0, toSeconds: 4 });
  });

  test('the backup in a month: hours, rate and probes', () => {
    // 1.52 h × 3600 s × 1.75 Mb/s / 8000 = 1.197 GB; a probe to each of two targets every 15 s is 0.058 GB.
    expect(backupDataOf(farrow)!.value).toBeCloseTo(1.255, 3);
    expect(backupDataOf(siteOf((plan) => (plan.failover.loads = [])))).toBeUndefined();
    expect(backupDataOf(siteOf((plan) => plan.uplinks.pop()))).toBeUndefined();
  });
});

describe('a window over the last probes', () => {
  const heard = (delayMs: number) => ({ lost: false, delayMs });
  const lost = { lost: true, delayMs: 0 };
  const watcher = (window: object): Watcher =>
    new Watcher({
      ...watchOf(farrow, farrow.lines[0]!),
      downAfter: 3,
      upAfter: 2,
      holdSeconds: 20,
      window: { probes: 10, lossPercent: undefined, delayMs: undefined, ...window },
    });
  const downAt = (each: Watcher, answers: readonly { lost: boolean; delayMs: number }[]): number => {
    for (const [index, answer] of answers.entries()) {
      each.round(index, [answer]);
      if (!each.up) return index;
    }
    return -1;
  };

  test('a median at the limit counts as down, once half the window is there; below it does not', () => {
    expect(
      downAt(
        watcher({ delayMs: 200 }),
        Array.from({ length: 12 }, () => heard(200)),
      ),
    ).toBe(4);
    expect(
      downAt(
        watcher({ delayMs: 200 }),
        Array.from({ length: 12 }, () => heard(199)),
      ),
    ).toBe(-1);
    // Slow answers are the lesser half: the median stays below.
    const mixed = Array.from({ length: 12 }, (_, index) => heard(index % 3 === 0 ? 900 : 20));
    expect(downAt(watcher({ delayMs: 200 }), mixed)).toBe(-1);
  });

  test('what was lost has no delay, and a window of lost probes alone is none', () => {
    const each = watcher({ delayMs: 1 });
    expect(downAt(each, [lost, lost])).toBe(-1);
    // One loss of ten is enough at 1 %: never fewer than one.
    expect(downAt(watcher({ lossPercent: 1 }), [heard(20), lost])).toBe(1);
  });

  test('after it was set up or down it begins anew', () => {
    const each = watcher({ lossPercent: 30 });
    for (const answer of [lost, heard(20), lost, heard(20)]) each.round(0, [answer]);
    expect(each.up).toBe(true);
    each.set(true);
    for (const answer of [lost, heard(20), lost, heard(20)]) each.round(0, [answer]);
    expect(each.up).toBe(true);
    each.round(0, [lost]);
    expect(each.up).toBe(false);
  });
});
