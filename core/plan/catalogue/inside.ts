import * as z from 'zod';
import { parseAddress } from '../../base/net/address.ts';
import { parseSource } from '../../base/net/identifiers.ts';
import { parseMac } from '../../base/net/mac.ts';
import { parsePorts } from '../../base/net/ports.ts';
import { parsePrefix } from '../../base/net/prefix.ts';
import {
  choice,
  cosmetic,
  day,
  id,
  number,
  onSheet,
  rate,
  refersTo,
  rows,
  short,
  text,
  typed,
  typedList,
  usualNumber,
  usually,
  whole,
  yesNo,
} from '../field.ts';
import { practice } from '../../base/worked/worked.ts';
import { protocol, serviceSchema } from './site.ts';

const rateLimit = (term: string, says: string) =>
  number(term, says, {
    unit: 'Mb/s',
    seldomOutside: [0.05, 100_000],
    most: 400_000,
    emptyMeans: 'no limit',
    alsoCalled: ['Bandwidth limit', 'Traffic shaping', 'Rate limit'],
  });

export const vlanBounds = { least: 1, most: 4094, emptyMeans: 'untagged' } as const;

export const purposeTitles = {
  staff: 'staff',
  guests: 'guests',
  payment: 'payment',
  plant: 'plant and machines',
  cameras: 'cameras',
  voice: 'telephones',
  management: 'management',
  other: 'other',
} as const;

/** How much of it passes: what a network may begin, and what may be begun with it. */
export const levelTitles = {
  usual: 'as for its purpose',
  nothing: 'nothing',
  named: 'single devices only',
  everything: 'everything',
} as const;
const level = (term: string, says: string) => choice(term, says, levelTitles, 'usual');

/** What a network is for, where its owner sees it otherwise than its purpose does. */
const expectationSchema = cosmetic(
  z
    .strictObject({
      fromInternet: level('Expected from the internet', 'What the internet may begin with this network.'),
      fromNetworks: level(
        'Expected from other networks',
        'What other networks here may begin with this one.',
      ),
      fromRemoteUsers: level('Expected from remote users', 'What remote users may begin with this network.'),
      fromSites: level('Expected from connected sites', 'What connected sites may begin with this network.'),
      toNetworks: level(
        'Expected to other networks',
        'What this network may begin with other networks here.',
      ),
      toInternet: choice(
        'Expected to the internet',
        'What this network may begin on the internet.',
        { ...levelTitles, named: 'named addresses only' },
        'usual',
      ),
      toSites: level('Expected to connected sites', 'What this network may begin with connected sites.'),
      manages: choice(
        'Expected to manage',
        'Whether the pages of the router and of the equipment in front open from here.',
        { usual: 'as for its purpose', no: 'no', yes: 'yes' },
        'usual',
      ),
    })
    .prefault({}),
);

