import { asLine } from '../text.ts';
import { template } from './code.ts';

/**
 * Markdown (CommonMark 0.31): every character of a text that could begin or end something is escaped (section 2.4),
 * addresses that a reader makes links of included (GFM section 6.9), and what begins a block at the start of a line.
 */
export const markdown = template<'markdown'>((text) =>
  asLine(text)
    .replace(/[\\`*_[\]<>#|~&!]/g, '\\$&')
    .replace(/^(\s*)([-+=]|\d+(?=[.)]))/, '$1\\$2')
    .replace(/(https?|ftp|mailto|xmpp|www)([:.])/gi, '$1\\$2'),
);

/** Text in a calendar (RFC 5545 section 3.3.11). */
export const calendarText = template<'calendar'>((text) =>
  text
    .replace(/\r\n?|[\v\f\u0085\u2028\u2029]/g, '\n')
    .replace(/[\\;,]/g, '\\$&')
    .replace(/\n/g, '\\n')
    .replace(/\t/g, ' ')
    .replace(/[\p{Cc}\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069\ufeff]/gu, ''),
);
