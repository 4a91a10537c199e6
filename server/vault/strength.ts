import { ZxcvbnFactory } from '@zxcvbn-ts/core';
import * as common from '@zxcvbn-ts/language-common';
import { distance } from 'fastest-levenshtein';

const judge = new ZxcvbnFactory({ dictionary: common.dictionary, graphs: common.adjacencyGraphs });

/** Words that boxes come with, and what people make of them (common practice, no source). */
const factory =
  /^(admin|password|default|changeme|router|root|user|guest|1234(5(6(7(8(90?)?)?)?)?)?)+[!.]?\d{0,4}$/i;

/** Passphrases that books and lectures print as examples: everybody knows them (common practice, no source). */
const examples = [
  'correct horse battery staple',
  'the quick brown fox jumps over the lazy dog',
  'my voice is my passport verify me',
  'open sesame',
  'to be or not to be that is the question',
  'all your base are belong to us',
  'may the force be with you',
  'it was the best of times it was the worst of times',
  'in the beginning was the word',
  'once upon a time',
  'trustno1',
  'letmein please',
  'cleft cam synod lacy yr wok',
  'this is a password',
  'this is a secret',
  'this is my passphrase',
].map(lettersOf);

/** A secret as far as words go: small letters, the usual disguises taken off, nothing else. */
function lettersOf(text: string): string {
  const disguises: Readonly<Record<string, string>> = {
    '0': 'o',
    '1': 'i',
    '3': 'e',
    '4': 'a',
    '5': 's',
    '7': 't',
    '@': 'a',
    $: 's',
    '!': 'i',
  };
  return [...text.normalize('NFKD').toLowerCase()]
    .map((each) => disguises[each] ?? each)
    .filter((each) => /\p{L}/u.test(each))
    .join('');
}

export interface Strength {
  /** 0 to 4. */
  readonly score: number;
  readonly fit: boolean;
  readonly says: string;
}

const leastWordLength = 3;

/** The words of some names, each alone and all of one name joined, longest first. */
function wordsOf(around: readonly string[]): string[] {
  const words = new Set<string>();
  for (const name of around) {
    const parts = name.split(/[^\p{L}\p{N}]+/u).filter((part) => part !== '');
    for (const word of [...parts, parts.join(''), parts.map((part) => part[0]).join('')])
      if (word.length >= leastWordLength) words.add(word.toLowerCase());
  }
  return [...words].sort((a, b) => b.length - a.length);
}

/** Words that people put beside the name of a place to make a password of it (common practice, no source). */
const usualCompany = [
  ...[
    'wifi',
    'wlan',
    'wireless',
    'guest',
    'guests',
    'office',
    'admin',
    'router',
    'network',
    'internet',
    'password',
  ],
  ...[
    'login',
    'welcome',
    'access',
    'secret',
    'staff',
    'public',
    'private',
    'user',
    'home',
    'house',
    'shop',
    'hotel',
  ],
  ...[
    'spring',
    'summer',
    'autumn',
    'winter',
    'january',
    'february',
    'march',
    'april',
    'june',
    'july',
    'august',
  ],
  ...['september', 'october', 'november', 'december', 'monday', 'friday', 'sunday'],
].sort((a, b) => b.length - a.length);
/** A year, a day or a short number, and what joins it to a word. */
const yearsAndJoints = /(?:19|20)\d\d|\d{1,2}(?=[^\d]|$)|[^\p{L}\p{N}]/gu;

/** What is left of a secret when the words that anyone would try here are taken out, in whatever disguise. */
function withoutWords(secret: string, words: readonly string[]): string {
  let left = secret.toLowerCase();
  let letters = lettersOf(secret);
  for (const word of words) {
    left = left.replaceAll(word, ' ');
    const plain = lettersOf(word);
    if (plain.length >= leastWordLength) letters = letters.replaceAll(plain, '');
  }
  // Disguised, the words are found among the letters only: then the letters that are left are what counts.
  const found = letters.length < lettersOf(left).length;
  return (found ? letters : left).replace(/\s+/g, ' ').trim();
}

/**
 * How hard a secret is to guess. `around` holds words that anyone would try here: the site, the customer, its people.
 * They count for nothing, alone, joined or disguised: what is left must be hard to guess by itself.
 */
export function strengthOf(secret: string, around: readonly string[] = []): Strength {
  if (factory.test(secret))
    return { score: 0, fit: false, says: 'Devices come with this password, so everybody tries it first.' };
  const letters = lettersOf(secret);
  if (examples.some((each) => letters === each || (each.length > 15 && letters.includes(each))))
    return { score: 0, fit: false, says: 'This one is printed in books as an example: everybody tries it.' };
  const words = wordsOf(around);
  const typed = secret.slice(0, 200);
  const whole = judge.check(typed, words);
  const left = withoutWords(typed, words);
  const touched = left !== typed.toLowerCase();
  const rest = touched ? judge.check(left, words) : whole;
  // Beside a name of the place, a year, a season and "wifi" add next to nothing.
  const company = touched ? withoutWords(left.replace(yearsAndJoints, ' '), usualCompany) : left;
  const bare = touched ? judge.check(company.replace(/\s+/g, ''), words) : whole;
  const score = Math.min(whole.score, rest.score, bare.score);
  if (score >= 3) return { score, fit: true, says: 'Hard to guess.' };
  if (whole.score >= 3)
    return {
      score,
      fit: false,
      says: 'It consists mostly of words of this site, which anybody here would try. Take words that have nothing to do with it.',
    };
  const said = [whole.feedback.warning, ...whole.feedback.suggestions]
    .filter((each) => typeof each === 'string' && / /.test(each))
    .join(' ');
  return {
    score,
    fit: false,
    says:
      said ||
      'Too easy to guess: four or five words that do not belong together are better than one with numbers.',
  };
}

/** Characters from which on a secret is compared letter by letter: short ones, such as a PIN, are alike by chance. */
const comparedFrom = 8;

/** Whether two secrets are the same, or the same to whoever knows one of them: a letter apart, or in other cases. */
export function alike(one: string, other: string): 'same' | 'nearly' | undefined {
  if (one === other) return 'same';
  if (Math.min(one.length, other.length) < comparedFrom) return undefined;
  return distance(one.toLowerCase(), other.toLowerCase()) <= 1 ? 'nearly' : undefined;
}
