import { formatAddress } from '../../base/net/address.ts';
import { formatPrefix, hostsOf, parseInterface } from '../../base/net/prefix.ts';
import type { Patch } from '../../plan/patch.ts';
import { valueOf } from '../../base/result.ts';
import { freeHost } from '../../site/lookups.ts';
import type { Network, Site } from '../../site/model.ts';
import type { Second } from '../../site/second.ts';
import { freeBlock } from '../../site/renumber.ts';
import { bridgeSignal } from './air.ts';
import { forwardsTo, networksWanted, passesTags, wayOfCable } from './facts.ts';
import { rateText } from '../../base/worked/cabling.ts';
import { airRateWorked } from '../../base/worked/wifi-rate.ts';
import { figure, step, worked, type Worked } from '../../base/worked/worked.ts';

export type SecondWay = Exclude<Second['way'], 'undecided'>;
export const secondWays: readonly SecondWay[] = ['access-point', 'chained', 'bridge'];

/** What one way means in one respect: it is as one wants it, it costs something, or it breaks something. */
export interface Consequence {
  readonly topic: string;
  readonly weight: 'good' | 'cost' | 'breaks';
  readonly says: string;
}

/** One of the three ways, computed for this site. */
export interface WayOption {
  readonly way: SecondWay;
  readonly recommended: boolean;
  /** Why it is, or is not. */
  readonly reason: string;
  readonly consequences: readonly Consequence[];
  /** What choosing it sets in the plan. */
  readonly patch: Patch;
}

/** How often the source of a packet is changed on its way from a device behind it to the internet (RFC 3022, RFC 6598). */
export function translationsWorked(site: Site, way: SecondWay, translates = true): Worked<number> {
  const line = site.lines.find(({ defaultRoute }) => defaultRoute) ?? site.lines[0];
  const parts = [
    step('second router', way === 'chained' && translates ? 1 : 0),
    step('router', line?.sourceNat === false ? 0 : 1),
    ...(line?.box?.routes ? [step(line.box.name, 1)] : []),
    ...(line?.translators.includes('carrier') ? [step(`carrier of ${line.name}`, 1)] : []),
  ];
  const sum = parts.reduce((all, { value }) => all + Number(value), 0);
  return worked(
    'Translations on the way out',
    sum,
    '',
    [...parts, step('together', sum)],
    'RFC 3022, RFC 6598',
    sum > 1 ? 'Each of them needs a forward of its own for every connection from outside.' : undefined,
  );
}

/** The three ways for a box on this site, in the order in which they are usually looked at. */
export function compareWays(site: Site, second: Second): WayOption[] {
  const best = recommended(second);
  return secondWays.map((way) => ({
    way,
    recommended: way === best.way,
    reason: way === best.way ? best.reason : '',
    consequences: consequencesOf(site, second, way),
    patch: choosing(site, second, way),
  }));
}

function recommended({ cable, signal }: Second): { way: SecondWay; reason: string } {
  if (cable === 'no')
    return {
      way: 'bridge',
      reason:
        signal !== null && signal < weakSignal
          ? `No cable reaches it, so it has to be the air; ${signal} dBm is weak for it: a cable is worth its price.`
          : 'No cable reaches it. A cable later makes it an access point.',
    };
  return {
    way: 'access-point',
    reason: `One router on the site: one translation, one DHCP server, one set of rules.${
      cable === 'unknown' ? ' Look first whether a cable reaches the place.' : ''
    }`,
  };
}

/** Below it a wireless bridge is slow and drops (common practice, no source). */
export const weakSignal = -70;

const consequence = (topic: string, weight: Consequence['weight'], says: string): Consequence => ({
  topic,
  weight,
  says,
});

