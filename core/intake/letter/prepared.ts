import { formsOf, type FormRow } from './forms.ts';
import { exchangesOf, inOrder, languageOf, type Exchange } from './languages/index.ts';
import { chosen, correction, voidsOf, type Void } from './scope.ts';

/** A row as the readers get it, and where its places are in the row as it was typed. */
export interface PreparedRow {
  readonly text: string;
  /** The same with what does not hold: a secret is one there, too. */
  readonly whole: string;
  /** The stretch as typed of a stretch that was read. */
  readonly typed: (at: { readonly start: number; readonly end: number }) => { start: number; end: number };
  /** It only names what stands below it. */
  readonly labels: boolean;
  /** A row of an earlier mail: what stands above it is newer. */
  readonly quoted: boolean;
  /** It says what is to be taken instead of what stands elsewhere. */
  readonly corrects: boolean;
  /** What does not hold, with its places as typed. */
  readonly voids: readonly { readonly start: number; readonly end: number; readonly says: string }[];
}

/** A quoted mail: the marks in front of its rows are no part of them. */
const quoteMarks = /^(?:\s{0,3}>){1,10}/;

/** Tags of a page that was pasted as its source are blanked, and the end of a cell is a tab; every place stays. */
const withoutMarkup = (row: string): string =>
  row
    .replace(/<\/?[a-z][a-z0-9]{0,9}(?:\s[^<>]{0,300})?\/?>/gi, (tag) =>
      (/^<\/t[dh]/i.test(tag) ? '\t' : ' ').padEnd(tag.length),
    )
    .replace(/&(?:nbsp|#160|#xa0);/gi, (entity) => ' '.repeat(entity.length));

/** Rows in English, without what the text takes back. */
export function prepare(rows: readonly string[]): readonly PreparedRow[] {
  const clean = rows.map((row) =>
    withoutMarkup(row.replace(quoteMarks, (marks) => ' '.repeat(marks.length))),
  );
  const whole = languageOf(clean);
  const forms = formsOf(clean);
  let at = 0;
  const spoken = paragraphsOf(clean).flatMap((paragraph) => {
    // A paragraph of a few words has no language of its own.
    const lexicon = paragraph.join(' ').length > 60 ? languageOf(paragraph, whole) : whole;
    return paragraph.map((row) => inEnglish(row, together(forms[at++]!, exchangesOf(row, lexicon))));
  });
  return spoken.map(({ text, typed }, row) => {
    const mine = voidsOf(text);
    return {
      text: mine.reduce(blanked, text),
      whole: text,
      typed,
      labels: forms[row]!.labels,
      quoted: quoteMarks.test(rows[row]!),
      corrects: mine.some(({ says }) => says === correction),
      voids: mine.flatMap(({ start, end, says }) => {
        const told = text.slice(start, end).trimEnd().replace(/[,;]$/, '').length;
        return says === chosen || told === 0 ? [] : [{ ...typed({ start, end: start + told }), says }];
      }),
    };
  });
}

/** Labels of a form before words of its language; none within a name or a secret. */
function together({ exchanges, asTyped }: FormRow, words: readonly Exchange[]): readonly Exchange[] {
  if (exchanges.length === 0) return words;
  const free = ({ start, end }: Exchange): boolean =>
    [...exchanges, ...asTyped].every((each) => end <= each.start || start >= each.end);
  return inOrder([...exchanges, ...words.filter(free)]);
}

const blanked = (text: string, { start, end }: Void): string =>
  text.slice(0, start) + text.slice(start, end).replace(/[^\t|]/g, ' ') + text.slice(end);

/** Rows between empty ones; the empty row belongs to what stands above it. */
function paragraphsOf(rows: readonly string[]): string[][] {
  const found: string[][] = [[]];
  for (const row of rows) {
    found.at(-1)!.push(row);
    if (row.trim() === '') found.push([]);
  }
  return found;
}

function inEnglish(row: string, exchanges: readonly Exchange[]): Pick<PreparedRow, 'text' | 'typed'> {
  /** Where each stretch begins in the new text, and which stretch of the old one it stands for. */
  const parts: {
    readonly at: number;
    readonly start: number;
    readonly end: number;
    readonly same: boolean;
  }[] = [];
  let text = '';
  let from = 0;
  const take = (start: number, end: number, words: string, same: boolean): void => {
    if (words !== '') parts.push({ at: text.length, start, end, same });
    text += words;
  };
  for (const each of exchanges) {
    take(from, each.start, row.slice(from, each.start), true);
    take(each.start, each.end, each.text, false);
    from = each.end;
  }
  take(from, row.length, row.slice(from), true);
  const partAt = (place: number) => parts.findLast(({ at }) => at <= place);
  return {
    text,
    typed: ({ start, end }) => {
      const first = partAt(start);
      const last = partAt(end - 1);
      if (!first || !last) return { start, end };
      return {
        start: first.same ? first.start + start - first.at : first.start,
        end: last.same ? last.start + end - last.at : last.end,
      };
    },
  };
}
