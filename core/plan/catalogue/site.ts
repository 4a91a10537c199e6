import * as z from 'zod';
import { parseAddress } from '../../base/net/address.ts';
import { parseClock } from '../../base/days.ts';
import {
  parseMail,
  parsePage,
  parseSerial,
  parseServer,
  parseTelephone,
} from '../../base/net/identifiers.ts';
import { parseMac } from '../../base/net/mac.ts';
import { parsePorts } from '../../base/net/ports.ts';
import { parseInterface } from '../../base/net/prefix.ts';
import { boxWiring } from './wiring.ts';
import {
  choice,
  cosmetic,
  formed,
  id,
  notes,
  number,
  onSheet,
  rate,
  refersTo,
  rows,
  short,
  switching,
  text,
  typed,
  whole,
  yesNo,
} from '../field.ts';

export const protocolTitles = { tcp: 'tcp', udp: 'udp', both: 'tcp, udp' } as const;
export const protocol = choice(
  'Protocol',
  'The transport protocol: TCP, UDP or both.',
  protocolTitles,
  'tcp',
  { alsoCalled: ['Type', 'Service type'] },
);

export const siteSchema = cosmetic(
  z
    .strictObject({
      name: text('Site name', 'The name under which this site is found again.'),
      customer: text('Customer', 'Who ordered the work. Sites of one customer can be connected.'),
      street: text('Street', 'Street and number.'),
      town: text('Town', 'Town or village.'),
      postcode: short('Postcode', 'As it stands on a letter.'),
      country: text('Country', 'Two letters (ISO 3166-1 alpha-2). Radio rules depend on it.', { longest: 2 }),
      timeZone: switching(
        short('Time zone', 'IANA name, such as Europe/Lisbon. Times in the record are in it.'),
      ),
      rented: yesNo('Rented', 'The owner of the building has to agree to fixed work.', false),
      noDrilling: yesNo('No drilling', 'Cables go where holes are already.', false),
      cupboardCelsius: number('Cupboard temperature', 'Air inside the cupboard on its warmest day.', {
        unit: '°C',
        seldomOutside: [5, 60],
        least: -50,
        most: 100,
      }),
      notes: notes('Notes', 'Anything the next person should know before driving out.'),
    })
    .prefault({}),
);

export const contactSchema = cosmetic(
  z.strictObject({
    id,
    name: text('Name', 'First and last name.', {
      tellsApart: true,
      lacking: 'nobody knows whom to ask for.',
    }),
    role: text('Role', 'What the person decides or opens: owner, caretaker, office.'),
    phone: formed('Telephone', 'With the country code.', parseTelephone, { mono: true }),
    email: formed('E-mail', 'Address for letters and reports.', parseMail, { longest: 200, mono: false }),
  }),
);

export const kitTitles = {
  router: 'router',
  modem: 'modem',
  ont: 'optical network terminal (ONT)',
  switch: 'switch',
  'access-point': 'access point',
  power: 'power supply, battery',
  other: 'other',
} as const;

export const lightTitles = {
  off: 'no power, or not started',
  starting: 'starting',
  line: 'the line: light, sync or signal',
  session: 'address or session',
  ready: 'everything works',
  fault: 'a fault',
} as const;

/** What a light of a box says. */
export const lightSchema = z.strictObject({
  id,
  light: text('Light', 'What is printed beside it: Power, LOS, DSL, Internet.'),
  shows: text('Shows', 'Colour and rhythm: green, slow blink; red; dark.'),
  stage: choice('Stage', 'What it means, as the manual says.', lightTitles, 'starting'),
  tryThis: text('What to try', 'If it stays like this.'),
});

/** A word of a box's pages beside the term that is used here. */
export const wordSchema = z.strictObject({
  id,
  term: text('Term', 'As it is called here: MTU, Source NAT.'),
  menu: text('Its pages call it', 'The word, and the page on which it stands.'),
});

