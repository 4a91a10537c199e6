import { formatAddress, type Address } from '../../base/net/address.ts';
import { inRange } from '../../base/net/range.ts';
import type { Prefix } from '../../base/net/prefix.ts';
import { parseMac } from '../../base/net/mac.ts';
import { formatPorts } from '../../base/net/ports.ts';
import type { Device, Forward, Line, Network, Site } from '../../site/model.ts';
import { wanType } from '../../wan-types/index.ts';
import { ofFailover, ofFailures, ofWatch } from './failover.ts';
import { ofVpn } from './vpn.ts';
import { ofBattery, ofLimit, ofPower } from './power.ts';
import { ofSecond } from './second.ts';
import { ofRadio, ofRoom } from './wifi.ts';
import { ofPoe, ofRun } from './wiring.ts';
import {
  addressWorked,
  laptopAddress,
  laptopWorked,
  placeWorked,
  rangeWorked,
  subnetWorked,
} from '../../base/worked/addresses.ts';
import { leaseWorked, mssWorked, pingWorked, tcpCeilingWorked } from '../../base/worked/packets.ts';
import { medium } from '../../behaviour/media/index.ts';
import { rateVerdict } from '../../base/worked/line.ts';
import { carriedMbps, shapedWorked, shareWorked, type Direction } from '../../base/worked/shares.ts';
import { stackWorked } from '../../base/worked/stack.ts';
import { arithmetic, step, type Worked, worked } from '../../base/worked/worked.ts';

type Explain = (site: Site, index: number, rest: string) => Worked[];

/** Fields that have something to compute, by the pattern of their pointer. The first match answers. */
const explanations: readonly (readonly [RegExp, Explain])[] = [
  [
    /^\/networks\/(\d+)\/(.*)$/,
    (site, index, rest) => (site.networks[index] ? ofNetwork(site, site.networks[index], rest) : []),
  ],
  [
    /^\/uplinks\/(\d+)\/(.*)$/,
    (site, index, rest) => (site.lines[index] ? ofLine(site, site.lines[index], rest) : []),
  ],
  [
    /^\/devices\/(\d+)\/(.*)$/,
    (site, index, rest) => (site.devices[index] ? ofDevice(site.devices[index], rest) : []),
  ],
  [
    /^\/forwards\/(\d+)(?:\/(.*))?$/,
    (site, index) => (site.forwards[index] ? ofForward(site.forwards[index]) : []),
  ],
  [/^\/failover\/()(.*)$/, (site, _index, rest) => ofFailover(site, rest)],
  [/^\/vpn\/()(.*)$/, (site, _index, rest) => ofVpn(site, rest)],
  [/^\/wiring\/runs\/(\d+)(?:\/(.*))?$/, (site, index) => ofRun(site, index)],
  [/^\/kit\/(\d+)\/(?:poeWatts|ports\/\d+\/poe)(.*)$/, (site, index) => ofPoe(site, index)],
  [/^\/kit\/(\d+)\/wattHours()$/, (site) => ofBattery(site)],
  [/^\/kit\/(\d+)\/(?:need|power)(.*)$/, (site, index) => ofPower(site, index)],
  [/^\/router\/limits\/()(.*)$/, (site, _index, rest) => ofLimit(site, `/router/limits/${rest}`)],
  [/^\/wifi\/radios\/(\d+)\/(.*)$/, (site, index, rest) => ofRadio(site, index, rest)],
  [/^\/wifi\/rooms\/(\d+)\/(.*)$/, (site, index, rest) => ofRoom(site, index, rest)],
  [/^\/second\/(\d+)\/(.*)$/, (site, index, rest) => ofSecond(site, index, rest)],
  [
    /^\/router\/factory(.*)()$/,
    (site) =>
      site.router.factory
        ? [
            subnetWorked(site.router.factory.prefix),
            ...laptopOf(site.router.factory.host, site.router.factory.prefix),
          ]
        : [],
  ],
];

/** The fixed address for a laptop beside a router, where there is room for one. */
function laptopOf(router: Address, prefix: Prefix): Worked[] {
  const chosen = laptopAddress(router, prefix);
  return chosen ? [laptopWorked(router, prefix, chosen)] : [];
}

/** The arithmetic behind one field of the plan (JSON Pointer), or nothing where there is none. */
export function workingsAt(site: Site, at: string): Worked[] {
  for (const [pattern, explain] of explanations) {
    const match = pattern.exec(at);
    if (match) return explain(site, Number(match[1]), match[2] ?? '');
  }
  return [];
}

function ofNetwork(site: Site, network: Network, rest: string): Worked[] {
  const { prefix, pool, routerAddress } = network;
  switch (rest) {
    case 'prefix':
      return prefix
        ? [subnetWorked(prefix), addressWorked({ family: prefix.family, value: prefix.first }, 'inside')]
        : [];
    case 'routerAddress':
      return prefix && routerAddress ? [placeWorked(routerAddress, prefix, "Router's address")] : [];
    case 'dhcp/from':
    case 'dhcp/to':
    case 'expectedDevices': {
      if (!pool || pool.first > pool.last) return [];
      const size = Number(pool.last - pool.first + 1n);
      const inPool = site.devices.filter(
        (device) => device.network === network && device.address && inRange(pool, device.address),
      ).length;
      const held = site.devices.filter((device) => device.network === network && device.address).length;
      const expected = network.expectedDevices;
      const spare: Worked[] =
        expected === null
          ? []
          : [
              worked(
                'Room in the pool',
                size - inPool - (expected - held),
                'addresses',
                [
                  step('pool', size),
                  step('reserved among them', `- ${inPool}`),
                  step('devices expected', `- ${expected}`),
                  step('of them with an address of their own', `+ ${held}`),
                  step('left over', size - inPool - (expected - held)),
                ],
                arithmetic,
              ),
            ];
      return [rangeWorked(pool), ...spare];
    }
    case 'limitDownMbps':
      return sharesOf(site, 'down');
    case 'limitUpMbps':
      return sharesOf(site, 'up');
    case 'dhcp/leaseMinutes':
      return network.dhcp.leaseMinutes === null ? [] : [leaseWorked(network.dhcp.leaseMinutes * 60)];
    default:
      return [];
  }
}

