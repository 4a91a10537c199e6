import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { surveyReading, type SurveyReading } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import { demoPlan } from '../../testing/plans.ts';
import { judgedText } from '../../testing/visit.ts';
import { parseCellular } from './cellular.ts';
import { experimentOrder, judgeSurvey } from './survey.ts';

describe('what modems print', () => {
  test('+CSQ and +CESQ (3GPP TS 27.007 sections 8.5, 8.69, from memory)', () => {
    expect(parseCellular('AT+CESQ\n+CESQ: 99,99,255,255,20,53\n\nOK').readings).toEqual([
      { rsrqDb: -10, rsrpDbm: -88 },
    ]);
    expect(parseCellular('+CSQ: 17,99').readings).toEqual([{ rssiDbm: -79 }]);
  });

  test('the nine fields of newer modems', () => {
    expect(parseCellular('+CESQ: 99,99,255,255,255,255,65,60,70').readings).toEqual([
      { rsrpDbm: -97, rsrqDb: -11, sinrDb: 11.5 },
    ]);
  });

  test('99 and 255 are unknown and not zero, and a line of seven fields is said to be one', () => {
    expect(parseCellular('+CSQ: 99,99\n+CESQ: 99,99,255,255,255,255').readings).toEqual([]);
    expect(parseCellular('+CESQ: 1,2,3,4,5,6,7').notes[0]).toMatch(/six or nine/);
  });

  test('lines of key and value, two readings apart by an empty line or a key that comes again', () => {
    const text =
      'Place: cupboard\nRSRP: -101 dBm\nRSRQ = -11.5 dB\nSINR: 4\n\nPlace: window\nRSRP: -93\nSINR: 12,5\nRSRP: -92\nSINR: 13';
    expect(parseCellular(text).readings).toEqual([
      { place: 'cupboard', rsrpDbm: -101, rsrqDb: -11.5, sinrDb: 4 },
      { place: 'window', rsrpDbm: -93, sinrDb: 12.5 },
      { rsrpDbm: -92, sinrDb: 13 },
    ]);
  });

  test('a table from a spreadsheet, by its heading', () => {
    const { readings, notes } = parseCellular(
      'place;earfcn;RSRP;down\nroof;6300;-84;"38,5"\nhall;1300;-160000;9',
    );
    expect(readings).toEqual([
      { place: 'roof', channel: 6300, rsrpDbm: -84, downMbps: 38.5 },
      { place: 'hall', channel: 1300, downMbps: 9 },
    ]);
    expect(notes[0]).toMatch(/outside -160 to 0/);
  });

  test('a place that a spreadsheet wrote over two lines is one line', () => {
    const { readings } = parseCellular('place,RSRP\n"north\nwindow",-98');
    expect(readings).toEqual([{ place: 'north window', rsrpDbm: -98 }]);
  });

  test('whatever is pasted, nothing is thrown, and every figure is within its limits', () => {
    const line = fc.oneof(
      fc.string(),
      fc
        .constantFrom('RSRP: ', '+CESQ: ', 'SINR=', 'place,RSRP')
        .chain((head) => fc.string().map((tail) => head + tail)),
    );
    fc.assert(
      fc.property(fc.array(line, { maxLength: 12 }), (lines) => {
        for (const figures of parseCellular(lines.join('\n')).readings)
          expect(surveyReading.safeParse({ id: 'x', ...figures }).success).toBe(true);
      }),
    );
  });
});

describe('the survey', () => {
  let count = 0;
  const reading = (figures: Partial<SurveyReading>): SurveyReading =>
    surveyReading.parse({ id: `r${(count += 1)}`, ...figures });
  const at = (place: string, ...rates: number[]): SurveyReading[] =>
    rates.map((downMbps) => reading({ place, downMbps, rsrpDbm: -95, sinrDb: 8 }));

  test('a difference larger than the scatter decides', () => {
    const survey = judgeSurvey([...at('cupboard', 11, 12, 13), ...at('window', 30, 31, 33)], null);
    expect([survey.best?.name, survey.best?.downMbps]).toEqual(['window', 31]);
    expect(survey.verdict!.value).toBe(19); // 31 - 12
    expect(survey.says).toMatch(/is the better one/);
  });

  test('a difference within the scatter is not one, and few readings may be chance', () => {
    expect(judgeSurvey([...at('a', 10, 20, 30), ...at('b', 12, 22, 33)], null).says).toMatch(
      /cannot be told apart/,
    );
    expect(judgeSurvey([...at('a', 10), ...at('b', 40)], null).says).toMatch(/chance/);
  });

  test('without rates the SINR decides; bars and RSRP alone never do', () => {
    const quiet = [1, 2, 3].map((index) =>
      reading({ place: 'back', rsrpDbm: -104, sinrDb: 14 + index / 10 }),
    );
    const loud = [1, 2, 3].map((index) => reading({ place: 'front', rsrpDbm: -80, sinrDb: 3 + index / 10 }));
    expect(judgeSurvey([...quiet, ...loud], null).best?.name).toBe('back');
    expect(judgeSurvey([reading({ place: 'front', rsrpDbm: -80 })], null).best).toBeUndefined();
  });

  test('readings that cannot be are named', () => {
    const readings = [
      reading({ rsrpDbm: -60, rssiDbm: -70 }),
      reading({ rsrpDbm: -98, rssiDbm: -71, rsrqDb: -3 }),
      reading({ rsrpDbm: -98, rssiDbm: -71, rsrqDb: -10 }), // 17 - 98 + 71 = -10 with 50 blocks
    ];
    expect(judgeSurvey(readings, 10).impossible.map(({ index }) => index)).toEqual([0, 1]);
  });

  test('places, antennas and bands are kept apart', () => {
    const survey = judgeSurvey(
      [
        reading({ place: 'roof', channel: 6300, sinrDb: 5 }),
        reading({ place: 'roof', channel: 1300, sinrDb: 9 }),
      ],
      null,
    );
    expect(survey.spots.map(({ name }) => name)).toEqual(['roof, band 3', 'roof, band 20']);
  });

  test('an experiment takes every set once a round, and none is always first', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.string({ minLength: 1 }), { minLength: 1, maxLength: 6 }),
        fc.integer({ min: 1, max: 8 }),
        (sets, rounds) => {
          const order = experimentOrder(sets, rounds);
          expect(order).toHaveLength(sets.length * rounds);
          for (let round = 0; round < rounds; round += 1)
            expect(new Set(order.slice(round * sets.length, (round + 1) * sets.length))).toEqual(
              new Set(sets),
            );
          const firsts = Array.from(
            { length: Math.min(rounds, sets.length) },
            (_, round) => order[round * sets.length],
          );
          expect(new Set(firsts).size).toBe(firsts.length);
        },
      ),
    );
  });
});

