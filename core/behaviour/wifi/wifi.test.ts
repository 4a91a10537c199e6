import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { runChecks } from '../../answers/checks/index.ts';
import type { Plan } from '../../plan/schema.ts';
import { heardSchema, radioSchema, roomSchema, wifiNetworkSchema } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import { demoPlan, soundPlan } from '../../testing/plans.ts';
import { blockOf, channelsOf, overlapWorked, spectrumOf, type WifiBand } from '../../base/worked/wifi.ts';
import { airRateWorked, linkRateWorked, readingsWorked } from '../../base/worked/wifi-rate.ts';
import {
  busyShare,
  offeredChannels,
  ownDbm,
  ownShare,
  planChannels,
  weightOf,
  type Heard,
  type Radio,
} from './channels.ts';
import { allowedBy, channelRules, mostDbm } from './countries.ts';
import { expectedSignal, roomSignal } from './coverage.ts';
import { passphraseProblem, wifiCode, wifiPassphrase } from './key.ts';
import { busyWorked, recommendedChannels } from './now.ts';
import { parseScan } from './scan.ts';
import { widthsFor } from './width.ts';

describe('channels for all radios together', () => {
  const network = fc.record({
    ssid: fc.constant('x'),
    band: fc.constantFrom('2.4' as const, '5' as const),
    channel: fc.constantFrom(1, 3, 6, 8, 11, 36, 44, 100),
    width: fc.constantFrom(20, 40, 80),
    signalDbm: fc.integer({ min: -95, max: -40 }),
  });
  const radio = fc.record({
    band: fc.constantFrom('2.4' as const, '5' as const),
    width: fc.constantFrom(20, 80),
  });

  test('no other placing is less busy, by trying every one', () => {
    fc.assert(
      fc.property(
        fc.array(radio, { minLength: 1, maxLength: 3 }),
        fc.array(network, { maxLength: 12 }),
        (kinds, heard: Heard[]) => {
          const radios = kinds.map(({ band, width }, index): Radio => ({
            id: `r${index}`,
            band,
            width: band === '2.4' ? 20 : width,
          }));
          const costOf = (channels: readonly number[]): number => {
            const placed = radios.map((each, index) => ({ ...each, channel: channels[index]! }));
            return placed.reduce(
              (sum, each, index) =>
                sum +
                busyShare(each.band, each.channel, each.width, heard) +
                ownShare(
                  each,
                  placed.filter((_, place) => place !== index),
                ),
              0,
            );
          };
          const every = radios.reduce<readonly (readonly number[])[]>(
            (all, { band, width }) =>
              all.flatMap((head) => offeredChannels(band, width).map((channel) => [...head, channel])),
            [[]],
          );
          const found = planChannels(radios, heard);
          expect(found.exact).toBe(true);
          expect(found.busy).toBeCloseTo(Math.min(...every.map(costOf)), 9);
          expect(costOf(found.choices.map(({ channel }) => channel))).toBeCloseTo(found.busy, 9);
        },
      ),
      { numRuns: 60 },
    );
  });

  test('the sum that is shown for a channel is what the search counts, others and own', () => {
    fc.assert(
      fc.property(
        fc.array(network, { maxLength: 12 }),
        fc.constantFrom(1, 6, 11),
        fc.constantFrom(1, 6, 8, 11),
        (heard: Heard[], channel, beside) => {
          const site = compile(
            soundPlan(({ wifi }) => {
              wifi.radios = [
                radioSchema.parse({ id: 'a', channel }),
                radioSchema.parse({ id: 'b', channel: beside }),
              ];
              wifi.heard = heard.map((each, index) =>
                heardSchema.parse({
                  id: `h${index}`,
                  ...{ ssid: each.ssid, band: each.band, channel: each.channel, signal: each.signalDbm },
                  width: String(each.width),
                }),
              );
            }),
          );
          const radio = { band: '2.4' as const, channel, width: 20 };
          const counted =
            busyShare('2.4', channel, 20, heard) +
            ownShare(radio, [{ band: '2.4', channel: beside, width: 20 }]);
          expect(busyWorked(site, site.wifi.radios[0]!, channel).value).toBeCloseTo(counted * 100, 9);
        },
      ),
      { numRuns: 60 },
    );
  });

  test('three radios in a quiet house take 1, 6 and 11; a loud neighbour on 8 is kept away from', () => {
    const radios = ['a', 'b', 'c'].map((id): Radio => ({ id, band: '2.4', width: 20 }));
    expect(
      planChannels(radios, [])
        .choices.map(({ channel }) => channel)
        .sort((a, b) => a - b),
    ).toEqual([1, 6, 11]);
    const loud: Heard = { ssid: 'next door', band: '2.4', channel: 8, width: 20, signalDbm: -50 };
    expect(planChannels(radios.slice(0, 1), [loud]).choices[0]).toMatchObject({ channel: 1, foreign: 0 });
  });

  test('of channels that are as quiet, the present one stays, and those without radar come before the others', () => {
    const radio: Radio = { id: 'a', band: '5', width: 80 };
    expect(planChannels([{ ...radio, channel: 149 }], []).choices[0]!.channel).toBe(149);
    const loud: Heard = { ssid: '', band: '5', channel: 36, width: 80, signalDbm: -50 };
    expect(planChannels([radio], [loud]).choices[0]!.channel).toBe(149);
    expect(planChannels([{ ...radio, channel: 52 }], []).choices[0]!.channel).toBe(36);
  });

  test('wide channels offered are whole: five of 80 MHz and two of 160 below 5730 MHz, one of 80 and more above', () => {
    // IEEE 802.11, operating classes 115 to 129: 42, 58, 106, 122, 138, 155.
    expect(offeredChannels('5', 80)).toEqual([36, 52, 100, 116, 132, 149]);
    expect(offeredChannels('5', 160).slice(0, 2)).toEqual([36, 100]);
    expect(offeredChannels('5', 20, false)).toEqual([36, 40, 44, 48, 149, 153, 157, 161, 165]);
  });
});

