import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { good } from '../testing/plans.ts';
import {
  bandMaskWorked,
  bandOf,
  bandsOfMask,
  cellRateWorked,
  csqOf,
  earfcnWorked,
  freeSpaceLossWorked,
  noiseWorked,
  nrArfcnWorked,
  nrChannelsOf,
  parseBands,
  pinSays,
  rsrpOf,
  rsrpQuality,
  rsrqOf,
  rsrqQuality,
  rsrqWorked,
  sinrQuality,
} from './cellular.ts';
import { luhnHolds, parseApn, parseCardNumber } from '../net/identifiers.ts';
import { antennaCables, antennaWorked, cableLossWorked, pairProblem, parsePairs } from './antenna.ts';
import { cablePower, cableSnr, delayWorked, dslMargin, satelliteFloorWorked } from './copper.ts';
import { judgeOptical, opticalBudget, opticalSystems, type OpticalRoute } from './optical.ts';

const megahertz = (channel: number): unknown => good(earfcnWorked(channel)).value;

describe('channel numbers', () => {
  test('LTE downlink (3GPP TS 36.101 section 5.7.3, from memory)', () => {
    expect([megahertz(1300), megahertz(6300)]).toEqual([1815, 806]);
    // Both ends of every band: its lowest frequency, and the width of the band less one step.
    const ends: [band: number, first: number, last: number, low: number, high: number][] = [
      [1, 0, 599, 2110, 2169.9],
      [3, 1200, 1949, 1805, 1879.9],
      [7, 2750, 3449, 2620, 2689.9],
      [8, 3450, 3799, 925, 959.9],
      [20, 6150, 6449, 791, 820.9],
      [28, 9210, 9659, 758, 802.9],
      [38, 37_750, 38_249, 2570, 2619.9],
      [66, 66_436, 67_335, 2110, 2199.9],
      [71, 68_586, 68_935, 617, 651.9],
    ];
    for (const [band, first, last, low, high] of ends)
      expect([bandOf(first), bandOf(last), megahertz(first), megahertz(last)]).toEqual([
        band,
        band,
        low,
        high,
      ]);
  });

  test('the uplink number goes with it: plus 18000, but not in bands 66, 71 and those in one frequency', () => {
    const uplink = (channel: number) =>
      good(earfcnWorked(channel)).steps.find(({ says }) => says === 'uplink channel')!.value;
    expect([uplink(1300), uplink(66_436), uplink(68_586), uplink(39_650)]).toEqual([
      '19300',
      '131972',
      '133122',
      '39650',
    ]);
  });

  test('a number in no listed band is unknown, not that of a neighbour', () => {
    expect(earfcnWorked(4000)).toMatchObject({ ok: false, problem: { code: 'unknown-channel' } });
    expect(bandOf(2700)).toBeUndefined();
  });

  test('5G (3GPP TS 38.104 section 5.4.2.1, from memory)', () => {
    const value = (channel: number): unknown => good(nrArfcnWorked(channel)).value;
    expect([value(640_000), value(600_000), value(400_000), value(2_016_667)]).toEqual([
      3600, 3000, 2000, 24_250.08,
    ]);
    expect(good(nrChannelsOf(3500))).toEqual([633_333, 633_334]);
    expect(good(nrChannelsOf(3600))).toEqual([640_000]);
  });

  test('there and back again, on the whole raster', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 3_279_165 }), (channel) => {
        expect(good(nrChannelsOf(Number(good(nrArfcnWorked(channel)).value)))).toContain(channel);
      }),
    );
  });
});

describe('what a modem reports', () => {
  test('RSRP, RSRQ (3GPP TS 36.133 sections 9.1.4, 9.1.7) and +CSQ (TS 27.007 section 8.5), from memory', () => {
    expect([rsrpOf(0).says, rsrpOf(1).dbm, rsrpOf(97).says]).toEqual([
      'under -140 dBm',
      -140,
      '-44 dBm and up',
    ]);
    expect([rsrqOf(0).says, rsrqOf(1).dbm, rsrqOf(34).dbm]).toEqual(['under -19.5 dB', -19.5, -3]);
    expect([csqOf(0).dbm, csqOf(17).dbm, csqOf(31).says]).toEqual([-113, -79, '-51 dBm and up']);
  });

  test('unknown is unknown and not zero', () => {
    expect([rsrpOf(255), rsrqOf(255), csqOf(99)].map(({ dbm }) => dbm)).toEqual([
      undefined,
      undefined,
      undefined,
    ]);
  });

  test('RSRQ from its parts (3GPP TS 36.214), and a set that cannot be', () => {
    // 50 blocks: 10 log10 50 = 17.0; -98 + 17 - (-71) = -10.
    expect(rsrqWorked(-98, -71, 50).value).toBe(-10);
    expect(rsrqWorked(-98, -71, 50).means).not.toMatch(/Impossible/);
    expect(rsrqWorked(-70, -80, 50).means).toMatch(/^Impossible/);
  });

  test('grades begin where the trade says (common practice, no source)', () => {
    expect([-90, -91, -105, -106].map(rsrpQuality)).toEqual(['good', 'fair', 'fair', 'poor']);
    expect([-10, -15, -15.5].map(rsrqQuality)).toEqual(['good', 'fair', 'poor']);
    expect([13, 0, -0.1].map(sinrQuality)).toEqual(['good', 'fair', 'poor']);
  });
});

