import { bad, ok, type Result } from '../../base/result.ts';
import {
  arithmetic,
  equals,
  figure,
  practice,
  shown,
  step,
  type Worked,
  worked,
} from '../../base/worked/worked.ts';
import type { CableName } from '../../plan/schema.ts';

/** Loss of an antenna cable: a catalogue figure at one frequency, and the square root law to another. */
export function cableLossWorked(
  lossAt: { db: number; mhz: number },
  frequencyMHz: number,
  metres: number,
): Worked<number> {
  const perHundred = lossAt.db * Math.sqrt(frequencyMHz / lossAt.mhz);
  const value = (perHundred * metres) / 100;
  return worked(
    'Loss of the antenna cable',
    value,
    'dB',
    [
      step('from its sheet', `${lossAt.db} dB per 100 m at ${lossAt.mhz} MHz`),
      step(
        `at ${frequencyMHz} MHz`,
        `${lossAt.db} × √(${frequencyMHz} / ${lossAt.mhz}) ${equals(perHundred, 3)} dB per 100 m`,
      ),
      step(`${metres} m`, `${figure(perHundred, 3)} × ${metres} / 100 ≈ ${figure(value)} dB`),
    ],
    practice,
    'Below the gain of the antenna the longer cable was worth it; above, a shorter one is better.',
  );
}

/** What 100 m of an antenna cable lose at 900 MHz, by kind (typical sheets; common practice, no source). */
export const antennaCables: Readonly<Record<CableName, { readonly dbPer100m: number }>> = {
  none: { dbPer100m: 0 },
  'rg-174': { dbPer100m: 98 },
  'rg-58': { dbPer100m: 50 },
  'foam-5': { dbPer100m: 33 },
  'rg-213': { dbPer100m: 24 },
  'foam-10': { dbPer100m: 13 },
};

/** What is left of an antenna's gain behind its cable. */
export function antennaWorked(gainDbi: number, cableLossDb: number): Worked<number> {
  const left = gainDbi - cableLossDb;
  return worked(
    'Left of the antenna gain',
    left,
    'dB',
    [
      step('gain of the antenna', `${gainDbi} dBi`),
      step('lost in the cable', `- ${shown(cableLossDb)} dB`),
      step('left', shown(left, 'dB', 1)),
    ],
    arithmetic,
    left <= 0 ? 'The cable eats the antenna: put the modem nearer to it.' : undefined,
  );
}

const pairKey = (pair: readonly number[]): string => [...pair].sort((a, b) => a - b).join('+');

/** Reads a table of band pairs as a person keeps it for a modem: "3+7, 7+20". */
export function parsePairs(text: string): Result<ReadonlySet<string>> {
  const pairs = new Set<string>();
  for (const part of text.split(/[,;]/).map((each) => each.trim())) {
    if (part === '') continue;
    const match = /^[bn]?(\d{1,3})\s*\+\s*[bn]?(\d{1,3})$/i.exec(part);
    if (!match) return bad('pairs', `"${part}" is no pair of bands. Write it like 3+7, with commas between.`);
    pairs.add(pairKey([Number(match[1]), Number(match[2])]));
  }
  return ok(pairs);
}

/**
 * Why a set of bands such as "3+20" cannot be used together by this modem, or undefined where it can or nobody wrote
 * down what the modem combines. Three bands need all their pairs.
 */
export function pairProblem(set: string, table: string): string | undefined {
  const bands = /^(?:bands?\s+)?(\d{1,3}(?:\s*\+\s*\d{1,3})+)$/i.exec(set.trim())?.[1];
  const pairs = parsePairs(table);
  if (!bands || !pairs.ok || pairs.value.size === 0) return undefined;
  const numbers = bands.split('+').map(Number);
  for (const [index, first] of numbers.entries())
    for (const second of numbers.slice(index + 1))
      if (!pairs.value.has(pairKey([first, second])))
        return `The modem does not combine bands ${first} and ${second}: its table has ${[...pairs.value].join(', ')}.`;
  return undefined;
}
