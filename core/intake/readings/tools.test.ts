import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { formatAddress } from '../../base/net/address.ts';
import { compile } from '../../site/compile.ts';
import { addr, demoPlan, soundPlan } from '../../testing/plans.ts';
import { judgedText } from '../../testing/visit.ts';
import { runSheet } from '../../answers/run-sheet/sheet.ts';
import { judgeValues, standingOf } from './judge.ts';
import { figureText, parseTools, readingOf } from './tools.ts';

/** The figures of a text, as they go into a record. */
const figures = (text: string): string[] => parseTools(text).map(figureText);

// Forms of what the usual desktop systems print, with invented addresses; from memory.
describe('address listings', () => {
  test('of one family of systems, by "ip"', () => {
    const text = `1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 qdisc noqueue state UNKNOWN
    inet 127.0.0.1/8 scope host lo
2: eth0: <BROADCAST,MULTICAST,UP,LOWER_UP> mtu 1500 qdisc fq_codel state UP
    link/ether 00:00:5e:00:53:10 brd ff:ff:ff:ff:ff:ff
    inet 10.24.10.104/24 brd 10.24.10.255 scope global dynamic eth0
    inet6 2001:db8::5/64 scope global`;
    expect(figures(text)).toEqual(['eth0: 10.24.10.104/24', 'eth0: 2001:db8::5/64']);
  });

  test('of another, with a mask in hexadecimal', () => {
    const text = `en0: flags=8863<UP,BROADCAST,SMART,RUNNING> mtu 1500
\tether 00:00:5e:00:53:11
\tinet 192.168.8.23 netmask 0xffffff00 broadcast 192.168.8.255`;
    expect(figures(text)).toEqual(['en0: 192.168.8.23/24']);
  });

  test('of a third, over several lines, with its gateway', () => {
    const text = `Ethernet adapter Ethernet:

   IPv4 Address. . . . . . . . . . . : 10.24.10.104
   Subnet Mask . . . . . . . . . . . : 255.255.255.0
   Default Gateway . . . . . . . . . : 10.24.10.1`;
    expect(figures(text)).toEqual(['gateway 10.24.10.1', 'Ethernet adapter Ethernet: 10.24.10.104/24']);
  });

  test('an address that nobody gave is shown as it is, for the judge', () => {
    expect(figures('eth0: x\n    inet 169.254.7.9/16 scope link')).toEqual(['eth0: 169.254.7.9/16']);
  });
});

describe('route tables', () => {
  test.each([
    ['default via 10.24.10.1 dev eth0 proto dhcp\n10.24.10.0/24 dev eth0 scope link', 'gateway 10.24.10.1'],
    [
      'Destination   Gateway     Flags\ndefault            192.168.8.1        UGSc  en0',
      'gateway 192.168.8.1',
    ],
    ['  0.0.0.0          0.0.0.0       10.24.10.1    10.24.10.104     25', 'gateway 10.24.10.1'],
  ])('%j', (text, expected) => expect(figures(text)).toContain(expected));
});

