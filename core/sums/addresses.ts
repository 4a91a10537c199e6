import { formatAddress, parseAddress } from '../net/address.ts';
import {
  formatPrefix,
  maskText,
  parseLength,
  parsePrefix,
  prefixAround,
  sizeOf,
  type Prefix,
} from '../net/prefix.ts';
import { firstFreeBlock, prefixesOf, rangeBetween } from '../net/range.ts';
import { bad, ok, type Result } from '../result.ts';
import {
  addressWorked,
  laptopWorked,
  overlapWorked,
  rangeWorked,
  subnetWorked,
} from '../worked/addresses.ts';
import { routeWorked, type Row } from '../worked/routes.ts';
import { arithmetic, step, worked } from '../worked/worked.ts';
import { input, wholeBetween, type Sum } from './sum.ts';

const prefixInput = (name: string, example: string) =>
  ({ name, says: 'block in CIDR notation', unit: 'prefix', example }) as const;
const addressInput = (name: string, example: string) =>
  ({ name, says: 'IP address', unit: 'address', example }) as const;

/** Reads "10.0.0.0/8=office, 0.0.0.0/0=fibre". */
function parseTable(text: string): Result<Row[]> {
  const rows: Row[] = [];
  for (const part of text
    .split(',')
    .map((each) => each.trim())
    .filter((each) => each !== '')) {
    const [block, to] = part.split(/=|>/).map((each) => each.trim());
    const prefix = parsePrefix(block ?? '');
    if (!prefix.ok) return prefix;
    if (!to) return bad('table-row', `The row "${part}" does not say where it leads; write ${part}=name.`);
    rows.push({ prefix: prefix.value, to });
  }
  return ok(rows);
}

const parseBlocks = (text: string): Result<Prefix[]> => {
  const blocks: Prefix[] = [];
  for (const part of text
    .split(',')
    .map((each) => each.trim())
    .filter((each) => each !== '')) {
    const prefix = parsePrefix(part);
    if (!prefix.ok) return prefix;
    blocks.push(prefix.value);
  }
  return ok(blocks);
};

export const addressSums: readonly Sum[] = [
  {
    name: 'subnet',
    says: 'Hosts, mask, network and broadcast of a block',
    inputs: [prefixInput('prefix', '10.9.8.0/21')],
    run: (given) => {
      const prefix = input(given, 'prefix', parsePrefix);
      return prefix.ok ? ok(subnetWorked(prefix.value)) : prefix;
    },
  },
  {
    name: 'classify',
    says: 'What kind of address it is, and what that means on a line',
    inputs: [addressInput('address', '100.64.3.2')],
    run: (given) => {
      const host = input(given, 'address', parseAddress);
      return host.ok ? ok(addressWorked(host.value)) : host;
    },
  },
  {
    name: 'overlap',
    says: 'Whether two blocks share an address, and which',
    inputs: [prefixInput('a', '192.168.0.0/16'), prefixInput('b', '192.168.1.0/24')],
    run: (given) => {
      const a = input(given, 'a', parsePrefix);
      if (!a.ok) return a;
      const b = input(given, 'b', parsePrefix);
      return b.ok ? ok(overlapWorked(a.value, b.value)) : b;
    },
  },
  {
    name: 'route',
    says: 'Which row of a table a packet takes',
    inputs: [
      {
        name: 'table',
        says: 'rows "block=name", separated by commas',
        unit: 'rows',
        example: '0.0.0.0/0=fibre,10.24.0.0/16=inside,10.24.10.0/24=office',
      },
      addressInput('to', '10.24.10.9'),
    ],
    run: (given) => {
      const table = input(given, 'table', parseTable);
      if (!table.ok) return table;
      const to = input(given, 'to', parseAddress);
      return to.ok ? ok(routeWorked(table.value, to.value)) : to;
    },
  },
  {
    name: 'mask',
    says: 'Prefix length of a mask, or mask of a prefix length',
    inputs: [{ name: 'mask', says: 'dotted mask or length', unit: 'mask', example: '255.255.248.0' }],
    run: (given) => {
      const length = input(given, 'mask', (text) => parseLength(text));
      if (!length.ok) return length;
      return ok(
        worked(
          `Mask of /${length.value}`,
          length.value,
          'bits',
          [
            step('mask', maskText(length.value)),
            step('ones, without a gap', length.value),
            step('prefix length', `/${length.value}`),
          ],
          'RFC 4632 section 3.1',
        ),
      );
    },
  },
  {
    name: 'range',
    says: 'Size of a range, and the blocks that cover exactly it',
    inputs: [addressInput('from', '10.24.10.100'), addressInput('to', '10.24.10.199')],
    run: (given) => {
      const from = input(given, 'from', parseAddress);
      if (!from.ok) return from;
      const to = input(given, 'to', parseAddress);
      if (!to.ok) return to;
      if (from.value.family !== to.value.family)
        return bad('families', 'The two ends are of different IP versions.');
      if (from.value.value > to.value.value)
        return bad('range-reversed', 'The range runs backwards; swap its ends.');
      const range = rangeBetween(from.value, to.value);
      const worked = rangeWorked(range, `${formatAddress(from.value)} to ${formatAddress(to.value)}`);
      return ok({
        ...worked,
        steps: [
          ...worked.steps.slice(0, -1),
          ...prefixesOf(range).map((block) => step(formatPrefix(block), sizeOf(block))),
          worked.steps.at(-1)!,
        ],
      });
    },
  },
  {
    name: 'free-block',
    says: 'The first free block of a length in a space',
    inputs: [
      prefixInput('space', '10.24.0.0/16'),
      { name: 'length', says: 'length wanted', unit: 'bits', example: '24' },
      {
        name: 'taken',
        says: 'blocks in use, separated by commas',
        unit: 'prefixes',
        example: '10.24.0.0/24',
        optional: true,
      },
    ],
    run: (given) => {
      const space = input(given, 'space', parsePrefix);
      if (!space.ok) return space;
      const length = input(
        given,
        'length',
        wholeBetween(space.value.length, space.value.family === 4 ? 32 : 128),
      );
      if (!length.ok) return length;
      const taken = parseBlocks(given.taken ?? '');
      if (!taken.ok) return taken;
      const found = firstFreeBlock(space.value, length.value, taken.value);
      return ok(
        worked(
          `First free /${length.value} in ${formatPrefix(space.value)}`,
          found ? formatPrefix(found) : null,
          'prefix',
          [
            ...taken.value.map((block) => step('taken', formatPrefix(block))),
            step('first aligned block that touches none', found ? formatPrefix(found) : 'none'),
          ],
          arithmetic,
        ),
      );
    },
  },
  {
    name: 'laptop-address',
    says: 'A fixed address for the laptop in the network of a router',
    inputs: [
      {
        name: 'router',
        says: "router's address with prefix length",
        unit: 'address/length',
        example: '192.168.1.1/24',
      },
    ],
    run: (given) => {
      const [host, length] = (given.router ?? '').split('/');
      const router = input({ router: host ?? '' }, 'router', parseAddress);
      if (!router.ok) return router;
      const bits = input({ length: length ?? '' }, 'length', (text) =>
        parseLength(text, router.value.family),
      );
      return bits.ok ? ok(laptopWorked(router.value, prefixAround(router.value, bits.value))) : bits;
    },
  },
];