describe('scans', () => {
  const same = [
    { ssid: 'Harbour', band: '2.4', channel: 6, width: 20, signalDbm: -54 },
    { ssid: 'Quay 5', band: '5', channel: 44, width: 80, signalDbm: -61 },
  ];

  test('what iw prints', () => {
    const text = `BSS 00:00:5e:00:53:01(on wlan0)
	freq: 2437
	signal: -54.00 dBm
	SSID: Harbour
BSS 00:00:5e:00:53:02(on wlan0) -- associated
	freq: 5220.0
	signal: -61.00 dBm
	SSID: Quay 5
	HT operation:
		 * primary channel: 44
		 * secondary channel offset: above
	VHT operation:
		 * channel width: 1 (80 MHz)`;
    expect(parseScan(text)).toEqual({ heard: same, unread: 0 });
  });

  test('what iwlist prints', () => {
    const text = `wlan0     Scan completed :
          Cell 01 - Address: 00:00:5E:00:53:01
                    Channel:6
                    Frequency:2.437 GHz (Channel 6)
                    Quality=56/70  Signal level=-54 dBm
                    ESSID:"Harbour"`;
    expect(parseScan(text).heard).toEqual([same[0]]);
  });

  test('a table with a heading and percent, in the order of its columns', () => {
    const text = `IN-USE  BSSID              SSID          MODE   CHAN  RATE        SIGNAL  BARS  SECURITY
        00:00:5E:00:53:01  Harbour       Infra  6     130 Mbit/s  92      ****  WPA2
*       00:00:5E:00:53:02  --            Infra  44    540 Mbit/s  78      ***   WPA2 WPA3`;
    expect(parseScan(text).heard).toEqual([
      { ssid: 'Harbour', band: '2.4', channel: 6, width: 20, signalDbm: -54 },
      { ssid: '', band: '5', channel: 44, width: 20, signalDbm: -61 },
    ]);
  });

  test('one name with several access points, each with its own channel', () => {
    const text = `SSID 1 : Harbour
    Network type            : Infrastructure
    Authentication          : WPA2-Personal
    BSSID 1                 : 00:00:5e:00:53:01
         Signal             : 92%
         Radio type         : 802.11n
         Channel            : 6
    BSSID 2                 : 00:00:5e:00:53:02
         Signal             : 78%
         Band               : 6 GHz
         Channel            : 37`;
    expect(parseScan(text).heard).toEqual([
      same[0],
      { ssid: 'Harbour', band: '6', channel: 37, width: 20, signalDbm: -61 },
    ]);
  });

  test('a profile of the airport, with widths', () => {
    const text = `          Other Local Wi-Fi Networks:
            Harbour:
              PHY Mode: 802.11b/g/n
              Channel: 6 (2GHz, 20MHz)
              Signal / Noise: -54 dBm / -92 dBm
            Quay 5:
              Channel: 44 (5GHz, 80MHz)
              Signal / Noise: -61 dBm / -95 dBm`;
    expect(parseScan(text).heard).toEqual(same);
  });

  test('rows as somebody types them', () => {
    expect(
      parseScan('Harbour, 6, -54\nQuay 5;44;-61 dBm\nnonsense').heard.map(({ ssid, channel, signalDbm }) => [
        ssid,
        channel,
        signalDbm,
      ]),
    ).toEqual([
      ['Harbour', 6, -54],
      ['Quay 5', 44, -61],
    ]);
  });

  // Forms of further tools, with invented names; from memory.
  test.each([
    [
      'airport -s',
      `                            SSID BSSID             RSSI CHANNEL HT CC SECURITY (auth/unicast/group)
                         Harbour 00:00:5e:00:53:01 -54  6       Y  GB WPA2(PSK/AES/AES)
                          Quay 5 00:00:5e:00:53:02 -61  44,80   Y  GB WPA2(PSK/AES/AES)`,
    ],
    [
      'iwinfo',
      `Cell 01 - Address: 00:00:5E:00:53:01
          ESSID: "Harbour"
          Mode: Master  Frequency: 2.437 GHz  Band: 2.4 GHz  Channel: 6
          Signal: -54 dBm  Quality: 56/70
Cell 02 - Address: 00:00:5E:00:53:02
          ESSID: "Quay 5"
          Mode: Master  Frequency: 5.220 GHz  Band: 5 GHz  Channel: 44
          Signal: -61 dBm  Quality: 49/70
          VHT Operation:
                    Channel Width: 80 MHz`,
    ],
    [
      'a list with a heading',
      'SSID,BSSID,Strength,Primary Channel,Primary Frequency,Width\n"Harbour",00:00:5e:00:53:01,-54dBm,6,2437,20MHz\n"Quay 5",00:00:5e:00:53:02,-61,44,5220,80 MHz',
    ],
  ])('what %s prints', (_tool, text) => {
    expect(parseScan(text)).toEqual({ heard: same, unread: 0 });
  });

  test('results of wpa_cli; rows parted by spaces; a name that begins with a figure', () => {
    const read = (text: string) =>
      parseScan(text).heard.map(({ ssid, channel, signalDbm }) => [ssid, channel, signalDbm]);
    expect(
      read(
        'bssid / frequency / signal level / flags / ssid\n00:00:5e:00:53:01\t2437\t-54\t[WPA2-PSK-CCMP][ESS]\tHarbour',
      ),
    ).toEqual([['Harbour', 6, -54]]);
    expect(read('2nd floor, 11, -70\nThe old mill 36 -81 dBm')).toEqual([
      ['2nd floor', 11, -70],
      ['The old mill', 36, -81],
    ]);
    expect(parseScan('Harbour, 6, -54\nnonsense').unread).toBe(1);
  });

  test('any text is read without failing, and nothing impossible comes of it', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 400, unit: 'grapheme' }), (text) => {
        for (const { channel, signalDbm } of parseScan(text).heard)
          expect([channel >= 1 && channel <= 233, Number.isFinite(signalDbm)]).toEqual([true, true]);
      }),
    );
  });
});