describe('ping, trace, probes and throughput', () => {
  test('ping of two families of systems', () => {
    expect(
      figures(`PING 203.0.113.10 (203.0.113.10) 56(84) bytes of data.
64 bytes from 203.0.113.10: icmp_seq=1 ttl=64 time=11.1 ms
--- 203.0.113.10 ping statistics ---
4 packets transmitted, 3 received, 25% packet loss, time 3004ms
rtt min/avg/max/mdev = 10.912/11.204/11.800/0.3 ms`),
    ).toEqual(['ping 203.0.113.10: 3 of 4, 11.204 ms']);
    expect(
      figures(`Pinging 203.0.113.10 with 32 bytes of data:
    Packets: Sent = 4, Received = 4, Lost = 0 (0% loss),
    Minimum = 10ms, Maximum = 12ms, Average = 11ms`),
    ).toEqual(['ping 203.0.113.10: 4 of 4, 11 ms']);
    expect(figures('4 packets transmitted, 0 packets received, 100.0% packet loss')).toEqual([
      'ping : 0 of 4',
    ]);
  });

  test('a trace over IPv6: whole addresses, short and long, and no part of a name or a time', () => {
    const text = `traceroute6 to 2001:db8:7::9, 30 hops max, 80 byte packets
 1  gw.example (fd5e:24a1:60c3:10::1)  0.412 ms  0.380 ms
 2  *  *  *
 3  2001:db8:0:f00d:1234:5678:9abc:def0  8.1 ms  8.0 ms
 4  ::1  8.2 ms`;
    expect(figures(text)).toEqual([
      '4 hops: fd5e:24a1:60c3:10::1, *, 2001:db8:0:f00d:1234:5678:9abc:def0, ::1',
    ]);
  });

  test('a trace, with hops that do not answer', () => {
    const text = `traceroute to 198.51.100.7, 30 hops max
 1  gateway (10.24.10.1)  0.4 ms  0.3 ms
 2  * * *
 3  100.64.0.1  9.1 ms  9.0 ms`;
    expect(figures(text)).toEqual(['3 hops: 10.24.10.1, *, 100.64.0.1']);
  });

  test('a probe of the path: the last word counts', () => {
    expect(figures(' 1?: [LOCALHOST]  pmtu 1500\n 1:  10.24.10.1  0.4ms pmtu 1492')).toContain(
      'path MTU 1492',
    );
    expect(figures('ping: local error: message too long, mtu=1492')).toEqual(['path MTU 1492']);
    // The MTU of an interface in a listing is no probe.
    expect(figures('2: eth0: <UP> mtu 1500 qdisc fq state UP')).toEqual([]);
  });

  test('a throughput report: received bits, and "reverse" is down', () => {
    const report = (reverse: number): string =>
      JSON.stringify({
        start: { test_start: { reverse } },
        end: { sum_received: { bits_per_second: 281_337_000.4 } },
      });
    expect([figures(report(1)), figures(report(0))]).toEqual([['281.34 Mb/s down'], ['281.34 Mb/s up']]);
    expect(figures('{"end":{"sum_received":{"bits_per_second":"fast"}}}')).toEqual([]);
    expect(figures('{"end":')).toEqual([]);
  });

  test('what is not understood stays as it is typed, in one line', () => {
    expect(readingOf('  it  works\nfor me ')).toBe('it works for me');
    expect(readingOf('Sent = 2, Received = 2\nAverage = 9ms')).toBe('ping : 2 of 2, 9 ms');
  });

  test('whatever is pasted, nothing is thrown and a record stays short', () => {
    const pieces = fc.constantFrom(
      'inet ',
      '10.0.0.',
      'default via ',
      'mtu=',
      '{"end":',
      ' ms',
      '1  ',
      '* * *',
      'netmask 0x',
      '\n',
    );
    fc.assert(
      fc.property(fc.array(fc.oneof(pieces, fc.string()), { maxLength: 60 }), (parts) => {
        expect(readingOf(parts.join('')).length).toBeLessThanOrEqual(2000);
      }),
    );
  });
});

describe('the main-router test', () => {
  // What stands between, by the two addresses and the special ranges (RFC 1918, RFC 6598, RFC 3927).
  test.each([
    ['203.0.113.9', '203.0.113.9', 'direct'],
    ['192.168.8.2', '203.0.113.9', 'second-nat'],
    ['172.16.0.5', '203.0.113.9', 'second-nat'],
    ['100.64.12.7', '203.0.113.9', 'carrier-nat'],
    ['203.0.113.9', '198.51.100.4', 'between'],
    ['169.254.3.3', '203.0.113.9', 'between'],
    ['0.0.0.0', '203.0.113.9', 'between'],
  ])('port %s, seen as %s: %s', (wan, outside, expected) => {
    const { standing, says } = standingOf(addr(wan), addr(outside));
    expect(standing).toBe(expected);
    if (standing === 'second-nat' || standing === 'carrier-nat') expect(says).toMatch(/Ways out: .+\.$/);
  });

  test('only equal public addresses are direct, whatever the two are', () => {
    fc.assert(
      fc.property(fc.bigInt(0n, 0xffff_ffffn), fc.bigInt(0n, 0xffff_ffffn), (one, two) => {
        const { standing, says } = standingOf({ family: 4, value: one }, { family: 4, value: two });
        if (standing === 'direct') expect(one).toBe(two);
        expect(says).toContain(formatAddress({ family: 4, value: one }));
      }),
    );
  });
});

