import { allOf, atSecond } from '../../behaviour/domain-types/nature.ts';
import { formatAddress } from '../../base/net/address.ts';
import { formatPrefix, maskText } from '../../base/net/prefix.ts';
import type { Site } from '../../site/model.ts';
import type { Second } from '../../site/second.ts';
import { weakSignal } from '../../behaviour/downstream-router/compare.ts';
import { entry, fieldEntry, type StepDraft } from '../../behaviour/domain-types/step.ts';
import { addressReading, choiceReading, numberReading } from '../../behaviour/domain-types/reading.ts';
import { secondPromiseId } from '../../behaviour/domain-types/promise.ts';
import { laptopAddress } from '../../base/worked/addresses.ts';

/** What is done on second routers and access points: each alone first, on its own page, and connected last. */
export const secondSteps = (site: Site): StepDraft[] =>
  site.second.flatMap((second, index) =>
    second.way === 'undecided' ? [] : stepsOfSecond(site, second, site.second.slice(0, index).at(-1)),
  );

/** The steps of one box, in their order. The one before it is finished first: new boxes may have one address. */
export function stepsOfSecond(site: Site, second: Second, before?: Second): StepDraft[] {
  const { id, name, at, network, way, address, inside, factoryAddress } = second;
  const there = network?.name ?? 'the network';
  const step = (part: string): string => `second-${part}:${id}`;
  const chained = way === 'chained';
  const laptop = factoryAddress && laptopAddress(factoryAddress.host, factoryAddress.prefix);
  const ownPage = chained ? inside?.host : address;
  const alone: StepDraft = {
    id: step('alone'),
    nature: atSecond(second),
    phase: 'inside',
    title: `Connect the laptop to ${name} alone`,
    needs: [
      'reconnect',
      ...(network ? [`pool:${network.id}`] : []),
      ...(before ? [`second-${cableOf(before)}:${before.id}`] : []),
    ],
    entries: [
      ...(factoryAddress
        ? [fieldEntry(`${at}/factoryAddress`, formatAddress(factoryAddress.host), ['Browse to'])]
        : []),
      ...(laptop
        ? [
            entry(
              'If the laptop gets no address',
              `${formatAddress(laptop)}, mask ${maskText(factoryAddress.prefix.length)}`,
              ['Manual', 'Static'],
            ),
          ]
        : []),
    ],
    why: `New, it is a router with a DHCP server and an address of its own: with factory settings it gives out wrong addresses on ${there}, or has the address of the router.`,
    lowSeconds: 60,
    highSeconds: 300,
    proof: 'Its page opens, and no other cable is in it.',
    ifNot: 'Reset it to new, as its label says, and wait until its lights are steady.',
    cautions: [
      'On walls, roofs and masts: ladders, lightning protection and earthing are for those trained and licensed for it; local codes decide.',
    ],
  };
  const address2: StepDraft = {
    id: step('address'),
    nature: atSecond(second),
    phase: 'inside',
    title: chained
      ? `Set the two sides of ${name}`
      : `Give ${name} its own address, and turn its routing off`,
    needs: [step('alone')],
    entries: [
      ...(chained
        ? [
            ...(address
              ? [
                  entry(
                    'WAN type',
                    `static, or reserved on the router: ${formatAddress(address)}`,
                    ['Internet connection'],
                    `${at}/address`,
                  ),
                ]
              : []),
            ...(network?.prefix && network.routerAddress
              ? [
                  entry('Mask', maskText(network.prefix.length), ['Subnet mask'], `${network.at}/prefix`),
                  entry(
                    'Gateway and DNS server',
                    formatAddress(network.routerAddress),
                    ['Default gateway'],
                    `${network.at}/routerAddress`,
                  ),
                ]
              : []),
            ...(inside
              ? [
                  fieldEntry(
                    `${at}/inside`,
                    `${formatAddress(inside.host)}, mask ${maskText(inside.prefix.length)}`,
                  ),
                ]
              : []),
          ]
        : [
            ...(address ? [fieldEntry(`${at}/address`, formatAddress(address))] : []),
            ...(network?.prefix
              ? [entry('Mask', maskText(network.prefix.length), ['Subnet mask'], `${network.at}/prefix`)]
              : []),
            ...(network?.routerAddress
              ? [
                  entry(
                    'Gateway and DNS server',
                    formatAddress(network.routerAddress),
                    ['Default gateway'],
                    `${network.at}/routerAddress`,
                  ),
                ]
              : []),
            entry(
              'Operation mode',
              way === 'bridge' ? 'wireless bridge or client; no routing' : 'access point; no routing',
              ['AP mode', 'Router mode off'],
            ),
          ]),
      ...(chained ? [fieldEntry(`${at}/translates`, second.translates ? 'on' : 'off')] : []),
      fieldEntry(`${at}/dhcp`, chained ? 'on, for its own subnet only' : 'off'),
    ],
    why: chained
      ? 'Its own subnet must be one that nothing else here has, or packets stay on the wrong side of it.'
      : `Two DHCP servers on ${there} give out two gateways: who gets the wrong one has no internet. Its address stays outside the pool, so that nobody gets it as well.`,
    lowSeconds: 120,
    highSeconds: 480,
    proof: ownPage
      ? `After saving, its page opens at ${formatAddress(ownPage)} and nowhere else.`
      : 'Its page opens at its new address.',
    ifNot:
      'The page is gone: give the laptop an address of the new subnet by hand; else reset it and begin again.',
    cautions: ['The session ends when it is saved: browse to the new address.'],
    fields: [choiceReading('dhcp', 'Its DHCP server', chained ? 'on' : 'off', chained ? 'off' : 'on')],
  };
  const forwards: StepDraft[] =
    chained && second.forwards.length > 0
      ? [
          {
            id: step('forwards'),
            nature: atSecond(second),
            phase: 'inside',
            title: `Enter the port forwards of ${name}`,
            needs: [step('address')],
            entries: second.forwards.map((each) =>
              entry(
                each.name,
                `${each.protocol === 'both' ? 'tcp, udp' : each.protocol} ${each.outside.first} → ${formatAddress(each.address)} ${each.inside.first}`,
                ['Virtual server', 'Port mapping'],
                each.at,
              ),
            ),
            why: 'What the router hands to its WAN side ends there without a forward of its own.',
            lowSeconds: 60 * second.forwards.length,
            highSeconds: 180 * second.forwards.length,
            proof: `They are listed; from a device on ${there} the port answers at ${address ? formatAddress(address) : 'its WAN address'}.`,
            ifNot:
              'Its own firewall refuses private sources on the WAN side: look for a switch of that name.',
          },
        ]
      : [];
  const own = site.wifi.radios.filter((radio) => radio.box !== undefined && radio.box === second.box);
  const ready = [
    step('address'),
    step('forwards'),
    ...own.map((radio) => `radio:${radio.id}`),
    ...(second.box ? [`switch:${second.box.id}`] : []),
  ];
  const connect: StepDraft =
    way === 'bridge'
      ? {
          id: step('join'),
          nature: atSecond(second),
          phase: 'inside',
          title: `Join ${name} to the Wi-Fi of ${there}`,
          needs: ready,
          entries: [entry('Channel', 'the one of the first: set it there before', ['Site survey', 'Scan'])],
          why: 'A bridge follows the channel of the first: change it there later, and both are gone for a minute.',
          lowSeconds: 120,
          highSeconds: 480,
          proof: `It shows a signal of ${weakSignal} dBm or stronger, and a device on its cable gets an address of ${there}.`,
          ifNot: 'Weaker: move it half way back, or pull a cable. A repeater in between halves the rate.',
          cautions: ['No cable between it and the switch as well: air and cable together are a loop.'],
          fields: [
            numberReading('signal', 'Signal that it shows', 'dBm', {
              at: `${at}/signal`,
              limits: {
                least: weakSignal,
                most: 0,
                says: `Weaker than ${weakSignal} dBm it is slow and drops: move it or pull a cable.`,
              },
            }),
          ],
        }
      : {
          id: step('cable'),
          nature: atSecond(second),
          phase: 'inside',
          title: `Plug ${name} in: ${chained ? 'its WAN port' : 'one of its LAN ports'} to a LAN port of ${there}`,
          needs: [...ready, 'cables', ...site.wiring.boxes.map((box) => `switch:${box.id}`)],
          entries: [
            entry(
              'Cable',
              chained
                ? 'LAN of the first → WAN of the second'
                : 'LAN of the first → LAN of the second; its WAN port stays empty',
              ['Uplink', 'Internet port'],
              `${at}/port`,
            ),
          ],
          why: chained
            ? 'LAN to LAN would put two DHCP servers on one wire.'
            : 'In the WAN port it would route after all, or say nothing.',
          lowSeconds: 30,
          highSeconds: 180,
          proof: 'The lights of both ends of the cable are on.',
          ifNot: 'No light: the cable, or the port is not a member of the VLAN.',
          cautions: ['One cable only: a second one to the same switch is a loop.'],
        };
  const prefix = chained ? inside?.prefix : network?.prefix;
  const gateway = chained ? inside?.host : network?.routerAddress;
  const proof: StepDraft = {
    id: step('proof'),
    nature: (site) => ({ place: `second:${id}`, uses: allOf(site) }),
    phase: 'proof',
    title: `Check the address of a device on ${name}`,
    needs: ['save', step(way === 'bridge' ? 'join' : 'cable')],
    why: 'A page that opens proves nothing here: it opens behind two translations and beside a second DHCP server as well.',
    lowSeconds: 60,
    highSeconds: 240,
    proof: `Reconnected to it, a device has an address of ${prefix ? formatPrefix(prefix) : 'its subnet'} and the gateway ${gateway ? formatAddress(gateway) : 'of its subnet'}${chained ? '' : ': those of the router, and nobody else gives any'}.`,
    ifNot: chained
      ? `An address of ${there}: the cable is in one of its LAN ports.`
      : 'Its own subnet: it still routes; its DHCP server is on, or the cable is in its WAN port.',
    fields: [
      addressReading(
        'device',
        'Address of the device',
        within(prefix, 'It is not in the subnet that belongs there.'),
      ),
      addressReading(
        'gateway',
        'Its default gateway',
        gateway && {
          within: {
            prefixes: [`${formatAddress(gateway)}/${gateway.family === 4 ? 32 : 128}`],
            says: `The gateway has to be ${formatAddress(gateway)}: another DHCP server answers.`,
          },
        },
      ),
      choiceReading('page', 'A page on the internet', 'opens', 'does not open'),
    ],
    evidence: [{ promise: secondPromiseId(second), rung: 'page' }],
  };
  return [alone, address2, ...forwards, connect, proof];
}

const cableOf = ({ way }: Second): string => (way === 'bridge' ? 'join' : 'cable');

const within = (prefix: Parameters<typeof formatPrefix>[0] | undefined, says: string) =>
  prefix && { within: { prefixes: [formatPrefix(prefix)], says } };