describe('findings', () => {
  const rules = (change: (plan: Plan) => void): string[] =>
    runChecks(
      compile(
        soundPlan((plan) => {
          plan.wifi.networks = [
            wifiNetworkSchema.parse({ id: 'w', ssid: 'House', network: plan.networks[0]!.id }),
          ];
          plan.wifi.radios = [radioSchema.parse({ id: 'r', box: plan.kit[0]!.id, channel: 1 })];
          change(plan);
        }),
      ),
    )
      .filter(({ rule }) => rule.startsWith('wifi-'))
      .map(({ rule, severity }) => `${rule} ${severity}`);

  test('a sound Wi-Fi has none', () => {
    expect(rules(() => {})).toEqual([]);
  });

  test.each([
    ['it leads nowhere', (plan: Plan) => void (plan.wifi.networks[0]!.network = ''), 'wifi-network blocker'],
    [
      'withdrawn encryption',
      (plan: Plan) => void (plan.wifi.networks[0]!.security = 'older'),
      'wifi-security blocker',
    ],
    [
      'open into the staff network',
      (plan: Plan) => void (plan.wifi.networks[0]!.security = 'open'),
      'wifi-security warning',
    ],
    ['WPS', (plan: Plan) => void (plan.wifi.networks[0]!.wps = true), 'wifi-wps warning'],
    ['hidden', (plan: Plan) => void (plan.wifi.networks[0]!.hidden = true), 'wifi-hidden advice'],
    [
      'a channel of another band',
      (plan: Plan) => void (plan.wifi.radios[0]!.channel = 36),
      'wifi-channel blocker',
    ],
    ['40 MHz in 2.4 GHz', (plan: Plan) => void (plan.wifi.radios[0]!.width = '40'), 'wifi-width warning'],
    [
      'weather radar',
      (plan: Plan) => void Object.assign(plan.wifi.radios[0]!, { band: '5', channel: 120 }),
      'wifi-radar warning',
    ],
    [
      'a neighbour of the same name',
      (plan: Plan) =>
        void (plan.wifi.heard = [heardSchema.parse({ id: 'h', ssid: 'House', channel: 11, signal: -80 })]),
      'wifi-name warning',
    ],
    [
      'a loud neighbour on the same channel',
      (plan: Plan) =>
        void (plan.wifi.heard = [heardSchema.parse({ id: 'h', ssid: 'Loud', channel: 1, signal: -50 })]),
      'wifi-busy advice',
    ],
  ])('%s', (_name, change, expected) => {
    expect(rules(change)).toContain(expected);
  });
});

