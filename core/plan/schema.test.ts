import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { demoPlan, good, soundPlan } from '../testing/plans.ts';
import { comparePlans, mergePlans } from './compare.ts';
import { applyPatch, valueAt } from './patch.ts';
import { parsePlan, readPlan } from './read.ts';
import { planJsonSchema, type Plan } from './schema.ts';
import { planFileName, writePlan } from '../formats/plan-json.ts';

const demos = ['farrow-sound', 'hollin-edge', 'weir-street'];

describe('what a plan may hold', () => {
  /** A change to a sound plan that must be refused, and the place that the refusal names. */
  const refused: [name: string, at: string, change: (plan: Plan) => unknown][] = [
    ['a name over 200 characters', '/site/name', (plan) => (plan.site.name = 'x'.repeat(201))],
    ['notes over 10 000 characters', '/site/notes', (plan) => (plan.site.notes = 'x'.repeat(10_001))],
    ['a country of three letters', '/site/country', (plan) => (plan.site.country = 'GBR')],
    [
      'a temperature below what there is',
      '/site/cupboardCelsius',
      (plan) => (plan.site.cupboardCelsius = -300),
    ],
    ['a MAC address as long as a book', '/kit/0/mac', (plan) => (plan.kit[0]!.mac = '0'.repeat(65))],
    ['volts that no supply has', '/kit/0/powerVolts', (plan) => (plan.kit[0]!.powerVolts = 100_000)],
    ['an identifier with a space', '/networks/0/id', (plan) => (plan.networks[0]!.id = 'a b')],
    [
      'nine uplinks',
      '/uplinks',
      (plan) =>
        (plan.uplinks = Array.from({ length: 9 }, (_, id) => ({ ...plan.uplinks[0]!, id: `u${id}` }))),
    ],
    ['a WAN type that is none', '/uplinks/0/type', (plan) => (plan.uplinks[0]!.type = 'pigeon' as 'dhcp')],
    ['a medium that is none', '/uplinks/0/medium', (plan) => (plan.uplinks[0]!.medium = 'string' as 'dsl')],
    ['a priority above 7', '/uplinks/0/vlanPriority', (plan) => (plan.uplinks[0]!.vlanPriority = 8)],
    [
      'more tries than a PIN has',
      '/uplinks/0/settings/cellular/pinTriesLeft',
      (plan) => (plan.uplinks[0]!.settings.cellular.pinTriesLeft = 4),
    ],
    [
      'a signal above zero',
      '/uplinks/0/media/cellular/readings/0/rsrpDbm',
      (plan) =>
        plan.uplinks[0]!.media.cellular.readings.push({
          ...demoPlan('farrow-sound').uplinks[1]!.media.cellular.readings[0]!,
          rsrpDbm: 12,
        }),
    ],
    [
      'a splitter of a thousand',
      '/uplinks/0/media/fibre/splitterWays',
      (plan) => (plan.uplinks[0]!.media.fibre.splitterWays = 1000),
    ],
    [
      'a lease of no time',
      '/networks/0/dhcp/leaseMinutes',
      (plan) => (plan.networks[0]!.dhcp.leaseMinutes = 0),
    ],
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

  test('file names suit every desktop', () => {
    const name = (site: string): string =>
      planFileName(
        soundPlan((plan) => {
          plan.site.name = site;
        }),
        7,
      );
    expect(name('Farrow Sound / ferry: office')).toBe('farrow-sound-ferry-office-revision-7.netter.json');
    expect([name('Größe & Söhne'), name('???'), name('..\\..\\x')]).toEqual([
      'gro-e-so-hne-revision-7.netter.json',
      'site-revision-7.netter.json',
      'x-revision-7.netter.json',
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
    })
    .map(({ name, vlan, prefix, forwards, extra, rate }) =>
      soundPlan((plan) => {
        if (name !== null) plan.site.name = name;
        if (vlan !== null) plan.networks[0]!.vlan = vlan;
        if (prefix !== null) plan.networks[1]!.prefix = prefix;
        if (forwards) plan.forwards = [];
        if (extra !== null) plan.networks.push({ ...plan.networks[1]!, id: extra, name: extra });
        plan.uplinks[0]!.rateDownMbps = rate;
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
