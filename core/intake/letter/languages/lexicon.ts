/*
 * A text in another language is read as English: labels and words of the trade are exchanged for those that the
 * readers know, and every place stays known. Nothing of a language stands anywhere else. The words are common
 * practice, no source.
 */

/** What a language calls things. */
export interface Lexicon {
  readonly language: string;
  /** Words by which its sentences are told from those of others. */
  readonly common: readonly string[];
  /** 1.000 is a thousand and 2,5 is two and a half. */
  readonly decimalComma: boolean;
  /** English, and what stands for it; "*" at the end is any ending. The longest that fits counts. */
  readonly words: Readonly<Record<string, readonly string[]>>;
}