describe('link rates', () => {
  // IEEE 802.11-2020 tables 19-27, 19-31, 21-30, 21-38: rates for one stream, long guard interval (from memory).
  test.each([
    [20, -82, 6.5],
    [20, -70, 39],
    [20, -64, 65],
    [40, -79, 13.5],
    [40, -61, 135],
    [80, -76, 29.25],
    [80, -58, 292.5],
    [160, -55, 585],
  ])('%i MHz at %i dBm carries %f Mb/s', (width, dbm, mbps) => {
    expect(linkRateWorked(dbm, width).value).toBe(mbps);
    // One decibel less is the next scheme down, or none.
    expect(linkRateWorked(dbm - 1, width).value).toBeLessThan(mbps);
  });

  test('a repeater on one channel halves what is left', () => {
    expect(airRateWorked(-60, 20, { hops: 2 }).value * 2).toBeCloseTo(airRateWorked(-60, 20).value);
    expect(airRateWorked(-95, 20).value).toBe(0);
  });

  test('readings: the median, and the quarters that hold half of them', () => {
    expect(readingsWorked([-70, -60, -64, -61]).value).toBe(-62.5);
    expect(readingsWorked([]).value).toBeNull();
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -95, max: -30 }), { minLength: 1 }), (list) => {
        const median = readingsWorked(list).value!;
        expect(list.filter((each) => each <= median).length * 2).toBeGreaterThanOrEqual(list.length);
        expect(list.filter((each) => each >= median).length * 2).toBeGreaterThanOrEqual(list.length);
      }),
    );
  });
});

