import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { acceptance } from '../answers/acceptance/judge.ts';
import { runChecks } from '../answers/checks/index.ts';
import { classify } from '../base/net/classify.ts';
import { contains, formatPrefix, overlaps, prefixAround } from '../base/net/prefix.ts';
import { ask } from '../answers/path/ask.ts';
import { applyPatch } from '../plan/patch.ts';
import { valueAt } from '../plan/pointer.ts';
import { parsePlan } from '../plan/read.ts';
import type { Plan } from '../plan/schema.ts';
import { runSheet } from '../answers/run-sheet/sheet.ts';
import { addr, block, demoPlan, good, soundPlan } from '../testing/plans.ts';
import { demoNames } from '../testing/wishes.ts';
import { workingsAt } from '../answers/workings/index.ts';
import { compile } from './compile.ts';
import { freeBlock, renumber } from './renumber.ts';

const demos = ['farrow-sound', 'hollin-edge', 'weir-street', 'mill-lane', 'larch-house'].map(demoPlan);

/** Pointers of everything in a document that is not itself a list or an object. */
function leaves(value: unknown, at = ''): string[] {
  if (typeof value !== 'object' || value === null) return [at];
  return Object.entries(value).flatMap(([key, inner]) => leaves(inner, `${at}/${key}`));
}

describe('a plan on its way', () => {
  const halfTyped = [
    '',
    ' ',
    '10.',
    '10.24.10.',
    '256.1.1.1',
    '0',
    '10.24.10.0/33',
    '::',
    'fd00::/8',
    '65536',
    '-',
  ];
  const spoiled = fc
    .tuple(
      fc.constantFrom(...demos),
      fc.array(fc.tuple(fc.nat(), fc.constantFrom(...halfTyped)), { minLength: 1, maxLength: 12 }),
    )
    .map(([plan, changes]) => {
      const copy = structuredClone(plan) as Plan;
      const places = leaves(copy).filter(
        (at) => typeof valueAt(copy, at) === 'string' && !at.endsWith('/id'),
      );
      for (const [place, text] of changes) {
        const parts = places[place % places.length]!.split('/').slice(1);
        const key = parts.pop()!;
        const owner = valueAt(copy, parts.map((part) => `/${part}`).join('')) as Record<string, unknown>;
        const before = owner[key];
        owner[key] = text;
        if (!parsePlan(copy).ok) owner[key] = before;
      }
      return copy;
    });

  test('whatever is half typed, everything is still computed and nothing is thrown', () => {
    fc.assert(
      fc.property(spoiled, (plan) => {
        const site = compile(plan);
        const findings = runChecks(site, '2026-08-15');
        for (const finding of findings) {
          expect(finding.says).toMatch(/\.$/);
          expect(valueAt(plan, finding.at)).toBeDefined();
        }
        acceptance(site, []);
        const steps = runSheet(site);
        expect(new Set(steps.map(({ id }) => id)).size).toBe(steps.length);
        for (const at of leaves(plan)) workingsAt(site, at);
        for (const network of site.networks) {
          ask(site, `from ${network.name} to internet tcp 443`);
        }
      }),
      { numRuns: 60 },
    );
  });

  test('every fix that is offered leads to a plan that can be read and compiled', () => {
    fc.assert(
      fc.property(spoiled, (plan) => {
        for (const { fix, accept } of runChecks(compile(plan)))
          for (const patch of [fix?.patch, accept]) if (patch) compile(good(applyPatch(plan, patch)));
      }),
      { numRuns: 40 },
    );
  });
});

describe('compile', () => {
  test('references that lead nowhere are left open, not guessed', () => {
    const site = compile(
      soundPlan((plan) => {
        plan.forwards[0]!.device = 'gone';
        plan.devices[0]!.network = 'gone';
      }),
    );
    expect(site.forwards[0]!.device).toBeUndefined();
    expect(site.devices[0]!.network).toBeUndefined();
  });

  test('a service of the device gives a forward its ports, and the outside port follows the inside one', () => {
    const [forward] = compile(soundPlan()).forwards;
    expect([forward!.protocol, forward!.inside, forward!.outside]).toEqual([
      'tcp',
      { first: 8443, last: 8443 },
      { first: 8443, last: 8443 },
    ]);
  });

  test('the line behind a router of its own is told from the address the outside sees', () => {
    const { lines } = compile(demoPlan('hollin-edge'));
    const wireless = lines[0]!;
    expect(wireless.translators).toContain('box');
    expect(wireless.box?.prefix && contains(wireless.box.prefix, wireless.address)).toBe(true);
    expect(wireless.lineAddress).not.toEqual(wireless.address);
  });

  test('the table has the longest prefixes first and ends with the way out', () => {
    const { routes } = compile(demoPlan('farrow-sound'));
    const lengths = routes.map(({ prefix }) => prefix.length);
    expect(lengths).toEqual([...lengths].sort((a, b) => b - a));
    expect(formatPrefix(routes.at(-1)!.prefix)).toBe('0.0.0.0/0');
  });

  test('the stand-in for anybody on the internet is in none of the subnets of the site', () => {
    for (const plan of demos) {
      const site = compile(plan);
      expect(
        site.prefixes.some(({ prefix, role }) => role !== 'route' && contains(prefix, site.outsider)),
      ).toBe(false);
    }
  });
});

