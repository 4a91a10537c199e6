import { describe, expect, test } from '@jest/globals';
import { sums, runSum } from './index.ts';
import { good } from '../../testing/plans.ts';

/** The value as it is printed, to two places. */
const value = (name: string, given: Record<string, string>): unknown => {
  const found = good(runSum(name, given)).value;
  return typeof found === 'number' ? Number(found.toFixed(2)) : found;
};

describe('sums', () => {
  test('largest segments and pings', () => {
    expect(value('mss', { mtu: '1500' })).toBe(1460); // RFC 9293 section 3.7.1: MTU less 40
    expect(value('mss', { mtu: '1492' })).toBe(1452); // PPPoE, RFC 2516 section 7
    expect(value('mss', { mtu: '1492', family: '6' })).toBe(1432); // MTU less 60
    expect(value('ping', { mtu: '1492' })).toBe(1464); // 1492 - 20 (RFC 791) - 8 (RFC 792)
  });

  test('best TCP rates of gigabit Ethernet (RFC 6349 section 4.1.1, from memory)', () => {
    expect(value('tcp-ceiling', { rate: '1000' })).toBe(949.28);
    expect(value('tcp-ceiling', { rate: '1000', timestamps: 'yes' })).toBe(941.48);
  });

  test('lease times at 0.5 and 0.875 (RFC 2131 section 4.4.5)', () => {
    const worked = good(runSum('lease', { lease: '86400' }));
    expect(worked.value).toBe(43200);
    expect(worked.steps.map((each) => each.value)).toContain('0.875 × 86400 = 75600 s');
  });

  test('a route by its longest prefix, whatever the order of the rows (RFC 1812 section 5.2.4.3)', () => {
    const rows = ['0.0.0.0/0=fibre', '10.24.0.0/16=inside', '10.24.10.0/24=office'];
    for (const table of [rows, [...rows].reverse()]) {
      expect(value('route', { table: table.join(','), to: '10.24.10.9' })).toBe('office');
      expect(value('route', { table: table.join(','), to: '10.24.11.9' })).toBe('inside');
      expect(value('route', { table: table.join(','), to: '192.0.2.1' })).toBe('fibre');
    }
    expect(value('route', { table: '10.0.0.0/8=inside', to: '192.0.2.1' })).toBeNull();
  });

  test('calls: the rates that handbooks print for 20 ms packets', () => {
    const one = (codec: string, link: string) =>
      good(runSum('calls', { codec, packet: '20', link, rate: '1' })).steps.find(
        ({ says }) => says === 'one call',
      )!.value;
    // RFC 3551 table 4 for the codecs; 80 and 24 kb/s at IP, 87.2 and 31.2 kb/s on Ethernet: handbook values, from memory.
    expect(one('g711', '0')).toContain('= 80 kb/s');
    expect(one('g711', '18')).toContain('= 87.2 kb/s');
    expect(one('g729', '0')).toContain('= 24 kb/s');
    expect(one('g729', '18')).toContain('= 31.2 kb/s');
    expect(value('calls', { codec: 'g711', packet: '20', link: '0', rate: '1' })).toBe(12);
  });

  test('call quality: the rating of G.107 without faults is 93.2, a mean opinion of 4.41', () => {
    const worked = good(runSum('call-quality', { codec: 'g711', delay: '0', loss: '0' }));
    expect(worked.steps.find(({ says }) => says === 'R')!.value).toBe('93.2');
    expect(Number(worked.value).toFixed(2)).toBe('4.41'); // ITU-T G.107 annex B, from memory
    expect(Number(value('call-quality', { codec: 'g729', delay: '0', loss: '0' }))).toBeCloseTo(4.1, 1); // R 82.2
    expect(value('call-quality', { codec: 'g711', delay: '5000', loss: '50' })).toBe(1);
  });

  test('IPv6 addresses as their documents print them', () => {
    // RFC 2464 section 4: 34-56-78-9A-BC-DE is 36-56-78-FF-FE-9A-BC-DE.
    expect(value('eui-64', { mac: '34-56-78-9A-BC-DE' })).toBe('fe80::3656:78ff:fe9a:bcde');
    expect(value('eui-64', { mac: '34-56-78-9A-BC-DE', prefix: '2001:db8:a:10::/64' })).toBe(
      '2001:db8:a:10:3656:78ff:fe9a:bcde',
    );
    // RFC 4291 section 2.7.1: 4037::01:800:200E:8C6C is FF02::1:FF0E:8C6C.
    expect(value('solicited-node', { address: '4037::1:800:200e:8c6c' })).toBe('ff02::1:ff0e:8c6c');
    expect(value('nth-subnet', { space: '2001:db8:a000::/56', length: '64', index: '255' })).toBe(
      '2001:db8:a000:ff::/64',
    );
    expect(runSum('nth-subnet', { space: '2001:db8:a000::/56', length: '64', index: '256' })).toMatchObject({
      ok: false,
      problem: { at: 'index' },
    });
    expect(value('nth-subnet', { space: '10.0.0.0/8', length: '24', index: '65535' })).toBe(
      '10.255.255.0/24',
    );
  });

  test('wires, fragments, loss and units', () => {
    // ASTM B258 (from memory): AWG 24 is 0.205 mm², AWG 12 is 3.31 mm².
    expect(value('wire-gauge', { gauge: '24' })).toBe(0.2);
    expect(value('wire-gauge', { gauge: '12' })).toBe(3.31);
    // IEC 60028: 2 × 29 m of 1 mm² is 1 ohm.
    expect(value('voltage-drop', { volts: '12', amps: '2', metres: '29', area: '1' })).toBe(10);
    expect(value('heat', { watts: '1000' })).toBe(3412.14);
    // RFC 791 section 3.2: 3980 bytes of payload in pieces of 1480.
    expect(value('fragments', { packet: '4000', mtu: '1500' })).toBe(3);
    expect(good(runSum('fragments', { packet: '4000', mtu: '1500' })).steps.at(-1)!.value).toBe(
      '2 of 1500 bytes, the last of 1040 bytes',
    );
    expect(value('fragments', { packet: '1500', mtu: '1500' })).toBe(1);
    expect(value('fragments', { packet: '1501', mtu: '1500' })).toBe(2);
    // 1460 × 8 / 0.1 s × √(1.5 / 0.001): Mathis and others 1997.
    expect(value('loss-ceiling', { mss: '1460', rtt: '100', loss: '0.1' })).toBe(4.52);
    expect(value('byte-rate', { rate: '100' })).toBe(12.5);
    expect(value('data-blocks', { used: '57', included: '50', block: '5', price: '9.9' })).toBe(19.8);
    expect(value('data-blocks', { used: '60', included: '50', block: '5', price: '9.9' })).toBe(19.8);
    expect(value('data-blocks', { used: '40', included: '50', block: '5', price: '9.9' })).toBe(0);
  });

  test('the steps lead to the result', () => {
    const worked = good(runSum('subnet', { prefix: '10.9.8.0/21' }));
    expect(worked.value).toBe(2046);
    expect(worked.steps.map((each) => each.value)).toEqual(
      expect.arrayContaining(['32 - 21 = 11', '2^11 = 2\u202f048', '- 2', '0.0.7.255']),
    );
    expect(value('range', { from: '10.24.10.100', to: '10.24.10.199' })).toBe(100);
    expect(value('laptop-address', { router: '192.168.1.1/24' })).toBe('192.168.1.254');
    expect(value('laptop-address', { router: '192.168.1.254/24' })).toBe('192.168.1.1');
    expect(value('overlap', { a: '192.168.0.0/16', b: '192.168.1.0/24' })).toBe(true);
    expect(value('free-subnet', { space: '10.24.0.0/16', length: '24', taken: '10.24.0.0/24' })).toBe(
      '10.24.1.0/24',
    );
    expect(value('mask', { mask: '255.255.248.0' })).toBe(21);
    expect(value('power', { volts: '12', amps: '1.5' })).toBe(18);
  });

  test.each([
    // RFC 2131 section 3.3: 0xffffffff is infinity.
    ['lease', 'lease=4294967295', 'never'],
    ['mask', 'mask=22', 22],
    // RFC 4291 section 2.5.1; laptop: the highest host in IPv4, the lowest one that can be typed in IPv6.
    ['laptop-address', 'router=192.168.1.1/25', '192.168.1.126'],
    ['laptop-address', 'router=192.0.2.0/31', '192.0.2.1'], // RFC 3021
    ['laptop-address', 'router=fd00:24:10::1/64', 'fd00:24:10::2'],
    // Ranges past 2^53 stay exact: a /64 has 2^64 addresses.
    ['range', 'from=2001:db8:: to=2001:db8::ffff:ffff:ffff:ffff', '18446744073709551616'],
    ['around', 'from=10.24.10.100 to=10.24.11.20', '10.24.10.0/23'], // RFC 4632 section 3.1
    [
      'divide',
      'space=10.24.0.0/22 hosts=200,60,25,2',
      '10.24.0.0/24, 10.24.1.0/26, 10.24.1.64/27, 10.24.1.96/30',
    ],
    // Everything but 10.0.0.0/8, by hand: the other halves along its eight bits.
    [
      'all-but',
      'without=10.0.0.0/8',
      '0.0.0.0/5, 8.0.0.0/7, 11.0.0.0/8, 12.0.0.0/6, 16.0.0.0/4, 32.0.0.0/3, 64.0.0.0/2, 128.0.0.0/1',
    ],
    // Equal length: the least metric (RFC 1812 section 5.2.4.3).
    ['route', 'table=0.0.0.0/0=fibre@20,0.0.0.0/0=mobile@10 to=192.0.2.1', 'mobile'],
    ['tcp-ceiling', 'rate=1000 family=6', 936.28], // 1000 × 1440 / 1538 (RFC 6349, RFC 8200)
    ['tcp-ceiling', 'rate=1000 mtu=1492 wrapping=12', 941.63], // 1000 × 1452 / (1492 + 12 + 38)
    ['stack', 'layers=6in4', 1480], // RFC 4213
    ['stack', 'layers=vlan,pppoe link=1508 rfc4638=yes', 1500],
    ['stack', 'layers=vlan,pppoe link=1508', 1492],
    ['poe-class', 'watts=12.95', 3], // IEEE 802.3af
    ['poe-class', 'watts=13', 4], // IEEE 802.3at
    ['poe-budget', 'budget=120 classes=4,4,3,2', 37.6], // 120 - 30 - 30 - 15.4 - 7
    ['battery', 'volts=12 hours=9 efficiency=85 usable=60 load=30', 110.16], // 12 × 9 × 0.85 × 0.6 × 60 / 30
    ['backup-data', 'hours=0 traffic=2 interval=15 targets=2', 0.06], // 2592000 / 15 × 2 × 168 bytes
    ['lines-together', 'lines=1/8.76', 43.16], // one line alone: 8.76 h of 8768.76 h, in 43 200 min
    ['earfcn', 'channel=67300', 2196.4], // 2110 + 0.1 × (67300 - 66436)
    ['optical', 'system=gpon-b km=4 connectors=4 splices=6 ways=32', 19.9],
    ['cell-rate', 'sinr=60 width=100 streams=4 generation=nr', 2337], // 3GPP TS 38.306 section 4.1.2
  ])('%s %s is %p', (name, given, expected) => {
    const inputs = Object.fromEntries(
      given.split(' ').map((each) => [each.slice(0, each.indexOf('=')), each.slice(each.indexOf('=') + 1)]),
    );
    expect(value(name, inputs)).toBe(expected);
  });

  test.each([
    ['mss', 'mtu=1000 family=6', 'mtu', /1280/], // RFC 8200 section 5
    ['tcp-ceiling', 'rate=100 timestamps=maybe', 'timestamps', /maybe/],
    ['rate-verdict', 'runs=1,2,3 contract=3 direction=sideways', 'direction', /sideways/],
    ['route', 'table=0.0.0.0/0=a=b to=192.0.2.1', 'table', /more than one "="/],
    ['route', 'table=, to=192.0.2.1', 'table', /no row/],
    ['poe-budget', 'budget=10 classes=,', 'classes', /empty/],
    ['lines-together', 'lines=,', 'lines', /empty/],
    ['lines-together', `lines=${Array(2000).fill('99').join(',')}`, 'lines', /2000/],
    ['laptop-address', 'router=192.168.1.0/24', 'router', /192\.168\.1\.0/],
    ['laptop-address', 'router=192.168.1.1/32', 'router', /no address beside/],
    ['stack', 'layers=pppoe,vlan', 'layers', /needs/],
    ['divide', 'space=10.0.0.0/24 hosts=200,100', 'hosts', /no room/i],
    ['all-but', 'without=fd00::/8', 'without', /IPv4/],
    ['outage', 'kind=inbound interval=5 timeout=2 losses=3 switch=2', 'ttl', /name/],
    ['cell-rate', 'sinr=10 width=12 streams=2', 'width', /MHz/],
    ['range', 'from=10.0.0.9 to=10.0.0.1', 'to', /backwards/],
  ])('%s %s is refused by name, at %s', (name, given, at, says) => {
    const inputs = Object.fromEntries(
      given.split(' ').map((each) => [each.slice(0, each.indexOf('=')), each.slice(each.indexOf('=') + 1)]),
    );
    expect(runSum(name, inputs)).toMatchObject({ problem: { at, says: expect.stringMatching(says) } });
  });

  test('a route of two rows that are alike says so', () => {
    const table = '192.0.2.0/24=left,192.0.2.0/24=right';
    expect(good(runSum('route', { table, to: '192.0.2.9' })).means).toMatch(/Two rows are alike/);
  });

  test('monitoring on a line that carries nothing is no setting but a repair', () => {
    const given = { within: '45', false: '1', data: '1', targets: '2', after: '12' };
    const said = (more: Record<string, string>): string =>
      good(runSum('watching', { ...given, ...more })).steps.find(({ says }) => says === 'why')!.value;
    expect(said({ loss: '100', delay: '40' })).toMatch(/line is down/);
    expect(said({ loss: '0', delay: '60000' })).toMatch(/longer than any probe waits/);
  });

  test('every sum runs on its own examples and refuses strays, gaps and nonsense by name', () => {
    for (const sum of sums) {
      const examples = Object.fromEntries(sum.inputs.map((each) => [each.name, each.example]));
      expect(runSum(sum.name, examples)).toMatchObject({ ok: true });
      for (const each of sum.inputs.filter((one) => !one.optional))
        // Any text is a name or a passphrase.
        for (const text of each.unit === 'text' ? [''] : ['', '(nonsense)'])
          expect(runSum(sum.name, { ...examples, [each.name]: text })).toMatchObject({
            ok: false,
            problem: { at: each.name },
          });
    }
    expect(runSum('subnet', { prefix: '10.0.0.0/8', colour: 'red' })).toMatchObject({
      problem: { code: 'unknown-input', at: 'colour' },
    });
    expect(runSum('nothing', {})).toMatchObject({ problem: { code: 'unknown-sum' } });
  });
});
