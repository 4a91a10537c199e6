import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { compile } from '../../site/compile.ts';
import { demoPlan, soundPlan } from '../../testing/plans.ts';
import { criticalPath, searchOrder, timesOf, type Slot, type Task } from './search.ts';
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
      const steps = runSheet(site).filter(({ optional }) => !optional);
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
      expect(steps.at(-1)!.id).toBe('handover');
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
});

/** What holds of every order: needs before, nothing on what is busy, hands in one place at a time, groups whole. */
function expectSound(tasks: readonly Task[], slots: readonly Slot[]): void {
  const task = new Map(tasks.map((each) => [each.id, each]));
  const at = new Map(slots.map((slot) => [slot.id, slot]));
  expect(slots.map(({ id }) => id).sort()).toEqual(tasks.map(({ id }) => id).sort());
  let group = '';
  for (const [index, slot] of slots.entries()) {
    const { needs, group: mine, uses } = task.get(slot.id)!;
    for (const need of needs) expect(at.get(need)!.end).toBeLessThanOrEqual(slot.start);
    if (index > 0) expect(slot.start).toBeGreaterThanOrEqual(slots[index - 1]!.free);
    for (const before of slots.slice(0, index))
      if (task.get(before.id)!.busy.some((name) => uses.includes(name)))
        expect(slot.start).toBeGreaterThanOrEqual(before.end);
    if (mine !== '') {
      const openBefore = slots.slice(index).some(({ id }) => task.get(id)!.group === group);
      if (group !== '' && group !== mine) expect(openBefore).toBe(false);
      group = mine;
    }
  }
}

describe('the search for an order', () => {
  const places = ['desk', 'cupboard', 'router', ''];
  const tasks = fc
    .array(
      fc.record({
        needs: fc.array(fc.nat({ max: 20 }), { maxLength: 3 }),
        handSeconds: fc.nat({ max: 300 }),
        waitSeconds: fc.nat({ max: 900 }),
        place: fc.constantFrom(...places),
        phase: fc.constantFrom('a', 'b'),
        busy: fc.subarray(['router', 'line']),
        uses: fc.subarray(['router', 'line']),
      }),
      { maxLength: 14 },
    )
    .map((rows): Task[] =>
      rows.map((row, index) => ({
        ...row,
        id: `${index}`,
        group: '',
        needs: row.needs.filter((need) => need < index).map(String),
      })),
    );

  test('every order it finds is sound, in no more time than the written one, and its times are those of its order', () => {
    fc.assert(
      fc.property(tasks, (list) => {
        const { order, slots } = searchOrder(list);
        expectSound(list, slots);
        expect(timesOf(order)).toEqual(slots);
        const last = (each: readonly Slot[]): number => Math.max(0, ...each.map(({ end }) => end));
        expect(last(slots)).toBeLessThanOrEqual(last(timesOf(list)) + 600);
      }),
    );
  });

  test('a wait runs beside work, and a group is finished before the next begins', () => {
    const task = (id: string, more: Partial<Task> = {}): Task => ({
      id,
      needs: [],
      handSeconds: 60,
      waitSeconds: 0,
      busy: [],
      uses: [],
      place: '',
      group: '',
      phase: '',
      ...more,
    });
    const { slots } = searchOrder([
      task('hands'),
      task('sync', { waitSeconds: 300 }),
      task('after', { needs: ['sync'] }),
    ]);
    expect(slots.map(({ id, start }) => [id, start])).toEqual([
      ['sync', 0],
      ['hands', 60],
      ['after', 360],
    ]);
    const grouped = searchOrder([
      task('up 1', { group: '1', waitSeconds: 100 }),
      task('measure 1', { group: '1', needs: ['up 1'] }),
      task('up 2', { group: '2', waitSeconds: 100 }),
      task('measure 2', { group: '2', needs: ['up 2'] }),
    ]);
    expect(grouped.order.map(({ id }) => id)).toEqual(['up 1', 'measure 1', 'up 2', 'measure 2']);
    expect(criticalPath(slots)).toEqual(['sync', 'after']);
  });

  test('more tasks than can be searched keep the written order, as soundly', () => {
    const many = Array.from({ length: 400 }, (_, index): Task => ({
      id: `${index}`,
      needs: index % 7 === 0 && index % 11 !== 0 ? [`${index - 1}`, `${Math.floor(index / 2)}`] : [],
      handSeconds: 10,
      waitSeconds: index % 5 === 0 ? 60 : 0,
      busy: index % 5 === 0 ? ['router'] : [],
      uses: ['router'],
      place: places[index % 4]!,
      group: index % 11 === 0 ? `${index % 2}` : '',
      phase: 'a',
    }));
    const { slots } = searchOrder([...many].reverse());
    expectSound(many, slots);
  });

  test('a circle is refused', () => {
    const task = { handSeconds: 1, waitSeconds: 0, busy: [], uses: [], place: '', group: '', phase: '' };
    expect(() =>
      searchOrder([
        { ...task, id: 'a', needs: ['b'] },
        { ...task, id: 'b', needs: ['a'] },
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
