import { bad, ok, type Result } from '../result.ts';
import { arithmetic, step, type Worked, worked } from '../worked/worked.ts';

/** An LTE operating band: its lowest downlink frequency and its channel numbers (3GPP TS 36.101 table 5.7.3-1). */
interface LteBand {
  readonly band: number;
  readonly lowMHz: number;
  readonly offset: number;
  readonly last: number;
  /** Channel number of the uplink that belongs to a downlink number. */
  readonly uplink: (channel: number) => number;
}

const paired = (channel: number): number => channel + 18_000;
const sameNumber = (channel: number): number => channel;

const lteBand = (
  band: number,
  lowMHz: number,
  offset: number,
  last: number,
  uplink: (channel: number) => number = paired,
): LteBand => ({ band, lowMHz, offset, last, uplink });

const lteBands: readonly LteBand[] = [
  lteBand(1, 2110, 0, 599),
  lteBand(2, 1930, 600, 1199),
  lteBand(3, 1805, 1200, 1949),
  lteBand(4, 2110, 1950, 2399),
  lteBand(5, 869, 2400, 2649),
  lteBand(7, 2620, 2750, 3449),
  lteBand(8, 925, 3450, 3799),
  lteBand(12, 729, 5010, 5179),
  lteBand(13, 746, 5180, 5279),
  lteBand(20, 791, 6150, 6449),
  lteBand(28, 758, 9210, 9659),
  lteBand(38, 2570, 37_750, 38_249, sameNumber),
  lteBand(40, 2300, 38_650, 39_649, sameNumber),
  lteBand(41, 2496, 39_650, 41_589, sameNumber),
  lteBand(66, 2110, 66_436, 67_335, (channel) => 131_972 + (channel - 66_436)),
  lteBand(71, 617, 68_586, 68_935, (channel) => 133_122 + (channel - 68_586)),
];

const lteSource = '3GPP TS 36.101 section 5.7.3';
const tenths = (value: number): number => Math.round(value * 10) / 10;

/** Downlink frequency of an LTE channel number (EARFCN): F = F_low + 0.1 (N - N_offs) MHz. */
export function earfcnWorked(channel: number): Result<Worked> {
  const found = lteBands.find(({ offset, last }) => channel >= offset && channel <= last);
  if (!found)
    return bad(
      'unknown-channel',
      `The channel number ${channel} is in none of the bands known here (${lteBands.map(({ band }) => band).join(', ')}).`,
    );
  const frequency = tenths(found.lowMHz + 0.1 * (channel - found.offset));
  return ok(
    worked(
      `Channel ${channel}, band ${found.band}`,
      frequency,
      'MHz',
      [
        step('band', found.band),
        step('lowest of the band', `${found.lowMHz} MHz`),
        step('channels above it', `${channel} - ${found.offset} = ${channel - found.offset}`),
        step('uplink channel', found.uplink(channel)),
        step('downlink', `${found.lowMHz} + 0.1 × ${channel - found.offset} = ${frequency} MHz`),
      ],
      lteSource,
    ),
  );
}

/** The band of an LTE channel number; undefined in no listed band. */
export const bandOf = (channel: number): number | undefined =>
  lteBands.find(({ offset, last }) => channel >= offset && channel <= last)?.band;

/** Frequency of a 5G channel number (3GPP TS 38.104 section 5.4.2.1). */
export function nrArfcnWorked(channel: number): Result<Worked> {
  const raster =
    channel < 600_000
      ? { base: 0, from: 0, kHz: 5 }
      : channel < 2_016_667
        ? { base: 3000, from: 600_000, kHz: 15 }
        : { base: 24_250.08, from: 2_016_667, kHz: 60 };
  if (channel < 0 || channel > 3_279_165)
    return bad('unknown-channel', `${channel} is no 5G channel number: they go from 0 to 3279165.`);
  const value = Math.round((raster.base + (raster.kHz * (channel - raster.from)) / 1000) * 1000) / 1000;
  return ok(
    worked(
      `5G channel ${channel}`,
      value,
      'MHz',
      [
        step('raster', `${raster.kHz} kHz`),
        step('counted from', `${raster.base} MHz at ${raster.from}`),
        step(
          'frequency',
          `${raster.base} + 0.0${raster.kHz === 5 ? '05' : raster.kHz} × ${channel - raster.from} = ${value}`,
        ),
      ],
      '3GPP TS 38.104 section 5.4.2.1',
    ),
  );
}

/** The channel numbers next to a 5G frequency: one where it is on the raster, two where it is not. */
export function nrChannelsOf(frequencyMHz: number): Result<number[]> {
  if (frequencyMHz < 0 || frequencyMHz > 100_000)
    return bad('frequency', `${frequencyMHz} MHz is outside 0 to 100000 MHz.`);
  const [base, from, kHz] =
    frequencyMHz < 3000
      ? [0, 0, 5]
      : frequencyMHz < 24_250.08
        ? [3000, 600_000, 15]
        : [24_250.08, 2_016_667, 60];
  const exact = Math.round(((frequencyMHz - base) * 1_000_000) / kHz) / 1000 + from;
  return ok([...new Set([Math.floor(exact), Math.ceil(exact)])]);
}

