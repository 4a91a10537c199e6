import { describe, expect, test } from '@jest/globals';
import { mediumNames } from '../../plan/schema.ts';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import { soundPlan } from '../../testing/plans.ts';
import { wanTypeNames } from '../../plan/schema.ts';
import { runSheet } from './sheet.ts';
import type { RunStep } from '../../behaviour/domain-types/step.ts';

const sheetOf = (change: (uplink: Plan['uplinks'][number]) => void): RunStep[] =>
  runSheet(
    compile(
      soundPlan((plan) => {
        change(plan.uplinks[0]!);
      }),
    ),
  );
const kinds = wanTypeNames.flatMap((type) => mediumNames.map((medium) => [type, medium] as const));

describe.each(kinds)('%s over %s', (type, medium) => {
  const steps = sheetOf((uplink) => Object.assign(uplink, { type, medium }));
  const place = (id: string): number => steps.findIndex((step) => step.id === id);

  test('what is measured and prepared comes before the line is brought up, what proves it after', () => {
    const up = place('uplink:fibre');
    for (const id of [
      'activation',
      'light',
      'sync',
      'modem',
      'align',
      'survey',
      'old-session',
      'forget',
      'card',
      'box',
    ])
      if (place(`${id}:fibre`) >= 0) expect([id, place(`${id}:fibre`) < up]).toEqual([id, true]);
    expect(place('standing:fibre')).toBeGreaterThan(up);
    expect(place('size:fibre')).toBeGreaterThan(up);
    expect(place('save')).toBeGreaterThan(place('size:fibre'));
  });

  test('nothing is plugged into the line before the inside has its own addresses', () => {
    for (const id of ['uplink', 'light', 'sync', 'modem', 'align', 'card'])
      if (place(`${id}:fibre`) >= 0) expect(place(`${id}:fibre`)).toBeGreaterThan(place('reconnect'));
  });

  test('activation is asked before anyone drives out, and no step is there twice', () => {
    expect(steps[place('activation:fibre')]!.phase).toBe('prepare');
    expect(new Set(steps.map(({ id }) => id)).size).toBe(steps.length);
  });
});

test('work that can hurt says so: light, heights, mains (IEC 60825, the usual care of the trade)', () => {
  const cautions = (medium: Plan['uplinks'][number]['medium'], id: string): string =>
    sheetOf((uplink) => Object.assign(uplink, { medium, type: 'dhcp' }))
      .find((step) => step.id === `${id}:fibre`)!
      .cautions.join(' ');
  expect(cautions('fibre', 'light')).toMatch(/never look into a fibre/);
  for (const [medium, id] of [
    ['wireless', 'align'],
    ['satellite', 'align'],
    ['cellular', 'survey'],
  ] as const)
    expect(cautions(medium, id)).toMatch(/trained and secured.*lightning and local codes/s);
  expect(cautions('dsl', 'sync')).toMatch(/thunderstorm/);
});
