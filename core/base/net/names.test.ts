import { describe, expect, test } from '@jest/globals';
import { addr } from '../../testing/plans.ts';
import { classify, meaningOf, reachableFromOutside, type AddressClass } from './classify.ts';
import { parseMac } from './mac.ts';
import { parsePorts, portsOverlap, protocolsMeet } from './ports.ts';

describe('classify', () => {
  // The ends of each range as its RFC gives them, and the neighbours just outside.
  const cases: [string, AddressClass][] = [
    ['10.0.0.0', 'private'],
    ['10.255.255.255', 'private'],
    ['11.0.0.0', 'public'], // RFC 1918 section 3
    ['172.15.255.255', 'public'],
    ['172.16.0.0', 'private'],
    ['172.31.255.255', 'private'],
    ['172.32.0.0', 'public'],
    ['192.168.0.0', 'private'],
    ['192.168.255.255', 'private'],
    ['192.169.0.0', 'public'],
    ['100.63.255.255', 'public'],
    ['100.64.0.0', 'carrier-shared'],
    ['100.127.255.255', 'carrier-shared'],
    ['100.128.0.0', 'public'], // RFC 6598 section 7
    ['169.254.0.1', 'link-local'], // RFC 3927 section 2.1
    ['192.0.2.1', 'documentation'],
    ['198.51.100.1', 'documentation'],
    ['203.0.113.1', 'documentation'], // RFC 5737 section 3
    ['2001:db8::1', 'documentation'],
    ['3fff::1', 'documentation'], // RFC 3849, RFC 9637
    ['198.18.0.0', 'benchmarking'],
    ['198.19.255.255', 'benchmarking'],
    ['198.20.0.0', 'public'], // RFC 2544
    ['192.0.0.2', 'ds-lite'], // RFC 7335
    ['127.0.0.1', 'loopback'],
    ['224.0.0.1', 'multicast'],
    ['240.0.0.1', 'reserved'],
    ['255.255.255.255', 'broadcast'],
    ['0.0.0.0', 'unspecified'],
    ['fd00::1', 'unique-local'],
    ['fe80::1', 'link-local'], // RFC 4193, RFC 4291
    ['fec0::1', 'site-local'], // RFC 3879
    ['2000::1', 'public'],
    ['3ffe:ffff::1', 'public'],
    ['4000::1', 'reserved'], // RFC 3587 section 2: only 2000::/3 is global unicast
    ['::ffff:192.168.1.1', 'ipv4-embedded'],
    ['::192.168.1.1', 'ipv4-embedded'], // RFC 4291 section 2.5.5
    ['64:ff9b::192.0.2.1', 'nat64'],
    ['64:ff9b:1::1', 'nat64'], // RFC 6052, RFC 8215
    ['100::1', 'discard'], // RFC 6666
    ['2001:2::1', 'benchmarking'], // RFC 5180
    ['2001::1', 'transition'],
    ['2002:c0a8:101::1', 'transition'], // RFC 4380, RFC 3056
    ['5f00::1', 'segment-routing'], // RFC 9602
  ];
  test.each(cases)('%s is %s', (text, expected) => expect(classify(addr(text)).class).toBe(expected));

  test('documentation stands for public, everything else special is not reachable', () => {
    const reachable = cases.filter(([, name]) => reachableFromOutside(name)).map(([, name]) => name);
    expect(new Set(reachable)).toEqual(new Set(['public', 'documentation']));
  });
});

test('what an address means depends on the place where it was met', () => {
  expect(meaningOf(addr('192.168.1.9'), 'line')).toMatch(/another device in front/);
  expect(meaningOf(addr('192.168.1.9'), 'inside')).toMatch(/this router translates/);
  expect(meaningOf(addr('169.254.1.1'))).toMatch(/none was offered/);
  expect(meaningOf(addr('fe80::1'))).not.toMatch(/offered none/);
});

describe('MAC addresses', () => {
  test('the forms labels use are one address', () => {
    // RFC 9542 section 2.1.4: 00-00-5E-00-53-00 to -FF are for documentation.
    for (const text of ['00-00-5E-00-53-2A', '00:00:5e:00:53:2a', '0000.5e00.532a', '00005e00532a'])
      expect(parseMac(text)).toMatchObject({
        ok: true,
        value: { text: '00:00:5e:00:53:2a', locallyAdministered: false },
      });
  });
  test('group bit, local bit, length and look-alike letters (IEEE 802 section 8.2)', () => {
    expect(parseMac('01:00:5e:00:53:01')).toMatchObject({ problem: { code: 'mac-group' } });
    expect(parseMac('02:00:5e:00:53:01')).toMatchObject({ value: { locallyAdministered: true } });
    expect(parseMac('00:00:5e:00:53')).toMatchObject({ problem: { code: 'mac-length' } });
    expect(parseMac('0O:00:5e:00:53:01')).toMatchObject({
      problem: { code: 'mac-letter', says: expect.stringContaining('perhaps 0') },
    });
    expect(parseMac('00:00:00:00:00:00')).toMatchObject({ problem: { code: 'mac-zero' } });
  });
});

describe('ports', () => {
  test('one port, a range, and what is neither', () => {
    expect(parsePorts('8443')).toMatchObject({ value: { first: 8443, last: 8443 } });
    expect(parsePorts('8000 - 8010')).toMatchObject({ value: { first: 8000, last: 8010 } });
    for (const [text, code] of [
      ['0', 'port-outside'],
      ['65536', 'port-outside'],
      ['90-80', 'ports-reversed'],
      ['http', 'not-a-port'],
      ['', 'empty'],
    ])
      expect(parsePorts(text!)).toMatchObject({ problem: { code } });
  });
  test('ranges and protocols that meet', () => {
    expect(portsOverlap({ first: 80, last: 90 }, { first: 90, last: 95 })).toBe(true);
    expect(portsOverlap({ first: 80, last: 89 }, { first: 90, last: 95 })).toBe(false);
    expect([
      protocolsMeet('both', 'udp'),
      protocolsMeet('tcp', 'udp'),
      protocolsMeet('both', 'icmp'),
    ]).toEqual([true, false, false]);
  });
});