export const networkSchema = z.strictObject({
  id,
  name: cosmetic(
    text('Name', 'As people here call it: Office, Guests.', { alsoCalled: ['SSID', 'Interface name'] }),
  ),
  purpose: cosmetic(
    choice('Purpose', 'Who or what uses it: the checks judge it by that.', purposeTitles, 'other'),
  ),
  vlan: whole('VLAN ID', 'IEEE 802.1Q, 1 to 4094.', {
    ...vlanBounds,
    alsoCalled: ['VLAN', 'Tag', '802.1Q'],
  }),
  prefix: typed('Subnet', 'Address and prefix length of the network.', parsePrefix, {
    needed: true,
    example: '10.24.10.0/24',
    alsoCalled: ['LAN subnet', 'IP range', 'Network address'],
  }),
  routerAddress: typed("Router's address", "The router's address in this subnet.", parseAddress, {
    needed: true,
    alsoCalled: ['LAN IP', 'Gateway IP', 'Interface address'],
  }),
  dhcp: z
    .strictObject({
      enabled: yesNo('DHCP server', 'The router gives addresses in this network.', true, {
        on: 'on',
        off: 'off',
        alsoCalled: ['DHCP mode'],
      }),
      from: typed('DHCP pool, first address', 'First address that is given out.', parseAddress, {
        needed: (dhcp) => dhcp.enabled === true,
        alsoCalled: ['Start address', 'Range start'],
      }),
      to: typed('DHCP pool, last address', 'Last address that is given out.', parseAddress, {
        needed: (dhcp) => dhcp.enabled === true,
        alsoCalled: ['End address', 'Range end'],
      }),
      leaseMinutes: cosmetic(
        usualNumber('Lease time', 'How long a device may keep an address.', {
          unit: 'min',
          seldomOutside: [5, 43200],
          least: 1,
          most: 525_600,
          usual: usually(1440, practice),
          alsoCalled: ['Lease duration', 'Max lease'],
        }),
      ),
    })
    .prefault({}),
  resolvers: typedList('DNS servers', 'Handed out with the address; separated by commas.', parseAddress, 8, {
    emptyMeans: 'none',
    alsoCalled: ['DNS server', 'Name server', 'Primary DNS'],
  }),
  expectedDevices: cosmetic(
    whole('Expected devices', 'As many as are there at once on a full day.', {
      most: 1_000_000,
    }),
  ),
  stayMinutes: cosmetic(
    number('Length of stay', 'How long a device stays, as a rule.', {
      unit: 'min',
      seldomOutside: [5, 525600],
      least: 1,
      most: 525_600,
      emptyMeans: 'longer than a lease; guests two hours',
      alsoCalled: ['Dwell time', 'Visit'],
    }),
  ),
  limitDownMbps: rate(
    rateLimit('Rate limit, download', 'What the whole network may take of the lines, download.'),
  ),
  limitUpMbps: rate(rateLimit('Rate limit, upload', 'What the whole network may take of the lines, upload.')),
  expects: onSheet('rules', expectationSchema),
});

export const addressingTitles = {
  automatic: 'dynamic (DHCP)',
  reserved: 'reserved (DHCP)',
  fixed: 'set on the device',
} as const;

export const deviceSchema = z.strictObject({
  id,
  name: cosmetic(text('Name', 'As people here call it.', { alsoCalled: ['Host name'] })),
  mac: typed('MAC address', 'As on its label: a reservation needs it.', parseMac, {
    needed: (device) => device.addressing === 'reserved',
    alsoCalled: ['Ethernet address', 'Hardware address', 'Physical address'],
  }),
  network: refersTo('/networks', 'Network', 'The network it is in.'),
  addressing: choice('Addressing', 'How the device gets its address.', addressingTitles, 'automatic', {
    alsoCalled: ['Address reservation', 'Static lease', 'DHCP binding'],
  }),
  address: typed('Address', 'The address that stays with the device.', parseAddress, {
    needed: (device) => device.addressing !== 'automatic',
    alsoCalled: ['IP address', 'Reserved IP'],
  }),
  services: rows('Services', 'What answers on the device.', serviceSchema, 50),
  notes: cosmetic(text('Notes', 'Anything worth knowing about this device.')),
});

