import { describe, expect, test } from '@jest/globals';
import { demoPlan } from '../testing/plans.ts';
import { describe as described } from './field.ts';
import { labelAt, ownerAt } from './labels.ts';
import { catalogue, fieldAt, fieldsBelow, searchFields, titleAt, usualAt } from './places.ts';
import { planJsonSchema } from './schema.ts';

test('places of the plan have names that a person would say, with whose they are', () => {
  const plan = demoPlan('farrow-sound');
  const said: [string, string][] = [
    ['/uplinks/0/mtuBytes', 'MTU of Fibre'],
    ['/uplinks/0/settings/static/prefixLength', 'Prefix length or mask of Fibre'],
    ['/networks/1/dhcp/from', 'DHCP pool, first address of Tickets'],
    ['/networks/1', 'Tickets'],
    ['/devices/0/services/0/ports', 'Port of Tide readings'],
    ['/forwards/0/outsidePorts', 'Outside port of Tide readings for the harbour office'],
    ['/kit/0/powerVolts', 'Supply voltage of Edge router, five ports'],
    ['/site/cupboardCelsius', 'Cupboard temperature'],
    ['/reach', 'Rules between networks and outward'],
    ['/vpn/peers/0/publicKey', `Public key of ${ownerAt(plan, '/vpn/peers/0')}`],
    ['/nowhere/9/else', 'else'],
  ];
  for (const [at, words] of said) expect([at, labelAt(plan, at)]).toEqual([at, words]);
  expect(ownerAt(plan, '/vpn/peers/0')).toMatch(/^\p{Lu}.*, /u);
});

describe('the catalogue of fields', () => {
  const fields = catalogue();

  test('every field has a term, a sentence, and bounds in which its usual value lies', () => {
    expect(fields.length).toBeGreaterThan(250);
    for (const { at, field } of fields) {
      expect([at, field.term]).toEqual([at, expect.stringMatching(/^[\p{Lu}\d][^.]*$/u)]);
      expect([at, field.says]).toEqual([at, expect.stringMatching(/[.)]$/)]);
      if (field.kind !== 'number') continue;
      expect([at, field.least < field.most]).toEqual([at, true]);
      const { usual } = field;
      if (!usual) continue;
      expect([at, field.least <= usual.value && usual.value <= field.most]).toEqual([at, true]);
      expect([at, usual.source]).toEqual([at, expect.stringMatching(/practice|RFC|IEEE/)]);
      expect(usualAt(at)).toBe(usual.value);
    }
  });

  test('two fields that stand beside each other never have the same term', () => {
    const parentOf = (at: string): string => at.slice(0, at.lastIndexOf('/'));
    for (const place of new Set(fields.map(({ at }) => parentOf(at)))) {
      const terms = fields.filter(({ at }) => parentOf(at) === place).map(({ field }) => field.term);
      expect([place, terms]).toEqual([place, [...new Set(terms)]]);
    }
  });

  test('home-made words are in no term', () => {
    const homeMade =
      /\b(?:block|socket|resolver|travell|hang|lead|joined|passes on|mended|gives up|asks|held)/i;
    expect(fields.filter(({ field }) => homeMade.test(field.term)).map(({ at }) => at)).toEqual([]);
  });

  test('the JSON Schema says term, sentence and bounds of the same entry', () => {
    const schema = planJsonSchema() as { properties: Record<string, unknown> };
    const found = new Map<string, Record<string, unknown>>();
    const walk = (node: unknown, at: string): void => {
      const { properties, items } = node as { properties?: Record<string, unknown>; items?: unknown };
      found.set(at, node as Record<string, unknown>);
      for (const [key, inner] of Object.entries(properties ?? {})) walk(inner, `${at}/${key}`);
      if (items) walk(items, `${at}/*`);
    };
    walk(schema, '');
    for (const { at, field } of fields) {
      const node = found.get(at)!;
      const bounds = field.kind === 'number' ? [field.least, field.most] : [undefined, undefined];
      expect([at, node.title, node.minimum, node.maximum]).toEqual([at, field.term, ...bounds]);
      if (field.kind !== 'rows') expect(node.description).toBe(described(field));
    }
  });

  test('a field is found by its term, by the words on a box, and by its key', () => {
    const first = (typed: string): string | undefined => searchFields(typed)[0]?.at;
    expect(first('probe interval')).toBe('/uplinks/*/watch/intervalSeconds');
    expect(first('Masquerade')).toBe('/uplinks/*/sourceNat');
    expect(
      searchFields('PVID')
        .map(({ at }) => at)
        .sort(),
    ).toEqual(['/kit/*/ports/*/untagged', '/router/ports/*/network']);
    expect(first('MTTR')).toBe('/uplinks/*/failures/repairHours');
    expect(first('leaseMinutes')).toMatch(/leaseMinutes$/);
    expect(searchFields('dns server').map(({ at }) => at)).toContain('/networks/*/resolvers');
    expect(searchFields('')).toEqual([]);
    expect(searchFields('no such word anywhere')).toEqual([]);
  });

  test('the fields right below a place are the settings of one WAN type', () => {
    expect(fieldsBelow('/uplinks/3/settings/ds-lite').map(({ at }) => at)).toEqual([
      '/uplinks/*/settings/ds-lite/gatewayName',
    ]);
    expect(fieldAt('/uplinks/3/settings/ds-lite/gatewayName')?.term).toBe('AFTR');
    expect([titleAt('/uplinks/0/type', 'dhcp'), titleAt('/uplinks/0/type', 'gone')]).toEqual([
      'Automatic (DHCP)',
      'gone',
    ]);
  });
});
