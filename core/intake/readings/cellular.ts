import Papa from 'papaparse';
import { csqOf, parseBands, rsrpOf, rsrqOf } from '../../behaviour/media/cellular.ts';
import { bandOf } from '../../behaviour/media/channels.ts';
import type { SurveyReading } from '../../plan/schema.ts';
import { asLine, pastedLines } from '../../base/text.ts';

/** The figures of one reading, as far as a text had them. Unknown stays out; it is never zero. */
export type CellFigures = Partial<
  Pick<
    SurveyReading,
    | 'place'
    | 'antenna'
    | 'channel'
    | 'rsrpDbm'
    | 'rsrqDb'
    | 'sinrDb'
    | 'rssiDbm'
    | 'cell'
    | 'downMbps'
    | 'upMbps'
    | 'heightMetres'
    | 'takenAt'
  >
>;

export interface CellParsed {
  readonly readings: readonly CellFigures[];
  /** What could not be used, and why. */
  readonly notes: readonly string[];
}

type NumberKey =
  'channel' | 'rsrpDbm' | 'rsrqDb' | 'sinrDb' | 'rssiDbm' | 'downMbps' | 'upMbps' | 'heightMetres';
type TextKey = 'place' | 'antenna' | 'cell' | 'takenAt';

/** Words under which programs and people write a figure. */
const numberWords: readonly (readonly [RegExp, NumberKey])[] = [
  [/^(ss[_-]?)?rsrp/i, 'rsrpDbm'],
  [/^(ss[_-]?)?rsrq/i, 'rsrqDb'],
  [/^(ss[_-]?)?(sinr|snr)/i, 'sinrDb'],
  [/^rssi/i, 'rssiDbm'],
  [/^(e|nr[-_ ]?)?arfcn|^channel/i, 'channel'],
  [/^(down|download|rate down)/i, 'downMbps'],
  [/^(up|upload|rate up)/i, 'upMbps'],
  [/^height/i, 'heightMetres'],
];
const textWords: readonly (readonly [RegExp, TextKey])[] = [
  [/^(place|location|position|where)/i, 'place'],
  [/^antenna/i, 'antenna'],
  [/^(cell|pci|cell ?id|serving cell)/i, 'cell'],
  [/^(time|taken|when|date)/i, 'takenAt'],
];
const limits: Readonly<Record<NumberKey, readonly [number, number]>> = {
  rsrpDbm: [-160, 0],
  rsrqDb: [-40, 20],
  sinrDb: [-40, 60],
  rssiDbm: [-140, 0],
  channel: [0, 3_279_165],
  downMbps: [0, 100_000],
  upMbps: [0, 100_000],
  heightMetres: [0, 1000],
};
/** Numbers that stand for "not known" in what modems print (3GPP TS 27.007). */
const unknowns = new Set([99, 255, -32_768, 32_767, 65_535]);

function place(figures: CellFigures, word: string, text: string, notes: string[]): boolean {
  const number = numberWords.find(([pattern]) => pattern.test(word.trim()));
  if (number) {
    const key = number[1];
    const match = /-?\d+(?:[.,]\d+)?/.exec(text);
    if (!match) return true;
    const value = Number(match[0].replace(',', '.'));
    const [lowest, highest] = limits[key];
    if (unknowns.has(value) && key !== 'channel') return true;
    if (value < lowest || value > highest)
      notes.push(`"${word.trim()}: ${text.trim()}" is outside ${lowest} to ${highest}; it is left out.`);
    else figures[key] = value;
    return true;
  }
  const words = textWords.find(([pattern]) => pattern.test(word.trim()));
  if (!words) return false;
  figures[words[1]] = asLine(text).slice(0, 100).trim();
  return true;
}

