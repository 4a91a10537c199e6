import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readdirSync, readFileSync } from 'node:fs';
import { catalogue, pointersOf, sheetAt, type PlacedField } from '../../plan/places.ts';
import { valueAt } from '../../plan/pointer.ts';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import { demoPlan, planOf, setAt } from '../../testing/plans.ts';
import { changedUnder, standsOn } from './parts.ts';
import { promisesOf } from './promises.ts';

/** Which promises an edit leaves without their proof, where each of them was proven before. */
function fallsAfter(plan: Plan): (edited: Plan) => string[] {
  const site = compile(plan);
  const proven = promisesOf(site).map((promise) => ({ promise, parts: standsOn(site, [promise]) }));
  return (edited) => {
    const after = compile(edited);
    return proven.flatMap(({ promise, parts }) =>
      changedUnder(after, parts, promise).length > 0 ? [promise.id] : [],
    );
  };
}

/** An invented site with what the other demonstrations have as well: every list has a row that decides something. */
const full = (() => {
  const plan = demoPlan('farrow-sound');
  const weir = demoPlan('weir-street');
  plan.second = demoPlan('larch-house').second.map((row) => ({
    ...row,
    box: plan.kit.find(({ role }) => role === 'access-point')?.id ?? plan.kit.at(-1)!.id,
    network: 'office',
  }));
  plan.vpn.sites = weir.vpn.sites.length > 0 ? weir.vpn.sites : demoPlan('mill-lane').vpn.sites;
  const { routes, vpn, reach, wiring } = planOf({
    site: { name: 'Rows' },
    routes: [{ id: 'barn', prefix: '10.99.0.0/24', via: '10.24.10.9' }],
    reach: [
      { id: 'mail', action: 'refuse', from: 'office', destination: 'internet', prefixes: ['192.0.2.0/24'] },
    ],
    vpn: { certificates: [{ id: 'one', person: plan.vpn.peers[0]!.person, use: 'server' }] },
    wiring: { transits: [{ id: 'carried', uplink: 'fibre', vlan: 700 }] },
  });
  plan.routes = routes;
  plan.reach = [...reach, ...plan.reach];
  plan.vpn.certificates = vpn.certificates;
  plan.wiring.transits = wiring.transits;
  return plan;
})();

const plans = [full, ...['larch-house', 'hollin-edge', 'mill-lane', 'weir-street'].map(demoPlan)];

/** Other values that a field could have; a text is tried with everything that some field reads. */
function others({ field }: PlacedField, was: unknown, plan: Plan): unknown[] {
  switch (field.kind) {
    case 'number':
      return [field.least + 1, field.most - 1, Number(was ?? field.least) + 1];
    case 'switch':
      return [!was];
    case 'choice':
      return field.choices.map(([name]) => name).filter((name) => name !== was);
    case 'choices':
      return [field.choices.map(([name]) => name)];
    case 'reference':
    case 'references': {
      const ids = pointersOf(plan, `${field.to}/*`).map((at) => (valueAt(plan, at) as { id: string }).id);
      return field.kind === 'reference'
        ? ['', ...ids].filter((id) => id !== was)
        : [[], ids.slice(0, 1), ids.slice(1)];
    }
    case 'list':
      return [['203.0.113.77'], ['10.77.0.0/16'], ['77'], ['-70']];
    case 'rows':
      return [[]];
    default:
      return ['203.0.113.77', '10.77.0.0/24', '02:00:5e:00:53:77', '7777', 'other', '2026-03-03', 'x.example']
        .concat('29', '10.77.0.1/24', '2001:db8:77::/64', '2001:db8:77::7', '89430000000000000001')
        .filter((text) => text !== was);
  }
}

/** The plan in which a setting of one WAN type or medium is in use. */
const inUse = (pointer: string, plan: Plan): Plan => {
  const [, line, kept, name] = /^(\/uplinks\/\d+)\/(settings|media)\/([^/]+)\//.exec(pointer) ?? [];
  if (line === undefined) return plan;
  const at = `${line}/${kept === 'media' ? 'medium' : 'type'}`;
  const mine = typed.get(plan) ?? new Map<string, Plan>();
  typed.set(plan, mine);
  const made = mine.get(`${at} ${name}`) ?? setAt(plan, at, name);
  mine.set(`${at} ${name}`, made);
  return made;
};
const typed = new Map<Plan, Map<string, Plan>>();