/** What is known of a model, from its manual or from earlier jobs. */
const modelCard = cosmetic(
  z.strictObject({
    login: text('First login', 'User name, and where the first password stands. Never the password itself.', {
      alsoCalled: ['Default credentials', 'Default login'],
    }),
    holdSeconds: number('Reset hold time', 'How long the button is held for the new state.', {
      unit: 's',
      seldomOutside: [1, 60],
      most: 120,
      alsoCalled: ['Factory reset', 'Reset button'],
    }),
    startSeconds: number('Start time', 'From power on until its page opens.', {
      unit: 's',
      seldomOutside: [3, 900],
      most: 3600,
    }),
    source: text('Source', 'Manual with its edition, label, or own jobs.'),
    lights: rows('Lights', 'What each light says.', lightSchema, 40),
    words: rows('Words of its pages', 'What its pages call the terms used here.', wordSchema, 100),
  }),
);

export const jobTitles = {
  new: 'new site',
  replacement: 'replacement of a router',
  change: 'change of settings',
  second: 'second visit: what is open',
  swap: 'swap of a dead box',
} as const;

export const visitSchema = cosmetic(
  z
    .strictObject({
      kind: choice('Kind of job', 'Decides which steps there are.', jobTitles, 'new'),
      begins: formed('Begins', 'Time of day, such as 09:00.', parseClock),
      ends: formed('Must be over by', 'Time of day that was agreed with the people on site.', parseClock),
      outsideUrl: formed(
        'Page that shows the outside address',
        'A page of your own on the internet that answers with the address it was asked from. Scripts ask it.',
        parsePage,
        { mono: true, longest: 200, example: 'https://far-end.example/address' },
      ),
      throughputHost: formed(
        'Throughput tester',
        'A host of your own on the internet at which a throughput tester listens. Without it no rate is measured.',
        parseServer,
        { mono: true, longest: 200, example: 'far-end.example' },
      ),
      oldRouter: text('Router until now', 'Name or model of what is replaced.'),
      oldAddress: typed('Its address', 'Address at which the pages of the old router open.', parseAddress, {
        alsoCalled: ['Default gateway'],
      }),
    })
    .prefault({}),
);

export const kitSchema = z.strictObject({
  id,
  role: choice('Role', 'What the device is for.', kitTitles, 'other'),
  model: text('Model', 'As printed on the label.', { alsoCalled: ['Type', 'Product'] }),
  serial: formed('Serial number', 'As printed on the label.', parseSerial, { alsoCalled: ['S/N'] }),
  mac: formed('MAC address', 'As printed on the label.', parseMac, {
    alsoCalled: ['Ethernet address', 'WAN MAC', 'Hardware address'],
  }),
  adminAddress: cosmetic(
    formed('Admin address', 'Address at which its settings open, as found.', parseAddress, {
      alsoCalled: ['Management IP', 'Login address'],
    }),
  ),
  needVolts: cosmetic(
    number('Input voltage', 'What the label of the box asks for.', {
      unit: 'V',
      seldomOutside: [3, 400],
      most: 1000,
    }),
  ),
  needAmps: cosmetic(
    number('Input current', 'What the label of the box asks for.', {
      unit: 'A',
      seldomOutside: [0.05, 20],
      most: 100,
    }),
  ),
  needPlug: cosmetic(
    short('Power connector', 'Of the box, such as 5.5/2.1, plus inside.', {
      alsoCalled: ['Barrel jack', 'DC jack', 'Polarity'],
    }),
  ),
  powerPlug: cosmetic(
    short('Connector of the supply', 'Of the power supply that is there, in the same words.'),
  ),
  warmestCelsius: cosmetic(
    number('Warmest surroundings', 'Largest ambient temperature on its data sheet.', {
      unit: '°C',
      seldomOutside: [20, 85],
      least: -50,
      most: 100,
      emptyMeans: '40 °C',
      alsoCalled: ['Operating temperature'],
    }),
  ),
  wattHours: cosmetic(
    number('Battery', 'Energy of the battery, where it is one.', {
      unit: 'Wh',
      seldomOutside: [2, 20000],
      most: 1_000_000,
      alsoCalled: ['UPS', 'Capacity'],
    }),
  ),
  powerVolts: cosmetic(
    number('Supply voltage', 'Output of its power supply.', {
      unit: 'V',
      seldomOutside: [3, 400],
      most: 1000,
    }),
  ),
  powerAmps: cosmetic(
    number('Supply current', 'Output of its power supply.', {
      unit: 'A',
      seldomOutside: [0.05, 20],
      most: 100,
      alsoCalled: ['Output'],
    }),
  ),
  firmware: short('Firmware', 'Version that runs now.', {
    longest: 200,
    alsoCalled: ['Software', 'System version'],
  }),
  ...boxWiring,
  card: modelCard.prefault({}),
  notes: cosmetic(text('Notes', 'Anything worth knowing about this device.')),
});

