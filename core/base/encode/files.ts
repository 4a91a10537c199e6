import Papa from 'papaparse';
import { asLine } from '../text.ts';

/*
 * Tables and file names. Whatever stands in the plan, what comes out is one cell or one name and nothing more: no
 * second line, no second cell, no formula, no path.
 */

/** What a spreadsheet takes for a formula, after blanks or quotes too, full width as well (common practice, no source). */
const formula = /^[\s"']*[=+\-@|%\uff1d\uff0b\uff0d\uff20]/;
/** What one or another setting of the country takes for the end of a cell. */
const cellEnds = /([,;\t])/;

/** A cell of a table: one line, and never a formula. A number keeps its sign. */
export function tableCell(text: string): string {
  const line = asLine(text);
  if (/^[+-]?\d+(?:[.,]\d+)?$/.test(line)) return line;
  return line
    .split(cellEnds)
    .map((piece) => (formula.test(piece) ? `'${piece}` : piece))
    .join('');
}

/** Rows for a spreadsheet (RFC 4180). */
export const writeTable = (fields: readonly string[], rows: readonly (readonly string[])[]): string =>
  Papa.unparse({ fields: [...fields], data: rows.map((row) => row.map(tableCell)) }, { newline: '\r\n' });

const longestFileName = 120;
/** Names that a desktop system keeps for devices, whatever their ending (common practice, no source). */
const deviceNames = /^(?:con|prn|aux|nul|com\d|lpt\d)(?=\.|$)/i;

/** A file name that every desktop takes: no path, no hidden file, no name of a device, ending kept. */
export function fileName(name: string): string {
  const whole = asLine(name.normalize('NFC')).trim();
  const ending = /\.[A-Za-z0-9]{1,12}$/.exec(whole)?.[0] ?? '';
  const stem = whole
    .slice(0, whole.length - ending.length)
    .replace(/[<>:"/\\|?*]/g, ' ')
    .replace(/\s+/g, ' ')
    .replace(/^[. ]+/, '')
    .slice(0, longestFileName)
    .trimEnd()
    .replace(deviceNames, '$& file');
  return stem === '' ? `file${ending}` : stem + ending;
}
