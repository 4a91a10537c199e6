/*
 * The facts that a data folder keeps about itself: which there are, what each may hold, and whether it goes into a
 * backup. A fact that stands nowhere here is neither written nor taken from a file.
 */
import * as z from 'zod';
import { kitSchema } from '../../core/index.ts';
import { mostModelText } from './limits.ts';

const cardPrefix = 'card:';
/** Name of the fact that holds the card of a model, and back. */
export const cardName = (model: string): string => `${cardPrefix}${model}`;
export const modelOf = (name: string): string => name.slice(cardPrefix.length);
/** Pattern of SQL's LIKE for all cards. */
export const cardPattern = `${cardPrefix}%`;

export const factNames = {
  demoSites: 'demo-sites',
  vaultFailures: 'vault-failures',
  daysOfUse: 'days-of-use',
} as const;

/** The card of a model out of its text; undefined where it is none. */
export function cardOf(text: string): z.output<typeof kitSchema.shape.card> | undefined {
  try {
    return kitSchema.shape.card.safeParse(JSON.parse(text)).data;
  } catch {
    return undefined;
  }
}

interface FactKind {
  readonly is: (name: string) => boolean;
  readonly fits: (value: string) => boolean;
  /** Whether it is of the data, and not of this folder and this moment. */
  readonly travels: boolean;
}

const kinds: readonly FactKind[] = [
  {
    is: (name) => name.startsWith(cardPrefix) && modelOf(name).length <= mostModelText,
    fits: (value) => cardOf(value) !== undefined,
    travels: true,
  },
  { is: (name) => name === factNames.demoSites, fits: (value) => value.length <= 1_000, travels: true },
  {
    is: (name) => name === factNames.vaultFailures,
    fits: (value) => /^\d{1,9}$/.test(value),
    travels: false,
  },
  { is: (name) => name === factNames.daysOfUse, fits: (value) => value.length <= 200, travels: false },
];

/** Whether a fact is one of those that a backup holds, with a value that it can have. */
export const travels = (name: string, value: string): boolean =>
  kinds.some((kind) => kind.travels && kind.is(name) && kind.fits(value));

/** Whether a fact is of this folder only. */
export const staysHere = (name: string): boolean => kinds.some((kind) => !kind.travels && kind.is(name));