/** +CSQ: strength and bit errors; +CESQ: six fields, or nine with 5G (3GPP TS 27.007 sections 8.5, 8.69). */
function fromTerminal(line: string, figures: CellFigures, notes: string[]): boolean {
  const match = /^\+?(CSQ|CESQ) ?:([-\d, ]+)$/i.exec(line.trim());
  if (!match) return false;
  const fields = match[2]!.split(',').map((field) => Number(field.trim()));
  if (match[1]!.toUpperCase() === 'CSQ') {
    const { dbm } = csqOf(fields[0]!);
    if (dbm !== undefined) figures.rssiDbm = dbm;
    return true;
  }
  if (fields.length !== 6 && fields.length !== 9) {
    notes.push(`"${line.trim()}" has ${fields.length} fields; six or nine belong there.`);
    return true;
  }
  const [, , , , rsrq, rsrp, ssRsrq, ssRsrp, ssSinr] = fields as number[];
  const power = rsrpOf(rsrp!).dbm;
  const quality = rsrqOf(rsrq!).dbm;
  if (power !== undefined) figures.rsrpDbm = power;
  if (quality !== undefined) figures.rsrqDb = quality;
  // 5G steps: power from -157 dBm, quality from -43.5 dB by halves, SINR from -23.5 dB by halves; 255 unknown.
  if (ssRsrp !== undefined && ssRsrp <= 126) figures.rsrpDbm = ssRsrp - 157;
  if (ssRsrq !== undefined && ssRsrq <= 126) figures.rsrqDb = ssRsrq / 2 - 43.5;
  if (ssSinr !== undefined && ssSinr <= 127) figures.sinrDb = ssSinr / 2 - 23.5;
  return true;
}

const isEmpty = (figures: CellFigures): boolean => Object.keys(figures).length === 0;

/** Rows with a heading line, separated by commas, semicolons or tabs (RFC 4180). */
function fromTable(text: string): CellParsed | undefined {
  const [heading = ''] = text.trim().split('\n');
  const delimiter = heading.includes('\t') ? '\t' : heading.includes(';') ? ';' : ',';
  const known = heading
    .split(delimiter)
    .filter((word) => [...numberWords, ...textWords].some(([pattern]) => pattern.test(word.trim())));
  if (known.length < 2) return undefined;
  const { data } = Papa.parse<Record<string, string>>(text.trim(), {
    header: true,
    delimiter,
    skipEmptyLines: 'greedy',
  });
  const notes: string[] = [];
  const readings = data.map((row) => {
    const figures: CellFigures = {};
    for (const [word, value] of Object.entries(row))
      if (typeof value === 'string' && value.trim() !== '') place(figures, word, value, notes);
    return figures;
  });
  return { readings: readings.filter((figures) => !isEmpty(figures)), notes };
}

/**
 * Reads what a modem's terminal, its page or a spreadsheet gave: +CSQ and +CESQ, lines of "key: value", or a table
 * with a heading. An empty line, or a key that comes again, begins the next reading.
 */
export function parseCellular(text: string): CellParsed {
  const table = fromTable(text);
  if (table) return table;
  const notes: string[] = [];
  const readings: CellFigures[] = [];
  let current: CellFigures = {};
  let seen = new Set<string>();
  const next = (): void => {
    if (!isEmpty(current)) readings.push(current);
    current = {};
    seen = new Set();
  };
  for (const raw of pastedLines(text)) {
    const line = raw.trim();
    if (line === '' || /^(OK|AT\S*)$/i.test(line)) {
      if (line === '') next();
      continue;
    }
    const key = line.split(/[:=]/)[0]!.trim().toLowerCase();
    if (seen.has(key)) next();
    seen.add(key);
    if (fromTerminal(line, current, notes)) continue;
    const pair = /^([^:=]{1,40})[:=](.+)$/.exec(line);
    if (pair && place(current, pair[1]!, pair[2]!, notes)) continue;
    const band = pair && /^band/i.test(pair[1]!) ? parseBands(pair[2]!) : undefined;
    if (!band) notes.push(`"${line.slice(0, 80)}" was not understood; nothing was taken from it.`);
  }
  next();
  return { readings, notes };
}

/** "band 20", or the channel where its band is not known; empty without a channel. */
export const bandText = (channel: number | null): string =>
  channel === null ? '' : bandOf(channel) === undefined ? `channel ${channel}` : `band ${bandOf(channel)}`;
