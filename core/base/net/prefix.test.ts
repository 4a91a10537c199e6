import { BlockList } from 'node:net';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { addr, block, good } from '../../testing/plans.ts';
import { address, formatAddress } from './address.ts';
import {
  contains,
  formatPrefix,
  hostsOf,
  lastOf,
  maskText,
  overlaps,
  parseLength,
  parsePrefix,
  prefixAround,
  roleIn,
  type Prefix,
} from './prefix.ts';

const anyPrefix = fc
  .tuple(fc.bigInt(0n, 2n ** 32n - 1n), fc.integer({ min: 0, max: 32 }))
  .map(([value, length]): Prefix => prefixAround(address(4, value), length));
const anyHost = fc.bigInt(0n, 2n ** 32n - 1n).map((value) => address(4, value));

describe('prefixes', () => {
  test('masks and sizes as in the subnet table of RFC 1878', () => {
    // RFC 1878 section 2, "Table 1-1": mask, and hosts of the table (addresses less two).
    for (const [length, mask, hosts] of [
      [16, '255.255.0.0', 65534n],
      [21, '255.255.248.0', 2046n],
      [24, '255.255.255.0', 254n],
      [27, '255.255.255.224', 30n],
      [29, '255.255.255.248', 6n],
      [30, '255.255.255.252', 2n],
    ] as const) {
      expect(maskText(length)).toBe(mask);
      expect(good(parseLength(mask))).toBe(length);
      expect(hostsOf(block(`10.0.0.0/${length}`)).count).toBe(hosts);
    }
  });

  test('a /31 has two hosts (RFC 3021), a /32 has one, and IPv6 has no broadcast', () => {
    expect(hostsOf(block('192.0.2.0/31')).count).toBe(2n);
    expect(roleIn(block('192.0.2.0/31'), addr('192.0.2.0'))).toBe('host');
    expect(roleIn(block('192.0.2.0/31'), addr('192.0.2.1'))).toBe('host');
    expect(hostsOf(block('192.0.2.7/32')).count).toBe(1n);
    // The first address of an IPv6 subnet is the anycast address of its routers (RFC 4291 section 2.6.1).
    expect(roleIn(block('2001:db8::/64'), addr('2001:db8::'))).toBe('network');
    expect(hostsOf(block('2001:db8::/64')).first).toEqual(addr('2001:db8::1'));
    expect(roleIn(block('2001:db8::/64'), addr('2001:db8::ffff:ffff:ffff:ffff'))).toBe('host');
  });

  test('a /29 and a /30 keep their first and last address (RFC 1122 section 3.2.1.3)', () => {
    expect(roleIn(block('203.0.113.8/30'), addr('203.0.113.8'))).toBe('network');
    expect(roleIn(block('203.0.113.8/30'), addr('203.0.113.9'))).toBe('host');
    expect(roleIn(block('203.0.113.8/30'), addr('203.0.113.11'))).toBe('broadcast');
    expect(roleIn(block('203.0.113.8/29'), addr('203.0.113.11'))).toBe('host');
    expect(roleIn(block('203.0.113.8/29'), addr('203.0.113.16'))).toBe('outside');
  });

  test('refuses masks with gaps and subnets with host bits, and says what was meant', () => {
    expect(parseLength('255.0.255.0')).toMatchObject({ ok: false, problem: { code: 'mask-not-contiguous' } });
    expect(parseLength('0.0.0.255')).toMatchObject({ ok: false, problem: { code: 'mask-not-contiguous' } });
    expect(parseLength('33')).toMatchObject({ ok: false, problem: { code: 'length-too-large' } });
    const host = parsePrefix('10.9.8.7/21');
    expect(host).toMatchObject({
      ok: false,
      problem: { code: 'host-bits', says: expect.stringContaining('10.9.8.0/21') },
    });
    expect(formatPrefix(good(parsePrefix('10.9.8.0 255.255.248.0')))).toBe('10.9.8.0/21');
  });

  test('agrees with the subnet list of the platform on what a subnet contains', () => {
    fc.assert(
      fc.property(anyPrefix, anyHost, fc.nat({ max: 300 }), (prefix, far, near) => {
        const list = new BlockList();
        list.addSubnet(formatAddress(address(4, prefix.first)), prefix.length, 'ipv4');
        const beside = address(4, (prefix.first + BigInt(near)) & 0xffffffffn);
        for (const host of [far, beside])
          expect(contains(prefix, host)).toBe(list.check(formatAddress(host), 'ipv4'));
      }),
    );
  });

  test('overlap is symmetric, and means that an end of one is in the other', () => {
    fc.assert(
      fc.property(anyPrefix, anyPrefix, (a, b) => {
        expect(overlaps(a, b)).toBe(overlaps(b, a));
        const share = contains(a, address(4, b.first)) || contains(b, address(4, a.first));
        expect(overlaps(a, b)).toBe(share);
        expect(overlaps(a, a)).toBe(true);
        expect(contains(a, lastOf(a))).toBe(true);
      }),
    );
  });
});
