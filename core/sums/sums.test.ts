import { describe, expect, test } from '@jest/globals';
import { sums, runSum } from './index.ts';
import { good } from '../testing/plans.ts';

const value = (name: string, given: Record<string, string>): unknown => good(runSum(name, given)).value;

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

  test('the steps lead to the result', () => {
    const worked = good(runSum('subnet', { prefix: '10.9.8.0/21' }));
    expect(worked.value).toBe(2046);
    expect(worked.steps.map((each) => each.value).slice(0, 3)).toEqual([
      '32 - 21 = 11',
      '2^11 = 2\u202f048',
      '- 2',
    ]);
    expect(value('range', { from: '10.24.10.100', to: '10.24.10.199' })).toBe(100);
    expect(value('laptop-address', { router: '192.168.1.1/24' })).toBe('192.168.1.254');
    expect(value('laptop-address', { router: '192.168.1.254/24' })).toBe('192.168.1.1');
    expect(value('overlap', { a: '192.168.0.0/16', b: '192.168.1.0/24' })).toBe(true);
    expect(value('free-block', { space: '10.24.0.0/16', length: '24', taken: '10.24.0.0/24' })).toBe(
      '10.24.1.0/24',
    );
    expect(value('mask', { mask: '255.255.248.0' })).toBe(21);
    expect(value('power', { volts: '12', amps: '1.5' })).toBe(18);
  });

  test('every sum runs on its own examples and refuses strays, gaps and nonsense by name', () => {
    for (const sum of sums) {
      const examples = Object.fromEntries(sum.inputs.map((each) => [each.name, each.example]));
      expect(runSum(sum.name, examples)).toMatchObject({ ok: true });
      for (const each of sum.inputs.filter((one) => !one.optional))
        for (const text of ['', '(nonsense)'])
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
