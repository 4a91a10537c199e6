import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { good } from '../testing/plans.ts';
import {
  availabilityWorked,
  capCostWorked,
  median,
  rateVerdict,
  scatter,
  windowWorked,
  type RateRun,
} from './line.ts';
import { layers, stackWorked } from './stack.ts';

const mtu = (text: string, link?: number, frames?: number): unknown =>
  good(stackWorked(text === '' ? [] : text.split(','), link, frames)).value;

describe('the largest packet through a stack', () => {
  test.each([
    ['', 1500, 'RFC 894'],
    ['vlan', 1500, 'IEEE 802.1Q: a tag grows the frame'],
    ['pppoe', 1492, 'RFC 2516 section 7'],
    ['vlan,pppoe', 1492, 'RFC 2516 section 7'],
    ['ds-lite', 1460, 'RFC 6333 section 5.3'],
    ['wireguard4', 1440, "the protocol's paper"],
    ['wireguard6', 1420, "the protocol's paper"],
    ['pppoe,wireguard4', 1432, "the protocol's paper, RFC 2516"],
    ['pppoe,wireguard6', 1412, "the protocol's paper, RFC 2516"],
    ['l2tp', 1460, 'RFC 2661'],
  ])('%s: %i (%s)', (stack, expected) => expect(mtu(stack)).toBe(expected));

  test('1500 through PPPoE where the link carries 1508 (RFC 4638), and no more than that', () => {
    expect([mtu('vlan,pppoe', 1508), mtu('pppoe', 9000)]).toEqual([1500, 1500]);
  });

  test('gear that takes frames of 1518 only pays for the tag with four bytes of the packet', () => {
    expect(mtu('vlan', 1500, 1518)).toBe(1496);
  });

  test('encryption in blocks: an inner 1400 makes 1464 (RFC 4303, RFC 4106), so that fits 1464 and not 1463', () => {
    expect(Number(mtu('esp4', 1464))).toBeGreaterThanOrEqual(1400);
    expect(Number(mtu('esp4', 1463))).toBeLessThan(1400);
  });

  test('segments and ping follow: 1452 and 1432 on PPPoE (RFC 9293 section 3.7.1)', () => {
    const { steps } = good(stackWorked(['pppoe']));
    const value = (says: string): string => steps.find((step) => step.says === says)!.value;
    expect(value('TCP segment over IPv4')).toBe('1492 - 40 = 1452');
    expect(value('TCP segment over IPv6')).toBe('1492 - 60 = 1432');
    expect(value('ping that must pass')).toBe('1492 - 28 = 1464');
  });

  test('one more wrapping never carries more', () => {
    const names = layers.map(({ name }) => name).filter((name) => name !== 'vlan');
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom(...names), { maxLength: 5 }),
        fc.constantFrom(...names),
        (stack, more) => {
          expect(Number(mtu([...stack, more].join()))).toBeLessThan(Number(mtu(stack.join())));
        },
      ),
    );
  });

  test('nonsense is refused by name', () => {
    expect(stackWorked(['onions'])).toMatchObject({ ok: false, problem: { code: 'unknown-layer' } });
    expect(stackWorked(['pppoe', 'vlan'])).toMatchObject({ ok: false, problem: { code: 'layer-order' } });
    expect(stackWorked(Array.from({ length: 40 }, () => 'ds-lite'))).toMatchObject({
      problem: { code: 'too-deep' },
    });
  });
});

describe('the line over time', () => {
  test('availability: 0.999 is 8.76 h a year and 43.2 min in 30 days (IEC 61078, arithmetic)', () => {
    const worked = availabilityWorked(99.9);
    expect(worked.value).toBe(43.2);
    expect(worked.steps.find(({ says }) => says === 'in a year')!.value).toBe('× 8760 h = 8.76 h');
    expect(availabilityWorked(100).value).toBe(0);
  });

  test('the cap: 6 h at 8 Mb/s are 21.6 GB by hand', () => {
    expect(capCostWorked(6, 8, 10, 2).value).toBe(23.2);
    expect(capCostWorked(6, 8, 30, 2)).toMatchObject({ value: 0, means: expect.stringMatching(/within/) });
  });

  test('bandwidth-delay product: 44.21 Mb/s × 25 ms = 1 105 250 bit (RFC 6349 section 3.3.1)', () => {
    const worked = windowWorked(44.21, 25);
    expect(worked.steps[0]!.value).toContain('= 1105250 bit');
    expect(worked.value).toBe(20.97); // 64 KiB in 25 ms
    expect(windowWorked(44.21, 25, 1024).value).toBe(44.21);
  });
});

describe('measured rates', () => {
  const run = (mbps: number, more: Partial<RateRun> = {}): RateRun => ({
    direction: 'down',
    mbps,
    wired: true,
    hour: 10,
    ...more,
  });

  test('the median of at least three wired runs, against the best that TCP can show', () => {
    const worked = good(rateVerdict([run(281), run(279), run(120), run(290, { hour: 20 })], 'down', 300));
    // Median of 120, 279, 281, 290 is 280; 300 × 1460 / 1538 = 284.79.
    expect([worked.value, worked.means]).toEqual([98, 'As sold.']);
  });

  test('runs by air do not judge the line, and too few are too few', () => {
    const air = rateVerdict([run(40, { wired: false }), run(42, { wired: false }), run(280)], 'down', 300);
    expect(air).toMatchObject({ ok: false, problem: { says: expect.stringMatching(/by air/) } });
    expect(rateVerdict([run(280), run(280), run(280)], 'up', 100).ok).toBe(false);
  });

  test('less than sold, far less, and a mistake of units are told apart', () => {
    const said = (mbps: number): string =>
      good(rateVerdict([run(mbps), run(mbps), run(mbps)], 'down', 300)).means!;
    expect([said(240), said(90), said(2280)]).toEqual([
      expect.stringMatching(/^Less than sold/),
      expect.stringMatching(/^Far less/),
      expect.stringMatching(/units/),
    ]);
    expect(said(280)).toMatch(/one hour/);
  });

  test('median and scatter do not follow one wild value', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 90, max: 110 }), { minLength: 3, maxLength: 15 }), (values) => {
        const wild = [...values, 100_000];
        expect(median(wild)).toBeLessThanOrEqual(110);
        expect(scatter(wild)).toBeLessThanOrEqual(1.4826 * 20);
        expect(median(values)).toBe(median([...values].reverse()));
      }),
    );
  });
});