describe('readings on site', () => {
  const farrow = compile(demoPlan('farrow-sound'));
  const judged = (step: string, text: string): string | undefined => judgedText(farrow, step, text)?.kind;

  test('an address: expected, another, private, and none at all', () => {
    expect(judged('uplink:fibre', '203.0.113.9')).toBe('good');
    expect(judged('uplink:fibre', 'WAN 203.0.113.77')).toBe('doubt');
    expect(judged('uplink:fibre', '169.254.10.1')).toBe('bad');
    expect(judged('uplink:fibre', 'green light')).toBeUndefined();
    const open = compile(
      soundPlan((plan) => {
        plan.uplinks[0]!.type = 'dhcp';
      }),
    );
    expect(judgedText(open, 'uplink:fibre', '192.168.1.20')?.kind).toBe('doubt');
  });

  test('the largest ping: 1464 on PPPoE (RFC 2516, RFC 792), less names the MTU to enter', () => {
    expect(judged('size:fibre', '1464')).toBe('good');
    expect(judgedText(farrow, 'size:fibre', '1452 passed')).toMatchObject({
      kind: 'bad',
      says: expect.stringContaining('MTU of 1480'),
    });
    expect(judged('size:fibre', '1472')).toBe('doubt');
  });

  test('light against the window and the route; a forgotten minus is asked about', () => {
    expect(['-18.2 dBm', '-24', '-29', '-3', '18.2'].map((text) => judged('light:fibre', text))).toEqual([
      'good',
      'doubt',
      'bad',
      'bad',
      'bad',
    ]);
  });

  test('the two addresses of a line, typed or pasted', () => {
    expect(judged('standing:fibre', '203.0.113.9 / 203.0.113.9')).toBe('good');
    // Behind the carrier's translation, and the plan says so.
    expect(judged('standing:cellular', '100.64.12.7, 203.0.113.200')).toBe('good');
    expect(judged('standing:fibre', '100.64.12.7, 203.0.113.200')).toBe('doubt');
    // The other line's address is seen: nothing is said of this one.
    expect(judged('standing:cellular', '100.64.12.7, 203.0.113.9')).toBe('bad');
    expect(judged('standing:fibre', '203.0.113.9')).toBeUndefined();
  });

  test('a pasted listing fills the fields of the laptop, and another router is told from the new one', () => {
    const listing = 'inet 192.168.1.50/24 scope global eth0\ndefault via 192.168.1.1 dev eth0';
    expect(judged('laptop', listing)).toBe('good');
    expect(judgedText(farrow, 'laptop', listing.replaceAll('192.168.1.', '192.168.8.'))).toMatchObject({
      kind: 'bad',
      says: expect.stringContaining('Another router answers: the label says 192.168.1.1'),
    });
    expect(judged('laptop', 'inet 169.254.3.4/16 scope link eth0')).toBe('bad');
  });

  test('a file whose SHA-256 differs in one digit is refused, and the digit is named', () => {
    const published = '9f86d081884c7d659a2feaa0c55ad015a3bf4f1b2b0b822cd15d6c15b0f00a08';
    const step = runSheet(farrow).find(({ id }) => id === 'firmware')!;
    const says = (computed: string): string[] =>
      judgeValues(farrow, step, { version: '4.2.1', published, computed }).map(({ verdict }) => verdict.says);
    // SHA-256 of "test" (FIPS 180-4), from memory.
    expect(says(published.toUpperCase())).toEqual(['All 64 digits are the same.']);
    expect(says(published.replace('f1b2', 'f1c2'))[0]).toContain('The two differ from digit 40 on');
    expect(says(published.slice(1))[0]).toContain('has 64 digits');
  });

  test('margins of a pair, and steps that have nothing to judge', () => {
    const dsl = compile(soundPlan((plan) => (plan.uplinks[0]!.medium = 'dsl')));
    expect(
      ['margin 9 dB', 'SNR margin: 4,5', 'margin 2'].map((text) => judgedText(dsl, 'sync:fibre', text)?.kind),
    ).toEqual(['good', 'doubt', 'bad']);
    for (const step of ['kit', 'power-cut', 'forward:tide'])
      expect(judged(step, '203.0.113.9')).toBeUndefined();
  });
});