export const serviceSchema = z.strictObject({
  id,
  name: cosmetic(text('Service', 'What answers there, in a word.')),
  protocol,
  ports: typed('Port', 'One port or a range: 8443 or 8000-8010.', parsePorts, {
    needed: true,
    alsoCalled: ['Service port', 'Listen port'],
    example: '8443',
  }),
});

export const answersTitles = {
  usual: 'as usual',
  all: 'all networks',
  managed: 'where managed from',
} as const;

export const routerServiceSchema = z.strictObject({
  ...serviceSchema.shape,
  inside: choice(
    'Answers inside to',
    'Which networks may use it. Usual: names, addresses and time for all; everything else only where the router is managed from.',
    answersTitles,
    'usual',
    { alsoCalled: ['LAN access', 'Allowed interfaces', 'Management access'] },
  ),
  outside: yesNo('Answers on uplinks', 'The service answers to packets that come in on an uplink.', false, {
    alsoCalled: ['Remote management', 'WAN access', 'Access from WAN'],
  }),
});

export const portTitles = { wan: 'WAN: an uplink', lan: 'LAN: inside', off: 'not used' } as const;

const knownTitles = { unknown: 'not looked up yet', yes: 'yes', no: 'no' } as const;
const switchedTitles = { unknown: 'not looked up yet', off: 'off', on: 'on' } as const;

/** Whether one entry of a table takes both transport protocols. */
export const bothProtocols = cosmetic(
  yesNo(
    'One forward for both protocols',
    'One entry takes TCP and UDP. If not, a forward of both needs two entries.',
    true,
  ),
);

const builtTitles = {
  unknown: 'not known',
  either: 'WAN or LAN',
  wan: 'WAN only',
  lan: 'LAN only',
} as const;

export const portSchema = z.strictObject({
  id,
  name: short('Port', 'As printed beside it.', {
    tellsApart: true,
    alsoCalled: ['Socket', 'Interface', 'Jack'],
  }),
  built: cosmetic(
    choice('Can be', 'What the port can be, as its data sheet says.', builtTitles, 'unknown', {
      alsoCalled: ['Configurable port', 'WAN/LAN port', 'Convertible port'],
    }),
  ),
  role: choice('Use', 'What the port is for.', portTitles, 'lan', { alsoCalled: ['Port mode', 'Zone'] }),
  uplink: refersTo('/uplinks', 'Uplink', 'The line that is plugged in, for a WAN port.', {
    emptyMeans: 'none',
  }),
  network: refersTo('/networks', 'Untagged network', 'The network of untagged frames, for a LAN port.', {
    emptyMeans: 'none',
    alsoCalled: ['PVID', 'Native VLAN', 'Access VLAN'],
  }),
  rateMbps: rate(
    number('Port rate', 'Largest rate of the port, as on the data sheet.', {
      unit: 'Mb/s',
      seldomOutside: [10, 100000],
      most: 400_000,
      alsoCalled: ['Link speed', 'Port speed'],
    }),
  ),
});

