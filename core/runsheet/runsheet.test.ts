import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { compile } from '../site/compile.ts';
import { demoPlan, soundPlan } from '../testing/plans.ts';
import { inOrder } from './order.ts';
import { stepStates, type SiteRecord } from './record.ts';
import { runSheet } from './sheet.ts';

const sites = ['farrow-sound', 'hollin-edge', 'weir-street']
  .map((name) => compile(demoPlan(name)))
  .concat(compile(soundPlan()));
const record = (id: number, kind: SiteRecord['kind'], subject = 'kit'): SiteRecord => ({
  id,
  kind,
  subject,
  at: `2026-03-02T09:0${id}:00Z`,
  initials: 'AB',
  reading: '',
  seenFrom: '',
  revision: 1,
});

describe('run sheet', () => {
  test.each(sites.map((site) => [site.about.name, site] as const))(
    '%s: every step comes after what it needs, and no id twice',
    (_name, site) => {
      const steps = runSheet(site);
      const place = new Map(steps.map((step, index) => [step.id, index]));
      expect(place.size).toBe(steps.length);
      for (const [index, step] of steps.entries())
        for (const need of step.needs) if (place.has(need)) expect(place.get(need)!).toBeLessThan(index);
    },
  );

  test.each(sites.map((site) => [site.about.name, site] as const))(
    '%s: never cuts the installer off',
    (_name, site) => {
      const steps = runSheet(site);
      const place = (id: string): number => steps.findIndex((step) => step.id === id);
      // Common practice, no source: secret before all else, backup before firmware, the address change before any uplink.
      expect(place('admin-secret')).toBe(place('first-login') + 1);
      expect(place('backup-before')).toBeLessThan(place('firmware'));
      expect(place('inside-address')).toBeGreaterThan(place('firmware'));
      expect(place('reconnect')).toBe(place('inside-address') + 1);
      for (const line of site.lines) expect(place(`uplink:${line.id}`)).toBeGreaterThan(place('reconnect'));
      for (const forward of site.forwards)
        if (forward.device?.address)
          expect(place(`forward:${forward.id}`)).toBeGreaterThan(
            place(`reservations:${forward.device.network!.id}`),
          );
      expect(steps.at(-2)!.id).toBe('backup-after');
      expect(place('power-cut')).toBeGreaterThan(place('save'));
      // The router answers on one address up to the change and on the other from the reconnect on.
      const factory = steps.slice(place('first-login'), place('reconnect')).map((step) => step.session);
      const planned = steps.slice(place('reconnect')).map((step) => step.session);
      expect(new Set(factory.map((session) => JSON.stringify(session))).size).toBe(1);
      expect(
        planned.every(
          (session) =>
            session.kind === 'router' && session.address === steps[place('reconnect')]!.entries[0]!.value,
        ),
      ).toBe(true);
    },
  );

  test('carries the values of this plan, and says that the session ends', () => {
    const steps = runSheet(compile(demoPlan('farrow-sound')));
    const step = (id: string) => steps.find((each) => each.id === id)!;
    expect(step('laptop').entries.map((entry) => entry.value)).toEqual([
      'automatic',
      '192.168.1.254, mask 255.255.255.0',
    ]);
    expect(step('inside-address').cautions[0]).toContain('browse to 10.24.10.1');
    expect(step('uplink:fibre').entries.map((entry) => entry.value)).toEqual(
      expect.arrayContaining(['farrow-sound@line.example', '7, priority 0, tagged', '1492']),
    );
    expect(step('reservations:plant').entries[0]!.value).toBe('00:00:5e:00:53:21 → 10.24.40.20');
    expect(step('forward:tide').entries.map((entry) => entry.value)).toContain('198.51.100.24/29');
    expect(step('size:fibre').entries[0]!.value).toContain('1464 bytes'); // 1492 - 20 - 8, RFC 2516, 791 and 792
    const fixed = runSheet(compile(soundPlan())).find((each) => each.id === 'uplink:fibre')!;
    expect(fixed.entries.map((entry) => entry.value)).toEqual(
      expect.arrayContaining(['203.0.113.9', '255.255.255.252', '203.0.113.10']),
    );
  });

  test('a router that keeps its address has no change to survive', () => {
    const steps = runSheet(
      compile(
        soundPlan((plan) => {
          plan.router.factoryAddress = '10.24.10.1/24';
        }),
      ),
    );
    expect(steps.map((step) => step.id)).not.toContain('inside-address');
    expect(steps.find((step) => step.id === 'reconnect')!.title).toContain('Stay on 10.24.10.1');
  });

  test('the order respects random needs, and a circle is refused', () => {
    const items = fc.array(fc.array(fc.nat({ max: 30 }), { maxLength: 4 }), { maxLength: 30 }).map((needs) =>
      needs.map((each, index) => ({
        id: `${index}`,
        needs: each.filter((need) => need < index).map(String),
      })),
    );
    fc.assert(
      fc.property(items, fc.infiniteStream(fc.nat()), (list, random) => {
        const shuffled = [...list].sort(() => (random.next().value! % 2) - 0.5);
        const ordered = inOrder(shuffled);
        const seen = new Set<string>();
        for (const item of ordered) {
          expect(item.needs.every((need) => seen.has(need))).toBe(true);
          seen.add(item.id);
        }
        expect(ordered.length).toBe(list.length);
      }),
    );
    expect(() =>
      inOrder([
        { id: 'a', needs: ['b'] },
        { id: 'b', needs: ['a'] },
      ]),
    ).toThrow('circle');
  });
});

describe('records', () => {
  test('the latest tick or untick counts, and nothing is forgotten', () => {
    const states = stepStates([record(1, 'timer'), record(2, 'tick'), record(3, 'untick')]);
    expect(states.get('kit')).toMatchObject({ done: false, last: { kind: 'untick' } });
    expect(states.get('kit')!.history).toHaveLength(3);
    expect(stepStates([record(1, 'timer')]).get('kit')).toMatchObject({
      done: false,
      timerAt: '2026-03-02T09:01:00Z',
    });
    expect(stepStates([record(1, 'timer'), record(2, 'tick')]).get('kit')!.timerAt).toBeUndefined();
  });
});
