import * as z from 'zod';
import { parseAddress } from '../../base/net/address.ts';
import { parsePorts } from '../../base/net/ports.ts';
import { parsePrefix } from '../../base/net/prefix.ts';
import { practice } from '../../base/worked/worked.ts';
import {
  choice,
  choices,
  cosmetic,
  id,
  number,
  onSheet,
  rate,
  repeated,
  rows,
  short,
  switching,
  text,
  typed,
  usualNumber,
  usually,
  whole,
  yesNo,
} from '../field.ts';
import { lineFailures, watchSettings } from './failover.ts';
import { vlanBounds } from './inside.ts';
import { mediaSettings, mediumTitles } from './media.ts';
import { bothProtocols, protocol } from './site.ts';
import { wanTypeSettings, wanTypeTitles } from './wan-types.ts';

/** What a provider's paperwork may hold. */
export const paperTitles = {
  user: 'a user name',
  block: 'an address with a mask',
  apn: 'an APN',
  vlan: 'a VLAN ID',
  translator: 'IPv4 over IPv6 (DS-Lite)',
  server: 'a server to dial',
} as const;

export const handoffTitles = {
  none: 'nothing: the line ends at the router',
  bridged: 'a bridged modem or router',
  routes: 'a router of its own (double NAT)',
} as const;

export const boxForwardSchema = z.strictObject({
  id,
  protocol,
  ports: typed('Port', 'A port that the device forwards to the router.', parsePorts, {
    needed: true,
    alsoCalled: ['External port', 'Service port'],
  }),
});

const routes = (handoff: Readonly<Record<string, unknown>>): boolean => handoff.mode === 'routes';

const handoff = z.strictObject({
  mode: choice(
    'In front of the router',
    'The device between the line and the router.',
    handoffTitles,
    'none',
    {
      alsoCalled: ['Modem', 'Provider router', 'Bridge mode'],
    },
  ),
  name: cosmetic(text('Name of the device', 'As people here call it.')),
  insidePrefix: typed('Subnet behind the device', 'Subnet between the device and the router.', parsePrefix, {
    needed: routes,
    example: '192.168.8.0/24',
    alsoCalled: ['LAN of the provider router'],
  }),
  insideAddress: typed('Inside address of the device', "The device's own address there.", parseAddress, {
    emptyMeans: 'the first address',
    example: '192.168.8.1',
    alsoCalled: ['Gateway'],
  }),
  outsideAddress: typed(
    'Outside address of the device',
    'The WAN address on its own status page.',
    parseAddress,
    {
      alsoCalled: ['WAN IP of the modem'],
    },
  ),
  forwards: rows(
    'Forwards of the device',
    'Ports that the device forwards to the router.',
    boxForwardSchema,
    200,
  ),
  bothProtocols,
  canBridge: cosmetic(
    choice(
      'Can be bridged',
      'Whether its owner can and will bridge it.',
      { unknown: 'not asked yet', yes: 'yes', no: 'no' },
      'unknown',
      { alsoCalled: ['Bridge mode', 'Modem only', 'Passthrough'] },
    ),
  ),
});

const answerSchema = cosmetic(
  z.strictObject({
    id: short('Question', 'Which question of the call sheet.'),
    answer: text('Answer', 'What the provider said.'),
    who: text('Who', 'Who said it.'),
    when: short('When', 'Day of the call.'),
  }),
);

export const rateRunSchema = cosmetic(
  z.strictObject({
    id,
    direction: choice('Direction', 'Seen from the site.', { down: 'down', up: 'up' }, 'down'),
    mbps: number('Measured rate', 'As the throughput test says.', {
      unit: 'Mb/s',
      seldomOutside: [0.1, 100000],
      most: 400_000,
    }),
    wired: yesNo('By cable', 'Measured by cable, not over Wi-Fi.', true, { on: 'cable', off: 'Wi-Fi' }),
    hour: whole('Hour', 'Hour of the day, local time.', { most: 23 }),
  }),
);