describe('renumbering', () => {
  const target = fc
    .tuple(fc.nat({ max: 255 }), fc.nat({ max: 255 }))
    .map(([second, third]) => prefixAround(addr(`10.${second}.${third}.0`), 24));

  test('every address keeps its host part, and back again is the plan as it was', () => {
    fc.assert(
      fc.property(target, (to) => {
        const plan = soundPlan();
        const site = compile(plan);
        const office = site.networks[0]!;
        const moved = good(applyPatch(plan, renumber(site, office, to)));
        const after = compile(moved).networks[0]!;
        expect(after.prefix).toEqual(to);
        expect(after.routerAddress!.value - to.first).toBe(
          office.routerAddress!.value - office.prefix!.first,
        );
        expect(after.pool!.first - to.first).toBe(office.pool!.first - office.prefix!.first);
        expect(compile(moved).devices[0]!.address!.value - to.first).toBe(20n);
        const again = compile(moved);
        expect(good(applyPatch(moved, renumber(again, again.networks[0]!, office.prefix!)))).toEqual(plan);
      }),
    );
  });

  test('addresses of other networks and of the outside stay', () => {
    const plan = soundPlan((each) => {
      each.networks[0]!.resolvers = ['10.24.10.1', '198.51.100.53'];
    });
    const site = compile(plan);
    const moved = good(applyPatch(plan, renumber(site, site.networks[0]!, block('10.77.0.0/24'))));
    expect(moved.networks[0]!.resolvers).toEqual(['10.77.0.1', '198.51.100.53']);
    expect(moved.networks[1]).toEqual(plan.networks[1]);
    expect(moved.uplinks).toEqual(plan.uplinks);
  });

  test('a subnet that cannot be read is only replaced', () => {
    const plan = soundPlan((each) => {
      each.networks[0]!.prefix = '10.24.10';
    });
    const site = compile(plan);
    expect(renumber(site, site.networks[0]!, block('10.77.0.0/24'))).toEqual([
      { op: 'replace', path: '/networks/0/prefix', value: '10.77.0.0/24' },
    ]);
  });
});

describe('free subnets', () => {
  test('are private (RFC 1918) and touch nothing on the site, whatever their size', () => {
    for (const plan of demos)
      for (let length = 16; length <= 30; length += 1) {
        const site = compile(plan);
        const found = freeBlock(site, length, null)!;
        expect(found.length).toBe(length);
        expect(classify({ family: 4, value: found.first }).class).toBe('private');
        expect(
          site.prefixes.filter(({ role, prefix }) => role !== 'route' && overlaps(prefix, found)),
        ).toEqual([]);
      }
  });

  test('carry the VLAN id as their third part where they can, and keep off the address of a new box', () => {
    const site = compile(soundPlan());
    expect(formatPrefix(freeBlock(site, 24, 40)!)).toBe('10.24.40.0/24');
    expect(formatPrefix(freeBlock(site, 24, 10)!)).not.toBe('10.24.10.0/24');
    const new10 = compile(
      soundPlan((plan) => {
        plan.router.factoryAddress = '10.24.40.1/24';
      }),
    );
    expect(formatPrefix(freeBlock(new10, 24, 40)!)).not.toBe('10.24.40.0/24');
  });

  test('are not made up where private space is used up', () => {
    const full = compile(
      soundPlan((plan) => {
        plan.networks[0]!.prefix = '10.0.0.0/8';
        plan.networks[1]!.prefix = '172.16.0.0/12';
        plan.networks.push({ ...plan.networks[1]!, id: 'third', prefix: '192.168.0.0/16' });
      }),
    );
    expect(freeBlock(full, 24, 40)).toBeUndefined();
  });

  test('a site is data: it goes to another thread as it is', () => {
    for (const name of demoNames) {
      const site = compile(demoPlan(name));
      expect(structuredClone(site)).toEqual(site);
    }
  });
});
