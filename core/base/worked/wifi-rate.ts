import { arithmetic, figure, practice, shown, step, worked, type Worked } from './worked.ts';

/** A modulation and coding scheme: bits of a subcarrier, coding rate, and the least signal on 20 MHz. */
const schemes = [
  { bits: 1, coding: 1 / 2, dbm: -82 },
  { bits: 2, coding: 1 / 2, dbm: -79 },
  { bits: 2, coding: 3 / 4, dbm: -77 },
  { bits: 4, coding: 1 / 2, dbm: -74 },
  { bits: 4, coding: 3 / 4, dbm: -70 },
  { bits: 6, coding: 2 / 3, dbm: -66 },
  { bits: 6, coding: 3 / 4, dbm: -65 },
  { bits: 6, coding: 5 / 6, dbm: -64 },
  { bits: 8, coding: 3 / 4, dbm: -59 },
  { bits: 8, coding: 5 / 6, dbm: -57 },
] as const;

/** Data subcarriers of a width, in MHz, and by how much more signal it needs than 20 MHz. */
const widths = new Map<number, { readonly subcarriers: number; readonly moreDb: number }>([
  [20, { subcarriers: 52, moreDb: 0 }],
  [40, { subcarriers: 108, moreDb: 3 }],
  [80, { subcarriers: 234, moreDb: 6 }],
  [160, { subcarriers: 468, moreDb: 9 }],
]);

/** A symbol with the long guard interval, and with the short one (IEEE 802.11 table 21-5). */
const symbolMicroseconds = 4;
const shortSymbolMicroseconds = 3.6;

/** Of the link rate so much is left for what people measure: 50 to 65 % (common practice, no source). */
export const usefulShare = { low: 0.5, high: 0.65 } as const;

/**
 * The link rate that a signal allows, in Mb/s, for one spatial stream and the long guard interval, by the least
 * signal that a receiver must manage (IEEE 802.11 tables 19-23, 21-25 and 21-29). 0: none.
 */
export function linkRateWorked(signalDbm: number, width: number, streams = 1): Worked<number> {
  const known = widths.get(width) ?? widths.get(20)!;
  const index = schemes.findLastIndex(
    ({ dbm }, number) =>
      signalDbm >= dbm + known.moreDb &&
      // On 20 MHz the last scheme is used with three streams only (table 21-30 and the next).
      (number < 9 || width > 20 || streams === 3),
  );
  const scheme = schemes[index];
  const mbps = scheme ? (known.subcarriers * scheme.bits * scheme.coding * streams) / symbolMicroseconds : 0;
  return worked(
    'Link rate',
    mbps,
    'Mb/s',
    [
      step('signal', `${figure(signalDbm, 1)} dBm`),
      step(
        `least signal on ${width} MHz`,
        scheme
          ? `MCS ${index}: ${scheme.dbm + known.moreDb} dBm`
          : `${schemes[0].dbm + known.moreDb} dBm: not reached`,
      ),
      ...(scheme
        ? [
            step(
              `${known.subcarriers} subcarriers, ${scheme.bits} bits, coding ${figure(scheme.coding)}, ${streams} ${streams === 1 ? 'stream' : 'streams'}, 4 µs`,
              `${known.subcarriers} × ${scheme.bits} × ${figure(scheme.coding, 3)} × ${streams} / 4 ≈ ${figure(mbps, 1)}`,
            ),
          ]
        : []),
      ...(mbps === 0
        ? []
        : [
            step(
              'with the short guard interval',
              `${figure(mbps, 1)} × ${symbolMicroseconds} / ${shortSymbolMicroseconds} ≈ ${figure((mbps * symbolMicroseconds) / shortSymbolMicroseconds, 1)} Mb/s`,
            ),
          ]),
      step('link rate', mbps === 0 ? 'none' : shown(mbps, 'Mb/s', 1)),
    ],
    'IEEE 802.11 tables 19-23, 21-25, 21-29 (from memory)',
    mbps === 0 ? 'No link that lasts.' : 'What a receiver must manage at least; good ones do better.',
  );
}

/** What is left for its users, in Mb/s: of a wireless hop, or of several on one channel, which take turns. */
export function airRateWorked(
  signalDbm: number,
  width: number,
  { streams = 1, hops = 1 }: { readonly streams?: number; readonly hops?: number } = {},
): Worked<number> {
  const link = linkRateWorked(signalDbm, width, streams);
  const [low, high] = [usefulShare.low, usefulShare.high].map((share) => (link.value * share) / hops) as [
    number,
    number,
  ];
  return worked(
    'Rate for users',
    low,
    'Mb/s',
    [
      ...link.steps.slice(0, -1),
      step('link rate', link.value === 0 ? 'none' : shown(link.value, 'Mb/s', 1)),
      step('left for users', '50 to 65 %'),
      ...(hops > 1 ? [step(`${hops} hops on one channel take turns`, `/ ${hops}`)] : []),
      step('for users', link.value === 0 ? 'none' : `${figure(low, 1)} to ${figure(high, 1)} Mb/s`),
    ],
    `${link.source}; ${practice}`,
    hops > 1
      ? 'A repeater receives and sends on the same channel: each hop costs its share. Another band for the way back costs nothing.'
      : link.means,
  );
}

/** Lower quartile, median and upper quartile: half of the readings lie between the first and the last. */
export function quartilesOf(
  readings: readonly number[],
): readonly [lower: number, median: number, upper: number] {
  const sorted = [...readings].sort((a, b) => a - b);
  const quantile = (share: number): number => {
    const place = (sorted.length - 1) * share;
    const below = Math.floor(place);
    const a = sorted[below]!;
    return a + (place - below) * ((sorted[below + 1] ?? a) - a);
  };
  return [quantile(0.25), quantile(0.5), quantile(0.75)];
}

/** The middle of readings and how far they scatter: half of them lie within. */
export function readingsWorked(dbm: readonly number[]): Worked<number | null> {
  if (dbm.length === 0)
    return worked('Median of the readings', null, 'dBm', [step('readings', 'none')], arithmetic);
  const sorted = [...dbm].sort((a, b) => a - b);
  const [lower, median, upper] = quartilesOf(dbm);
  return worked(
    'Median of the readings',
    median,
    'dBm',
    [
      step('readings, weakest first', sorted.map((each) => figure(each, 1)).join(', ')),
      step('half of them lie between', `${figure(lower, 1)} and ${figure(upper, 1)} dBm`),
      step('weakest', `${figure(sorted[0]!, 1)} dBm`),
      step('median', `${figure(median, 1)} dBm`),
    ],
    arithmetic,
  );
}
