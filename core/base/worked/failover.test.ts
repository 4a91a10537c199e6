import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { seeded } from '../../behaviour/provider-sim/stand-in.ts';
import {
  availabilityOf,
  availabilityTogether,
  backupDataWorked,
  detection,
  detectionWorked,
  falseAlarmsWorked,
  missChance,
  returnWorked,
  togetherWorked,
  upsWorked,
  windowAlarms,
} from './failover.ts';

describe('detection', () => {
  test('12, 14.5 and 17 s for a probe every 5 s, given up after 2, three lost (RFC 5880 section 6.8.4; arithmetic)', () => {
    expect(detection(5, 2, 3)).toEqual({ bestSeconds: 12, meanSeconds: 14.5, worstSeconds: 17 });
    const { value, steps } = detectionWorked(5, 2, 3);
    expect(value).toBe(17);
    expect(steps.map((each) => each.value)).toEqual([
      '(3 - 1) × 5 + 2 = 12 s',
      '(3 - ½) × 5 + 2 = 14.5 s',
      '3 × 5 + 2 = 17 s',
    ]);
  });

  test('a line is believed again after its answers and the hold (arithmetic)', () => {
    expect(returnWorked(5, 4, 60).value).toBe(80);
  });
});

describe('false alarms and misses', () => {
  test('one target at 1 % loss, every 5 s, three lost: 518400 × 0.99 × 10⁻⁶ (Feller, vol. 1, XIII.7, from memory)', () => {
    expect(falseAlarmsWorked(1, 5, 3).value).toBeCloseTo(0.51, 2);
    // A second target that is lost on its own squares the chance of a round.
    expect(Number(falseAlarmsWorked(1, 5, 3, 2).value)).toBeLessThan(1e-6);
  });

  test('the rate of runs is what a long row of random probes shows', () => {
    const random = seeded(11);
    const rounds = 2_000_000;
    let inRow = 0;
    let alarms = 0;
    for (let index = 0; index < rounds; index += 1) {
      inRow = random() < 0.2 ? inRow + 1 : 0;
      if (inRow === 3) alarms += 1;
    }
    const expected = rounds * 0.8 * 0.2 ** 3;
    expect(Math.abs(alarms - expected)).toBeLessThan(4 * Math.sqrt(expected));
  });

  test('the chance of a miss is that of counting every possible row of losses', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 5 }),
        fc.integer({ min: 0, max: 12 }),
        fc.double({ min: 0.05, max: 0.95, noNaN: true }),
        (losses, probes, share) => {
          let none = 0;
          for (let row = 0; row < 2 ** probes; row += 1) {
            let chance = 1;
            let inRow = 0;
            let found = false;
            for (let place = 0; place < probes; place += 1) {
              const lost = ((row >> place) & 1) === 1;
              chance *= lost ? share : 1 - share;
              inRow = lost ? inRow + 1 : 0;
              found ||= inRow >= losses;
            }
            if (!found) none += chance;
          }
          expect(missChance(share, losses, probes)).toBeCloseTo(none, 9);
        },
      ),
    );
  });

  test('a window rises to its threshold as often as a long row of random probes shows', () => {
    const random = seeded(5);
    const [window, needed, share, probes] = [20, 5, 0.1, 1_000_000];
    const last: boolean[] = [];
    let count = 0;
    let alarms = 0;
    for (let index = 0; index < probes; index += 1) {
      const lost = random() < share;
      const before = count;
      last.push(lost);
      if (lost) count += 1;
      if (last.length > window && last.shift()) count -= 1;
      if (before < needed && count >= needed) alarms += 1;
    }
    const expected = windowAlarms(share * 100, probes, window, needed);
    // Crossings come in clusters, so their scatter is wider than that of single events.
    expect(Math.abs(alarms - expected) / expected).toBeLessThan(0.05);
  });
});

test('loss at or above the threshold is no rare alarm: the line counts as down', () => {
  for (const loss of [30, 50, 100]) expect(windowAlarms(loss, 172_800, 20, 5)).toBe(Infinity);
  // 12 % is under a threshold of 25 %, and still above it for a fifth of the time or less.
  expect(windowAlarms(12, 172_800, 20, 5)).toBeGreaterThan(1000);
});

test('a long brown-out is noticed: the chance that none of its runs is found falls for ever', () => {
  // By the same factor with each probe (Feller): twice as long is missed as often as both halves together.
  const [short, long] = [missChance(0.02, 3, 100_000), missChance(0.02, 3, 200_000)];
  expect(long / (short * short)).toBeCloseTo(1, 2);
  expect(missChance(0.02, 3, 2_000_000)).toBeLessThan(1e-6);
});

describe('availability', () => {
  test('0.99 beside 0.999 gives 0.99999, in series their product; 0.999 is out 8.76 h a year (IEC 61078)', () => {
    expect(availabilityTogether([0.99, 0.999], [])).toBeCloseTo(0.99999, 10);
    expect(availabilityTogether([0.99, 0.999], [0.9995])).toBeCloseTo(0.99999 * 0.9995, 10);
    // Mean time to failure over itself and the repair: 8760 h and 8.76 h make 1000 parts in 1001.
    expect(availabilityOf(1, 8.76)).toBeCloseTo(1000 / 1001, 10);
    expect((1 - 0.999) * 8760).toBeCloseTo(8.76, 10);
  });

  test('a shared cause outweighs two good lines', () => {
    expect(togetherWorked([0.999, 0.999], []).value).toBeCloseTo(0.0432, 6);
    expect(togetherWorked([0.999, 0.999], [0.9999]).value).toBeCloseTo(4.3632, 4);
  });

  test('more lines never make it worse, more causes never better', () => {
    const share = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        fc.array(share, { minLength: 1, maxLength: 4 }),
        fc.array(share, { maxLength: 3 }),
        share,
        (lines, causes, more) => {
          const now = availabilityTogether(lines, causes);
          expect(availabilityTogether([...lines, more], causes)).toBeGreaterThanOrEqual(now - 1e-12);
          expect(availabilityTogether(lines, [...causes, more])).toBeLessThanOrEqual(now + 1e-12);
        },
      ),
    );
  });
});

test('backup data: three hours at 2 Mb/s are 2.7 GB, probes of 168 bytes beside it (RFC 791, RFC 792; arithmetic)', () => {
  const data = backupDataWorked({
    hours: 3,
    mbps: 2,
    probeSeconds: 15,
    targets: 2,
    capGigabytes: 2,
    pricePerGigabyte: 3,
  });
  // 172800 rounds × 2 × 168 bytes = 58 MB.
  expect(data.value).toBeCloseTo(2.758, 3);
  expect(data.steps.find(({ says }) => says === 'cost')?.value).toMatch(/^0\.7581 × 3/);
});

test('run time: 150 Wh at 45 W are 170 minutes when 85 % arrive (common practice, no source)', () => {
  expect(upsWorked(150, 45).value).toBe(170);
});
