import { dutch } from './dutch.ts';
import { english } from './english.ts';
import { french } from './french.ts';
import { german } from './german.ts';
import { italian } from './italian.ts';
import type { Lexicon } from './lexicon.ts';
import { portuguese } from './portuguese.ts';
import { spanish } from './spanish.ts';

/** The registry of languages: a new one is a file of words and a line here. */
export const lexicons: readonly Lexicon[] = [english, german, french, spanish, italian, dutch, portuguese];

const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

interface Reader {
  readonly lexicon: Lexicon;
  /** Every word of the trade, the longest first. */
  readonly words: RegExp;
  readonly meaning: (found: string) => string | undefined;
  /** Single words that tell the language: those of its sentences, and those of the trade that are its own. */
  readonly own: ReadonlySet<string>;
}

const readers: readonly Reader[] = lexicons.map((lexicon) => {
  const entries = Object.entries(lexicon.words).flatMap(([meaning, words]) =>
    words.map((word) => [word.toLowerCase(), meaning] as const),
  );
  const plain = new Map(entries.filter(([word]) => !word.endsWith('*')));
  const open = entries.flatMap(([word, meaning]) =>
    word.endsWith('*') ? [[word.slice(0, -1), meaning] as const] : [],
  );
  const forms = entries
    .map(([word]) => word)
    .sort((a, b) => b.length - a.length)
    .map((word) => (word.endsWith('*') ? `${escaped(word.slice(0, -1))}[\\p{L}-]{0,30}` : escaped(word)));
  return {
    lexicon,
    // A word with an apostrophe or a sign at its end has no letter to stand against.
    words: new RegExp(`(?<![\\p{L}\\p{N}])(?:${forms.join('|')})(?![\\p{L}\\p{N}])`, 'giu'),
    meaning: (found) => {
      const word = found.toLowerCase();
      return plain.get(word) ?? open.find(([begin]) => word.startsWith(begin))?.[1];
    },
    own: new Set([
      ...lexicon.common,
      ...entries.map(([word]) => word).filter((word) => /^\p{L}+$/u.test(word)),
    ]),
  };
});

/** Characters from which a language is told. */
const sample = 20_000;

/** The language in which rows are written: the one whose words they have most of; English where none is clear. */
export function languageOf(rows: readonly string[]): Lexicon {
  const words =
    rows
      .join('\n')
      .slice(0, sample)
      .toLowerCase()
      .match(/\p{L}+/gu) ?? [];
  const scores = readers.map(({ lexicon, own }) => ({
    lexicon,
    score: words.reduce((sum, word) => sum + Number(own.has(word)), 0),
  }));
  const best = scores.reduce((one, other) => (other.score > one.score ? other : one));
  return best.score >= 2 ? best.lexicon : english;
}

/** A stretch of a row, and what is read in its place. */
export interface Exchange {
  readonly start: number;
  readonly end: number;
  readonly text: string;
}

/** 249.600 and 2,5 as English writes them, where what follows or stands before shows that they are figures. */
const grouped = /(?<![\d.,])\d{1,3}(?:\.\d{3})+(?:,\d+)?(?![\d.,]*\d)/g;
/** 1 000 Mbit/s, with a space that may not break a line. */
const spaced = /(?<![\d.,:/-])\d{1,3}(?:[ \u00a0\u202f]\d{3})+(?=\s?[kMG]?(?:bit|bps|b\/s))/g;
const decimal =
  /(?<![\d.,])\d+,\d{1,3}(?=\s?(?:[kKMGT]?(?:bit|bps|b\/s|Bit|B\b)|[kmc]?m\b|km|€|EUR|%|dB|V\b|A\b|W\b|GB|MB|TB))/g;

/** What a row says in English, stretch by stretch; what is not named stays. */
export function exchangesOf(row: string, lexicon: Lexicon): Exchange[] {
  const { words, meaning } = readers.find((each) => each.lexicon === lexicon)!;
  const found = [...row.matchAll(words)].flatMap(({ index, 0: word }): Exchange[] => {
    const text = meaning(word);
    return text === undefined ? [] : [{ start: index, end: index + word.length, text }];
  });
  if (!lexicon.decimalComma) return found;
  const figures = [
    // Four groups are an IPv4 address.
    ...[...row.matchAll(grouped)].filter(([text]) => text.split('.').length !== 4),
    ...row.matchAll(decimal),
    ...row.matchAll(spaced),
  ].map(({ index, 0: text }) => ({
    start: index,
    end: index + text.length,
    text: text.replaceAll(/[.\s]/g, '').replace(',', '.'),
  }));
  return [...found, ...figures]
    .sort((a, b) => a.start - b.start || b.end - a.end)
    .reduce<Exchange[]>((all, each) => (each.start < (all.at(-1)?.end ?? 0) ? all : [...all, each]), []);
}
