import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Brief, LineFacts } from './facts.ts';
import { patterns } from './patterns.ts';
import { readBrief } from './read.ts';

/** The value of each fact, without where it stands. */
const bare = (value: unknown): unknown =>
  JSON.parse(
    JSON.stringify(value, (key, each: unknown) =>
      key === 'from' || key === 'notes'
        ? undefined
        : typeof each === 'object' && each !== null && 'value' in each && 'from' in each
          ? each.value
          : each,
    ),
  ) as unknown;
const linesOf = ({ facts }: Brief): LineFacts[] => bare(facts.lines) as LineFacts[];
const marked = (text: string): Record<string, string> => {
  const rows = text.split('\n');
  return Object.fromEntries(
    readBrief(text).marks.map(({ line, start, end, says }) => [rows[line - 1]!.slice(start, end), says]),
  );
};

/** Letters, orders and slips as they come: what each says of its lines (common practice, no source). */
const letters: readonly (readonly [what: string, text: string, lines: readonly object[]])[] = [
  [
    'one sentence',
    'bakery, fibre with user name on VLAN 7, cellular backup, till, two cameras, owner wants in from home',
    [
      { medium: 'fibre', type: 'pppoe', vlan: 7, backup: false },
      { medium: 'cellular', backup: true },
    ],
  ],
  [
    'a letter with labels',
    [
      'Your fibre line (500/100 Mbit/s) will be activated on 14 March.',
      'Connection type: PPPoE',
      'Internet VLAN ID: 7',
      'User name: 0047112233@line.example',
      'Password: Tr0ut-9-Lemon',
      'MTU: 1492',
      'DNS servers: 198.51.100.53, 198.51.100.54',
    ].join('\n'),
    [
      {
        medium: 'fibre',
        type: 'pppoe',
        vlan: 7,
        userName: '0047112233@line.example',
        downMbps: 500,
        upMbps: 100,
        mtuBytes: 1492,
        activation: 'not-yet',
        resolvers: ['198.51.100.53', '198.51.100.54'],
      },
    ],
  ],
  [
    'an order with a block, and a card',
    [
      'Product: Business Ethernet 1G symmetric',
      'IP address range: 203.0.113.8/29',
      'Gateway: 203.0.113.9',
      'Usable: 203.0.113.10 - 203.0.113.14',
      'Additional subnet 192.0.2.16/28 routed to your address',
      '',
      'Backup: LTE',
      'APN: internet.m2m.example',
      'SIM PIN 4821',
      '20 GB per month',
    ].join('\n'),
    [
      {
        type: 'static',
        block: '203.0.113.8/29',
        gateway: '203.0.113.9',
        usable: '203.0.113.10',
        prefixLength: 29,
        routedBlock: '192.0.2.16/28',
        downMbps: 1000,
        upMbps: 1000,
      },
      { medium: 'cellular', backup: true, apn: 'internet.m2m.example', capGigabytes: 20 },
    ],
  ],
  [
    'a mail in sentences',
    [
      'The new circuit is a 300 Mbit/s symmetric leased line.',
      'Our side is 198.51.100.145 and yours is 198.51.100.146 with a /30.',
      'Please use 192.0.2.10 and 192.0.2.11 for DNS.',
    ].join('\n'),
    [
      {
        medium: 'ethernet',
        type: 'static',
        address: '198.51.100.146',
        gateway: '198.51.100.145',
        prefixLength: 30,
        resolvers: ['192.0.2.10', '192.0.2.11'],
        downMbps: 300,
        upMbps: 300,
      },
    ],
  ],
  [
    'a table with a head',
    'Line\tType\tAddress\tMask\tGateway\tVLAN\nWAN1\tstatic\t203.0.113.10\t255.255.255.252\t203.0.113.9\t100',
    [{ type: 'static', address: '203.0.113.10', prefixLength: 30, gateway: '203.0.113.9', vlan: 100 }],
  ],
  [
    'a table of labels and values',
    '| IP address | 203.0.113.66 |\n| Netmask | 255.255.255.240 |\n| Default gateway | 203.0.113.65 |\n| DNS 1 | 198.51.100.2 |',
    [{ address: '203.0.113.66', prefixLength: 28, gateway: '203.0.113.65', resolvers: ['198.51.100.2'] }],
  ],
  [
    'labels above their values',
    'User name\nuser7781@access.example\nPassword\nKx9-trampoline\nVLAN ID\n11',
    [{ type: 'pppoe', userName: 'user7781@access.example', vlan: 11 }],
  ],
  [
    'a mask in hexadecimal digits',
    'WAN IP 203.0.113.5 mask 0xfffffffc gw 203.0.113.6',
    [{ address: '203.0.113.5', prefixLength: 30, gateway: '203.0.113.6' }],
  ],
  [
    'a slip with numbers in front',
    '1) Main line: VDSL 100/40, PPPoE, VLAN 132, user dsl-0815@net.example\n2) Backup: 4G router from the provider (192.168.8.1), 10 GB/month\nStatic IP: none',
    [
      {
        medium: 'dsl',
        type: 'pppoe',
        vlan: 132,
        userName: 'dsl-0815@net.example',
        downMbps: 100,
        upMbps: 40,
      },
      {
        medium: 'cellular',
        backup: true,
        box: 'routes',
        insideAddress: '192.168.8.1',
        insidePrefix: '192.168.8.0/24',
        capGigabytes: 10,
      },
    ],
  ],
  [
    'a line that is tied to one device',
    'Your cable internet: 1 Gbit/s download, 50 Mbit/s upload. The modem is in bridge mode.\nIP address: dynamic (DHCP). Only the device with MAC address 00-00-5E-00-53-AA can use it.',
    [
      {
        medium: 'cable',
        type: 'dhcp',
        box: 'bridged',
        downMbps: 1000,
        upMbps: 50,
        tiedMac: '00:00:5e:00:53:aa',
      },
    ],
  ],
  [
    'IPv4 over an IPv6 line',
    'Fibre 250/100, DS-Lite, AFTR aftr.net.example, no public IPv4 address',
    [
      {
        medium: 'fibre',
        type: 'ds-lite',
        translator: 'aftr.net.example',
        carrierNat: true,
        downMbps: 250,
        upMbps: 100,
      },
    ],
  ],
  [
    'two lines of one kind',
    'Line 1: fibre, static address 203.0.113.2/30, gateway 203.0.113.1\nLine 2: fibre, DHCP',
    [
      { medium: 'fibre', type: 'static', address: '203.0.113.2', backup: false },
      { medium: 'fibre', type: 'dhcp', backup: true },
    ],
  ],
];

