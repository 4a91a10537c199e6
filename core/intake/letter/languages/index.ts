import { dutch } from './dutch.ts';
import { english } from './english.ts';
import { french } from './french.ts';
import { german } from './german.ts';
import { italian } from './italian.ts';
import { spellings, type Lexicon } from './lexicon.ts';
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
  /** Its units behind a figure. */
  readonly units: RegExp;
  /** Single words that tell the language: those of its sentences, and those of the trade that are its own. */
  readonly own: ReadonlySet<string>;
}

/** Words of its sentences, its trade and its labels. */
const vocabulary = ({ common, words, labels: stems }: Lexicon): readonly string[] => [
  ...common,
  ...[...Object.values(words).flat(), ...Object.values(stems).flat()]
    .flatMap((word) => word.toLowerCase().split(/[^\p{L}*]+/u))
    .filter((word) => /^\p{L}{4,}$/u.test(word)),
];

/** Those that no more than one other language has, and that English has not. */
function ownWords(lexicon: Lexicon): ReadonlySet<string> {
  const others = lexicons.filter((each) => each !== lexicon).map((each) => new Set(vocabulary(each)));
  const ofEnglish = new Set(lexicon === english ? [] : vocabulary(english));
  return new Set(
    vocabulary(lexicon).filter(
      (word) => !ofEnglish.has(word) && others.filter((each) => each.has(word)).length <= 1,
    ),
  );
}

const readers: readonly Reader[] = lexicons.map((lexicon) => {
  const entries = Object.entries(lexicon.words).flatMap(([meaning, words]) =>
    words.flatMap((word) => spellings(word.toLowerCase()).map((each) => [each, meaning] as const)),
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
    units: new RegExp(String.raw`(?<=\d\s?)(?:${Object.keys(lexicon.units).join('|')})(?![\p{L}/])`, 'gu'),
    own: ownWords(lexicon),
  };
});

/** Characters from which a language is told. */
const sample = 20_000;

/**
 * The language in which rows are written: the one whose words they have most of. English where none is clear; what
 * the whole text is written in, where a part of it has hardly more words of another.
 */
export function languageOf(rows: readonly string[], around: Lexicon = english): Lexicon {
  const words =
    rows
      .join('\n')
      .slice(0, sample)
      .toLowerCase()
      .match(/\p{L}+/gu) ?? [];
  const scoreOf = (own: ReadonlySet<string>): number =>
    words.reduce((sum, word) => sum + Number(own.has(word)), 0);
  const scores = readers.map(({ lexicon, own }) => ({ lexicon, score: scoreOf(own) }));
  const best = scores.reduce((one, other) => (other.score > one.score ? other : one));
  const usual = scores.find(({ lexicon }) => lexicon === around)!.score;
  return best.score >= 2 && (around === english || best.score > usual + 2) ? best.lexicon : around;
}

/** A stretch of a row, and what is read in its place. */
export interface Exchange {
  readonly start: number;
  readonly end: number;
  readonly text: string;
}

/** 249.600 and 2,5 as English writes them, where what follows or stands before shows that they are figures. */
const grouped = /(?<![\d.,])\d{1,3}(?:\.\d{3})+(?:,\d+)?(?![\d.,]*\d)/g;
/** A unit of rates behind the figure, or behind the one it forms a pair with. */
const ofRate = String.raw`(?=\s?(?:\/\s?\d[\d.,\u00a0\u202f ]*)?(?:[kMGkmg]?(?:[Bb]it|bps|[Bb]\/s)|[MmGg][ée]?(?:ga)?s?(?![\p{L}/])|[Mm]egabit))`;
/** 1 000 Mbit/s, with a space that may not break a line. */
const spaced = new RegExp(String.raw`(?<![\d.,:-])\d{1,3}(?:[ \u00a0\u202f]\d{3})+${ofRate}`, 'gu');
/** 1,000 Mbit/s in English, and not the ports "80,443". */
const groupedByComma = new RegExp(String.raw`(?<![\d.,])\d{1,3}(?:,\d{3})+${ofRate}`, 'gu');
const decimal = new RegExp(
  String.raw`(?<![\d.,])\d+,\d{1,3}(?:${ofRate}|(?=\s?(?:[kmc]?m\b|km|€|EUR|%|dB|V\b|A\b|W\b|[GTM][oB]\b)))`,
  'gu',
);

/** What a row says in English, stretch by stretch; what is not named stays. */
export function exchangesOf(row: string, lexicon: Lexicon): Exchange[] {
  const { words, meaning, units } = readers.find((each) => each.lexicon === lexicon)!;
  const spelt = [...row.matchAll(words)].flatMap(({ index, 0: word }): Exchange[] => {
    const text = meaning(word);
    return text === undefined ? [] : [{ start: index, end: index + word.length, text }];
  });
  const found = [
    ...spelt,
    ...[...row.matchAll(units)].map(({ index, 0: unit }) => ({
      start: index,
      end: index + unit.length,
      text: lexicon.units[unit]!,
    })),
  ];
  if (!lexicon.decimalComma)
    return inOrder([
      ...found,
      ...[...row.matchAll(groupedByComma)].map(({ index, 0: text }) => ({
        start: index,
        end: index + text.length,
        text: text.replaceAll(',', ''),
      })),
    ]);
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
  return inOrder([...found, ...figures]);
}

/** Of those that lie on each other the first, and the longest of those that begin together. */
export const inOrder = (exchanges: readonly Exchange[]): Exchange[] =>
  [...exchanges]
    .sort((a, b) => a.start - b.start || b.end - a.end)
    .reduce<Exchange[]>((all, each) => {
      if (each.start >= (all.at(-1)?.end ?? 0)) all.push(each);
      return all;
    }, []);
