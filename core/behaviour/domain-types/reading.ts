import type { At } from '../../plan/at.ts';
/** What the figure of a field is. */
export type ReadingKind = 'text' | 'address' | 'number' | 'choice' | 'sha256';

/** One thing that may have been seen, and whether it is what was wanted. */
export interface ReadingChoice {
  readonly value: string;
  readonly title: string;
  readonly good: boolean;
}

/** What is read off on site and typed in: one figure of one kind, which can be read back and judged. */
export interface ReadingField {
  readonly key: string;
  readonly label: string;
  readonly kind: ReadingKind;
  /** Unit of a number; empty where it has none. */
  readonly unit: string;
  /** A step counts without it. */
  readonly optional: boolean;
  readonly choices: readonly ReadingChoice[];
  /** What a number has to be, and what it means where it is not. */
  readonly limits?: { readonly least?: number; readonly most?: number; readonly says: string };
  /** Subnets in which an address has to be, and what it means where it is not. */
  readonly within?: { readonly prefixes: readonly string[]; readonly says: string };
  /** Field of the plan that holds this figure: it is offered there, and typed nowhere twice. */
  readonly at?: At;
  /** Added to a number before it goes into the plan. */
  readonly plus?: number;
}

type More = Partial<Omit<ReadingField, 'key' | 'label' | 'kind'>>;

const field =
  (kind: ReadingKind) =>
  (key: string, label: string, more: More = {}): ReadingField => ({
    key,
    label,
    kind,
    unit: '',
    optional: false,
    choices: [],
    ...more,
  });

export const textReading = field('text');
export const addressReading = field('address');
/** A SHA-256, 64 hexadecimal digits (FIPS 180-4). */
export const hashReading = field('sha256');

export const numberReading = (key: string, label: string, unit: string, more: More = {}): ReadingField =>
  field('number')(key, label, { unit, ...more });

/** Two things that may have been seen, the wanted one first. */
export const choiceReading = (key: string, label: string, good: string, wrong: string): ReadingField =>
  field('choice')(key, label, {
    choices: [
      { value: 'yes', title: good, good: true },
      { value: 'no', title: wrong, good: false },
    ],
  });

/** What was typed into the fields of a step, by their keys. */
export type Values = Readonly<Record<string, string>>;