describe('the width that suits all radios of a band', () => {
  const house = (count: number, change: (plan: Plan) => void = () => {}): Plan =>
    soundPlan((plan) => {
      plan.site.country = 'DE';
      plan.wifi.radios = Array.from({ length: count }, (_, index) =>
        radioSchema.parse({ id: `r${index}`, box: 'router', band: '5' }),
      );
      change(plan);
    });
  const widthOf = (plan: Plan): number | undefined =>
    widthsFor(compile(plan)).find(({ band }) => band === '5')?.best.width;

  // 5150 to 5350 and 5470 to 5725 MHz (ECC/DEC (04)08) hold 4, 9 and 19 channels of 80, 40 and 20 MHz (IEEE 802.11 annex E, from memory).
  test.each([
    [1, 80],
    [4, 80],
    [5, 40],
    [9, 40],
    [10, 20],
    [19, 20],
  ])('%i radios get %i MHz: as wide as leaves each its own', (count, width) => {
    expect(widthOf(house(count))).toBe(width);
  });

  test('a room at the edge keeps the width narrow: twice the width needs 3 dB more (table 21-25)', () => {
    const edge = (dbm: number): number | undefined =>
      widthOf(
        house(1, ({ wifi }) => {
          wifi.rooms = [roomSchema.parse({ id: 'a', name: 'Attic', radio: 'r0', readings: [String(dbm)] })];
        }),
      );
    expect([-75, -78, -81].map(edge)).toEqual([80, 40, 20]);
  });

  test('of the widths with radios apart the one that gives most, by counting pieces of 20 MHz', () => {
    const network = fc.record({
      ssid: fc.constant('x'),
      band: fc.constant('5' as const),
      channel: fc.constantFrom(36, 44, 52, 100, 116),
      width: fc.constantFrom(20, 40, 80),
      signalDbm: fc.integer({ min: -95, max: -40 }),
    });
    const pieces = (channel: number, width: number): number[] => {
      const { from, to } = spectrumOf('5', channel, width);
      return Array.from({ length: (to - from) / 20 }, (_, piece) => from + 20 * piece);
    };
    const best = new Map([
      [20, 78],
      [40, 180],
      [80, 390],
    ]); // one stream, MCS 8 on 20 MHz, else MCS 9, IEEE 802.11 tables 21-30, 21-34, 21-38 (from memory)
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 3 }), fc.array(network, { maxLength: 10 }), (count, heard) => {
        const [found] = widthsFor(compile(house(count)), heard);
        const options = found!.options.map(({ width, choices }) => {
          const all = choices.map(({ channel }) => pieces(channel, width));
          const meets = (a: number[], b: number[]): boolean => a.some((piece) => b.includes(piece));
          const shares = all.map((mine, index) => {
            const others = heard.filter((each) => meets(pieces(each.channel, each.width), mine));
            const own = all.filter((other, place) => place !== index && meets(other, mine));
            // Whoever hears n others as loud has 1/(1 + n) of the time.
            return (
              best.get(width)! /
              (1 +
                others.reduce((sum, { signalDbm }) => sum + weightOf(signalDbm), 0) +
                own.length * weightOf(ownDbm))
            );
          });
          const pairs = all.flatMap((mine, index) =>
            all.slice(index + 1).filter((other) => meets(mine, other)),
          );
          return { mbps: shares.reduce((sum, each) => sum + each, 0) / count, pairs: pairs.length };
        });
        const apart = Math.min(...options.map(({ pairs }) => pairs));
        expect(found!.best.mbps).toBeCloseTo(
          Math.max(...options.filter(({ pairs }) => pairs === apart).map(({ mbps }) => mbps)),
          9,
        );
      }),
      { numRuns: 40 },
    );
  });

  test('whoever hears another one as loud takes turns with it', () => {
    const [first] = widthsFor(
      compile(house(1)),
      [36, 40, 44, 48].map((channel) => ({ ssid: 'x', band: '5', channel, width: 20, signalDbm: -50 })),
    );
    // The other channels are free: at 80 MHz it goes to 52 and keeps all of MCS 9 (IEEE 802.11 table 21-38).
    expect(first!.best).toMatchObject({ width: 80, mbps: 390 });
    expect(first!.best.choices[0]!.channel).toBeGreaterThanOrEqual(52);
  });
});