describe('bounds of physics', () => {
  test('loss in free space (ITU-R P.525), by the doubling rule', () => {
    expect(freeSpaceLossWorked(1000, 1).value).toBe(92.4);
    const near = Number(freeSpaceLossWorked(1800, 2).value);
    expect(Number(freeSpaceLossWorked(1800, 4).value) - near).toBeCloseTo(6.02, 1);
    expect(Number(freeSpaceLossWorked(3600, 2).value) - near).toBeCloseTo(6.02, 1);
  });

  test('noise: -174 dBm/Hz over 10 MHz is -104 dBm, and the figure adds to it', () => {
    expect(noiseWorked(10, 0).value).toBe(-104);
    expect(noiseWorked(20, 7).value).toBe(-94);
  });

  test('the rate of a channel never passes the best modulation, nor Shannon', () => {
    // Index 15 carries 5.5547 bit/symbol (3GPP TS 36.213): 100 blocks of 0.18 MHz make 18 MHz.
    expect(cellRateWorked(40, 20).value).toBe(100);
    expect(cellRateWorked(0, 20).value).toBe(18); // log2(1 + 1) = 1 bit/s/Hz
    expect(Number(cellRateWorked(-6, 20).value)).toBeLessThan(6);
  });

  test('an antenna cable loses with the root of the frequency', () => {
    expect(cableLossWorked({ db: 20, mhz: 900 }, 3600, 10).value).toBe(4);
  });
});

describe('bands', () => {
  test('as a mask: bit (band - 1)', () => {
    expect(bandMaskWorked([1, 3, 7, 20]).value).toBe('0x80045');
    expect(bandMaskWorked([66]).value).toBe('0x20000000000000000'); // above 64 bits
  });

  test('mask to bands to mask, also beyond 64', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 1, max: 200 }), { minLength: 1, maxLength: 12 }),
        (bands) => {
          const mask = String(bandMaskWorked(bands).value);
          expect(good(bandsOfMask(mask))).toEqual([...bands].sort((a, b) => a - b));
        },
      ),
    );
  });

  test('typed lists are read, and what is no band is named', () => {
    expect(good(parseBands('B3 + 7, n78'))).toEqual([3, 7, 78]);
    for (const text of ['', 'three', '0', '3,x']) expect(parseBands(text).ok).toBe(false);
    expect(bandsOfMask('0x8 0').ok).toBe(false);
  });
});

describe('the card and the access point', () => {
  test.each([
    ['internet.example', true],
    ['m2m-fixed.ferry.example', true],
    ['a'.repeat(62), true],
    ['a'.repeat(63), false],
    ['*', false],
    ['rac1', false],
    ['sgsn.example', false],
    ['internet.mnc001.mcc001.gprs', false],
    ['two words', false],
    ['-internet', false],
    ['user@realm', false],
  ])('APN "%s" is in order: %s (3GPP TS 23.003 section 9.1.1)', (text, fine) =>
    expect(parseApn(text).ok).toBe(fine),
  );

  test('check digits: the worked example of ISO/IEC 7812-1 annex B, and every single wrong digit', () => {
    expect(luhnHolds('79927398713')).toBe(true);
    for (const digit of '012456789') expect(luhnHolds(`7992739871${digit}`)).toBe(false);
  });

  test('a card number begins with 89 and keeps its check digit', () => {
    const body = '894400000000123456';
    const whole = [...'0123456789'].map((digit) => body + digit).find(luhnHolds)!;
    expect(good(parseCardNumber(`${whole.slice(0, 4)} ${whole.slice(4)}F`))).toBe(whole);
    const wrong = whole.slice(0, -1) + ((Number(whole.at(-1)) + 1) % 10);
    expect(parseCardNumber(wrong)).toMatchObject({ ok: false, problem: { code: 'card-check' } });
    expect(parseCardNumber('0044 7700 900 123').ok).toBe(false);
    expect(parseCardNumber('1234567890123456789')).toMatchObject({
      problem: { says: expect.stringMatching(/89/) },
    });
  });

  test('a PIN has three tries, and none left means the PUK (ETSI TS 102 221)', () => {
    expect([pinSays(3), pinSays(1), pinSays(0)]).toEqual([
      expect.stringMatching(/Three tries/),
      expect.stringMatching(/Do not guess/),
      expect.stringMatching(/PUK/),
    ]);
  });
});

