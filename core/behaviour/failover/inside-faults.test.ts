import { describe, expect, test } from '@jest/globals';
import { radioSchema, runSchema, type Plan } from '../../plan/schema.ts';
import { compiledCopy, demoPlan } from '../../testing/plans.ts';
import { insideFaults, rehearseInside, type InsideOutcome } from './inside-faults.ts';

const outcome = (plan: Plan, key: string): InsideOutcome => {
  const site = compiledCopy(plan);
  const fault = insideFaults(site).find((each) => each.key === key);
  expect(fault?.key).toBe(key);
  return rehearseInside(site, fault!)!;
};
const weir = (change: (plan: Plan) => void = () => {}): Plan => {
  const plan = demoPlan('weir-street');
  change(plan);
  return plan;
};

describe('inside something fails', () => {
  test('the shared run takes the line with it, and everything in the cellar', () => {
    const { kind, lost } = outcome(weir(), 'run shared');
    expect(kind).toBe('all');
    expect(lost.join('; ')).toMatch(/the line Cable/);
    expect(lost.join('; ')).toMatch(/Staff printer/);
    expect(lost.join('; ')).not.toMatch(/Counter at the main door/);
  });

  test('the cable of one device takes that device only', () => {
    expect(outcome(weir(), 'run counter')).toMatchObject({
      kind: 'part',
      lost: [expect.stringContaining('Counter')],
    });
  });

  test('with a second run beside it and spanning tree on, nothing stays cut off', () => {
    const spare = weir((plan) => {
      const shared = plan.wiring.runs.find(({ id }) => id === 'shared')!;
      for (const id of ['switch-cellar', 'switch-rack']) {
        const box = plan.kit.find((each) => each.id === id)!;
        box.spanningTree = true;
        box.ports.push({ ...box.ports.find(({ name }) => name === '8')!, id: 'nine', name: '9' });
      }
      plan.wiring.runs.push({ ...shared, id: 'spare', label: 'K9', fromPort: '9', toPort: '9' });
    });
    const { kind, says } = outcome(spare, 'run shared');
    expect(kind).toBe('nothing');
    // IEEE 802.1D: max age 20 s and twice the forward delay of 15 s.
    expect(says).toContain('50 s');
  });

  test('both ends of a cable in one switch are a storm, and none where spanning tree is on', () => {
    const open = weir((plan) => {
      const box = plan.kit.find(({ id }) => id === 'switch-rack')!;
      box.spanningTree = false;
      for (const name of ['21', '22'])
        box.ports.push({ ...box.ports[1]!, id: `p${name}`, name, untagged: 10 as never });
    });
    const { kind, says, frames } = outcome(open, 'loop switch-rack');
    expect(kind).toBe('all');
    // IEEE 802.3 clause 4: 1 488 095 frames of 64 bytes a second on 1 Gb/s.
    expect(says).toMatch(/1\s488\s095 frames/);
    expect(frames.length).toBeGreaterThan(5);
    open.kit.find(({ id }) => id === 'switch-rack')!.spanningTree = true;
    expect(outcome(open, 'loop switch-rack').kind).toBe('nothing');
  });

  test('after a radar the channel is left for half an hour, for one on which nothing is listened for', () => {
    const plan = demoPlan('larch-house');
    plan.wifi.radios.push(
      radioSchema.parse({ id: 'far', box: 'upstairs', band: '5', channel: 116, width: '80' }),
    );
    const { says } = outcome(plan, 'radar far');
    expect(says).toMatch(/leaves channel 116 .*30 minutes\. On channel \d+ it sends again at once/);
  });

  test('a dead access point takes its rooms and what is plugged into it', () => {
    const plan = demoPlan('larch-house');
    plan.wiring.runs.push(
      runSchema.parse({
        id: 'bell',
        label: 'B1',
        fromBox: 'upstairs',
        fromPort: 'LAN 2',
        toDevice: 'camera',
      }),
    );
    const { kind, lost } = outcome(plan, 'box upstairs');
    expect(kind).toBe('part');
    expect(lost.join('; ')).toMatch(/Barn door bell.*the attic rooms/);
    expect(lost.join('; ')).not.toContain('breakfast');
  });
});