describe('what a country allows', () => {
  const may = (country: string, band: WifiBand, channel: number, width = 20): boolean =>
    allowedBy(channelRules(country), band, spectrumOf(band, channel, width));

  // ECC/DEC (04)08 to 5725 MHz; 47 CFR 15.407 beyond; 47 CFR 15.247 with 2473 MHz (from memory).
  test.each<[string, WifiBand, number, boolean]>([
    ['DE', '2.4', 13, true],
    ['US', '2.4', 13, false],
    ['US', '2.4', 11, true],
    ['DE', '5', 140, true],
    ['DE', '5', 144, false],
    ['DE', '5', 149, false],
    ['US', '5', 149, true],
    ['GB', '5', 149, true],
    ['AU', '5', 120, false],
    ['DE', '6', 93, true],
    ['DE', '6', 97, false],
    ['US', '6', 233, true],
  ])('%s, %s GHz, channel %i: %s', (country, band, channel, allowed) =>
    expect(may(country, band, channel)).toBe(allowed),
  );

  test('no channel that is recommended is outside of it, in any country of the table', () =>
    fc.assert(
      fc.property(
        fc.constantFrom('DE', 'GB', 'US', 'CA', 'AU', 'JP'),
        fc.array(
          fc.record({
            band: fc.constantFrom<WifiBand>('2.4', '5', '6'),
            width: fc.constantFrom(20, 40, 80),
          }),
          { minLength: 1, maxLength: 5 },
        ),
        (country, list) => {
          const radios = list.map(({ band, width }, index) => ({
            id: String(index),
            band,
            width: band === '2.4' ? 20 : width,
          }));
          const { choices } = planChannels(radios, [], true, channelRules(country));
          for (const [index, { channel }] of choices.entries())
            expect([
              country,
              channel,
              may(country, radios[index]!.band, channel, radios[index]!.width),
            ]).toEqual([country, channel, true]);
        },
      ),
    ));
});

test('a bridge follows the channel of the first, and is no disturbance of it', () => {
  const site = compile(demoPlan('larch-house'));
  const { choices } = recommendedChannels(site)!;
  const channelOf = (id: string): number | undefined => choices.find(({ radio }) => radio === id)?.channel;
  expect(channelOf('barn5')).toBe(channelOf('hall5'));
  expect(channelOf('up5')).not.toBe(channelOf('hall5'));
});

test('a room by arithmetic is a range that holds the middle of the model, and readings take its place', () => {
  const site = compile(demoPlan('larch-house'));
  const [breakfast, attic] = site.wifi.rooms;
  const { low, high } = expectedSignal(attic!)!;
  // ITU-R P.1238: 20 log 2437 + 28 to 33 log 7 + 15 - 28 = 78.4 to 82.6 dB below 20 dBm.
  expect([low, high].map(Math.round)).toEqual([-63, -58]);
  expect(roomSignal(attic!)).toMatchObject({ measured: false });
  expect(roomSignal(breakfast!)).toMatchObject({ measured: true, dbm: -60.5 });
});

describe('keys of Wi-Fi', () => {
  test('a made passphrase can be typed and used, and no letter in it is likelier than another', () => {
    const seen = new Map<string, number>();
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 64, maxLength: 64 }), (random) => {
        const made = wifiPassphrase(random);
        if (made === undefined) return;
        expect(made).toMatch(/^(?:[a-hjkmnp-z2-9]{5}-){3}[a-hjkmnp-z2-9]{5}$/);
        expect(passphraseProblem(made)).toBeUndefined();
      }),
    );
    // Every byte once: those above 247 are left out, so that each of the 31 letters comes eight times.
    for (let byte = 0; byte < 256; byte += 1) {
      const made = wifiPassphrase(new Uint8Array(20).fill(byte));
      if (made !== undefined) seen.set(made[0]!, (seen.get(made[0]!) ?? 0) + 1);
    }
    expect([...new Set(seen.values())]).toEqual([8]);
    expect(seen.size).toBe(31);
  });

  // IEEE 802.11 annex J.4: 8 to 63 characters of ASCII, or 64 hexadecimal digits.
  test.each([
    ['1234567', /8 characters at least/],
    ['12345678', undefined],
    ['x'.repeat(63), undefined],
    ['x'.repeat(64), /63 characters at most/],
    ['0123456789abcdef'.repeat(4), undefined],
    ['schlüssel-weg', /ASCII/],
  ])('%s', (secret, problem) =>
    problem === undefined
      ? expect(passphraseProblem(secret)).toBeUndefined()
      : expect(passphraseProblem(secret)).toMatch(problem),
  );

  test('the code to scan escapes what would end a part of it', () => {
    // WPA3 specification section 7.1 (from memory).
    expect(wifiCode({ ssid: 'Caf;e "9"', security: 'both', hidden: true }, 'a:b,c\\d')).toBe(
      'WIFI:T:WPA;S:Caf\\;e \\"9\\";P:a\\:b\\,c\\\\d;H:true;;',
    );
    expect(wifiCode({ ssid: 'Open', security: 'open', hidden: false }, '')).toBe('WIFI:S:Open;;');
  });
});

