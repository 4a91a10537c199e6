import { type StepNature, allOf, atSecond, inRooms, onPage } from '../../behaviour/domain-types/nature.ts';
import type { Site } from '../../site/model.ts';
import type { WifiNetwork, WifiRadio } from '../../site/wifi.ts';
import { wifiPromiseId } from '../../behaviour/domain-types/promise.ts';
import {
  addressReading,
  choiceReading,
  numberReading,
  textReading,
} from '../../behaviour/domain-types/reading.ts';
import { entry, fieldEntry, secretFieldEntry, type StepDraft } from '../../behaviour/domain-types/step.ts';
import { titleAt } from '../../plan/places.ts';
import { formatPrefix } from '../../base/net/prefix.ts';
import { expectedSignal, roomName } from '../../behaviour/wifi/coverage.ts';
import { radarWaitWorked } from '../../base/worked/wifi.ts';
import { figure } from '../../base/worked/worked.ts';

/** Wi-Fi: names by cable, channels on the first box before the others, guests in the order of what they need, and proof. */
export function wifiSteps(site: Site): StepDraft[] {
  const { networks, radios, rooms } = site.wifi;
  const own = inOrder(site, radios);
  return [
    ...networks.map((network) => nameStep(network)),
    ...networks
      .filter(({ terms, sessionMinutes, until }) => terms || sessionMinutes !== null || until.trim() !== '')
      .map(termsStep),
    ...own.map((radio, index) => radioStep(site, radio, own[index - 1])),
    ...(radios.length === 0 ? [] : [scanStep(radios)]),
    ...rooms.filter(({ wantedMbps }) => wantedMbps !== null).map((room) => roomStep(site, room)),
  ];
}

/** The router's own radios first, then access points, then what is bound to another box's channel. */
function inOrder(site: Site, radios: readonly WifiRadio[]): WifiRadio[] {
  const rank = ({ box }: WifiRadio): number => {
    const second = site.second.find((each) => each.box !== undefined && each.box === box);
    return box === site.router.kit ? 0 : second?.way === 'bridge' ? 3 : second ? 2 : 1;
  };
  return [...radios].sort((a, b) => rank(a) - rank(b));
}

function nameStep(wifi: WifiNetwork): StepDraft {
  const { at, id, ssid, network, security, secret, isolation, hidden, wps } = wifi;
  const name = ssid || 'the Wi-Fi network without a name';
  return {
    id: `wifi:${id}`,
    nature: onPage,
    phase: 'inside',
    title: `Make the Wi-Fi network ${name}, with the laptop on a cable`,
    needs: ['reconnect', ...(network ? [`network:${network.id}`, `pool:${network.id}`] : [])],
    entries: [
      fieldEntry(`${at}/ssid`, ssid || 'not chosen yet'),
      fieldEntry(
        `${at}/network`,
        network
          ? `${network.name}${network.vlan === null ? ', untagged' : `, VLAN ${network.vlan}`}`
          : 'not chosen yet',
      ),
      fieldEntry(`${at}/security`, titleAt(`${at}/security`, security), ['WPA2-PSK', 'SAE', 'AES']),
      ...(security === 'open' ? [] : [secretFieldEntry(`${at}/secret`, secret, 'not in the vault yet')]),
      fieldEntry(`${at}/isolation`, isolation ? 'on' : 'off'),
      fieldEntry(`${at}/hidden`, hidden ? 'yes' : 'no'),
      fieldEntry(`${at}/wps`, wps ? 'on' : 'off'),
    ],
    why: 'A change of security or key ends every wireless session in the moment it is saved, that of the laptop too. By cable it stays.',
    lowSeconds: 120,
    highSeconds: 300,
    proof: `A telephone that joins ${name} gets an address of ${network?.prefix ? formatPrefix(network.prefix) : 'its network'}.`,
    ifNot:
      'It asks for the key again and again: forget the network on the telephone first. No address: the VLAN of the access point.',
    fields: [
      addressReading(
        'address',
        'Address of the telephone',
        network?.prefix && {
          within: {
            prefixes: [formatPrefix(network.prefix)],
            says: `It is not on ${network.name}: the name leads to another VLAN.`,
          },
        },
      ),
    ],
  };
}

/** Guests accept a page: what it rests on comes first. */
function termsStep(wifi: WifiNetwork): StepDraft {
  const { at, id, ssid, network, terms, sessionMinutes, until } = wifi;
  return {
    id: `terms:${id}`,
    nature: onPage,
    phase: 'rules',
    title: `Set limits and terms of ${ssid || 'the guests'}`,
    needs: [`wifi:${id}`, 'reach', 'shares'],
    entries: [
      entry(
        'Before',
        `${network?.name ?? 'its network'} is apart, its pool is large enough, names resolve`,
        ['Guest network'],
        network ? `${network.at}/purpose` : at,
      ),
      ...(sessionMinutes === null ? [] : [fieldEntry(`${at}/sessionMinutes`, `${sessionMinutes} min`)]),
      ...(until.trim() === '' ? [] : [fieldEntry(`${at}/until`, until.trim())]),
      fieldEntry(`${at}/terms`, terms ? 'on, with the text that the owner gave' : 'off'),
    ],
    why: 'The page opens only where guests already have an address and a DNS server and may reach nothing else; limits come before it, or the first guest takes the line.',
    lowSeconds: 120,
    highSeconds: 600,
    proof: terms
      ? 'A telephone that joins shows the page; before it is accepted no other page opens, afterwards one does.'
      : 'The limit is listed, and the last day.',
    ifNot:
      'No page: open one that begins with http, not https; a page that is encrypted cannot be turned to another.',
    cautions: [
      'What may be logged about guests, for how long, and what has to be told to them is a matter of local law: ask the owner, who asks a lawyer.',
    ],
  };
}