export const forwardSchema = z.strictObject({
  id,
  purpose: cosmetic(
    text('What for', 'What the forward is for, in a few words.', {
      alsoCalled: ['Description', 'Rule name'],
    }),
  ),
  uplink: refersTo('/uplinks', 'Uplink', 'The line on which the packets arrive.', {
    alsoCalled: ['WAN interface', 'Incoming interface'],
  }),
  device: refersTo('/devices', 'Device', 'The device to which it is forwarded.', {
    alsoCalled: ['Internal IP', 'Server IP', 'Target'],
  }),
  service: refersTo('/devices/*/services', 'Service', 'The service of the device.', {
    emptyMeans: 'typed here',
  }),
  protocol,
  insidePorts: typed('Inside port', 'Port on the device.', parsePorts, {
    needed: (forward) => forward.service === '',
    alsoCalled: ['Internal port', 'Local port', 'Private port'],
  }),
  outsidePorts: typed('Outside port', 'Port at which it is reached from outside.', parsePorts, {
    emptyMeans: 'the same as inside',
    alsoCalled: ['External port', 'WAN port', 'Public port', 'Service port'],
  }),
  sources: typedList(
    'Allowed sources',
    'Outside addresses or prefixes that may use it, separated by commas.',
    parseSource,
    100,
    { emptyMeans: 'everybody', alsoCalled: ['Source IP', 'Remote address', 'Allowed IPs'] },
  ),
  until: cosmetic(day('Open until', 'Last day on which it is needed', 'until', { emptyMeans: 'no end' })),
  acceptedBy: cosmetic(text('Accepted by', 'Who wanted it open: a name.')),
});

export const actionTitles = { allow: 'allow', refuse: 'refuse' } as const;
export const destinationTitles = {
  network: 'a network here',
  internet: 'the internet',
  equipment: 'equipment in front',
} as const;
export const ruleProtocolTitles = {
  any: 'all',
  tcp: 'tcp',
  udp: 'udp',
  both: 'tcp, udp',
  icmp: 'ping (ICMP)',
} as const;

export const reachSchema = z.strictObject({
  id,
  action: choice(
    'Action',
    'What happens to these packets: the first row that fits decides.',
    actionTitles,
    'allow',
    {
      alsoCalled: ['Policy', 'Verdict', 'Target'],
    },
  ),
  from: refersTo('/networks', 'From', 'The network that begins a connection.', {
    alsoCalled: ['Source', 'Source zone'],
  }),
  destination: choice('Destination', 'Where the packets go.', destinationTitles, 'network', {
    alsoCalled: ['Destination zone', 'Outgoing interface'],
  }),
  to: refersTo('/networks', 'To', 'The network that it may reach.'),
  device: refersTo('/devices', 'Device', 'Only this device.', { emptyMeans: 'the whole network' }),
  service: refersTo('/devices/*/services', 'Service', 'Only this service of the device.', {
    emptyMeans: 'all services',
  }),
  prefixes: typedList(
    'Far addresses',
    'Only these addresses or prefixes of the internet, separated by commas.',
    parseSource,
    100,
    { emptyMeans: 'all', alsoCalled: ['Destination address'] },
  ),
  protocol: choice('Protocol', 'Only this protocol.', ruleProtocolTitles, 'any'),
  ports: typed('Destination port', 'Only this port or range.', parsePorts, {
    emptyMeans: 'all',
    example: '443',
    alsoCalled: ['Service port', 'Port'],
  }),
  limitMbps: rate(rateLimit('Rate limit', 'What all packets of this rule together may take.')),
});

/** Somebody looked at what a network is not for, and lets it be until a day. */
export const exceptionSchema = cosmetic(
  z.strictObject({
    id,
    from: short(
      'From',
      'Who begins: "internet", or the id of a network, a group of remote users or a connected site.',
    ),
    to: short(
      'To',
      'What is reached: "router", "internet", "equipment", or the id of a network or a connected site.',
    ),
    acceptedBy: text('Accepted by', 'Who decided it: a name.'),
    reason: text('Reason', 'Why it is needed.'),
    until: day('Until', 'Last day on which it is accepted', 'until', { emptyMeans: 'not accepted yet' }),
  }),
);

export const routeSchema = z.strictObject({
  id,
  prefix: typed('Destination prefix', 'Addresses that are sent this way.', parsePrefix, {
    needed: true,
    alsoCalled: ['Destination', 'Target network'],
  }),
  via: typed('Next hop', 'Address of the router that has them.', parseAddress, {
    needed: true,
    alsoCalled: ['Gateway', 'Via'],
  }),
  notes: cosmetic(text('Notes', 'Why the route is there.')),
});