describe('the proofs that fall with an edit', () => {
  const known = new Map<Plan, (edited: Plan) => string[]>();
  const falls = (plan: Plan, edited: Plan): string[] => {
    const of = known.get(plan) ?? fallsAfter(plan);
    known.set(plan, of);
    return of(edited);
  };

  test('every field that decides something lets a proof fall', () => {
    const silent = catalogue().filter((each) => {
      if (each.decides === 'nothing' || each.field.kind === 'rows') return false;
      return !plans.some((whole) =>
        pointersOf(whole, each.at).some((pointer) => {
          const plan = inUse(pointer, whole);
          return others(each, valueAt(plan, pointer), plan).some(
            (value) => falls(plan, setAt(plan, pointer, value)).length > 0,
          );
        }),
      );
    });
    expect(silent.map(({ at }) => at)).toEqual([]);
  });

  test('all that is cosmetic, changed at once in every row, lets none fall', () => {
    for (const plan of plans) {
      let edited = plan;
      for (const each of catalogue())
        if (each.decides === 'nothing' && each.field.kind !== 'rows')
          for (const pointer of pointersOf(edited, each.at))
            edited = setAt(edited, pointer, others(each, valueAt(edited, pointer), edited)[0]);
      expect(falls(plan, edited)).toEqual([]);
    }
  });

  test('what passes of a sender changes only where what the record keeps as its cause does', () => {
    const places = catalogue().filter(({ field, decides }) => field.kind !== 'rows' && decides === 'path');
    const site = compile(full);
    const promises = promisesOf(site);
    const before = standsOn(site, promises);
    fc.assert(
      fc.property(fc.nat(), fc.nat(), fc.nat(), (placeAt, rowAt, valueIndex) => {
        const each = places[placeAt % places.length]!;
        const pointers = pointersOf(full, each.at);
        const pointer = pointers[rowAt % Math.max(1, pointers.length)];
        if (pointer === undefined) return;
        const values = others(each, valueAt(full, pointer), full);
        const edited = compile(setAt(full, pointer, values[valueIndex % values.length]));
        const after = standsOn(edited, promises);
        for (const [name, hash] of Object.entries(before))
          if (name.startsWith('opens ') && !name.endsWith(' by') && after[name] !== hash)
            expect([pointer, name, after[`${name} by`] === before[`${name} by`]]).toEqual([
              pointer,
              name,
              false,
            ]);
      }),
      { numRuns: Number(process.env.NETTER_RUNS ?? 25) },
    );
  });

  const larch = demoPlan('larch-house');
  test.each<[edit: string, plan: Plan, at: string, value: unknown, falls: string[], stays: string[]]>([
    [
      'the admin page is opened to the internet',
      full,
      '/router/services/0/outside',
      true,
      ['line:fibre'],
      ['internet:office'],
    ],
    [
      'the admin page is opened to all networks',
      full,
      '/router/services/0/inside',
      'all',
      ['apart:passengers'],
      ['internet:office'],
    ],
    [
      'a route takes a subnet elsewhere',
      full,
      '/routes/0/prefix',
      '198.51.100.0/25',
      ['internet:office'],
      ['line:fibre'],
    ],
    [
      'a rate limit',
      full,
      '/networks/2/limitDownMbps',
      3,
      ['internet:passengers'],
      ['internet:office', 'apart:passengers'],
    ],
    ['hairpin NAT', full, '/router/hairpin', 'no', ['forward:tide'], ['apart:tickets']],
    [
      'link loss counts no more',
      full,
      '/uplinks/0/watch/carrier',
      false,
      ['failover:cards'],
      ['apart:office', 'forward:tide'],
    ],
    [
      'the protocol of a policy rule',
      full,
      '/failover/rules/0/protocol',
      'udp',
      ['failover:cards'],
      ['apart:office'],
    ],
    [
      'the DNS server in the tunnel',
      full,
      '/vpn/resolver',
      '10.24.10.77',
      ['peer:maren-phone'],
      ['line:fibre'],
    ],
    ['the hub', full, '/vpn/hub', true, ['peer:maren-phone'], ['line:fibre']],
    [
      'how a Wi-Fi name is protected',
      larch,
      '/wifi/networks/1/security',
      'open',
      ['wifi:attic'],
      ['line:cable'],
    ],
    ['the channel of a radio', larch, '/wifi/radios/2/channel', 11, ['wifi:attic'], ['apart:guests']],
  ])('%s', (_, plan, at, value, fall, stay) => {
    const found = falls(plan, setAt(plan, at, value));
    expect(found).toEqual(expect.arrayContaining(fall));
    expect(found.filter((id) => stay.includes(id))).toEqual([]);
  });

  test('every field stands on a sheet and is read by something', () => {
    const code = ['core', 'web']
      .flatMap((folder) =>
        readdirSync(folder, { recursive: true, encoding: 'utf8' }).map((file) => `${folder}/${file}`),
      )
      .filter((file) => /\.tsx?$/.test(file) && !/\.test\.tsx?$|^core\/(?:plan|testing)\//.test(file))
      .map((file) => readFileSync(file, 'utf8'))
      .join('\n');
    const read = new Set(code.match(/\b[A-Za-z][A-Za-z0-9]*\b/g));
    expect(catalogue().flatMap(({ at }) => (read.has(at.split('/').at(-1)!) ? [] : at))).toEqual([]);
    const rows = catalogue().filter(({ field }) => field.kind === 'rows');
    for (const { at, sheet } of rows) expect(sheetAt(`${at}/0`)).toBe(sheet);
  });
});