/** At the access point or the page of the router; on a channel with radar it listens before it sends. */
function atRadio(site: Site, radio: WifiRadio): StepNature {
  const listens =
    radio.band === '5' && radio.channel !== null && radarWaitWorked(radio.channel, radio.width).value;
  const second = site.second.find(({ box }) => box !== undefined && box === radio.box);
  const own = second
    ? atSecond(second)
    : radio.box === site.router.kit
      ? onPage
      : { place: `access point:${radio.box?.id ?? ''}` };
  return { ...own, waitShare: listens ? 0.8 : 0 };
}

function radioStep(site: Site, radio: WifiRadio, before: WifiRadio | undefined): StepDraft {
  const { at, id, name, band, channel, width, power, modes, box, networks } = radio;
  const second = site.second.find((each) => each.box !== undefined && each.box === box);
  const wait = band === '5' && channel !== null ? radarWaitWorked(channel, width).value : 0;
  return {
    id: `radio:${id}`,
    nature: atRadio(site, radio),
    phase: 'inside',
    title: `Set the channel of ${name}`,
    needs: [
      'reconnect',
      ...networks.map((each) => `wifi:${each.id}`),
      ...(second ? [`second-address:${second.id}`] : []),
      ...(before ? [`radio:${before.id}`] : []),
    ],
    entries: [
      fieldEntry(`${at}/channel`, channel === null ? 'automatic' : String(channel)),
      fieldEntry(`${at}/width`, `${width} MHz`),
      ...(power === null ? [] : [fieldEntry(`${at}/power`, `${power} dBm`)]),
      ...(modes === 'any' ? [] : [fieldEntry(`${at}/modes`, titleAt(`${at}/modes`, modes))]),
      ...(networks.length === 0
        ? []
        : [fieldEntry(`${at}/networks`, networks.map(({ ssid }) => ssid).join(', '))]),
      entry('Country', 'that of the site', ['Regulatory domain', 'Region'], '/site/country'),
    ],
    why: 'The first box first: others that follow its channel would otherwise be set twice.',
    lowSeconds: 30 + wait,
    highSeconds: 120 + wait,
    proof: `Its status shows the channel${wait > 0 ? `, after ${wait / 60} min of listening for radar` : ''}.`,
    ifNot:
      wait > 0
        ? 'Another channel: it heard a radar and stays away for half an hour. Choose one that needs no listening.'
        : 'Another channel: the country is not set, or the box chooses automatically.',
    cautions: ['Channels and power are set by law: ask your regulator, and set the country as it is.'],
  };
}

const scanStep = (radios: readonly WifiRadio[]): StepDraft => ({
  id: 'wifi-scan',
  nature: inRooms,
  phase: 'proof',
  title: 'Scan once more, where people sit',
  needs: ['save', ...radios.map(({ id }) => `radio:${id}`)],
  entries: radios.map((radio) =>
    entry(
      radio.name,
      radio.channel === null ? 'a channel that it chose' : `channel ${radio.channel}`,
      ['Scan', 'Site survey'],
      radio.at,
    ),
  ),
  why: 'Boxes choose another channel by themselves, and neighbours moved since the survey.',
  lowSeconds: 60,
  highSeconds: 240,
  proof: 'Each own radio is seen on its channel, and nothing old of the former router sends any more.',
  ifNot: 'Another channel: automatic choice is still on. The old name: the old router is still switched on.',
  fields: [
    choiceReading('channels', 'Own radios', 'on their channels', 'on others'),
    textReading('heard', 'Others that are strong, with channel', { optional: true }),
  ],
});

function roomStep(site: Site, room: Site['wifi']['rooms'][number]): StepDraft {
  const { at, id, wifi, radio, wantedMbps } = room;
  const expected = expectedSignal(room);
  return {
    id: `room:${id}`,
    nature: (all) => ({ ...inRooms, uses: allOf(all) }),
    phase: 'proof',
    title: `Measure Wi-Fi in ${roomName(room)}`,
    needs: [
      'save',
      ...site.lines.map((line) => `uplink:${line.id}`),
      ...(wifi ? [`wifi:${wifi.id}`] : []),
      ...(radio ? [`radio:${radio.id}`] : []),
    ],
    entries: [
      fieldEntry(`${at}/wantedMbps`, `${wantedMbps} Mb/s`),
      ...(wifi ? [fieldEntry(`${at}/wifi`, wifi.ssid)] : []),
      ...(expected
        ? [
            entry(
              'Signal to expect',
              `${figure(expected.low, 0)} to ${figure(expected.high, 0)} dBm`,
              ['RSSI', 'Signal strength'],
              `${at}/metres`,
            ),
          ]
        : []),
    ],
    why: 'Walls are known only when they are measured. Three runs where people sit, with the door as it is usually.',
    lowSeconds: 120,
    highSeconds: 360,
    proof: `Each of three runs gives ${wantedMbps} Mb/s or more.`,
    ifNot:
      'Weak signal: another access point. Strong signal and slow: the channel is busy; scan at that hour.',
    fields: [
      numberReading('signal', 'Signal where people sit', 'dBm', {
        limits: { least: -120, most: 0, says: 'A signal is below zero, and above -120 dBm.' },
      }),
      ...[1, 2, 3].map((run) =>
        numberReading(`run${run}`, `Run ${run}, download by air`, 'Mb/s', {
          limits: { least: wantedMbps!, says: `${wantedMbps} Mb/s was promised here.` },
        }),
      ),
    ],
    evidence: [{ promise: wifiPromiseId(room), rung: 'rate' }],
  };
}