describe('what somebody has of a site', () => {
  test.each(letters)('%s', (_, text, lines) => {
    const found = linesOf(readBrief(text));
    expect(found).toHaveLength(lines.length);
    lines.forEach((line, index) => expect(found[index]).toMatchObject(line));
  });

  test('rates with their units, in Mb/s', () => {
    for (const [text, down, up] of [
      ['DSL, 250 down and 40 up', 250, 40],
      ['fibre 500/100', 500, 100],
      ['cable, 2.5 Gbit/s down, 100 Mbit/s up', 2500, 100],
      ['DSL, upload 10 Mbps, download 50 Mbps', 50, 10],
      // A byte has eight bits (IEC 80000-13).
      ['fibre, 12.5 MB/s download', 100, undefined],
    ] as const) {
      const [line] = linesOf(readBrief(text));
      expect([text, line?.downMbps, line?.upMbps]).toEqual([text, down, up]);
    }
  });

  test('lists: devices, networks, forwards of the router until now', () => {
    const { facts } = readBrief(
      [
        'IP address      MAC address        Host name',
        '192.168.0.12    00:00:5e:00:53:12  till-front',
        '192.168.0.20    00:00:5e:00:53:20  nvr',
        '',
        'VLAN 20 Guests 10.40.20.0/22',
        'VLAN 30 Weather station 10.40.30.0/28',
        '',
        '1 camera tcp 8000 192.168.0.31 80',
      ].join('\n'),
    );
    expect(bare(facts.devices)).toMatchObject([
      { name: 'till-front', purpose: 'payment', mac: '00:00:5e:00:53:12', address: '192.168.0.12' },
      { name: 'nvr', purpose: 'cameras', mac: '00:00:5e:00:53:20' },
    ]);
    expect(bare(facts.networks)).toMatchObject([
      { name: 'Guests', purpose: 'guests', vlan: 20, prefix: '10.40.20.0/22' },
      { name: 'Weather station', purpose: 'plant', vlan: 30, prefix: '10.40.30.0/28' },
    ]);
    expect(facts.outside).toMatchObject([
      { address: '192.168.0.31', protocol: 'tcp', ports: '8000', insidePorts: '80' },
    ]);
  });

  test('wishes: who comes in, to what, how long an outage may be, how many there are', () => {
    const { facts } = readBrief(
      'Card payments back in <= 45 seconds. POS x3, NVR + 6 cams, VoIP phones x 4.\nThe gate contractor needs the gate controller from outside.\nThe web server must be reachable from the internet.',
    );
    expect(facts.withinSeconds?.value).toBe(45);
    expect(facts.devices.map(({ kind, count }) => [kind, count])).toEqual([
      ['till', 3],
      ['recorder', 1],
      ['camera', 6],
      ['telephone', 4],
      ['door controller', 1],
      ['web server', 1],
    ]);
    expect(facts.remote).toMatchObject([{ person: 'Gate contractor', targets: ['plant'] }]);
    expect(facts.outside).toMatchObject([{ target: 'web server', everybody: true }]);
  });

  test('marks what it understood, and shows what it did not use', () => {
    const text = 'Dear customer,\nfibre on VLAN 7\nthe weather is fine';
    expect(marked(text)).toEqual({
      fibre: 'medium of the fibre line',
      'VLAN 7': 'VLAN ID of the fibre line',
    });
    expect(readBrief(text).unused).toEqual([1, 3]);
  });

  test('a password is marked, kept apart, and stands in no fact and no sentence', () => {
    const text =
      'Fibre, PPPoE\nUser name: abc@line.example\nPassword: Tr0ut-9-Lemon\nWi-Fi key: Wet-Paint-77';
    const { facts, secrets, marks } = readBrief(text);
    expect(secrets.map(({ value, kind }) => [value, kind])).toEqual([
      ['Tr0ut-9-Lemon', 'password'],
      ['Wet-Paint-77', 'other'],
    ]);
    expect(marks.filter(({ secret }) => secret)).toHaveLength(2);
    expect(JSON.stringify([facts, marks])).not.toMatch(/Lemon|Paint/);
  });

  test('every pattern is understood to its last line', () => {
    for (const { text, title } of patterns) {
      const { facts, unused } = readBrief(text);
      expect([title, facts.lines.length > 0, unused.length <= 1]).toEqual([title, true, true]);
    }
  });

  test('whatever is pasted, nothing fails, and every mark lies in its row', () => {
    const word = fc.constantFrom(
      ...'fibre backup VLAN 7 4095 user name: password: x 203.0.113.9/29 255.255.255.0 gateway DNS | , ; ( 100/40 Mbit/s tcp 443 till x3 00:00:5e:00:53:01 apn: within 60 s 192.168.1.0/24 LAN \t \n'.split(
        ' ',
      ),
    );
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string({ maxLength: 200 }),
          fc.array(word, { maxLength: 40 }).map((all) => all.join(' ')),
        ),
        (text) => {
          const { marks } = readBrief(text);
          const rows = text.split('\n');
          for (const { line, start, end } of marks) {
            expect(start).toBeLessThan(end);
            expect(end).toBeLessThanOrEqual(rows[line - 1]?.length ?? -1);
          }
          expect(readBrief(text)).toEqual(readBrief(text));
        },
      ),
      { numRuns: 400 },
    );
  });
});