describe('a logbook over the hours', () => {
  const at = (place: string, channel: number, hour: number, sinrDb: number): SurveyReading =>
    surveyReading.parse({
      id: `h${place}${channel}${hour}${sinrDb}`.replace(/\W/g, '_'),
      place,
      channel,
      sinrDb,
      takenAt: `2026-03-02T${String(hour).padStart(2, '0')}:00:00Z`,
    });

  test('one wild reading moves neither the median nor the choice', () => {
    const calm = [7, 8, 9].flatMap((hour) => [at('roof', 6300, hour, 9), at('hall', 6300, hour, 4)]);
    const before = judgeSurvey(calm, 10);
    const after = judgeSurvey([...calm, at('hall', 6300, 10, 40)], 10);
    expect([before.best?.name, after.best?.name]).toEqual(['roof, band 20', 'roof, band 20']);
    expect(after.spots.find(({ name }) => name.startsWith('hall'))!.sinrDb).toBe(4);
  });

  test('by band and by hour, on the clock of the site', () => {
    const readings = [
      at('roof', 6300, 7, 9),
      at('hall', 6300, 8, 8),
      at('roof', 1300, 8, 4),
      at('hall', 1300, 8, 3),
    ];
    const names = (...args: Parameters<typeof judgeSurvey>): string[] =>
      judgeSurvey(...args).spots.map(({ name }) => name);
    expect(names(readings, 10, 'band')).toEqual(['band 20', 'band 3']);
    expect(names(readings, 10, 'hour')).toEqual(['07 h', '08 h']);
    expect(names(readings, 10, 'hour', 'Europe/Paris')).toEqual(['08 h', '09 h']);
    expect(names(readings, 10, 'hour', 'Mars/Olympus')).toEqual(['07 h (UTC)', '08 h (UTC)']);
    expect(judgeSurvey([surveyReading.parse({ id: 'n', sinrDb: 1 })], 10, 'hour').spots[0]!.name).toBe(
      'hour not noted',
    );
  });

  test('readings in another order say the same', () => {
    const readings = [1, 5, 2, 8, 3].map((sinr, hour) =>
      at(hour % 2 === 0 ? 'roof' : 'hall', 1300, hour, sinr),
    );
    expect(judgeSurvey([...readings].reverse(), 10).spots).toEqual(judgeSurvey(readings, 10).spots);
  });

  test('grades stand beside the figures: strong and noisy is told from weak and quiet', () => {
    const [spot] = judgeSurvey(
      [surveyReading.parse({ id: 'a', place: 'front', rsrpDbm: -82, sinrDb: -3 })],
      10,
    ).spots;
    expect([spot!.signal, spot!.noise]).toEqual(['good', 'poor']);
  });

  test('an empty logbook says nothing, and a place without a name is still a place', () => {
    expect(judgeSurvey([], 10)).toMatchObject({ spots: [], best: undefined, impossible: [] });
    expect(judgeSurvey([surveyReading.parse({ id: 'b', sinrDb: 3 })], 10).spots[0]!.name).toBe(
      'unnamed place',
    );
  });
});

test.each([
  ['-19,25 dBm', '-19.25 dBm'],
  ['Rx power: -19.25', '-19.25 dBm'],
  ['-19', '-19 dBm'],
])('a figure is read whole, with comma or point: %s', (typed, read) => {
  expect(judgedText(compile(demoPlan('farrow-sound')), 'light:fibre', typed)?.says).toContain(read);
});
