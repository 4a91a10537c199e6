import { mappedWorked } from '../../base/worked/address-and-port.ts';
import { formatAddress, parseAddress, type Address } from '../../base/net/address.ts';
import {
  formatPrefix,
  maskText,
  parseInterface,
  parseLength,
  parsePrefix,
  roleIn,
  sizeOf,
  wildcardText,
  type Prefix,
} from '../../base/net/prefix.ts';
import { firstFreeBlock, prefixesOf, rangeBetween } from '../../base/net/range.ts';
import { bad, ok, type Result } from '../../base/result.ts';
import {
  addressWorked,
  laptopAddress,
  laptopWorked,
  overlapWorked,
  rangeWorked,
  subnetWorked,
} from '../../base/worked/addresses.ts';
import { allButWorked, aroundWorked, divideWorked } from '../../base/worked/plan-addresses.ts';
import { eui64Worked, nthSubnetWorked, solicitedNodeWorked } from '../../base/worked/six.ts';
import { parseMac } from '../../base/net/mac.ts';
import { routeWorked, type Row } from '../../base/worked/routes.ts';
import { arithmetic, step, worked } from '../../base/worked/worked.ts';
import { listOf, needed, oneOf, optional, sum, wholeBetween, type Sum } from './sum.ts';

const prefixInput = (example: string) => needed('prefix in CIDR notation', 'prefix', example, parsePrefix);
const addressInput = (example: string) => needed('IP address', 'address', example, parseAddress);

/** Reads "10.0.0.0/8=office, 0.0.0.0/0=fibre@10": where a prefix leads, and its metric. */
function parseTable(text: string): Result<Row[]> {
  const rows: Row[] = [];
  for (const part of text
    .split(',')
    .map((each) => each.trim())
    .filter((each) => each !== '')) {
    const [block = '', to = '', ...more] = part.split('=').map((each) => each.trim());
    if (more.length > 0)
      return bad(
        'table-row',
        `The row "${part}" has more than one "=": write prefix=name or prefix=name@metric.`,
      );
    const prefix = parsePrefix(block);
    if (!prefix.ok) return prefix;
    const [name = '', typedMetric] = to.split('@');
    if (name === '') return bad('table-row', `The row "${part}" has no destination; write ${block}=name.`);
    const metric = typedMetric === undefined ? ok(0) : wholeBetween(0, 4_294_967_295)(typedMetric);
    if (!metric.ok) return metric;
    rows.push({ prefix: prefix.value, to: name, metric: metric.value });
  }
  return rows.length === 0 ? bad('empty-list', 'The table has no row.') : ok(rows);
}

/** An address of a subnet, or the subnet itself. */
const parseInside = (text: string): Result<{ host: Address; prefix: Prefix }> => parseInterface(text);

const sameFamily = (a: Address, b: Address): boolean => a.family === b.family;
const families = bad('families', 'The two ends are of different IP versions.', 'to');

