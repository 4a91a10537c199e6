import * as z from 'zod';

/*
 * What may stand in a text that comes from outside and goes out again. A line of a plan becomes a line of a profile,
 * a cell, an event, a name on a label: a line end in it would be a line of somebody else's making, and a character
 * that turns the direction of writing would show another text than is there (Unicode TR 36).
 */

/** Control characters (C0, DEL, C1), separators of lines and paragraphs, and marks of direction (Unicode TR 9). */
const inLine = /[\p{Cc}\u2028\u2029\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069\ufeff]/u;
const allInLine = new RegExp(inLine, 'gu');
/** The same, but for the line end and the tab. */
const allInText = /(?![\n\t])[\p{Cc}\u2028\u2029\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069\ufeff]/gu;

/** Most texts are of plain characters, and these are told in a tenth of the time. */
const plain = /^[ -~]*$/;

/** Whether a text is one line of visible characters. */
export const isLine = (text: string): boolean => plain.test(text) || !inLine.test(text);

/** A text as one line: what ends a line becomes a space, what cannot be seen goes. */
export const asLine = (text: string): string =>
  isLine(text) ? text : text.replace(/\r\n?|[\n\t\v\f\u0085\u2028\u2029]/g, ' ').replace(allInLine, '');

/** A text of several lines: every line end is one line feed, what cannot be seen goes. */
export const asText = (text: string): string =>
  isLine(text) ? text : text.replace(/\r\n?|[\v\f\u0085\u2028\u2029]/g, '\n').replace(allInText, '');

/** One line, of so many characters at most. */
export const lineText = (most: number) =>
  z
    .string()
    .max(most)
    .refine(isLine, 'a line has no line ends, no control characters and no marks of direction');

/** Several lines, of so many characters at most. */
export const manyLines = (most: number) =>
  z
    .string()
    .max(most)
    .refine((text) => asText(text) === text, 'a text has no control characters and no marks of direction');

/** A number and its noun: "1 host", "2 hosts". */
export const counted = (count: number | bigint, one: string, many = `${one}s`): string =>
  `${count} ${Number(count) === 1 ? one : many}`;

/** A name as it can be typed in a question: lower case, words joined by hyphens. */
export function slug(name: string): string {
  const lower = name.trim().toLowerCase();
  return /^[a-z0-9]+$/.test(lower) ? lower : lower.replace(/[^\p{L}\p{N}.:/]+/gu, '-').replace(/^-|-$/g, '');
}

/** With a capital, as a sentence begins. */
export const capitalized = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** Most characters of a text that is pasted or dropped to be read. */
export const longestPasted = 200_000;

/**
 * A pasted text, ready to be read line by line: not longer than `longestPasted`, each run of blanks one space. Tabs
 * stay where cells are told by them.
 */
export function pastedLines(text: string, { tabs = false } = {}): string[] {
  const short = text.slice(0, longestPasted).replace(/\r\n?/g, '\n');
  const tidy = tabs ? short.replace(/[^\S\n\t]+/g, ' ') : short.replace(/[^\S\n]+/g, ' ');
  return tidy.split('\n');
}
