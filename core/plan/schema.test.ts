import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { demoPlan, good, soundPlan } from '../testing/plans.ts';
import { comparePlans, mergePlans } from './compare.ts';
import { applyPatch } from './patch.ts';
import { valueAt } from './pointer.ts';
import { compile } from '../site/compile.ts';
import { fieldAt } from './places.ts';
import { parsePlan, readPlan } from './read.ts';
import { valuesOf } from './values.ts';
import { planJsonSchema, type Plan } from './schema.ts';
import { writePlan } from '../output/formats/plan-json.ts';

/** Every place of a plan below the root, as a JSON Pointer. */
function pointersOf(value: unknown, at = ''): string[] {
  const own = at === '' ? [] : [at];
  if (typeof value !== 'object' || value === null) return own;
  return [...own, ...Object.entries(value).flatMap(([key, inner]) => pointersOf(inner, `${at}/${key}`))];
}

/** A copy with another value at a place. */
function withValue(plan: unknown, at: string, value: unknown): unknown {
  const copy = structuredClone(plan);
  const parts = at.split('/').slice(1);
  const last = parts.pop()!;
  const parent = parts.reduce((inner, part) => (inner as Record<string, unknown>)[part], copy);
  (parent as Record<string, unknown>)[last] = value;
  return copy;
}

/** Settings of another WAN type or medium than the one in use are kept, and nothing is said of them. */
function isInUse(plan: Plan, at: string): boolean {
  const part = /^\/uplinks\/(\d+)\/(settings|media)\/([^/]+)/.exec(at);
  if (!part) return true;
  const uplink = plan.uplinks[Number(part[1])]!;
  return part[3] === (part[2] === 'media' ? uplink.medium : uplink.type);
}

const demos = ['farrow-sound', 'hollin-edge', 'weir-street', 'larch-house'];

