import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { good } from '../../testing/plans.ts';
import { formatAddress } from './address.ts';
import { freePorts, mapped, ownsPorts, portSet } from './address-and-port.ts';
import { formatPorts, hasPort, portCount } from './ports.ts';
import { parsePrefix } from './prefix.ts';

const prefix = (text: string) => good(parsePrefix(text));
const rule = (ipv6: string, ipv4: string, eaBits: number, psidOffset = 6) => ({
  ipv6: prefix(ipv6),
  ipv4: prefix(ipv4),
  eaBits,
  psidOffset,
});

describe('address and port of a subscriber', () => {
  // RFC 7597 appendix A, example 1, from memory.
  test('the worked example of the standard', () => {
    const found = good(mapped(prefix('2001:db8:12:3400::/56'), rule('2001:db8::/40', '192.0.2.0/24', 16)));
    expect(formatAddress(found.address)).toBe('192.0.2.18');
    expect([found.psid, found.psidLength]).toEqual([0x34, 8]);
    expect(formatAddress(found.ipv6)).toBe('2001:db8:12:3400:0:c000:212:34');
    const ports = found.ports!.map(formatPorts);
    expect(ports).toHaveLength(63);
    expect([...ports.slice(0, 2), ...ports.slice(-2)]).toEqual([
      '1232-1235',
      '2256-2259',
      '63696-63699',
      '64720-64723',
    ]);
  });

  // RFC 7597 appendix A, example 4 (an address of one's own) and section 5.2 (a prefix), from memory.
  test('a whole address, and a whole prefix, have every port', () => {
    const whole = good(mapped(prefix('2001:db8:12:3400::/56'), rule('2001:db8:12::/48', '192.0.2.0/24', 8)));
    expect([formatAddress(whole.address), whole.ports, whole.block]).toEqual([
      '192.0.2.52',
      undefined,
      undefined,
    ]);
    const block = good(mapped(prefix('2001:db8:0:5000::/52'), rule('2001:db8::/48', '192.0.2.0/24', 4)));
    expect([formatAddress(block.address), block.block?.length, block.ports]).toEqual([
      '192.0.2.80',
      28,
      undefined,
    ]);
  });

  test.each([
    ['another rule', '2001:db8:ff00::/56', rule('2001:db8::/40', '192.0.2.0/24', 16), 'map-outside'],
    ['too short', '2001:db8:12::/48', rule('2001:db8::/40', '192.0.2.0/24', 16), 'map-length'],
    ['too many bits', '2001:db8:12:3400::/56', rule('2001:db8::/40', '192.0.2.0/24', 25), 'map-length'],
    [
      'more than a port holds',
      '2001:db8:12:3400::/64',
      rule('2001:db8::/40', '192.0.2.0/32', 12),
      'map-ports',
    ],
    ['IPv4 delegated', '192.0.2.0/24', rule('2001:db8::/40', '192.0.2.0/24', 16), 'map-family'],
  ])('%s is refused with a reason', (_, delegated, given, code) => {
    expect(mapped(prefix(delegated), given)).toMatchObject({ ok: false, problem: { code } });
  });

  test('the port sets of all subscribers share the ports without a rest', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 8 }),
        fc.integer({ min: 0, max: 8 }),
        fc.integer({ min: 0, max: 65_535 }),
        (offset, length, port) => {
          const sets = Array.from({ length: 2 ** length }, (_, psid) => portSet(psid, length, offset));
          const total = sets.flat().reduce((sum, range) => sum + portCount(range), 0);
          // With an offset the ports whose first bits are all 0 are nobody's (RFC 7597 section 5.1).
          const nobodys = offset === 0 ? 0 : 2 ** (16 - offset);
          expect(total).toBe(65_536 - nobodys);
          const owners = sets.filter((set) => set.some((range) => hasPort(range, port)));
          expect(owners).toHaveLength(port < nobodys ? 0 : 1);
        },
      ),
    );
  });

  test('ports that are free are owned, in a row, and overlap none that is taken', () => {
    const own = portSet(0x34, 8, 6);
    const range = (first: number, last = first) => ({ first, last });
    expect(freePorts(own, [], 1)).toEqual(range(1232));
    expect(freePorts(own, [range(1232)], 3)).toEqual(range(1233, 1235));
    expect(freePorts(own, [range(1233)], 3)).toEqual(range(2256, 2258));
    expect(freePorts(own, [range(1, 65_535)], 1)).toBeUndefined();
    expect(freePorts(own, [], 5)).toBeUndefined();
  });

  test('a range is owned only whole', () => {
    const own = portSet(0x34, 8, 6);
    expect(ownsPorts(own, { first: 1232, last: 1235 })).toBe(true);
    expect(ownsPorts(own, { first: 1232, last: 1236 })).toBe(false);
    expect(ownsPorts(own, { first: 443, last: 443 })).toBe(false);
    expect(ownsPorts(undefined, { first: 443, last: 443 })).toBe(true);
  });
});