describe('the optical route', () => {
  const route: OpticalRoute = {
    system: 'gpon-b',
    lengthKm: 4,
    connectors: 4,
    splices: 6,
    splitterWays: 32,
    sentDbm: 3,
  };

  test('a worked route: 4 km, 4 connectors, 6 splices, a splitter of 32', () => {
    const budget = good(opticalBudget(route));
    // 4 × 0.25 + 4 × 0.3 + 6 × 0.1 + 17.1 = 19.9 dB by hand; 3 dBm - 19.9 = -16.9 dBm.
    expect(budget.typicalLossDb).toBe(19.9);
    expect(budget.expectedDbm[1]).toBe(-16.9);
    // At the limits: 4 × 0.4 + 4 × 0.75 + 6 × 0.3 + 17.1 × 1.1 = 25.21 dB.
    expect(budget.maximumLossDb).toBe(25.21);
  });

  test('the window of each system is its sending power less its loss (as the standards have it, within 0.5 dB)', () => {
    for (const { sendDbm, hearDbm, lossDb } of opticalSystems) {
      // The lowest sender over the longest route is what the ONT must still hear, less at most a penalty of a decibel.
      expect(sendDbm[0] - lossDb[1]).toBeGreaterThanOrEqual(hearDbm[0] - 0.01);
      expect(sendDbm[0] - lossDb[1] - hearDbm[0]).toBeLessThanOrEqual(1.01);
      expect(sendDbm[1] - lossDb[0]).toBeLessThanOrEqual(hearDbm[1] + 0.01);
    }
  });

  test('a reading is judged against window and route, a short route overloads', () => {
    const budget = good(opticalBudget(route));
    const verdict = (dbm: number): string => judgeOptical(budget, dbm).verdict;
    expect([-50, -28, -25, -18, -12, -5].map(verdict)).toEqual([
      'dark',
      'too-weak',
      'weak',
      'as-expected',
      'strong',
      'overload',
    ]);
    expect(judgeOptical(budget, -28).says).toMatch(/Clean .* measure again.* before you call/);
    expect(judgeOptical(budget, -50).says).toMatch(/never into it/); // IEC 60825-2
  });

  test('more of anything never arrives stronger', () => {
    const more = fc.record({
      lengthKm: fc.nat({ max: 20 }),
      connectors: fc.nat({ max: 12 }),
      splices: fc.nat({ max: 20 }),
    });
    fc.assert(
      fc.property(more, more, (a, b) => {
        const sum = {
          lengthKm: a.lengthKm + b.lengthKm,
          connectors: a.connectors + b.connectors,
          splices: a.splices + b.splices,
        };
        const one = good(opticalBudget({ ...route, ...a }));
        const two = good(opticalBudget({ ...route, ...sum }));
        expect(two.expectedDbm[0]).toBeLessThanOrEqual(one.expectedDbm[0]);
        expect(two.expectedDbm[1]).toBeLessThanOrEqual(one.expectedDbm[1]);
      }),
    );
  });

  test('an unknown system or splitter is said to be one', () => {
    expect(opticalBudget({ ...route, system: 'other' })).toMatchObject({
      problem: { code: 'optical-system' },
    });
    expect(opticalBudget({ ...route, splitterWays: 5 })).toMatchObject({ problem: { code: 'splitter' } });
  });
});

describe('copper, cable and delay', () => {
  test('verdicts turn where the trade says (common practice, no source)', () => {
    expect([2.9, 3, 5.9, 6].map((db) => dslMargin(db).verdict)).toEqual(['bad', 'poor', 'poor', 'good']);
    expect([-16, -8, 0, 8, 16].map((power) => cablePower(power).verdict)).toEqual([
      'bad',
      'poor',
      'good',
      'poor',
      'bad',
    ]);
    expect([29, 31, 33].map((db) => cableSnr(db).verdict)).toEqual(['bad', 'poor', 'good']);
  });

  test('calls: 150 ms one way is good, 400 ms the limit (ITU-T G.114)', () => {
    expect([300, 302, 802].map((rtt) => delayWorked(rtt).verdict)).toEqual(['good', 'poor', 'bad']);
  });

  test('over a geostationary satellite nothing is back before 477 ms (physics)', () => {
    expect(satelliteFloorWorked().value).toBe(477);
    expect(Number(satelliteFloorWorked(550).value)).toBeLessThan(8);
  });
});

describe('antenna and band pairs', () => {
  test('a cable takes from the gain; ten metres of thin cable eat a small antenna (arithmetic)', () => {
    // 98 dB per 100 m at 900 MHz, twice that at four times the frequency (square root law, common practice).
    const loss = cableLossWorked({ db: antennaCables['rg-174'].dbPer100m, mhz: 900 }, 3600, 5);
    expect(loss.value).toBe(9.8);
    expect(antennaWorked(9, Number(loss.value))).toMatchObject({
      value: -0.8,
      means: expect.stringMatching(/eats the antenna/),
    });
  });

  test('a pair that is not in the table of the modem is refused, whichever way round it is written', () => {
    const table = '3+7, 20+3';
    expect(pairProblem('7+3', table)).toBeUndefined();
    expect(pairProblem('bands 3+20', table)).toBeUndefined();
    expect(pairProblem('7+20', table)).toBe(
      'The modem does not combine bands 7 and 20: its table has 3+7, 3+20.',
    );
    expect(pairProblem('3+7+20', table)).toMatch(/7 and 20/);
    expect(pairProblem('7+20', '')).toBeUndefined();
    expect(pairProblem('roof antenna', table)).toBeUndefined();
    expect(parsePairs('3+7, 9')).toMatchObject({ ok: false });
  });
});