describe('what a plan may hold', () => {
  /** A change to a sound plan that must be refused, and the place that the refusal names. */
  const refused: [name: string, at: string, change: (plan: Plan) => unknown][] = [
    ['a name over 200 characters', '/site/name', (plan) => (plan.site.name = 'x'.repeat(201))],
    ['notes over 10 000 characters', '/site/notes', (plan) => (plan.site.notes = 'x'.repeat(10_001))],
    ['a country of three letters', '/site/country', (plan) => (plan.site.country = 'GBR')],
    ['a MAC address as long as a book', '/kit/0/mac', (plan) => (plan.kit[0]!.mac = '0'.repeat(65))],
    ['a WAN type that is none', '/uplinks/0/type', (plan) => (plan.uplinks[0]!.type = 'pigeon' as 'dhcp')],
    ['a medium that is none', '/uplinks/0/medium', (plan) => (plan.uplinks[0]!.medium = 'string' as 'dsl')],
    [
      'a protocol that is none',
      '/forwards/0/protocol',
      (plan) => (plan.forwards[0]!.protocol = 'sctp' as 'tcp'),
    ],
    [
      'a hundred and one sources',
      '/forwards/0/sources',
      (plan) => (plan.forwards[0]!.sources = Array.from({ length: 101 }, () => '198.51.100.1')),
    ],
    ['a field nobody knows', '/networks/0', (plan) => Object.assign(plan.networks[0]!, { colour: 'red' })],
    [
      'a secret in the clear',
      '/uplinks/0/settings/pppoe',
      (plan) => Object.assign(plan.uplinks[0]!.settings.pppoe, { password: 'hunter' }),
    ],
  ];
  test.each(refused)('%s is refused at %s', (_name, at, change) => {
    const plan = structuredClone(soundPlan());
    change(plan);
    const result = parsePlan(plan);
    expect(result).toMatchObject({
      ok: false,
      problem: { at: expect.stringContaining(at), says: expect.stringMatching(/\.$/) },
    });
    // A secret must not come back in the sentence that refuses it.
    expect(JSON.stringify(result)).not.toContain('hunter');
  });

  /** Every figure of the catalogue that stands in the demo plans, with its pointer. */
  const figures = demos.flatMap((demo) => {
    const plan = demoPlan(demo);
    return pointersOf(plan).flatMap((at) => {
      const field = fieldAt(at);
      return field?.kind === 'number' ? [{ demo, at, field }] : [];
    });
  });

  test('a figure that its field cannot have is kept as typed, saved, marked, and computes as if it were empty', () => {
    expect(figures.length).toBeGreaterThan(300);
    fc.assert(
      fc.property(
        fc.constantFrom(...figures),
        fc.boolean(),
        fc.nat(1000),
        ({ demo, at, field }, above, by) => {
          const wrong = above ? field.most + 0.5 + by : field.least - 0.5 - by;
          const plan = good(parsePlan(withValue(demoPlan(demo), at, wrong)));
          expect(valueAt(plan, at)).toBe(wrong);
          const marked = compile(plan).problems.filter((problem) => problem.at === at);
          expect(marked.map(({ code }) => code)).toEqual(isInUse(plan, at) ? ['out-of-bounds'] : []);
          // What is computed with is what an empty field stands for.
          expect(valuesOf(plan).values).toEqual(valuesOf(withValue(plan, at, null) as Plan).values);
        },
      ),
      { numRuns: 300 },
    );
  });

  test('both ends of its bounds belong to a figure, and a part is none where it is whole', () => {
    for (const demo of demos) {
      const here = figures.filter((each) => each.demo === demo && isInUse(demoPlan(demo), each.at));
      /** Figures that are marked where every figure of the plan is such a value, all at once. */
      const marked = (of: typeof figures, valueOf: (field: (typeof figures)[number]['field']) => number) => {
        const plan = of.reduce(
          (before, { at, field }) => withValue(before, at, valueOf(field)) as Plan,
          structuredClone(demoPlan(demo)),
        );
        const codes = new Map<string, string>(compile(plan).problems.map(({ at, code }) => [at, code]));
        return of.map(({ at }) => at).filter((at) => codes.get(at) === 'out-of-bounds');
      };
      expect(marked(here, ({ least }) => least)).toEqual([]);
      expect(marked(here, ({ most }) => most)).toEqual([]);
      const part = ({ least }: { least: number }): number => Math.floor(least) + 0.5;
      const parted = here.filter(({ field }) => part(field) > field.least && part(field) < field.most);
      expect(marked(parted, part)).toEqual(parted.filter(({ field }) => field.whole).map(({ at }) => at));
    }
  });

  test('two rows of one id are refused in every list of the schema, with the place', () => {
    const plan = demoPlan('farrow-sound');
    const lists = pointersOf(plan).filter((at) => {
      const value = valueAt(plan, at);
      return Array.isArray(value) && value.length > 0 && typeof value[0] === 'object';
    });
    expect(lists.length).toBeGreaterThan(15);
    for (const at of lists) {
      const list = valueAt(plan, at) as { id: string }[];
      const twice = parsePlan(withValue(plan, at, [...list, { ...list[0]! }]));
      expect([at, twice]).toMatchObject([at, { ok: false, problem: { code: 'repeated-id' } }]);
    }
  });

  test('a file of an earlier day, without what came later, is read and filled up', () => {
    const early = structuredClone(soundPlan()) as unknown as {
      uplinks: Record<string, unknown>[];
      router: Record<string, unknown>;
    };
    for (const key of ['medium', 'media', 'papers', 'activation', 'answers', 'vlan', 'vlanPriority'])
      delete early.uplinks[0]![key];
    early.uplinks[0]!.settings = { static: (early.uplinks[0]!.settings as { static: object }).static };
    delete early.router.ports;
    expect(good(parsePlan(early))).toEqual(soundPlan());
  });

  test('the JSON Schema names every part that the plan has, and is closed', () => {
    const schema = planJsonSchema() as {
      properties: Record<string, unknown>;
      additionalProperties: unknown;
      $schema: string;
    };
    expect(Object.keys(schema.properties).sort()).toEqual(Object.keys(soundPlan()).sort());
    expect([schema.additionalProperties, schema.$schema]).toEqual([
      false,
      'https://json-schema.org/draft/2020-12/schema',
    ]);
  });

  test('a file written on one machine is the same plan on another', () => {
    for (const demo of demos) {
      const plan = demoPlan(demo);
      const text = writePlan(plan);
      expect(good(readPlan(text))).toEqual(plan);
      expect(good(readPlan(`\uFEFF${text.replaceAll('\n', '\r\n')}`))).toEqual(plan);
    }
  });
});