/** A level that a modem reports as a number: unknown stays unknown and is never zero. */
export interface Level {
  readonly dbm: number | undefined;
  /** "from -98 dBm", "under -140 dBm", "unknown". */
  readonly says: string;
}

const unknownLevel: Level = { dbm: undefined, says: 'unknown' };

/** Received power of a cell, reported 0 to 97 (3GPP TS 36.133 section 9.1.4). */
export function rsrpOf(reported: number): Level {
  if (reported < 0 || reported > 97) return unknownLevel;
  if (reported === 0) return { dbm: -140, says: 'under -140 dBm' };
  return { dbm: reported - 141, says: reported === 97 ? '-44 dBm and up' : `from ${reported - 141} dBm` };
}

/** Received quality of a cell, reported 0 to 34 (3GPP TS 36.133 section 9.1.7). */
export function rsrqOf(reported: number): Level {
  if (reported < 0 || reported > 34) return unknownLevel;
  if (reported === 0) return { dbm: -19.5, says: 'under -19.5 dB' };
  return {
    dbm: (reported - 40) / 2,
    says: reported === 34 ? '-3 dB and up' : `from ${(reported - 40) / 2} dB`,
  };
}

/** Signal strength of +CSQ, 0 to 31, 99 unknown (3GPP TS 27.007 section 8.5). */
export function csqOf(reported: number): Level {
  if (reported < 0 || reported > 31) return unknownLevel;
  return {
    dbm: -113 + 2 * reported,
    says:
      reported === 0 ? '-113 dBm or less' : reported === 31 ? '-51 dBm and up' : `${-113 + 2 * reported} dBm`,
  };
}

/** Blocks of 180 kHz in a channel of that width (3GPP TS 36.101 section 5.6). */
export const resourceBlocks: Readonly<Record<string, number>> = {
  '1.4': 6,
  '3': 15,
  '5': 25,
  '10': 50,
  '15': 75,
  '20': 100,
};

/** RSRQ from its parts: 10 log10(N) + RSRP - RSSI, N the blocks over which the RSSI was measured. */
export function rsrqWorked(rsrpDbm: number, rssiDbm: number, blocks: number): Worked {
  const spread = tenths(10 * Math.log10(blocks));
  const value = tenths(10 * Math.log10(blocks) + rsrpDbm - rssiDbm);
  // With every subcarrier of a cell loaded the best possible is 1/12 of a block's power for each: -10.8 dB; with
  // reference signals alone 1/2 … 1/6, so -3 dB is the ceiling. Less than the cell's own power is no measurement.
  const impossible = value > -3 + 0.5;
  return worked(
    'RSRQ from RSRP and RSSI',
    value,
    'dB',
    [
      step('blocks measured', `10 log10 ${blocks} = ${spread}`),
      step('RSRP', `${rsrpDbm} dBm`),
      step('RSSI', `- ${rssiDbm} dBm`),
      step('RSRQ', `${value} dB`),
    ],
    '3GPP TS 36.214 section 5.1.3',
    impossible
      ? 'Impossible: the whole channel cannot hold less power than its parts. One of the readings is not from the same moment, cell or unit.'
      : 'A typed RSRQ more than 3 dB away from this was not read at the same moment.',
  );
}

export type Quality = 'good' | 'fair' | 'poor';
const grade = (value: number, good: number, fair: number): Quality =>
  value >= good ? 'good' : value >= fair ? 'fair' : 'poor';
/** Common practice, no source: where a good, a fair and a poor reading begin. */
export const rsrpQuality = (dbm: number): Quality => grade(dbm, -90, -105);
export const rsrqQuality = (db: number): Quality => grade(db, -10, -15);
export const sinrQuality = (db: number): Quality => grade(db, 13, 0);

/** Bits a symbol at each channel quality index, 1 to 15 (3GPP TS 36.213 section 7.2.3). */
const cqiEfficiency = [
  0.1523, 0.2344, 0.377, 0.6016, 0.877, 1.1758, 1.4766, 1.9141, 2.4063, 2.7305, 3.3223, 3.9023, 4.5234,
  5.1152, 5.5547,
];

/**
 * The highest rate a channel of that width can carry at that SINR: Shannon's bound, and the best modulation of the
 * table for each of `layers` streams, whichever is lower. No network gives more; most give much less.
 */