describe('wide channels', () => {
  /** Centres, as channel numbers, of all blocks of a width. */
  const centres = (band: WifiBand, width: number): number[] => {
    const starts = channelsOf[band].flatMap((channel) => blockOf(band, channel, width)?.from ?? []);
    const base = band === '6' ? 5950 : 5000;
    return [...new Set(starts)].map((from) => (from + width / 2 - base) / 5);
  };

  // IEEE 802.11-2020 table E-4, operating classes 116 to 130 and 131 to 134, from memory.
  test.each([
    ['5', 40, [38, 46, 54, 62, 102, 110, 118, 126, 134, 142, 151, 159, 167, 175]],
    ['5', 80, [42, 58, 106, 122, 138, 155, 171]],
    ['5', 160, [50, 114, 163]],
    ['5', 320, []],
    ['6', 40, Array.from({ length: 29 }, (_, index) => 3 + 8 * index)],
    ['6', 80, Array.from({ length: 14 }, (_, index) => 7 + 16 * index)],
    ['6', 160, Array.from({ length: 7 }, (_, index) => 15 + 32 * index)],
    ['2.4', 80, []],
  ] as const)('%s GHz, %s MHz', (band, width, expected) => expect(centres(band, width)).toEqual(expected));

  test('none reaches over the end of its part, and what is set wrongly uses the widest that there is', () => {
    for (const band of ['5', '6'] as const)
      for (const channel of channelsOf[band])
        for (const width of [20, 40, 80, 160, 320]) {
          const { from, to } = spectrumOf(band, channel, width);
          const centre = (band === '6' ? 5950 : 5000) + 5 * channel;
          expect(from <= centre - 10 && centre + 10 <= to && to - from <= width).toBe(true);
          expect(to).toBeLessThanOrEqual(band === '6' ? 7125 : 5895);
        }
    expect(spectrumOf('5', 140, 160)).toEqual({ from: 5650, to: 5730 });
  });

  test('power by the country: what is allowed in each MHz counts for narrow channels', () => {
    const most = (country: string, band: WifiBand, channel: number, width: number) =>
      mostDbm(channelRules(country), band, spectrumOf(band, channel, width));
    // 47 CFR 15.407(a): 36 dBm EIRP in 5150 to 5250, 30 dBm above; 5 dBm/MHz indoors in 6 GHz.
    expect([most('US', '5', 36, 20), most('US', '5', 52, 20), most('US', '5', 36, 160)]).toEqual([
      36, 30, 30,
    ]);
    expect([most('US', '6', 1, 20), most('US', '6', 1, 80), most('US', '6', 1, 160)]).toEqual([18, 24, 27]);
    expect(most('US', '5', 149, 160)).toBe(36);
    expect(allowedBy(channelRules('PT'), '5', spectrumOf('5', 149, 20))).toBe(false);
    expect(offeredChannels('5', 20)).not.toContain(173);
    expect(offeredChannels('5', 20, true, channelRules('US'))).toContain(173);
  });

  test('what two channels do to each other', () => {
    const means = (band: WifiBand, a: [number, number], b: [number, number]) =>
      overlapWorked(band, { channel: a[0], width: a[1] }, { channel: b[0], width: b[1] }).means!;
    expect(means('5', [36, 20], [40, 20])).toMatch(/^They are neighbours/);
    expect(means('5', [36, 20], [44, 20])).toBe('They do not disturb each other.');
    expect(means('5', [36, 80], [44, 40])).toMatch(/take turns/);
    expect(means('2.4', [1, 20], [3, 20])).toMatch(/worse than the same channel/);
  });

  // IEEE 802.11 tables 21-29 and following, from memory: MCS 9, 80 MHz, two streams: 780 and 866.7 Mb/s.
  test('rates of 256-QAM', () => {
    expect(linkRateWorked(-50, 80, 2).value).toBe(780);
    expect(
      linkRateWorked(-50, 80, 2)
        .steps.map(({ value }) => value)
        .join('; '),
    ).toContain('866.7 Mb/s');
    expect(linkRateWorked(-50, 20).value).toBe(78);
    expect(linkRateWorked(-50, 20, 3).value).toBe(260);
    expect(linkRateWorked(-64, 20).value).toBe(65);
  });
});
