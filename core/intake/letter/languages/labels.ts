import { lexicons, type Exchange } from './index.ts';
import { roles, spellings, type Lexicon, type Role } from './lexicon.ts';

/*
 * Labels of forms and the values that choose, by stems of all languages at once: a form of few words has no language
 * of its own. Stems are looked up by the first letters of their first word, so that a thousand of them cost no more
 * than ten.
 */

interface Word {
  readonly text: string;
  /** Any beginning, any ending. */
  readonly before: boolean;
  readonly after: boolean;
}

interface Stem<Meaning> {
  readonly words: readonly Word[];
  readonly meaning: Meaning;
}

interface Placed {
  readonly text: string;
  readonly start: number;
}

const wordsOf = (text: string): Placed[] =>
  [...text.matchAll(/[\p{L}\p{N}]+/gu)].map(({ index, 0: word }) => ({
    text: word.toLowerCase(),
    start: index,
  }));

const fits = ({ text, before, after }: Word, word: string): boolean =>
  before && after
    ? word.includes(text)
    : before
      ? word.endsWith(text)
      : after
        ? word.startsWith(text)
        : word === text;

/** Stems by the first two letters of their first word; those with any beginning are tried on every word. */
class Stems<Meaning> {
  readonly #byStart = new Map<string, Stem<Meaning>[]>();
  readonly #anywhere: Stem<Meaning>[] = [];

  constructor(stems: readonly (readonly [stem: string, meaning: Meaning])[]) {
    for (const [stem, meaning] of stems) {
      const words = stem
        .toLowerCase()
        .split(/[^\p{L}\p{N}*]+/u)
        .filter((part) => /[\p{L}\p{N}]/u.test(part))
        .map((part) => ({
          text: part.replaceAll('*', ''),
          before: part.startsWith('*'),
          after: part.endsWith('*'),
        }));
      const first = words[0]!;
      const key = first.text.slice(0, 2);
      if (first.before) this.#anywhere.push({ words, meaning });
      else this.#byStart.set(key, [...(this.#byStart.get(key) ?? []), { words, meaning }]);
    }
  }

  /** Where stems stand in a text, the longest at each place first. */
  in(text: string): { readonly meaning: Meaning; readonly start: number; readonly end: number }[] {
    const words = wordsOf(text);
    return words.flatMap(({ text: word, start }, at) =>
      [
        ...(this.#byStart.get(word.slice(0, 2)) ?? []),
        ...(word.length > 1 ? (this.#byStart.get(word[0]!) ?? []) : []),
        ...this.#anywhere,
      ].flatMap((stem) => {
        const last = words[at + stem.words.length - 1];
        const all = last && stem.words.every((each, index) => fits(each, words[at + index]!.text));
        return all ? [{ meaning: stem.meaning, start, end: last.start + last.text.length }] : [];
      }),
    );
  }
}

const stemsOf = <Meaning extends string>(
  pick: (lexicon: Lexicon) => Readonly<Partial<Record<Meaning, readonly string[]>>> | undefined,
): Stems<Meaning> =>
  new Stems(
    lexicons.flatMap((lexicon) =>
      Object.entries<readonly string[] | undefined>(pick(lexicon) ?? {}).flatMap(([meaning, stems]) =>
        (stems ?? []).flatMap((stem) =>
          spellings(stem.toLowerCase()).map((each) => [each, meaning as Meaning] as const),
        ),
      ),
    ),
  );

const labels = stemsOf<Role>((lexicon) => lexicon.labels);
const choices = {
  type: stemsOf<string>((lexicon) => lexicon.choices.type),
  medium: stemsOf<string>((lexicon) => lexicon.choices.medium),
  change: stemsOf<string>((lexicon) => lexicon.choices.change),
};

/** Longer than any label. */
const longest = 60;

/** What a label can name, the likeliest first; none where it is no label of a line. */
export function rolesOf(label: string): readonly Role[] {
  if (label.length > longest) return [];
  const found = new Set(labels.in(label).map(({ meaning }) => meaning));
  return roles.filter((role) => found.has(role));
}

/** Words by which the value of a label chooses, and what they are in English. */
export const choicesIn = (role: 'type' | 'medium' | 'change', value: string): readonly Exchange[] =>
  choices[role]
    .in(value.slice(0, longest))
    .map(({ meaning: text, start, end }) => ({ start, end, text }))
    .sort((a, b) => a.start - b.start || b.end - a.end)
    .filter((each, index, all) => all.slice(0, index).every(({ end }) => end <= each.start));
