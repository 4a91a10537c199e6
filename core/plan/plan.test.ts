import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { writePlan } from '../output/formats/plan-json.ts';
import { devicesFromRows, forwardsFromRows } from '../output/formats/rows.ts';
import { demoPlan, good, soundPlan } from '../testing/plans.ts';
import { comparePlans, mergePlans } from './compare.ts';
import { emptyPlan } from './defaults.ts';
import { applyPatch } from './patch.ts';
import { valueAt } from './pointer.ts';
import { pointer } from './pointer.ts';
import { parsePlan, readPlan } from './read.ts';
import { planJsonSchema, type Plan } from './schema.ts';

const problem = (text: string) => {
  const read = readPlan(text);
  return read.ok ? undefined : read.problem;
};

describe('plan files', () => {
  test('write and read give the same plan', () => {
    for (const name of ['farrow-sound', 'hollin-edge', 'weir-street']) {
      const plan = demoPlan(name);
      expect(good(readPlan(writePlan(plan)))).toEqual(plan);
    }
  });

  test('damaged and foreign files get a sentence and a place', () => {
    expect(problem('{\n  "format": "netter-plan",\n  "version": 1,\n  "site": {"name" 3}\n}')).toMatchObject({
      code: 'not-json',
      at: 'line 4, column 19',
    });
    expect(problem('')).toMatchObject({ code: 'not-json' });
    expect(problem('[]')).toMatchObject({ code: 'not-a-plan' });
    expect(problem('{"format":"other"}')).toMatchObject({ code: 'not-a-plan', at: '/format' });
    expect(problem('{"format":"netter-plan","version":10}')).toMatchObject({ code: 'newer' });
    expect(problem('{"format":"netter-plan","version":1,"colour":"red"}')).toMatchObject({
      code: 'wrong-structure',
      says: expect.stringContaining('"colour"'),
    });
    expect(
      problem('{"format":"netter-plan","version":1,"networks":[{"id":"a","vlan":"ten"}]}'),
    ).toMatchObject({ code: 'wrong-structure', at: '/networks/0/vlan' });
    expect(problem('{"format":"netter-plan","version":1,"networks":[{"id":"a"},{"id":"a"}]}')).toMatchObject({
      code: 'repeated-id',
      at: '/networks/1/id',
    });
    expect(problem('['.repeat(100_000))).toMatchObject({ code: 'not-json' });
  });

  test('whatever is read, nothing is thrown', () => {
    fc.assert(
      fc.property(fc.oneof(fc.string(), fc.json()), (text) => {
        expect(readPlan(text).ok).toBe(false);
      }),
    );
    fc.assert(
      fc.property(fc.jsonValue(), (value) => {
        parsePlan({ format: 'netter-plan', version: 1, site: value, networks: value });
      }),
    );
  });

  test('pointers are escaped as RFC 6901 section 3 says', () => {
    // The document and the answers are the example of RFC 6901 section 5.
    const example = { foo: ['bar', 'baz'], '': 0, 'a/b': 1, 'm~n': 8 };
    expect([
      valueAt(example, '/foo/0'),
      valueAt(example, '/'),
      valueAt(example, '/a~1b'),
      valueAt(example, '/m~0n'),
    ]).toEqual(['bar', 0, 1, 8]);
    expect([pointer(['a/b']), pointer(['m~n']), pointer(['foo', 0])]).toEqual(['/a~1b', '/m~0n', '/foo/0']);
    expect(valueAt(example, '/none/of/it')).toBeUndefined();
  });

  test('a new plan is a plan, and the JSON Schema lists its parts', () => {
    let count = 0;
    expect(parsePlan(emptyPlan('New', () => `id${(count += 1)}`)).ok).toBe(true);
    expect(Object.keys((planJsonSchema() as { properties: object }).properties)).toEqual(
      expect.arrayContaining(['site', 'uplinks', 'networks', 'devices', 'forwards']),
    );
  });

  test('a patch that does not fit is refused as a whole', () => {
    expect(
      applyPatch(soundPlan(), [{ op: 'replace', path: '/networks/9/prefix', value: 'x' }]),
    ).toMatchObject({ ok: false, problem: { code: 'patch' } });
    expect(applyPatch(soundPlan(), [{ op: 'replace', path: '/networks/0/vlan', value: 'x' }]).ok).toBe(false);
  });
});

