import { bad, ok, type Result } from '../../base/result.ts';
import { arithmetic, equals, figure, step, type Worked, worked } from '../../base/worked/worked.ts';

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

/** RSRQ from its parts: 10 log10(N) + RSRP - RSSI, N the blocks over which the RSSI was measured. */
export function rsrqWorked(rsrpDbm: number, rssiDbm: number, blocks: number): Worked<number> {
  const spread = 10 * Math.log10(blocks);
  const value = spread + rsrpDbm - rssiDbm;
  // With every subcarrier of a cell loaded the best possible is 1/12 of a block's power for each: -10.8 dB; with
  // reference signals alone 1/2 … 1/6, so -3 dB is the ceiling. Less than the cell's own power is no measurement.
  const impossible = value > -3 + 0.5;
  return worked(
    'RSRQ from RSRP and RSSI',
    value,
    'dB',
    [
      step('blocks measured', `10 × log10(${blocks}) ${equals(spread, 3)}`),
      step('RSRP', `${rsrpDbm} dBm`),
      step('RSSI', `${rssiDbm} dBm`),
      step('RSRQ', `${figure(spread, 3)} + (${rsrpDbm}) - (${rssiDbm}) ≈ ${figure(value, 1)} dB`),
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