export function cellRateWorked(sinrDb: number, bandwidthMHz: number, layers = 1): Worked {
  const shannon = Math.log2(1 + 10 ** (sinrDb / 10));
  const top = cqiEfficiency.at(-1)!;
  const perSymbol = Math.min(shannon, top);
  const occupied = (resourceBlocks[String(bandwidthMHz)] ?? Math.round(bandwidthMHz * 5)) * 0.18;
  const value = tenths(perSymbol * occupied * layers);
  return worked(
    'Highest rate of the channel',
    value,
    'Mb/s',
    [
      step('SINR', `${sinrDb} dB`),
      step('bound', `log2(1 + 10^(${sinrDb}/10)) = ${shannon.toFixed(2)} bit/s/Hz`),
      step('best modulation', `${top} bit/s/Hz`),
      step('spectrum in use', `${occupied.toFixed(2)} MHz`),
      step('streams', layers),
      step('at most', `${perSymbol.toFixed(2)} × ${occupied.toFixed(2)} × ${layers} = ${value} Mb/s`),
    ],
    'Shannon 1948; 3GPP TS 36.213 section 7.2.3',
    'A bound of physics, shared by everybody in the cell; a measured rate above it was measured elsewhere.',
  );
}

/** Free-space loss: 32.4 + 20 log10 f + 20 log10 d (ITU-R P.525), f in MHz, d in km. */
export function freeSpaceLossWorked(frequencyMHz: number, distanceKm: number): Worked {
  const f = 20 * Math.log10(frequencyMHz);
  const d = 20 * Math.log10(distanceKm);
  const value = tenths(32.4 + f + d);
  return worked(
    'Loss in free space',
    value,
    'dB',
    [
      step('constant', '32.4'),
      step(`20 log10 ${frequencyMHz} MHz`, f.toFixed(1)),
      step(`20 log10 ${distanceKm} km`, d.toFixed(1)),
      step('loss', `${value} dB`),
    ],
    'ITU-R P.525',
    'The least a mast at that distance loses on the way; hills, walls and leaves only add to it.',
  );
}

/** Thermal noise of a receiver: -174 dBm/Hz + 10 log10 B + noise figure. */
export function noiseWorked(bandwidthMHz: number, noiseFigureDb = 7): Worked {
  const spread = 10 * Math.log10(bandwidthMHz * 1e6);
  const value = tenths(-174 + spread + noiseFigureDb);
  return worked(
    'Noise floor',
    value,
    'dBm',
    [
      step('thermal noise', '-174 dBm/Hz'),
      step(`10 log10 of ${bandwidthMHz} MHz`, `+ ${spread.toFixed(1)}`),
      step('noise figure', `+ ${noiseFigureDb}`),
      step('noise floor', `${value} dBm`),
    ],
    'physics: k T at 290 K is -174 dBm/Hz',
  );
}

/** The hexadecimal mask of a set of bands: bit (band - 1). Bands above 64 need more than 64 bits. */
export function bandMaskWorked(bands: readonly number[]): Worked {
  const sorted = [...new Set(bands)].sort((a, b) => a - b);
  const mask = sorted.reduce((sum, band) => sum | (1n << BigInt(band - 1)), 0n);
  return worked(
    `Mask of bands ${sorted.join(', ')}`,
    `0x${mask.toString(16).toUpperCase()}`,
    '',
    [
      ...sorted.map((band) =>
        step(`band ${band}`, `bit ${band - 1} = 0x${(1n << BigInt(band - 1)).toString(16).toUpperCase()}`),
      ),
      step('mask', `0x${mask.toString(16).toUpperCase()}`),
    ],
    arithmetic,
  );
}

/** The bands of a mask, ascending. */
export function bandsOfMask(text: string): Result<number[]> {
  const typed = text.trim().replace(/^0x/i, '');
  if (!/^[0-9a-f]{1,64}$/i.test(typed))
    return bad('band-mask', `"${text.trim()}" is not a hexadecimal mask like 0x80084.`);
  const mask = BigInt(`0x${typed}`);
  const bands: number[] = [];
  for (let bit = 0n; mask >> bit > 0n; bit += 1n) if ((mask >> bit) & 1n) bands.push(Number(bit) + 1);
  return ok(bands);
}

/** A list of bands as typed: "1, 3 20" or "B3+B20". */
export function parseBands(text: string): Result<number[]> {
  const parts = text.split(/[\s,;+]+/).filter((part) => part !== '');
  const bands: number[] = [];
  for (const part of parts) {
    const match = /^[bn]?(\d{1,3})$/i.exec(part);
    if (!match || Number(match[1]) < 1 || Number(match[1]) > 256)
      return bad('bands', `"${part}" is not a band; write numbers like 3, 7, 20.`);
    bands.push(Number(match[1]));
  }
  return bands.length === 0 ? bad('bands', 'No band is named; write numbers like 3, 7, 20.') : ok(bands);
}

/** What is left of a PIN, and what the PUK means (ETSI TS 102 221; three tries of the PIN, ten of the PUK). */
export function pinSays(triesLeft: number): string {
  if (triesLeft >= 3) return 'Three tries are left, as on a fresh card.';
  if (triesLeft > 0)
    return `${triesLeft === 1 ? 'One try is' : 'Two tries are'} left. Do not guess: after the third wrong PIN only the eight-digit PUK from the provider opens the card, and after ten wrong PUKs nothing does.`;
  return 'The card is locked and wants its eight-digit PUK, which the provider gives to the contract holder. Ten wrong ones end the card.';
}
