/*
 * A text in another language is read as English: labels and words of the trade are exchanged for those that the
 * readers know, and every place stays known. Nothing of a language stands anywhere else. The words are common
 * practice, no source.
 */

/** What a label of a form can name, what is told apart first before what is general: a "DNS server address" is no address of the line. */
export const roles = [
  'key', 'leave', 'foreign', 'password', 'pin', 'apn', 'aftr', 'mtu', 'priority', 'vlan', 'dns1', 'dns2', 'dns', 'mask', 'gateway', 'cap', 'userName', 'down', 'up', 'rate', 'type', 'medium', 'address',
] as const; // prettier-ignore
export type Role = (typeof roles)[number];

/** What a language calls things. */
export interface Lexicon {
  readonly language: string;
  /** Words by which its sentences are told from those of others. */
  readonly common: readonly string[];
  /** 1.000 is a thousand and 2,5 is two and a half. */
  readonly decimalComma: boolean;
  /** English, and what stands for it; "*" at the end is any ending. The longest that fits counts. */
  readonly words: Readonly<Record<string, readonly string[]>>;
  /**
   * Stems of the labels of forms; "*" before or behind is any beginning or ending. `leave` is what other readers know
   * (a MAC address, a Wi-Fi key), `foreign` what is not of the line though its label speaks of a user or a rate.
   */
  readonly labels: Readonly<Partial<Record<Role, readonly string[]>>>;
  /** Values that a label gives a meaning: "IP assignment: fixed", "Access: cable". English, and what stands for it. */
  readonly choices: Readonly<
    Partial<Record<'type' | 'medium' | 'change', Readonly<Record<string, readonly string[]>>>>
  >;
  /** Units behind a figure, in their own case, and what they are elsewhere. */
  readonly units: Readonly<Record<string, string>>;
}

const umlauts: Readonly<Record<string, string>> = { ä: 'ae', ö: 'oe', ü: 'ue', ß: 'ss' };

/** A word, and how it is written where the keyboard has no accents. */
export const spellings = (word: string): readonly string[] => [
  ...new Set([
    word,
    word.replace(/[äöüß]/g, (letter) => umlauts[letter]!),
    word.normalize('NFD').replace(/\p{M}/gu, ''),
  ]),
];