describe('boxes behind the router', () => {
  const boxes = (text: string): string[] =>
    readBrief(text).facts.boxes.map(({ kind, place, who, cable }) =>
      [kind, place || who, cable === undefined ? '' : cable ? 'cable' : 'no cable'].join(' ').trim(),
    );

  test.each<[string, string[]]>([
    ['Two access points, one upstairs and one in the barn.', ['access-point upstairs', 'access-point barn']],
    ['Fibre. A repeater in the attic extends the Wi-Fi.', ['bridge attic']],
    ['A second router in the workshop, a cable goes to the workshop.', ['router workshop cable']],
    ['The tenant keeps her own router.', ['router tenant']],
    ['Access point in the hall. No cable reaches the hall.', ['access-point hall no cable']],
    ['3 outdoor access points for the pitches', ['access-point pitches', 'access-point', 'access-point']],
    ['No cable reaches the barn, so a wireless bridge there.', ['bridge barn no cable']],
    // What is said of the box in front is about the line.
    ['The modem is set to bridge. The cable modem is in bridge mode.', []],
    ['VDSL, the provider sends a router.', []],
  ])('%s', (text, wanted) => expect(boxes(text)).toEqual(wanted));

  test('a cable that does not reach the barn is no line, and the rest of the sentence is read on', () => {
    const { facts } = readBrief(
      'Fibre, PPPoE. No cable reaches the barn: a repeater there. Guest Wi-Fi, two tills.',
    );
    expect(facts.lines.map(({ medium }) => medium?.value)).toEqual(['fibre']);
    expect(facts.networks.map(({ purpose }) => purpose)).toEqual(['guests']);
    expect(facts.devices.map(({ kind }) => kind)).toEqual(['till']);
  });
});

