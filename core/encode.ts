import Papa from 'papaparse';
import { asLine, asText, isLine } from './text.ts';

/*
 * The one place where text of a plan becomes part of another format. Whatever stands in the plan, what comes out is
 * one value of that format and nothing more: no second line, no second cell, no formula, no path.
 */

/**
 * A value of a configuration of "Key = value" lines: undefined where it would be more than a value, or begin a
 * remark. Such a value is left out, never mended: a mended address is another address.
 */
export const configurationValue = (text: string): string | undefined =>
  isLine(text) && !text.includes('#') && text.trim() === text ? text : undefined;

/** Text in a calendar (RFC 5545 section 3.3.11). */
export const calendarText = (text: string): string =>
  asText(text)
    .replace(/[\\;,]/g, '\\$&')
    .replace(/\n/g, '\\n')
    .replace(/\t/g, ' ');

/** What a spreadsheet takes for a formula, after blanks or quotes too (common practice, no source). */
const formula = /^[\s"']*[=+\-@|%]/;

/** A cell of a table: one line, and never a formula. A number keeps its sign. */
export function tableCell(text: string): string {
  const line = asLine(text);
  return formula.test(line) && !/^[+-]?\d+(?:[.,]\d+)?$/.test(line) ? `'${line}` : line;
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
