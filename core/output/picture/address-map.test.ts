import { expect, test } from '@jest/globals';
import { formatPrefix, parsePrefix, sizeOf } from '../../base/net/prefix.ts';
import { compile } from '../../site/compile.ts';
import { demoPlan, good, soundPlan } from '../../testing/plans.ts';
import { addressMap, type AddressRow } from './address-map.ts';

/** Rows as text: the block, then each part with its place in sixteenths of the row. */
const drawn = (rows: readonly AddressRow[]): string[] =>
  rows.map(
    ({ block, parts }) =>
      `${formatPrefix(block)}: ${parts.map(({ name, from, to, shared }) => `${name} ${from * 16}-${to * 16}${shared ? ' shared' : ''}`).join(', ')}`,
  );

test('the networks of a demo lie where binary arithmetic puts them', () => {
  // 10.24.20.0/27 is an eighth of the fifth sixteenth of 10.24.16.0/20 (RFC 4632: a block is aligned to its size).
  expect(drawn(addressMap(compile(demoPlan('farrow-sound')))).slice(0, 4)).toEqual([
    '10.24.0.0/20: Office 10-11',
    '10.24.16.0/20: Tickets 4-4.125',
    '10.24.32.0/20: Passengers 0-4, Plant 8-9',
    '10.24.48.0/20: tunnel 12-13',
  ]);
});

test.each(['farrow-sound', 'hollin-edge', 'weir-street', 'mill-lane', 'larch-house'])(
  '%s: a part begins and ends where its subnet does, and no subnet is left out',
  (name) => {
    const site = compile(demoPlan(name));
    const rows = addressMap(site);
    for (const { block, parts } of rows)
      for (const { prefix, from, to } of parts) {
        const size = Number(sizeOf(block));
        expect([block.first + BigInt(from * size), block.first + BigInt(to * size) - 1n]).toEqual([
          prefix.first,
          prefix.last,
        ]);
      }
    const names = rows.flatMap(({ parts }) => parts.map((part) => part.name));
    for (const network of site.networks) expect(names).toContain(network.name);
  },
);

test('a wide subnet has a row on its own scale, and what is in it is shared', () => {
  const plan = soundPlan((draft) => {
    draft.networks[0]!.prefix = '10.0.0.0/8';
    draft.networks.push({ ...draft.networks[0]!, id: 'x', name: 'Shed', prefix: '10.64.0.0/16' });
  });
  const [row, ...others] = addressMap(compile(plan));
  expect(row!.block).toEqual(good(parsePrefix('10.0.0.0/8')));
  const shed = row!.parts.find(({ name }) => name === 'Shed')!;
  expect([shed.from, shed.to, shed.shared]).toEqual([64 / 256, 65 / 256, true]);
  expect(others.flatMap(({ parts }) => parts.map(({ name }) => name))).not.toContain('Shed');
});
