import { describe, expect, test } from '@jest/globals';
import { compile } from '../../site/compile.ts';
import { valueAt } from '../../plan/pointer.ts';
import { wanTypes } from '../../wan-types/index.ts';
import { demoPlan, soundPlan } from '../../testing/plans.ts';
import { promisesOf } from '../acceptance/promises.ts';
import { runSheet } from './sheet.ts';
import { stepStates, type SiteRecord } from './record.ts';

const plans = [
  ...['farrow-sound', 'hollin-edge', 'weir-street'].map((name) => [name, demoPlan(name)] as const),
  ...wanTypes.map(
    ({ name }) =>
      [
        `a line of the type ${name}`,
        soundPlan((plan) => {
          plan.uplinks[0]!.type = name;
        }),
      ] as const,
  ),
];

describe.each(plans)('the run sheet of %s', (_name, plan) => {
  const site = compile(plan);
  const steps = runSheet(site);

  test('says what to do, why, what proves it and what to do if not, in whole sentences', () => {
    for (const { id, title, why, proof, ifNot, cautions } of steps) {
      expect([id, title.trim()]).toEqual([id, expect.stringMatching(/^\S.*[^.]$/)]);
      for (const text of [why, proof, ifNot, ...cautions])
        expect([id, text]).toEqual([id, expect.stringMatching(/^\S.*[.!]$/s)]);
      expect([why, proof, ifNot].join()).not.toMatch(/undefined|NaN|\[object/);
    }
  });

  test('has no empty value to enter, and every value leads back to its place in the plan', () => {
    for (const { id, entries } of steps)
      for (const entry of entries) {
        expect([id, entry.label, entry.value]).toEqual([id, entry.label, expect.stringMatching(/\S/)]);
        expect(entry.value).not.toMatch(/undefined|NaN|\[object/);
        if (entry.at !== undefined)
          expect([entry.at, valueAt(plan, entry.at)]).not.toEqual([entry.at, undefined]);
      }
  });

  test('waits are spans, the longest no shorter than the shortest', () => {
    for (const { lowSeconds, highSeconds } of steps) {
      expect(lowSeconds).toBeGreaterThanOrEqual(0);
      expect(highSeconds).toBeGreaterThanOrEqual(lowSeconds);
      expect(highSeconds).toBeLessThanOrEqual(3600);
    }
  });

  test('is evidence for promises of this site only, and every promise can be proven by a step', () => {
    const known = new Set(promisesOf(site).map(({ id }) => id));
    const proven = new Set(steps.flatMap(({ evidence }) => evidence.map(({ promise }) => promise)));
    expect([...proven].filter((id) => !known.has(id))).toEqual([]);
    expect([...known].filter((id) => !proven.has(id))).toEqual([]);
  });

  test('done from top to bottom leaves nothing open, and an untick opens exactly that step', () => {
    const record = (id: number, kind: 'tick' | 'untick', subject: string): SiteRecord => ({
      id,
      kind,
      subject,
      at: '2026-03-02T09:00:00Z',
      initials: 'AB',
      reading: '',
      seenFrom: '',
      revision: 1,
    });
    const ticks = steps.map(({ id }, index) => record(index, 'tick', id));
    const open = (records: SiteRecord[]): string[] => {
      const states = stepStates(records);
      return steps.filter(({ id }) => !states.get(id)?.done).map(({ id }) => id);
    };
    expect(open(ticks)).toEqual([]);
    expect(open([...ticks, record(999, 'untick', 'save')])).toEqual(['save']);
  });
});

test('whatever can hurt is said before it is done', () => {
  // The usual cautions of the trade (common practice, no source): power, and people who lose their line.
  const steps = runSheet(compile(soundPlan()));
  const cautionsOf = (id: string): string => steps.find((step) => step.id === id)!.cautions.join(' ');
  expect(cautionsOf('power-cut')).toMatch(/Tell the people/);
  expect(cautionsOf('backup-after')).toMatch(/secrets/);
  expect(cautionsOf('power')).not.toBe('');
});

test('where a device takes one protocol in one entry, a forward of both is entered twice', () => {
  const protocols = (routerBoth: boolean, boxBoth: boolean): string[] => {
    const plan = soundPlan((p) => {
      p.router.bothProtocols = routerBoth;
      p.devices[0]!.services[0]!.protocol = 'both';
      p.uplinks[0]!.type = 'dhcp';
      Object.assign(p.uplinks[0]!.handoff, {
        mode: 'routes',
        insidePrefix: '192.168.8.0/24',
        bothProtocols: boxBoth,
      });
    });
    return runSheet(compile(plan))
      .filter(({ id }) => id === 'forward:f1' || id === 'box-forward:f1')
      .map(({ entries }) => entries.find(({ label }) => label === 'Protocol')!.value);
  };
  expect(protocols(true, true)).toEqual(['TCP and UDP', 'TCP and UDP']);
  expect(protocols(false, true)).toEqual(['TCP, and a second entry like it with UDP', 'TCP and UDP']);
  expect(protocols(true, false)).toEqual(['TCP and UDP', 'TCP, and a second entry like it with UDP']);
});

test('limits and shaping are entered with their unit, habits of the router until they are off', () => {
  const steps = runSheet(
    compile(
      soundPlan((p) => {
        p.networks[1]!.limitDownMbps = 20;
        p.uplinks[0]!.shapeUpMbps = 38;
        p.router.portControl = 'on';
      }),
    ),
  );
  const values = (id: string): string[] | undefined =>
    steps.find((step) => step.id === id)?.entries.map(({ value }) => value);
  expect(values('shares')).toEqual(['Fibre: 38 Mb/s', 'Guests: 20 Mb/s (not MB/s)']);
  expect(values('habits')).toEqual(['off']);
  const off = runSheet(compile(soundPlan((p) => (p.router.portControl = 'off'))));
  expect(off.map(({ id }) => id)).not.toContain('habits');
});
