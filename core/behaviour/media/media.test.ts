import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { good } from '../../testing/plans.ts';
import {
  bandMaskWorked,
  bandsOfMask,
  csqOf,
  parseBands,
  pinSays,
  rsrpOf,
  rsrpQuality,
  rsrqOf,
  rsrqQuality,
  rsrqWorked,
  sinrQuality,
} from './cellular.ts';
import {
  bandOf,
  earfcnWorked,
  lteChannelWorked,
  nrArfcnWorked,
  nrChannelsOf,
  nrChannelWorked,
} from './channels.ts';
import {
  cellRateWorked,
  type CellChannel,
  eirpWorked,
  freeSpaceLossWorked,
  fresnelWorked,
  linkBudgetWorked,
  noiseWorked,
} from './radio-link.ts';
import { luhnHolds, parseApn, parseCardNumber } from '../../base/net/identifiers.ts';
import { antennaCables, antennaWorked, cableLossWorked, pairProblem, parsePairs } from './antenna.ts';
import {
  cablePower,
  cableSnr,
  cableUpstream,
  delayWorked,
  dslMargin,
  satelliteFloorWorked,
} from './copper.ts';
import { judgeOptical, opticalBudget, opticalSystems, type OpticalRoute } from './optical.ts';

/** As it is printed: computed figures carry what binary fractions add. */
const printed = (value: number, places = 2): number => Number(value.toFixed(places));
const megahertz = (channel: number): number => printed(good(earfcnWorked(channel)).value);

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
      [14, 5280, 5379, 758, 767.9],
      [17, 5730, 5849, 734, 745.9],
      [25, 8040, 8689, 1930, 1994.9],
      [26, 8690, 9039, 859, 893.9],
      [32, 9920, 10_359, 1452, 1495.9],
      [39, 38_250, 38_649, 1880, 1919.9],
      [42, 41_590, 43_589, 3400, 3599.9],
      [43, 43_590, 45_589, 3600, 3799.9],
      [48, 55_240, 56_739, 3550, 3699.9],
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
    expect([1300, 66_436, 68_586, 39_650, 9920, 67_300].map(uplink)).toEqual([
      '19300, 1720 MHz',
      '131972, 1710 MHz',
      '133122, 663 MHz',
      '39650, shared in time',
      'none: the band is for downlink only',
      'none: this channel is for downlink only', // the upper 20 MHz of band 66 have no uplink
    ]);
  });

  test('from a frequency to the numbers that stand for it', () => {
    expect(good(lteChannelWorked(806)).value).toContain('6300');
    expect(lteChannelWorked(5000)).toMatchObject({ ok: false });
    expect(good(nrChannelWorked(3600)).value).toContain('640000');
  });

  test('a number in no listed band is unknown, not that of a neighbour', () => {
    expect(earfcnWorked(4000)).toMatchObject({ ok: false, problem: { code: 'unknown-channel' } });
    expect(bandOf(2700)).toBeUndefined();
  });

  test('5G (3GPP TS 38.104 section 5.4.2.1, from memory)', () => {
    const value = (channel: number): number => printed(good(nrArfcnWorked(channel)).value);
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
    expect(rsrqWorked(-98, -71, 50).value).toBeCloseTo(-10.01, 2);
    expect(rsrqWorked(-98, -71, 50).means).not.toMatch(/Impossible/);
    expect(rsrqWorked(-70, -80, 50).means).toMatch(/^Impossible/);
  });

  test('grades begin where the trade says (common practice, no source)', () => {
    expect([-90, -91, -105, -106].map(rsrpQuality)).toEqual(['good', 'fair', 'fair', 'poor']);
    expect([-10, -15, -15.5].map(rsrqQuality)).toEqual(['good', 'fair', 'poor']);
    expect([13, 12.9, 0, -0.1].map(sinrQuality)).toEqual(['good', 'fair', 'fair', 'poor']);
  });
});