function consequencesOf(site: Site, second: Second, way: SecondWay): Consequence[] {
  const { network } = second;
  const there = network?.name ?? 'the network';
  const chained = way === 'chained';
  const wanted = networksWanted(site, second).filter((each) => each !== network);
  const forwards = forwardsTo(site, second);
  const sum = translationsWorked(site, way, second.translates);
  const translations = sum.value;
  return [
    connection(site, second, way),
    consequence(
      'Translations on the way out',
      translations > 1 ? 'cost' : 'good',
      translations === 1
        ? 'One, by the router.'
        : `${translations}: ${sum.steps
            .slice(0, -1)
            .filter(({ value }) => value !== '0')
            .map(({ says }) => says)
            .join(', ')}.`,
    ),
    chained
      ? consequence(
          'Devices find each other',
          'breaks',
          `Printers and screens on ${there} are not found from behind it, and nothing behind it is found from ${there}: broadcasts and multicast end at it.`,
        )
      : consequence(
          'Devices find each other',
          'good',
          `What is on it is on ${there}, like everything else there.`,
        ),
    separation(second, way, wanted),
    chained
      ? consequence(
          'Port forwards',
          forwards.length > 0 || second.forwards.length > 0 ? 'cost' : 'good',
          `Each forward to a device behind it is needed twice: from the router to ${
            second.address ? formatAddress(second.address) : 'its address'
          }, and from there to the device.${forwards.length > 0 ? ` ${forwards.length} ${forwards.length === 1 ? 'leads' : 'lead'} to it now, and it has ${second.forwards.length} of its own.` : ''}`,
        )
      : consequence('Port forwards', 'good', 'As for every device: one, on the router.'),
    remote(site, way),
    chained
      ? consequence('DHCP server', 'cost', 'Two, each for its own subnet: it gives addresses behind it.')
      : consequence('DHCP server', 'good', 'One, the router. Its own is off.'),
    addresses(site, second, way),
  ];
}

function connection(site: Site, second: Second, way: SecondWay): Consequence {
  const topic = 'Connection and rate';
  if (way === 'bridge') {
    const expected = second.signal === null ? bridgeSignal(site, second) : undefined;
    if (expected)
      return consequence(
        topic,
        expected.high < weakSignal ? 'breaks' : 'cost',
        `By air: over ${figure(second.metres!)} m ${figure(expected.low, 0)} to ${figure(expected.high, 0)} dBm by arithmetic, which is ${figure(airRateWorked(expected.low, 20).value, 0)} to ${figure(airRateWorked(expected.high, 20).value, 0)} Mb/s. Measure it where it will stand.`,
      );
    if (second.signal === null)
      return consequence(
        topic,
        'cost',
        'By air. Measure the signal where it stands: weaker than -70 dBm it is slow and drops.',
      );
    const radio = site.wifi.radios.find(({ box }) => box === second.box);
    const direct = airRateWorked(second.signal, radio?.width ?? 20);
    const repeated = airRateWorked(second.signal, radio?.width ?? 20, { hops: 2 });
    return direct.value === 0
      ? consequence(topic, 'breaks', `By air, and ${second.signal} dBm carries no link that lasts.`)
      : consequence(
          topic,
          second.signal < weakSignal ? 'breaks' : 'cost',
          `By air: at ${second.signal} dBm about ${figure(direct.value, 0)} Mb/s for a device on its cable, ${figure(repeated.value, 0)} where it repeats on the same channel. Its channel is that of the first.`,
        );
  }
  if (second.cable === 'no')
    return consequence(topic, 'breaks', 'It needs a cable, and none reaches the place.');
  const { rate, says } = wayOfCable(site, second);
  const port = way === 'chained' ? 'its WAN port' : 'one of its LAN ports, its WAN port stays empty';
  return consequence(
    topic,
    second.cable === 'unknown' ? 'cost' : 'good',
    `By cable into ${port}${rate === undefined ? '' : `: ${rateText(rate)}`}.${says === '' ? '' : ` ${says}`}`,
  );
}

function separation(second: Second, way: SecondWay, wanted: readonly Network[]): Consequence {
  const topic = 'Networks on it';
  const there = second.network?.name ?? 'the network';
  const names = wanted.map(({ name }) => name).join(' and ');
  if (way === 'chained')
    return consequence(
      topic,
      'breaks',
      `Everything behind it reaches everything on ${there}, and looks like one device there. ${
        names === ''
          ? 'Guests do not belong behind it.'
          : `${names} would end in ${there}: no rule of the router can tell them apart.`
      }`,
    );
  if (way === 'bridge' && wanted.length > 0)
    return consequence(
      topic,
      'breaks',
      `Only ${there}: a wireless bridge carries one network. ${names} would need a second one.`,
    );
  if (wanted.length === 0) return consequence(topic, 'good', `${there}, as on all its other ports.`);
  return passesTags(second)
    ? consequence(topic, 'good', `${there} and ${names}, each with its VLAN over the same cable.`)
    : consequence(
        topic,
        'breaks',
        `${names} need VLAN tags, and whether it reads them is ${second.box?.vlanSupport === 'plain' ? 'clear: it does not' : 'not looked up'}: everything would be ${there}.`,
      );
}

