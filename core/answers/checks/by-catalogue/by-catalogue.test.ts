import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { once } from '../../../base/once.ts';
import { runChecks } from '../index.ts';
import type { Field } from '../../../plan/field.ts';
import { catalogue, pointersOf } from '../../../plan/places.ts';
import { valueAt } from '../../../plan/pointer.ts';
import { planSchema, type Plan } from '../../../plan/schema.ts';
import { compile } from '../../../site/compile.ts';
import { demoPlan, notWords, setAt, soundPlan } from '../../../testing/plans.ts';
import { anyWish, demoNames, planOfWish } from '../../../testing/wishes.ts';
import { days } from './days.ts';
import { byCatalogue } from './index.ts';

const today = '2026-03-02';
const findings = (plan: Plan) => runChecks(compile(plan), today);

/** The places of a kind of field that stand in the demo sites, with one plan each: every place of it in every list. */
function standing(
  wanted: (field: Field, value: unknown, row: Readonly<Record<string, unknown>>) => boolean,
): readonly [place: string, plan: Plan, at: string][] {
  const plans = demoNames.map(demoPlan);
  return catalogue().flatMap(({ at: place, field }) => {
    for (const plan of plans)
      for (const at of pointersOf(plan, place)) {
        const value = valueAt(plan, at);
        const row = valueAt(plan, at.slice(0, at.lastIndexOf('/'))) as Readonly<Record<string, unknown>>;
        if (value !== undefined && wanted(field, value, row)) return [[place, plan, at] as const];
      }
    return [];
  });
}

const saidBefore = once(
  (plan: Plan) => new Set(findings(plan).map(({ rule, at: where }) => `${rule} ${where}`)),
);

/** What is said at a place, or about it, after a change, that was not said before. */
function saidOf(plan: Plan, at: string, value: unknown): string[] {
  const before = saidBefore(plan);
  const changed = setAt(plan, at, value);
  expect(planSchema.safeParse(changed).success).toBe(true);
  return findings(changed)
    .filter((each) => !before.has(`${each.rule} ${each.at}`))
    .filter((each) => each.at === at || each.also?.some((other) => other === at))
    .map(({ rule, says }) => {
      expect(says).not.toMatch(notWords);
      return rule;
    });
}

describe('a row that names another: the other is there', () => {
  const places = standing(({ kind }, value) => kind === 'reference' && value !== '');
  test.each(places)('%s', (_place, plan, at) => expect(saidOf(plan, at, 'gone')).not.toEqual([]));

  const lists = standing(({ kind }, value) => kind === 'references' && (value as unknown[]).length > 0);
  test.each(lists)('%s', (_place, plan, at) => {
    const [first] = valueAt(plan, at) as string[];
    expect(saidOf(plan, at, [first, 'gone'])).not.toEqual([]);
    expect(saidOf(plan, at, [first, first])).not.toEqual([]);
  });

  test('most lists of the plan are named by some row', () => expect(places.length).toBeGreaterThan(12));
});

describe('every day of the plan', () => {
  const law = (field: Field) => ('day' in field ? field.day : undefined);
  const places = standing((field, value) => law(field) !== undefined && value !== '');

  test.each(places)('%s: no day of the calendar, a day to come, a day before its time', (place, plan, at) => {
    const { says, after } = law(catalogue().find((each) => each.at === place)!.field)!;
    expect(saidOf(plan, at, '2026-02-30')).not.toEqual([]);
    expect(saidOf(plan, at, '2226-03-02')).not.toEqual([]);
    expect(saidOf(plan, at, '1026-03-02')).not.toEqual([]);
    if (says === 'happened') expect(saidOf(plan, at, '2026-03-03')).not.toEqual([]);
    const list = at.slice(0, at.lastIndexOf('/'));
    for (const earlier of after) {
      const oneDay = setAt(setAt(plan, `${list}/${earlier}`, '2026-02-20'), at, '2026-02-20');
      const reversed = (each: Plan) =>
        days
          .run(compile(each), today)
          .some(({ rule, at: where }) => rule === 'days-reversed' && where === at);
      expect([reversed(oneDay), reversed(setAt(oneDay, at, '2026-02-19'))]).toEqual([false, true]);
    }
  });

  test('today is not to come, and no day of the program is needed to read the plan', () => {
    const plan = demoPlan('farrow-sound');
    expect(saidOf(plan, '/vpn/peers/0/created', today)).toEqual([]);
    expect(runChecks(compile(setAt(plan, '/vpn/peers/0/created', '2031-01-01')))).not.toContainEqual(
      expect.objectContaining({ rule: 'day-to-come' }),
    );
  });
});