describe('comparing and merging', () => {
  const edit = (change: (plan: Plan) => void): Plan => soundPlan(change);

  test('names what differs, by row and not by place', () => {
    const moved = edit((plan) => {
      plan.networks.reverse();
      plan.networks[0]!.vlan = 31;
    });
    expect(comparePlans(soundPlan(), moved)).toMatchObject([
      { label: 'VLAN ID of Guests', before: 30, after: 31 },
      { label: 'Order of Networks', before: 'Office, Guests', after: 'Guests, Office' },
    ]);
  });

  test('changes to different fields merge by themselves, also when rows are added and removed', () => {
    const mine = edit((plan) => {
      plan.networks[0]!.vlan = 11;
      plan.networks.push({ ...plan.networks[0]!, id: 'plant', name: 'Plant' });
    });
    const theirs = edit((plan) => {
      plan.networks[0]!.prefix = '10.25.10.0/24';
      plan.devices = [];
    });
    const merge = mergePlans(soundPlan(), mine, theirs);
    expect(merge.conflicts).toEqual([]);
    const merged = good(parsePlan(merge.resolve({})));
    expect(merged.networks.map((each) => [each.id, each.vlan, each.prefix])).toEqual([
      ['office', 11, '10.25.10.0/24'],
      ['guests', 30, '10.24.30.0/24'],
      ['plant', 11, '10.24.10.0/24'],
    ]);
    expect(merged.devices).toEqual([]);
  });

  test('the same field changed twice is a conflict, and the choice decides', () => {
    const mine = edit((plan) => {
      plan.site.name = 'Mine';
    });
    const theirs = edit((plan) => {
      plan.site.name = 'Theirs';
    });
    const merge = mergePlans(soundPlan(), mine, theirs);
    expect(merge.conflicts).toMatchObject([{ label: 'Site name', mine: 'Mine', theirs: 'Theirs' }]);
    const path = merge.conflicts[0]!.path;
    expect([merge.resolve({}).site.name, merge.resolve({ [path]: 'theirs' }).site.name]).toEqual([
      'Mine',
      'Theirs',
    ]);
  });

  test('with one side unchanged a merge is the other side', () => {
    const other = edit((plan) => {
      plan.forwards = [];
      plan.site.town = 'Elsewhere';
      plan.uplinks[0]!.settings.static.resolvers = ['198.51.100.99'];
    });
    expect(mergePlans(soundPlan(), other, soundPlan()).resolve({})).toEqual(other);
    expect(mergePlans(soundPlan(), soundPlan(), other).resolve({})).toEqual(other);
  });
});

describe('rows from a spreadsheet', () => {
  let count = 0;
  const id = (): string => `row${(count += 1)}`;

  test('devices: cells are told by their form, whatever the order, tabs or commas (RFC 4180)', () => {
    const text =
      'Name\tMAC\tAddress\tNetwork\nPrinter\t00-00-5E-00-53-09\t10.24.10.30\tOffice\n10.24.30.9\tguests\tDoor, main\n';
    expect(devicesFromRows(text, soundPlan(), id).rows).toMatchObject([
      {
        name: 'Printer',
        mac: '00-00-5E-00-53-09',
        address: '10.24.10.30',
        network: 'office',
        addressing: 'reserved',
      },
      { name: 'Door, main', address: '10.24.30.9', network: 'guests' },
    ]);
    expect(devicesFromRows('"Door, main",10.24.30.9', soundPlan(), id).rows).toMatchObject([
      { name: 'Door, main', address: '10.24.30.9' },
    ]);
  });

  test('forwards: what is unknown is said and not lost', () => {
    const { rows, notes } = forwardsFromRows(
      '9443\ttcp\tServer\t8443\tSecond door\n53\tudp\tCellar box\tNames\n',
      soundPlan(),
      id,
    );
    expect(rows).toMatchObject([
      {
        outsidePorts: '9443',
        protocol: 'tcp',
        device: 'server',
        insidePorts: '8443',
        purpose: 'Second door',
      },
      { outsidePorts: '53', insidePorts: '53', protocol: 'udp', purpose: 'Cellar box' },
    ]);
    expect(notes).toEqual([expect.stringContaining('"Names"')]);
  });
});
