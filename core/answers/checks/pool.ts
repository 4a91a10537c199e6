import { once } from '../../base/once.ts';
import type { At } from '../../plan/at.ts';
import { address, formatAddress, type Address } from '../../base/net/address.ts';
import { contains, formatPrefix, hostsOf } from '../../base/net/prefix.ts';
import {
  formatRange,
  inRange,
  rangeBetween,
  rangeSize,
  subtractRanges,
  type AddressRange,
} from '../../base/net/range.ts';
import type { Patch } from '../../plan/patch.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import { devicesOn } from '../../site/lookups.ts';
import type { Network, Site } from '../../site/model.ts';
import { rangeWorked } from '../../base/worked/addresses.ts';
import { step, type Worked, worked } from '../../base/worked/worked.ts';
import { counted } from '../../base/text.ts';

/** The DHCP pool: in its block, the right way round, free of held addresses, and large enough. */
export const pool: Check = {
  name: 'pool',
  run: (site) =>
    site.networks.flatMap((network) =>
      network.prefix && network.pool ? checkPool(site, network, network.pool) : [],
    ),
};

function checkPool(site: Site, network: Network, range: AddressRange): Finding[] {
  const prefix = network.prefix!;
  const at = `${network.at}/dhcp/from` as const;
  const to = `${network.at}/dhcp/to` as const;
  const first = address(range.family, range.first);
  const last = address(range.family, range.last);
  const fix = (): Pick<Finding, 'fix'> => {
    const better = largestFree(site, network);
    return better ? { fix: { says: `Use ${formatRange(better)}`, patch: poolPatch(network, better) } } : {};
  };
  const base = { at, also: [to], source: 'RFC 2131 section 3.1' } as const;

  if (range.first > range.last)
    return [
      {
        ...base,
        rule: 'pool-reversed',
        severity: 'blocker',
        says: `The pool of ${network.name} runs backwards, so it holds no address and no device gets one.`,
        why: worked(
          'Addresses in the pool',
          0,
          'addresses',
          [
            step('from', formatAddress(first)),
            step('to', formatAddress(last)),
            step('order', 'from is after to'),
          ],
          'arithmetic',
        ),
        fix: {
          says: 'Swap the two ends',
          patch: poolPatch(network, { ...range, first: range.last, last: range.first }),
        },
      },
    ];

  const hosts = hostsOf(prefix);
  if (!contains(prefix, first) || !contains(prefix, last))
    return [
      {
        ...base,
        rule: 'pool-outside',
        severity: 'blocker',
        says: `The pool of ${network.name} leaves its subnet ${formatPrefix(prefix)}: devices that get an address outside it reach neither the router nor each other.`,
        why: poolWorked(network, range, hosts.first, hosts.last),
        ...fix(),
      },
    ];

  const found: Finding[] = [];
  if (range.first < hosts.first.value || range.last > hosts.last.value)
    found.push({
      ...base,
      rule: 'pool-edge',
      severity: 'blocker',
      says: `The pool of ${network.name} holds the network or the broadcast address of ${formatPrefix(prefix)}; the device that gets it cannot talk to anybody.`,
      why: poolWorked(network, range, hosts.first, hosts.last),
      ...fix(),
    });

  if (network.routerAddress && inRange(range, network.routerAddress))
    found.push({
      ...base,
      rule: 'pool-router',
      severity: 'blocker',
      says: `The pool of ${network.name} holds the router's own address ${formatAddress(network.routerAddress)}: the day a device gets it, everybody on ${network.name} loses the gateway.`,
      why: holdsWorked(range, network.routerAddress, "router's address"),
      ...fix(),
    });

  const held = fixedIn(site, network, range);
  const holder = held.find(({ reserved }) => !reserved) ?? held[0];
  if (holder)
    found.push({
      ...base,
      also: [to, ...held.map(({ at: field }) => field)],
      rule: 'pool-held',
      severity: holder.reserved ? 'warning' : 'blocker',
      says: holder.reserved
        ? `The pool of ${network.name} holds the reserved address of ${names(held)}. Many routers refuse that, or give the address away before the reservation is entered.`
        : `The pool of ${network.name} holds ${names(held)}, whose address is set by hand: another device can be given the same one, and both lose connectivity.`,
      why: holdsWorked(range, holder.host, holder.name),
      ...fix(),
    });

  const need =
    (network.expectedDevices ?? 0) - devicesOn(site, network).filter(({ address: host }) => host).length;
  // An address of the pool that is reserved serves its own device only, and that one is not among those in need.
  const size = rangeSize(range) - BigInt(held.filter(({ reserved }) => reserved !== undefined).length);
  if (BigInt(need) > size) {
    const better = largestFree(site, network);
    const most = better ? rangeSize(better) : 0n;
    const enough = most >= BigInt(need);
    found.push({
      ...base,
      also: [to, `${network.at}/expectedDevices`],
      rule: 'pool-small',
      severity: 'warning',
      says: `${network.name} expects ${counted(network.expectedDevices!, 'device')}, but the pool gives ${size} at a time: the rest wait without an address.${enough ? '' : ` Even the whole subnet ${formatPrefix(prefix)} has no run of ${need} free addresses; it needs to be larger.`}`,
      why: worked(
        'Addresses missing',
        need - Number(size),
        'addresses',
        [
          step('devices expected', network.expectedDevices ?? 0),
          step('with an address of their own', `- ${(network.expectedDevices ?? 0) - need}`),
          step('free in the pool', `- ${size}`),
          step('missing', need - Number(size)),
        ],
        'arithmetic',
      ),
      ...(enough && better
        ? { fix: { says: `Widen the pool to ${formatRange(better)}`, patch: poolPatch(network, better) } }
        : {}),
    });
  }
  return found;
}