function ofLine(site: Site, line: Line, rest: string): Worked[] {
  if (rest.startsWith('watch/')) return ofWatch(site, line, rest.slice('watch/'.length));
  if (rest.startsWith('failures/')) return ofFailures(line);
  const setting = /^settings\/[a-z-]+\/(.+)$/.exec(rest)?.[1];
  if (setting) return wanType(line.type).workings(line, setting);
  const run = /^runs\/(\d+)\//.exec(rest)?.[1];
  if (run) return ratesOf(line, line.runs[Number(run)]?.direction ?? 'down');
  const measured = /^media\/[a-z]+\/(.+)$/.exec(rest)?.[1];
  const { medium: name, media } = line;
  if (measured) return medium(name).workings(media[name], line, measured);
  switch (rest) {
    case 'mtuBytes':
      return line.mtuBytes >= 68 ? [mssWorked(line.mtuBytes), pingWorked(line.mtuBytes)] : [];
    case 'vlan': {
      const { stack: above, link } = wanType(line.type);
      const stack = stackWorked(['vlan', ...above], link?.(line));
      return stack.ok && line.vlan !== null ? [stack.value] : [];
    }
    case 'rateDownMbps':
      return ratesOf(line, 'down');
    case 'rateUpMbps':
      return ratesOf(line, 'up');
    case 'shapeDownMbps':
      return shapingOf(line, 'down');
    case 'shapeUpMbps':
      return shapingOf(line, 'up');
    case 'handoff/insidePrefix':
      return line.box?.prefix ? [subnetWorked(line.box.prefix)] : [];
    case 'handoff/insideAddress':
      return line.box?.prefix && line.box.address
        ? [placeWorked(line.box.address, line.box.prefix, "Box's address")]
        : [];
    case 'handoff/outsideAddress':
      return line.lineAddressKnown ? [addressWorked(line.lineAddress)] : [];
    default:
      return [];
  }
}

function shapingOf(line: Line, direction: Direction): Worked[] {
  const carried = carriedMbps(line, direction);
  return carried === null ? [] : [shapedWorked(carried)];
}

/** What is left of each line for the others when every limited network takes what it may. */
const sharesOf = (site: Site, direction: Direction): Worked[] =>
  site.lines.flatMap((line) => {
    const carried = carriedMbps(line, direction);
    const limited = site.networks.flatMap(({ name, limitDownMbps, limitUpMbps }) => {
      const limit = direction === 'down' ? limitDownMbps : limitUpMbps;
      return limit === null ? [] : [[name, limit] as const];
    });
    return carried === null || limited.length === 0 ? [] : [shareWorked(line.name, carried, limited)];
  });

/** What a test can show at best in one direction, and what the measured runs make of the contract. */
function ratesOf(line: Line, direction: 'down' | 'up'): Worked[] {
  const contract = direction === 'down' ? line.rateDownMbps : line.rateUpMbps;
  if (contract === null) return [];
  const verdict = rateVerdict(line.runs, direction, contract, line.mtuBytes, line.wrappingBytes);
  return [...(verdict.ok ? [verdict.value] : []), tcpCeilingWorked(contract, line)];
}

function ofDevice(device: Device, rest: string): Worked[] {
  if (rest === 'mac' && device.mac) {
    const first = device.mac.text.slice(0, 2);
    return [
      worked(
        'MAC address',
        device.mac.text,
        '',
        [
          step('read as', device.mac.text),
          step('first octet', `${first} = ${parseInt(first, 16).toString(2).padStart(8, '0')}`),
          step('lowest bit', '0: one device'),
          step(
            'second-lowest bit',
            device.mac.locallyAdministered ? '1: made up by software' : '0: given by its maker',
          ),
        ],
        'IEEE 802 section 8.2',
      ),
    ];
  }
  if (rest !== 'address' && rest !== 'addressing') return [];
  const host = device.typedAddress;
  return host && device.network?.prefix ? [placeWorked(host, device.network.prefix, 'Address')] : [];
}

function ofForward(forward: Forward): Worked[] {
  const { outside, inside, device, line } = forward;
  if (!outside || !inside) return [];
  const protocol = forward.protocol === 'both' ? 'tcp, udp' : forward.protocol;
  return [
    worked(
      'What the router will do',
      formatPorts(outside),
      '',
      [
        step(
          'arrives at',
          `${line ? (line.publicAddressKnown ? formatAddress(line.publicAddress) : line.name) : 'no uplink'} ${protocol} ${formatPorts(outside)}`,
        ),
        step('allowed sources', forward.allowed.says),
        step(
          'becomes',
          `${device?.address ? formatAddress(device.address) : (device?.name ?? 'no device')} ${protocol} ${formatPorts(inside)}`,
        ),
      ],
      'RFC 3022 section 2.2',
    ),
  ];
}

/** Normal form of a typed MAC address, or the text itself: for showing it the same everywhere. */
export const macText = (text: string): string => {
  const mac = parseMac(text);
  return mac.ok ? mac.value.text : text;
};