export const uplinkSchema = z.strictObject({
  id,
  name: cosmetic(
    text('Name', 'Its name in findings and on the record: Fibre, Backup.', {
      alsoCalled: ['WAN', 'Interface name'],
    }),
  ),
  medium: choice('Medium', 'What the line is made of.', mediumTitles, 'unknown', {
    alsoCalled: ['Access technology'],
  }),
  media: mediaSettings,
  papers: cosmetic(choices('Paperwork', "What the provider's paperwork has.", paperTitles)),
  activation: cosmetic(
    choice(
      'Activated',
      'Whether the provider has switched the line on.',
      { unknown: 'not asked yet', 'not-yet': 'not yet', active: 'yes' },
      'unknown',
    ),
  ),
  answers: z
    .array(answerSchema)
    .max(50)
    .default([])
    .describe('What the provider answered to the call sheet.'),
  vlan: whole('VLAN ID', 'IEEE 802.1Q tag of the data on the line.', {
    ...vlanBounds,
    alsoCalled: ['Internet VLAN', '802.1Q tag', 'Tag'],
  }),
  vlanPriority: whole('VLAN priority', 'Priority code point (IEEE 802.1Q), 0 to 7.', {
    most: 7,
    emptyMeans: 'not set',
    alsoCalled: ['802.1p', 'PCP', 'CoS'],
  }),
  type: choice('WAN type', 'How the router gets its address on the line.', wanTypeTitles, 'dhcp', {
    alsoCalled: ['Connection type', 'Internet mode', 'Protocol'],
  }),
  settings: wanTypeSettings,
  handoff: handoff.prefault({}),
  sourceNat: yesNo('Source NAT', "Inside sources leave with the uplink's address (RFC 3022).", true, {
    on: 'on',
    off: 'off',
    alsoCalled: ['NAT', 'Masquerade', 'Share this connection'],
  }),
  mtuBytes: whole('MTU', 'Largest packet the line carries.', {
    unit: 'bytes',
    least: 576,
    most: 9216,
    emptyMeans: 'what the WAN type carries',
    alsoCalled: ['Largest packet', 'Maximum transmission unit'],
  }),
  rateDownMbps: cosmetic(
    number('Contract rate, download', 'As the contract says.', {
      unit: 'Mb/s',
      seldomOutside: [1, 100000],
      most: 400_000,
      alsoCalled: ['Download'],
    }),
  ),
  rateUpMbps: cosmetic(
    number('Contract rate, upload', 'As the contract says.', {
      unit: 'Mb/s',
      seldomOutside: [0.25, 100000],
      most: 400_000,
      alsoCalled: ['Upload'],
    }),
  ),
  shapeDownMbps: rate(
    number('Shaped rate, download', 'What the router lets in, a little under the measured rate.', {
      unit: 'Mb/s',
      seldomOutside: [0.5, 100000],
      most: 400_000,
      emptyMeans: 'not shaped',
      alsoCalled: ['QoS bandwidth', 'Smart queue', 'Traffic shaping'],
    }),
  ),
  shapeUpMbps: rate(
    number('Shaped rate, upload', 'What the router sends, a little under the measured rate.', {
      unit: 'Mb/s',
      seldomOutside: [0.2, 100000],
      most: 400_000,
      emptyMeans: 'not shaped',
      alsoCalled: ['QoS bandwidth', 'Smart queue', 'Traffic shaping'],
    }),
  ),
  runs: repeated(rows('Measured rates', 'Runs of a throughput test.', rateRunSchema, 500)),
  label: onSheet(
    'failover',
    cosmetic(
      short('Cable label', 'Written on the plug and the device, so that the right one is pulled.', {
        mono: false,
        tellsApart: true,
        emptyMeans: 'no label yet',
      }),
    ),
  ),
  standby: onSheet(
    'failover',
    switching(
      choice(
        'Standby',
        'As a backup: kept connected, or dialled when it is needed.',
        { up: 'kept up', dialled: 'dialled when needed' },
        'up',
        { alsoCalled: ['Hot standby', 'Cold standby', 'On demand'] },
      ),
    ),
  ),
  weight: onSheet(
    'failover',
    switching(
      usualNumber('Weight', 'Share of new sessions where lines share the load.', {
        most: 1000,
        usual: usually(1, practice),
        alsoCalled: ['Load balancing', 'Ratio'],
      }),
    ),
  ),
  watch: onSheet('failover', switching(watchSettings.prefault({}))),
  failures: onSheet('failover', cosmetic(lineFailures.prefault({}))),
  notes: cosmetic(text('Notes', 'Anything worth knowing about this line.')),
});