describe('merging has an algebra', () => {
  /** A plan with some of its fields changed. */
  const changed = fc
    .record({
      name: fc.option(fc.constantFrom('Pier', 'Quay', 'Dock')),
      vlan: fc.option(fc.integer({ min: 1, max: 4094 })),
      prefix: fc.option(fc.constantFrom('10.30.1.0/24', '10.30.2.0/24')),
      forwards: fc.boolean(),
      extra: fc.option(fc.constantFrom('plant', 'voice')),
      rate: fc.option(fc.integer({ min: 1, max: 900 })),
      swap: fc.boolean(),
      front: fc.boolean(),
    })
    .map(({ name, vlan, prefix, forwards, extra, rate, swap, front }) =>
      soundPlan((plan) => {
        if (name !== null) plan.site.name = name;
        if (vlan !== null) plan.networks[0]!.vlan = vlan;
        if (prefix !== null) plan.networks[1]!.prefix = prefix;
        if (forwards) plan.forwards = [];
        if (extra !== null) plan.networks.push({ ...plan.networks[1]!, id: extra, name: extra });
        plan.uplinks[0]!.rateDownMbps = rate;
        if (swap) plan.networks.reverse();
        if (front) plan.devices.unshift({ ...plan.devices[0]!, id: 'front', name: 'In front' });
      }),
    );
  const merged = (mine: Plan, theirs: Plan): Plan => mergePlans(soundPlan(), mine, theirs).resolve({});

  test('a plan merged with itself is itself, and with the base is what was changed', () => {
    fc.assert(
      fc.property(changed, (plan) => {
        expect(mergePlans(soundPlan(), plan, plan).conflicts).toEqual([]);
        expect(merged(plan, plan)).toEqual(plan);
        expect(merged(plan, soundPlan())).toEqual(plan);
        expect(merged(soundPlan(), plan)).toEqual(plan);
      }),
    );
  });

  test('whatever two windows did, the merge is a plan, and without a conflict the order does not matter', () => {
    const byRow = (plan: Plan): Plan => ({
      ...plan,
      networks: [...plan.networks].sort((a, b) => a.id.localeCompare(b.id)),
    });
    fc.assert(
      fc.property(changed, changed, (mine, theirs) => {
        const merge = mergePlans(soundPlan(), mine, theirs);
        const plan = good(parsePlan(merge.resolve({})));
        if (merge.conflicts.length === 0) expect(byRow(plan)).toEqual(byRow(merged(theirs, mine)));
        for (const { path, mine: wanted, theirs: other } of merge.conflicts) {
          expect(wanted).not.toEqual(other);
          const chosen = merge.resolve({ [path]: 'theirs' });
          expect(comparePlans(chosen, theirs).some((each) => each.path === path)).toBe(false);
        }
      }),
    );
  });

  test('order is a value: two uplinks swapped here while notes are typed there are both kept', () => {
    const base = demoPlan('farrow-sound');
    const mine = { ...base, uplinks: [...base.uplinks].reverse() };
    const theirs = structuredClone(base);
    theirs.uplinks[0]!.notes = 'the key is at the office';
    const merge = mergePlans(base, mine, theirs);
    expect(merge.conflicts).toEqual([]);
    const plan = merge.resolve({});
    expect(plan.uplinks.map(({ id }) => id)).toEqual(mine.uplinks.map(({ id }) => id));
    expect(plan.uplinks.find(({ id }) => id === base.uplinks[0]!.id)!.notes).toBe('the key is at the office');
    // The history names it, with the names of the lines and not their ids.
    expect(comparePlans(base, mine)).toMatchObject([
      { label: 'Order of Uplinks', before: 'Fibre, Cellular', after: 'Cellular, Fibre' },
    ]);
    // Sorted in two ways it is a conflict, and either can be chosen.
    const three = soundPlan((each) => {
      each.networks.push({ ...each.networks[1]!, id: 'third', name: 'Third' });
    });
    const [a, b, c] = three.networks as [Plan['networks'][0], Plan['networks'][0], Plan['networks'][0]];
    const two = mergePlans(three, { ...three, networks: [b, a, c] }, { ...three, networks: [c, a, b] });
    expect(two.conflicts).toHaveLength(1);
    const path = two.conflicts[0]!.path;
    const ids = (choice: 'mine' | 'theirs') => two.resolve({ [path]: choice }).networks.map(({ id }) => id);
    expect([ids('mine'), ids('theirs')]).toEqual([
      [b.id, a.id, c.id],
      [c.id, a.id, b.id],
    ]);
  });

  test('a comparison is empty for equals, and names the same places from either side', () => {
    fc.assert(
      fc.property(changed, changed, (a, b) => {
        expect(comparePlans(a, a)).toEqual([]);
        const there = comparePlans(a, b);
        const back = comparePlans(b, a);
        expect(back.map(({ path }) => path).sort()).toEqual(there.map(({ path }) => path).sort());
        for (const difference of there) {
          const other = back.find(({ path }) => path === difference.path)!;
          expect([other.before, other.after]).toEqual([difference.after, difference.before]);
        }
      }),
    );
  });
});

describe('patches', () => {
  test('change only the place they name, and the plan they came from stays', () => {
    const plan = soundPlan();
    const changedPlan = good(applyPatch(plan, [{ op: 'replace', path: '/networks/0/vlan', value: 77 }]));
    expect(valueAt(changedPlan, '/networks/0/vlan')).toBe(77);
    expect(plan).toEqual(soundPlan());
    expect(comparePlans(plan, changedPlan)).toHaveLength(1);
  });

  test.each([
    ['a place that is not there', [{ op: 'replace' as const, path: '/networks/9/vlan', value: 1 }]],
    [
      'a test that fails (RFC 6902 section 4.6)',
      [{ op: 'test' as const, path: '/site/name', value: 'Another' }],
    ],
    ['a value that the plan refuses', [{ op: 'replace' as const, path: '/networks/0/vlan', value: 'ten' }]],
    ['a reserved key', [{ op: 'add' as const, path: '/__proto__/polluted', value: true }]],
  ])('%s is refused with a sentence and changes nothing', (_name, patch) => {
    const plan = soundPlan();
    expect(applyPatch(plan, patch)).toMatchObject({
      ok: false,
      problem: { says: expect.stringMatching(/\.$/) },
    });
    expect(plan).toEqual(soundPlan());
    expect(({} as { polluted?: boolean }).polluted).toBeUndefined();
  });
});