/** The longest run of hosts that nobody holds; where the present pool overlaps runs, the longest of what it touches. */
function largestFree(site: Site, network: Network): AddressRange | undefined {
  const hosts = hostsOf(network.prefix!);
  const taken = fixedIn(site, network, rangeBetween(hosts.first, hosts.last)).map(({ host }) => host);
  if (network.routerAddress) taken.push(network.routerAddress);
  const free = subtractRanges(
    [rangeBetween(hosts.first, hosts.last)],
    taken.map((host) => rangeBetween(host, host)),
  );
  return free.reduce<AddressRange | undefined>(
    (best, each) => (!best || rangeSize(each) > rangeSize(best) ? each : best),
    undefined,
  );
}

const poolPatch = (network: Network, range: AddressRange): Patch => [
  {
    op: 'replace',
    path: `${network.at}/dhcp/from`,
    value: formatAddress(address(range.family, range.first)),
  },
  { op: 'replace', path: `${network.at}/dhcp/to`, value: formatAddress(address(range.family, range.last)) },
];

interface Fixed {
  readonly name: string;
  readonly host: Address;
  readonly at: At;
  /** By the DHCP server; undefined where the plan has no device of that address. */
  readonly reserved: boolean | undefined;
}

/** Addresses of a range that somebody holds: devices, the next hops of routes, DNS servers that are named. */
function fixedIn(site: Site, network: Network, range: AddressRange): Fixed[] {
  const devices = devicesOn(site, network).flatMap(({ name, address: host, at, addressing }): Fixed[] =>
    host && inRange(range, host)
      ? [{ name, host, at: `${at}/address`, reserved: addressing === 'reserved' }]
      : [],
  );
  const router = network.routerAddress?.value;
  const known = new Set([
    ...devices.map(({ host }) => host.value),
    ...(router === undefined ? [] : [router]),
  ]);
  const named = namedOf(site).filter(({ host }) => inRange(range, host) && !known.has(host.value));
  return [...devices, ...new Map(named.map((each) => [each.host.value, each])).values()];
}

/** Addresses that routes and networks name without a device of the plan. */
const namedOf = once((site: Site): readonly Fixed[] => [
  ...site.staticRoutes.flatMap(({ via, at }) =>
    via
      ? [
          {
            name: `the next hop ${formatAddress(via)}`,
            host: via,
            at: `${at}/via` as const,
            reserved: undefined,
          },
        ]
      : [],
  ),
  ...site.networks.flatMap(({ resolvers, at }) =>
    resolvers.map((host) => ({
      name: `the DNS server ${formatAddress(host)}`,
      host,
      at: `${at}/resolvers` as const,
      reserved: undefined,
    })),
  ),
]);

const names = (held: readonly Fixed[]): string => {
  const shown = held.slice(0, 3).map(({ name }) => name);
  return held.length > 3 ? `${shown.join(', ')} and ${held.length - 3} more` : shown.join(', ');
};

const poolWorked = (network: Network, range: AddressRange, first: Address, last: Address): Worked => ({
  ...rangeWorked(range),
  name: `Pool of ${network.name} in its subnet`,
  steps: [
    step('pool', formatRange(range)),
    step('hosts of the subnet', `${formatAddress(first)} to ${formatAddress(last)}`),
  ],
});

const holdsWorked = (range: AddressRange, host: Address, what: string): Worked =>
  worked(
    'Held address in the pool',
    true,
    '',
    [step('pool', formatRange(range)), step(what, formatAddress(host)), step('inside the pool', 'yes')],
    'arithmetic',
  );