function remote({ vpn }: Site, way: SecondWay): Consequence {
  const topic = 'Remote access and other sites';
  if (vpn.way === 'none' && vpn.sites.length === 0) return consequence(topic, 'good', 'None here.');
  return way === 'chained'
    ? consequence(
        topic,
        'breaks',
        'Remote users and other sites reach its WAN side only: every device behind it needs a forward on it.',
      )
    : consequence(topic, 'good', 'What is on it is reached like everything else.');
}

/** The addresses that it gets: what stands in the plan and is right, else what is free. */
export function addressesFor(site: Site, second: Second): { address: string; inside: string } {
  const { network } = second;
  const free = network && freeHost(site, network);
  const own = second.address ?? free;
  const block = freeBlock(site, 24, null);
  const inside =
    second.inside ?? (block && valueOf(parseInterface(`${formatAddress(hostsOf(block).first)}/24`)));
  return {
    address: own ? formatAddress(own) : '',
    inside: inside ? `${formatAddress(inside.host)}/${inside.prefix.length}` : '',
  };
}

function addresses(site: Site, second: Second, way: SecondWay): Consequence {
  const { address, inside } = addressesFor(site, second);
  const there = second.network?.name ?? 'the network';
  const own =
    address === ''
      ? `no address of ${there} is free outside the pool`
      : `${address} on ${there}, outside the pool`;
  const block = valueOf(parseInterface(inside))?.prefix;
  return consequence(
    'Addresses',
    address === '' ? 'breaks' : 'good',
    way === 'chained'
      ? `${own}; behind it ${block ? formatPrefix(block) : 'no free subnet'}.`
      : `${own}, for its own pages.`,
  );
}

/** What choosing a way writes into the plan: the way, its addresses, its DHCP server and its port. */
function choosing(site: Site, second: Second, way: SecondWay): Patch {
  const { address, inside } = addressesFor(site, second);
  const set = (key: string, value: string | boolean) =>
    ({ op: 'replace', path: `${second.at}/${key}`, value }) as const;
  return [
    set('way', way),
    ...(second.address || address === '' ? [] : [set('address', address)]),
    ...(way === 'chained' && !second.inside && inside !== '' ? [set('inside', inside)] : []),
    set('dhcp', way === 'chained'),
    ...(way === 'bridge' ? [] : [set('port', way === 'chained' ? 'wan' : 'lan')]),
  ];
}

/** A box on the way from the internet to a device behind the second router, as the drawing has it. */
export interface ChainBox {
  readonly name: string;
  readonly says: string;
  readonly translates: boolean;
  /** What joins it with the one before it; empty for the first. */
  readonly joined: string;
  readonly second: boolean;
}

/** The way of a device behind it to the internet, box by box: what each does there. */
export function chainOf(site: Site, second: Second, way: SecondWay): ChainBox[] {
  const { network, name } = second;
  const line = site.lines.find(({ defaultRoute }) => defaultRoute) ?? site.lines[0];
  const { address, inside } = addressesFor(site, second);
  const chained = way === 'chained';
  const block = valueOf(parseInterface(inside))?.prefix;
  const subnet = chained ? block : network?.prefix;
  return [
    ...(line?.translators.includes('carrier')
      ? [{ name: 'Carrier', says: '', translates: true, joined: '', second: false }]
      : []),
    ...(line?.box
      ? [
          {
            name: line.box.name,
            says: line.box.routes && line.box.address ? formatAddress(line.box.address) : 'bridged',
            translates: line.box.routes,
            joined: line.name,
            second: false,
          },
        ]
      : []),
    {
      name: 'Router',
      says: network?.routerAddress ? formatAddress(network.routerAddress) : '',
      translates: line?.sourceNat !== false,
      joined: line?.box ? 'to WAN' : (line?.name ?? ''),
      second: false,
    },
    {
      name,
      says: address,
      translates: chained && second.translates,
      joined: way === 'bridge' ? 'by air' : chained ? 'LAN to WAN' : 'LAN to LAN',
      second: true,
    },
    {
      name: 'A device on it',
      says: subnet ? `in ${formatPrefix(subnet)}` : '',
      translates: false,
      joined: '',
      second: false,
    },
  ];
}