describe('Wi-Fi, cables and switches in a text', () => {
  const wifi = (text: string): string[] =>
    readBrief(text).facts.wifi.map(({ ssid, guests, security, until, hidden }) =>
      [ssid, guests ? 'guests' : '', security ?? '', until ?? '', hidden ? 'hidden' : '']
        .filter((part) => part !== '')
        .join('|'),
    );

  test.each<[string, string[]]>([
    [
      'Wi-Fi: "Mill" for us with WPA3, "Mill Visitors" for visitors until 31 October 2027.',
      ['Mill|wpa3', 'Mill Visitors|guests|2027-10-31'],
    ],
    ['WLAN „Lindenhof“ und WLAN „Lindenhof Gast“.', ['Lindenhof', 'Lindenhof Gast|guests']],
    ['SSID: Harbour Office', ['Harbour Office']],
    ['The guests get a Wi-Fi called Harbour Guests, open, without a key.', ['Harbour Guests|guests|open']],
    [
      'SSIDs: Quay Staff, Quay Guests and Quay Tills (hidden)',
      ['Quay Staff', 'Quay Guests|guests', 'Quay Tills|hidden'],
    ],
    [
      'Wireless networks: Farm (WPA2 and WPA3), Farm public, ends on 2027-05-01',
      ['Farm|both', 'Farm public|guests|2027-05-01'],
    ],
    // A name in quotation marks where nobody speaks of Wi-Fi is none, and a key is none either.
    ['The house is called "Sea View".', []],
    ['Wi-Fi password: "Wet-Paint-77"', []],
    ['Guest Wi-Fi for 60 people.', []],
  ])('%s', (text, wanted) => expect(wifi(text)).toEqual(wanted));

  test.each<[string, (string | number | boolean)[]]>([
    ['In the tasting room the visitors need 15 Mbit/s.', ['tasting room', true, 15]],
    ["Visitors' Wi-Fi gives 10 Mb/s in the hall.", ['hall', true, 10]],
    ['In the attic our Wi-Fi must reach 25 Mbps.', ['attic', false, 25]],
  ])('a rate in a room is none of a line: %s', (text, wanted) => {
    const { facts } = readBrief(`Fibre 300/100.\n${text}`);
    expect(facts.rooms.map(({ name, guests, mbps }) => [name, guests, mbps])).toEqual([wanted]);
    expect(facts.lines).toMatchObject([{ downMbps: { value: 300 }, upMbps: { value: 100 } }]);
  });

  test('a limit of guests is none of a line, and is set on their network', () => {
    const { facts } = readBrief('Fibre 300/100. Wi-Fi "Mill Guests" for guests, 20 Mbit/s at most together.');
    expect(facts.lines).toMatchObject([{ downMbps: { value: 300 } }]);
    expect(facts.networks.find(({ purpose }) => purpose === 'guests')?.limitMbps?.value).toBe(20);
  });

  test('cables have a category and a length, the air a distance, a switch its ports and power', () => {
    const { facts } = readBrief(
      'Fibre. An access point on the second floor, a Cat 6 cable of 45 m goes there. A wireless bridge in the boat shed, 60 m across the yard with a clear view. The switch has 24 ports, 8 with PoE, 120 W together. All cables are Cat 6A.',
    );
    expect(facts.lines.map(({ medium }) => medium?.value)).toEqual(['fibre']);
    expect(facts.boxes).toMatchObject([
      { kind: 'access-point', place: 'second floor', cable: true, category: 'cat6', cableMetres: 45 },
      { kind: 'bridge', place: 'boat shed', airMetres: 60, sight: 'clear' },
    ]);
    expect(facts.switches).toMatchObject([{ ports: 24, poePorts: 8, poeWatts: 120 }]);
  });

  test('several boxes: as many as places, and what all of them have', () => {
    const { facts } = readBrief(
      'Access points: hall, kitchen and first floor, all on Cat 5e, about 30 m each.',
    );
    expect(facts.boxes.map(({ place, category, cableMetres }) => [place, category, cableMetres])).toEqual([
      ['hall', 'cat5e', 30],
      ['kitchen', 'cat5e', 30],
      ['first floor', 'cat5e', 30],
    ]);
  });

  test.each<[string, number | undefined]>([
    ['Guest Wi-Fi for 60 people.', 60],
    ['Guests: 60', 60],
    ['60 guests, 6 staff', 60],
    ['Visitors (about 40 at once)', 40],
    ['A guest network, up to 80 devices.', 80],
    ['A guest network with VLAN 30', undefined],
    ['Guest Wi-Fi, 20 Mbit/s', undefined],
    ['Guests, 2 tills', undefined],
  ])('how many are on it at once: %s', (text, wanted) => {
    const { facts } = readBrief(`Fibre\n${text}`);
    expect(facts.networks.find(({ purpose }) => purpose === 'guests')?.expectedDevices?.value).toBe(wanted);
  });

  test('the tenant in flat 2 wants to keep his own router behind ours', () => {
    const { facts } = readBrief(
      'The tenant in flat 2 wants to keep his own router behind ours. There is only one cable.',
    );
    expect(facts.boxes).toMatchObject([{ kind: 'router', who: 'tenant' }]);
    expect(facts.lines.flatMap(({ tiedMac }) => tiedMac ?? [])).toEqual([]);
  });
});

test('what a site is stands in no user name, and an accent ends no word', () => {
  expect(readBrief('Login  cafe-harbour@line.example').facts.trade).toBeUndefined();
  expect(readBrief('To: Ilse Brandt, Café Harbour').facts.trade?.value).toBe('Café');
});