const upTo = (term: string, says: string, more: { unit?: string; alsoCalled?: readonly string[] } = {}) =>
  whole(term, says, { least: 0, most: 100_000_000, emptyMeans: 'not looked up', ...more });

/** What the router can take at most, from its data sheet. */
const limitsSchema = cosmetic(
  z
    .strictObject({
      vlans: upTo('VLANs at most', 'Inside networks with a tag.'),
      scopes: upTo('DHCP pools at most', 'Networks in which it gives addresses.', {
        alsoCalled: ['DHCP scopes'],
      }),
      tunnels: upTo('Tunnels at most', 'Clients and sites that are connected at once.', {
        alsoCalled: ['VPN sessions', 'Peers'],
      }),
      connections: upTo('Connections at most', 'Size of its table of open flows.', {
        alsoCalled: ['NAT table', 'Concurrent sessions', 'conntrack'],
      }),
      forwards: upTo('Port forwards at most', 'Rows of its table.', { alsoCalled: ['Virtual servers'] }),
      rules: upTo('Rules at most', 'Rows of its firewall.'),
      devices: upTo('Reservations at most', 'Addresses that it keeps for a device.'),
      routedMbps: number('Throughput', 'Without NAT, as on its data sheet.', {
        unit: 'Mb/s',
        seldomOutside: [20, 200000],
        most: 400_000,
        emptyMeans: 'not looked up',
        alsoCalled: ['Routing throughput', 'Forwarding rate'],
      }),
      natMbps: number('Throughput with NAT', 'With address translation and rules.', {
        unit: 'Mb/s',
        seldomOutside: [20, 200000],
        most: 400_000,
        emptyMeans: 'not looked up',
        alsoCalled: ['NAT throughput', 'Firewall throughput'],
      }),
    })
    .prefault({}),
);

export const routerSchema = z
  .strictObject({
    factoryAddress: cosmetic(
      typed(
        'Factory address',
        'Address and prefix length of the router when it is new, from its label or manual.',
        parseInterface,
        { example: '192.168.1.1/24', alsoCalled: ['Default IP', 'Default login'] },
      ),
    ),
    factoryDhcp: cosmetic(
      yesNo('DHCP server when new', 'The new router gives a laptop on it an address.', true, {
        off: 'no, the laptop needs a fixed address',
      }),
    ),
    adminNetwork: refersTo('/networks', 'Managed from', 'The network from which the router is managed.', {
      emptyMeans: 'the first network',
      alsoCalled: ['Management VLAN', 'Admin access'],
    }),
    services: rows(
      'Services of the router',
      'What the router itself answers: its pages, its DNS server, its shell.',
      routerServiceSchema,
      50,
      'service of the router',
    ),
    hairpin: choice(
      'Hairpin NAT',
      'Whether requests from inside to an outside address of the router reach the device that the port is forwarded to (RFC 4787 section 6).',
      knownTitles,
      'unknown',
      { alsoCalled: ['NAT loopback', 'NAT reflection'] },
    ),
    portControl: choice(
      'Ports opened by devices',
      'Whether devices inside may open ports by themselves (UPnP IGD, NAT-PMP, PCP of RFC 6887).',
      switchedTitles,
      'unknown',
      { alsoCalled: ['UPnP', 'NAT-PMP', 'PCP'] },
    ),
    sipHelper: choice(
      'SIP helper',
      'Whether the router rewrites the signalling of calls that pass it.',
      switchedTitles,
      'unknown',
      { alsoCalled: ['SIP ALG', 'Application layer gateway', 'VoIP helper'] },
    ),
    pingOutside: yesNo('Answers to ping on uplinks', 'The router answers to ping from outside.', false, {
      alsoCalled: ['Respond to ping on WAN', 'Stealth mode', 'ICMP echo'],
    }),
    bothProtocols,
    limits: limitsSchema,
    ports: onSheet(
      'uplinks',
      rows(
        'Ports of the router',
        'The ports of the router and the use of each.',
        portSchema,
        64,
        'port of the router',
      ),
    ),
  })
  .prefault({});
