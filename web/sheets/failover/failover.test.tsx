import { describe, expect, test } from '@jest/globals';
import { faultKinds, namesAt, type Plan, type TrafficKind } from '../../../core/index.ts';
import { demoPlan, soundPlan } from '../../../core/testing/plans.ts';
import { draw, tagsOf, wordsOf } from '../../testing/render.tsx';
import { Component as Bench } from '../bench/bench.tsx';
import { Component as Failover } from './failover.tsx';
import { FaultBench } from '../bench/fault-bench.tsx';
import RandomYears from '../bench/random-years.tsx';

const farrow = (change: (plan: Plan) => unknown = () => {}): Plan => {
  const plan = demoPlan('farrow-sound');
  change(plan);
  return plan;
};
const words = (change: (plan: Plan) => unknown = () => {}): string =>
  wordsOf(draw(farrow(change), <Failover />));

describe('a promise, by the plan', () => {
  test('in time, too late, never, or nothing to go by: in words', () => {
    expect(words()).toContain('21 s at worst');
    expect(words((plan) => (plan.failover.promises[0]!.withinSeconds = 10))).toContain('21 s at worst');
    expect(words((plan) => (plan.uplinks[0]!.watch.targets = []))).toContain('never');
    expect(
      words((plan) => {
        plan.failover.rules = [{ id: 'r', network: '', protocol: 'any', ports: '', lines: [], says: '' }];
      }),
    ).toContain('nothing to go by');
  });

  test('too late looks otherwise than in time, and not by colour alone', () => {
    const looks = (withinSeconds: number): string[] =>
      [
        ...draw(
          farrow((plan) => (plan.failover.promises[0]!.withinSeconds = withinSeconds)),
          <Failover />,
        ).matchAll(/class="(verdict-\w+)"/g),
      ].map(([, look]) => look!);
    expect(looks(45)[0]).toBe('verdict-good');
    expect(looks(10)[0]).toBe('verdict-bad');
    expect(words()).toMatch(/Back within/);
  });

  test.each((namesAt('/failover/promises/*/kind') as TrafficKind[]).map((kind) => [kind]))(
    '%s can be promised, and the sheet computes or says why not',
    (kind) => expect(words((plan) => (plan.failover.promises[0]!.kind = kind))).toMatch(/s at worst|never/),
  );
});

describe('how the router finds out', () => {
  test('each target says how far it reaches: only beyond the provider tells the truth', () => {
    const at = (host: string): string => words((plan) => (plan.uplinks[0]!.watch.targets[0]!.host = host));
    expect(at('192.0.2.53')).toContain('beyond the provider');
    expect(at('10.24.10.1')).toContain('inside: proves nothing');
    expect(words((plan) => (plan.uplinks[1]!.watch.targets[0]!.host = '192.168.8.1'))).toContain(
      'the device in front',
    );
  });

  test('with one line there is nothing to fail over to; with none, nothing at all: said, and kept', () => {
    expect(wordsOf(draw(soundPlan(), <Failover />))).toContain('There is one line only. A second one');
    expect(
      wordsOf(
        draw(
          soundPlan((plan) => (plan.uplinks = [])),
          <Failover />,
        ),
      ),
    ).toContain('There is no line yet.');
  });

  test('weights are asked for where lines share the load, the quiet hour where one is waited for', () => {
    const fields = (change: (plan: Plan) => unknown): string[] =>
      tagsOf(draw(farrow(change), <Failover />)).flatMap(({ attributes }) => attributes['data-at'] ?? []);
    expect(fields(() => {})).not.toContain('/uplinks/0/weight');
    expect(fields((plan) => (plan.failover.sharing = 'weights'))).toContain('/uplinks/0/weight');
    expect(fields((plan) => (plan.failover.back = 'hold'))).not.toContain('/failover/quietHour');
    expect(fields((plan) => (plan.failover.back = 'quiet-hour'))).toContain('/failover/quietHour');
    expect(fields((plan) => (plan.failover.resolvers = 'line'))).not.toContain('/failover/ownResolvers');
  });
});

describe('the Bench of a day on which a line fails', () => {
  test('every fault can be chosen, on every line', () => {
    const markup = draw(farrow(), <FaultBench />);
    const options = [...markup.matchAll(/<option[^>]*>([^<]*)<\/option>/g)].map(([, title]) => title);
    expect(options).toEqual(expect.arrayContaining(['Fibre', 'Cellular']));
    expect(options.length).toBeGreaterThanOrEqual(faultKinds.length + 2);
  });

  test('years are drawn for a promise; without one the sheet says where to make it', () => {
    expect(wordsOf(draw(farrow(), <RandomYears />))).toContain('Card terminals are back within 45 s');
    const none = wordsOf(
      draw(
        farrow((plan) => (plan.failover.promises = [])),
        <Bench />,
      ),
    );
    expect(none).not.toContain('Card terminals are back within 45 s');
  });
});