describe('bounds of physics', () => {
  test('loss in free space (ITU-R P.525), by the doubling rule', () => {
    expect(freeSpaceLossWorked(1000, 1).value).toBeCloseTo(92.4, 10); // 32.4 + 20 log f + 20 log d
    const near = freeSpaceLossWorked(1800, 2).value;
    expect(freeSpaceLossWorked(1800, 4).value - near).toBeCloseTo(6.02, 2);
    expect(freeSpaceLossWorked(3600, 2).value - near).toBeCloseTo(6.02, 2);
  });

  test('the first Fresnel zone (ITU-R P.526) is half the root of wavelength times distance', () => {
    for (const [mhz, km] of [
      [5180, 0.2],
      [2437, 1],
      [60_000, 5],
    ] as const) {
      const wavelength = 299.792458 / mhz;
      // 550 is rounded from 547.7, the root of the speed of light in these units.
      expect(fresnelWorked(mhz, km).value / (0.5 * Math.sqrt(wavelength * km * 1000))).toBeCloseTo(1.004, 2);
    }
  });

  test('noise: -174 dBm/Hz over 10 MHz is -104 dBm, and the figure adds to it', () => {
    expect(noiseWorked(10, 0).value).toBeCloseTo(-104, 1);
    expect(noiseWorked(20, 7).value).toBeCloseTo(-94, 1);
  });

  test('the rate of a channel never passes the best modulation, nor Shannon', () => {
    // Index 15 carries 5.5547 bit/symbol (3GPP TS 36.213): 100 blocks of 0.18 MHz make 18 MHz.
    const rate = (sinrDb: number, more: Partial<CellChannel> = {}): number =>
      printed(good(cellRateWorked({ sinrDb, widthMHz: 20, ...more })).value, 1);
    expect(rate(40)).toBe(100);
    expect(rate(0)).toBe(18); // log2(1 + 1) = 1 bit/s/Hz
    expect(rate(-6)).toBeLessThan(6);
    // 256-QAM: 7.4063 bit/symbol (table 7.2.3-2).
    expect(rate(40, { modulation: 256, layers: 2 })).toBe(266.6);
    // 3GPP TS 38.306 section 4.1.2, its formula by hand: 4 × 8 × 948/1024 × 273 × 12 / 35.714 µs × 0.86 = 2337 Mb/s.
    expect(Math.round(rate(60, { generation: 'nr', widthMHz: 100, layers: 4 }))).toBe(2337);
    expect(cellRateWorked({ sinrDb: 10, widthMHz: 12 })).toMatchObject({ problem: { at: 'width' } });
  });

  test('radiated power and the link budget (arithmetic of decibels, ITU-R P.525)', () => {
    expect(eirpWorked(23, 2, 9).value).toBe(30);
    const budget = linkBudgetWorked({
      eirpDbm: 30,
      lossDb: 112,
      otherDb: 6,
      gainDbi: 9,
      sensitivityDbm: -85,
    });
    expect(budget.steps.map(({ value }) => value).join('; ')).toContain('-79');
    expect(budget.value).toBe(6);
  });

  test('an antenna cable loses with the root of the frequency', () => {
    expect(cableLossWorked({ db: 20, mhz: 900 }, 3600, 10).value).toBeCloseTo(4, 10);
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
    splitters: [32],
    sentDbm: 3,
  };

  test('a worked route: 4 km, 4 connectors, 6 splices, a splitter of 32', () => {
    const budget = good(opticalBudget(route));
    // 4 × 0.25 + 4 × 0.3 + 6 × 0.1 + 17.1 = 19.9 dB by hand; 3 dBm - 19.9 = -16.9 dBm.
    expect(budget.typicalLossDb).toBeCloseTo(19.9, 10);
    expect(budget.expectedDbm[1]).toBeCloseTo(-16.9, 10);
    // At the limits: 4 × 0.4 + 4 × 0.75 + 6 × 0.3 (TIA-568.3) + 0.8 + 3.4 × log2 32 (ITU-T G.671) = 24.2 dB.
    expect(budget.maximumLossDb).toBeCloseTo(24.2, 10);
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

  test('the route is judged against its class: 29.9 dB are too much for 28 (ITU-T G.984.2 class B+)', () => {
    const heavy = good(
      opticalBudget({ ...route, connectors: 15, splices: 10, lengthKm: 11, splitters: [4, 16] }),
    );
    expect(heavy.typicalLossDb).toBeGreaterThan(28);
    expect([heavy.standing, heavy.worked.means]).toEqual(['too-much', expect.stringMatching(/28/)]);
    expect(good(opticalBudget(route)).standing).toBe('fits');
    // A short route without a splitter loses less than the 13 dB the class wants: the ONT is overloaded.
    const short = { ...route, splitters: [], lengthKm: 0.2, connectors: 2, splices: 0 };
    expect(good(opticalBudget(short)).standing).toBe('too-little');
  });

  test('losses from a sheet count before the usual values, and splitters in a row add up', () => {
    const own = good(
      opticalBudget({ ...route, perKmDb: 0.21, connectorDb: 0.2, spliceDb: 0.05, splitters: [4, 8] }),
    );
    // 4 × 0.21 + 4 × 0.2 + 6 × 0.05 + the two splitters.
    const splitters = good(
      opticalBudget({ ...route, lengthKm: 0, connectors: 0, splices: 0, splitters: [4, 8] }),
    );
    expect(own.typicalLossDb - splitters.typicalLossDb).toBeCloseTo(1.94, 10);
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
    expect(opticalBudget({ ...route, splitters: [5] })).toMatchObject({ problem: { code: 'splitter' } });
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
    // 4 × 35 786 km at 299 792 km/s; rounded down, for a reading below it is the impossible one.
    expect(Math.floor(satelliteFloorWorked().value)).toBe(477);
    expect(satelliteFloorWorked(550).value).toBeLessThan(8);
  });
});

describe('antenna and band pairs', () => {
  test('a cable takes from the gain; ten metres of thin cable eat a small antenna (arithmetic)', () => {
    // 98 dB per 100 m at 900 MHz, twice that at four times the frequency (square root law, common practice).
    const loss = cableLossWorked({ db: antennaCables['rg-174'].dbPer100m, mhz: 900 }, 3600, 5);
    expect(loss.value).toBeCloseTo(9.8, 10);
    expect(antennaWorked(9, loss.value)).toMatchObject({
      value: expect.closeTo(-0.8, 10),
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

test.each([
  [34.9, 'poor'],
  [35, 'good'],
  [49, 'good'],
  [49.1, 'poor'],
  [54, 'poor'],
  [54.1, 'bad'],
] as const)('a cable modem that sends at %s dBmV is %s (common practice, no source)', (dbmv, verdict) => {
  expect(cableUpstream(dbmv).verdict).toBe(verdict);
});