export const addressSums: readonly Sum[] = [
  sum(
    'port-set',
    'IPv4 address and ports that a mapping rule gives a subscriber (MAP-T, MAP-E)',
    {
      prefix: needed('prefix that the line delegates', 'prefix', '2001:db8:12:3400::/56', parsePrefix),
      rule6: needed('IPv6 prefix of the rule', 'prefix', '2001:db8::/40', parsePrefix),
      rule4: needed('IPv4 prefix of the rule', 'prefix', '192.0.2.0/24', parsePrefix),
      bits: needed('EA-bits length', 'bits', '16', wholeBetween(0, 48)),
      offset: optional('PSID offset, usually 6', 'bits', '6', wholeBetween(0, 15)),
    },
    ({ prefix, rule6, rule4, bits, offset = 6 }) =>
      mappedWorked(prefix, { ipv6: rule6, ipv4: rule4, eaBits: bits, psidOffset: offset }),
  ),
  sum(
    'subnet',
    'Hosts, masks, network and broadcast of a subnet, from it or from an address in it',
    { prefix: needed('subnet, or address with prefix length or mask', 'prefix', '10.9.8.7/21', parseInside) },
    ({ prefix: { host, prefix } }) => subnetWorked(prefix, host),
  ),
  sum(
    'classify',
    'What kind of address it is, and what that means on a line',
    { address: addressInput('100.64.3.2') },
    ({ address }) => addressWorked(address),
  ),
  sum(
    'overlap',
    'Whether two prefixes share an address, and which',
    { a: prefixInput('192.168.0.0/16'), b: prefixInput('192.168.1.0/24') },
    ({ a, b }) => overlapWorked(a, b),
  ),
  sum(
    'route',
    'Which row of a table a packet takes',
    {
      table: needed(
        'rows "prefix=name" or "prefix=name@metric", separated by commas',
        'rows',
        '0.0.0.0/0=fibre,10.24.0.0/16=inside,10.24.10.0/24=office',
        parseTable,
      ),
      to: addressInput('10.24.10.9'),
    },
    ({ table, to }) => routeWorked(table, to),
  ),
  sum(
    'mask',
    'Prefix length of a mask, or mask of a prefix length',
    { mask: needed('dotted mask or length', 'mask', '255.255.248.0', (text) => parseLength(text)) },
    ({ mask: length }) =>
      worked(
        `Mask of /${length}`,
        length,
        'bits',
        [
          step('mask', maskText(length)),
          step('wildcard mask', wildcardText(length)),
          step('prefix length', `/${length}`),
        ],
        'RFC 4632 section 3.1',
      ),
  ),
  sum(
    'range',
    'Size of a range, and the prefixes that cover exactly it',
    { from: addressInput('10.24.10.100'), to: addressInput('10.24.10.199') },
    ({ from, to }) => {
      if (!sameFamily(from, to)) return families;
      if (from.value > to.value)
        return bad('range-reversed', 'The range runs backwards; swap its ends.', 'to');
      const range = rangeBetween(from, to);
      const size = rangeWorked(range, `${formatAddress(from)} to ${formatAddress(to)}`);
      return ok({
        ...size,
        steps: [...prefixesOf(range).map((block) => step(formatPrefix(block), sizeOf(block))), ...size.steps],
      });
    },
  ),
  sum(
    'around',
    'The smallest prefix that holds two addresses',
    { from: addressInput('10.24.10.100'), to: addressInput('10.24.11.20') },
    ({ from, to }) => (sameFamily(from, to) ? aroundWorked(from, to) : families),
  ),
  sum(
    'divide',
    'Division of a prefix into subnets by how many hosts each has',
    {
      space: prefixInput('10.24.0.0/22'),
      hosts: needed('hosts of each subnet', '', '200,60,25,2', listOf(wholeBetween(1, 2 ** 31), 256)),
    },
    ({ space, hosts }) => divideWorked(space, hosts),
  ),
  sum(
    'all-but',
    'All addresses but some, as the fewest prefixes: allowed routes of a tunnel',
    {
      without: needed(
        'prefixes that are left out',
        'prefixes',
        '192.168.0.0/16,10.0.0.0/8',
        listOf(parsePrefix),
      ),
      family: optional('IP version, 4 or 6', '', '4', oneOf(['4', '6'])),
    },
    ({ without, family = '4' }) => {
      const version = family === '4' ? 4 : 6;
      const other = without.find((prefix) => prefix.family !== version);
      return other
        ? bad('families', `${formatPrefix(other)} is not of IPv${version}.`, 'without')
        : allButWorked(version, without);
    },
  ),
  sum(
    'free-subnet',
    'The first free subnet of a length in a space',
    {
      space: prefixInput('10.24.0.0/16'),
      length: needed('length wanted', 'bits', '24', wholeBetween(0, 128)),
      taken: optional(
        'prefixes in use, separated by commas',
        'prefixes',
        '10.24.0.0/24',
        listOf(parsePrefix),
      ),
    },
    ({ space, length, taken = [] }) => {
      const most = space.family === 4 ? 32 : 128;
      if (length < space.length || length > most)
        return bad('number-outside', `${length} is outside ${space.length} to ${most}.`, 'length');
      const found = firstFreeBlock(space, length, taken);
      return worked(
        `First free /${length} in ${formatPrefix(space)}`,
        found ? formatPrefix(found) : null,
        'prefix',
        [
          ...taken.map((prefix) => step('taken', formatPrefix(prefix))),
          step('first aligned one that touches none', found ? formatPrefix(found) : 'none'),
        ],
        arithmetic,
      );
    },
  ),
  sum(
    'laptop-address',
    'A fixed address for the laptop in the subnet of a router',
    {
      router: needed("router's address with prefix length", 'address/length', '192.168.1.1/24', parseInside),
    },
    ({ router: { host, prefix } }) => {
      if (roleIn(prefix, host) !== 'host')
        return bad(
          'not-a-host',
          `${formatAddress(host)} is no address that a router can have in ${formatPrefix(prefix)}.`,
        );
      const chosen = laptopAddress(host, prefix);
      return chosen
        ? laptopWorked(host, prefix, chosen)
        : bad('no-room', `${formatPrefix(prefix)} has no address beside that of the router.`);
    },
  ),
  sum(
    'nth-subnet',
    'The n-th subnet of a delegation, from 0, and how many it holds',
    {
      space: prefixInput('2001:db8:a000::/56'),
      length: needed('length of each subnet', '', '64', wholeBetween(0, 128)),
      index: needed('number, from 0', '', '3', wholeBetween(0, 1_000_000_000)),
    },
    ({ space, length, index }) => nthSubnetWorked(space, length, index),
  ),
  sum(
    'eui-64',
    'IPv6 address that a device makes of its MAC address',
    {
      mac: needed('MAC address', '', '34-56-78-9A-BC-DE', parseMac),
      prefix: optional(
        'prefix of 64 bits; without it link-local',
        'prefix',
        '2001:db8:a:10::/64',
        parsePrefix,
      ),
    },
    ({ mac, prefix }) => eui64Worked(mac, prefix),
  ),
  sum(
    'solicited-node',
    'Multicast group at which neighbours ask for an IPv6 address',
    { address: addressInput('2001:db8::1:800:200e:8c6c') },
    ({ address }) => solicitedNodeWorked(address),
  ),
];