describe('figures', () => {
  const range = (field: Field) => (field.kind === 'number' ? field.seldomOutside : undefined);
  const places = standing((field, value) => range(field) !== undefined && value !== null);

  test.each(places)('%s: both ends are in order, what lies beyond is asked about', (place, plan, at) => {
    const field = catalogue().find((each) => each.at === place)!.field;
    if (field.kind !== 'number') throw new Error(place);
    const [least, most] = field.seldomOutside!;
    const part = field.whole ? 1 : Math.max(Math.abs(least), Math.abs(most)) / 1000;
    expect(saidOf(plan, at, least)).not.toContain('figure-unusual');
    expect(saidOf(plan, at, most)).not.toContain('figure-unusual');
    if (least - part >= field.least) expect(saidOf(plan, at, least - part)).not.toEqual([]);
    if (most + part <= field.most) expect(saidOf(plan, at, most + part)).not.toEqual([]);
    expect(least).toBeGreaterThanOrEqual(field.least);
    expect(most).toBeLessThanOrEqual(field.most);
  });
});

describe('what a row is of no use without', () => {
  const places = standing(
    ({ lacking, lackingWhen }, _value, row) => lacking !== undefined && lackingWhen?.(row) !== false,
  );
  test.each(places)('%s', (place, plan, at) => {
    const { kind } = catalogue().find((each) => each.at === place)!.field;
    expect(saidOf(plan, at, kind === 'number' ? null : kind === 'references' ? [] : '')).not.toEqual([]);
  });
});

describe('texts that only fill a field', () => {
  const places = standing((field, value) => field.kind === 'text' && field.longest > 2 && value !== '');
  test.each(places)('%s', (_place, plan, at) => expect(saidOf(plan, at, 'TBD')).not.toEqual([]));

  test.each(['?', '???', 'xx', 'n/a', 'N/A', 'to be confirmed', 'test', 'todo', '---', 'unknown?'])(
    '"%s"',
    (text) => expect(saidOf(soundPlan(), '/site/customer', text)).toEqual(['placeholder']),
  );
  // Names that only hold such a word.
  test.each(['Test and Tag Ltd', 'Toda Bakery', 'Testa', 'Later Days Museum', 'X', 'Nat'])('"%s"', (text) =>
    expect(saidOf(soundPlan(), '/site/customer', text)).toEqual([]),
  );
});

describe('rows of one list', () => {
  const places = standing((field) => 'tellsApart' in field && field.tellsApart === true);

  test.each(places)('%s: no two rows under one name', (_place, plan, at) => {
    const [, list = '', index = '', key = ''] = /^(.*)\/(\d+)\/(\w+)$/.exec(at)!;
    const rows = valueAt(plan, list) as Record<string, unknown>[];
    const named = { ...rows[Number(index)]!, [key]: 'North 7' };
    const twice = setAt(plan, list, [...rows, named, { ...named, id: 'another', [key]: ' north 7' }]);
    expect(findings(twice).map(({ at: where }) => where)).toContain(`${list}/${rows.length + 1}/${key}`);
  });

  test.each([...demoNames])('a row of %s that is entered twice is found in every list', (name) => {
    const plan = demoPlan(name);
    for (const { at: place, field } of catalogue()) {
      if (field.kind !== 'rows' || field.repeats || place.startsWith('/origins')) continue;
      for (const list of pointersOf(plan, place).slice(0, 1)) {
        const rows = valueAt(plan, list) as Record<string, unknown>[] | undefined;
        if (!rows?.length || rows.length >= field.most) continue;
        const twice = setAt(plan, list, [...rows, { ...rows[0], id: 'again' }]);
        const where = findings(twice).map(({ at, also = [] }) => [at, ...also].join(' '));
        expect([list, where.some((each) => `${each} `.includes(`${list}/${rows.length}`))]).toEqual([
          list,
          true,
        ]);
      }
    }
  });
});

test('sites that are as they should be are not spoken of', () => {
  const laws = (plan: Plan) => {
    const site = compile(plan);
    return byCatalogue
      .flatMap((law) => law.run(site, today))
      .map(({ rule, at, says }) => ({ rule, at, says }));
  };
  for (const name of demoNames) expect(laws(demoPlan(name))).toEqual([]);
  expect(laws(soundPlan())).toEqual([]);
  fc.assert(
    fc.property(anyWish, (wish) => {
      // A wish may ask for one rule twice.
      expect(laws(planOfWish(wish)).filter(({ rule }) => rule !== 'row-twice')).toEqual([]);
    }),
    { numRuns: 40 },
  );
});
