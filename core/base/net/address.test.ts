import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { address, addressAt, formatAddress, parseAddress } from './address.ts';
import { addr } from '../../testing/plans.ts';

const says = (text: string): string => {
  const parsed = parseAddress(text);
  return parsed.ok ? 'read' : parsed.problem.code;
};

describe('parseAddress', () => {
  test('reads dotted decimal and refuses what programs disagree on', () => {
    expect(addr('192.0.2.10').value).toBe(0xc000020an);
    expect(says('192.0.2')).toBe('not-an-address');
    expect(says('192.0.2.256')).toBe('not-an-address');
    expect(says('010.1.1.1')).toBe('leading-zero');
    expect(says('192.0.2.10/24')).toBe('has-length');
    expect(says('fe80::1%eth0')).toBe('not-an-address');
    expect(says('')).toBe('empty');
    expect(says('router')).toBe('not-an-address');
  });

  test('writes IPv6 as RFC 5952 recommends', () => {
    // RFC 5952 sections 4.1, 4.2.1, 4.2.2, 4.2.3 and 4.3: the examples given there.
    expect(formatAddress(addr('2001:0db8::0001'))).toBe('2001:db8::1');
    expect(formatAddress(addr('2001:db8:0:0:0:0:2:1'))).toBe('2001:db8::2:1');
    expect(formatAddress(addr('2001:db8:0:1:1:1:1:1'))).toBe('2001:db8:0:1:1:1:1:1');
    expect(formatAddress(addr('2001:0:0:1:0:0:0:1'))).toBe('2001:0:0:1::1');
    expect(formatAddress(addr('2001:DB8::AAAA'))).toBe('2001:db8::aaaa');
  });

  test('text and number are two forms of one address', () => {
    fc.assert(
      fc.property(fc.bigInt(0n, 2n ** 32n - 1n), (value) => {
        expect(addr(formatAddress(address(4, value))).value).toBe(value);
      }),
    );
    fc.assert(
      fc.property(fc.bigInt(0n, 2n ** 128n - 1n), (value) => {
        expect(addr(formatAddress(address(6, value))).value).toBe(value);
      }),
    );
  });

  test('knows the ends of the address space', () => {
    expect(addressAt(addr('255.255.255.255'), 1)).toBeUndefined();
    expect(addressAt(addr('0.0.0.0'), -1)).toBeUndefined();
    expect(formatAddress(addressAt(addr('192.0.2.255'), 1)!)).toBe('192.0.3.0');
  });
});
