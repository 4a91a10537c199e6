import { bad, ok, type Result } from '../../base/result.ts';
import type { Worked } from '../../base/worked/worked.ts';

export interface SumInput {
  readonly name: string;
  readonly says: string;
  readonly unit: string;
  readonly example: string;
  readonly optional?: true;
}

/** A worked figure that can be asked for by name. */
export interface Sum {
  readonly name: string;
  readonly says: string;
  readonly inputs: readonly SumInput[];
  readonly run: (given: Given) => Result<Worked>;
}

/** The inputs of one run, as typed. */
export type Given = Readonly<Record<string, string>>;

type Parse<T> = (text: string) => Result<T>;

/** An input of a sum: what it is, and how it is read. */
export interface Input<T> extends Omit<SumInput, 'name'> {
  readonly read: Parse<T>;
}

/** An input that must be given. */
export const needed = <T>(says: string, unit: string, example: string, read: Parse<T>): Input<T> => ({
  says,
  unit,
  example,
  read,
});

/** An input that may be left out. */
export const optional = <T>(
  says: string,
  unit: string,
  example: string,
  read: Parse<T>,
): Input<T | undefined> => ({ says, unit, example, optional: true, read });

/** A finite number within limits. */
export const numberBetween =
  (lowest: number, highest: number): Parse<number> =>
  (text) => {
    const typed = text.trim();
    if (!/^-?\d+(\.\d+)?$/.test(typed))
      return bad('not-a-number', `"${typed}" is not a number; write it like 12 or 12.5.`);
    const value = Number(typed);
    return value < lowest || value > highest
      ? bad('number-outside', `${typed} is outside ${lowest} to ${highest}.`)
      : ok(value);
  };

/** A whole number within limits. */
export const wholeBetween =
  (lowest: number, highest: number): Parse<number> =>
  (text) => {
    const value = numberBetween(lowest, highest)(text);
    return value.ok && !Number.isInteger(value.value)
      ? bad('not-whole', `${text} is not a whole number.`)
      : value;
  };

/** One of a few words. */
export const oneOf =
  <const Words extends readonly string[]>(words: Words): Parse<Words[number]> =>
  (text) => {
    const word: Words[number] | undefined = words.find((each) => each === text.trim());
    return word === undefined
      ? bad('not-one-of', `"${text.trim()}" is none of ${words.join(', ')}.`)
      : ok(word);
  };

export const yesOrNo: Parse<boolean> = (text) => {
  const word = oneOf(['yes', 'no'])(text);
  return word.ok ? ok(word.value === 'yes') : word;
};

/** Several values with commas or blanks between, at least one and so many at most. */
export const listOf =
  <T>(read: Parse<T>, most = 100): Parse<readonly T[]> =>
  (text) => {
    const parts = text.split(/[\s,]+/).filter((part) => part !== '');
    if (parts.length === 0) return bad('empty-list', 'The list is empty.');
    if (parts.length > most)
      return bad('long-list', `The list has ${parts.length} values; ${most} are the most.`);
    const values: T[] = [];
    for (const part of parts) {
      const value = read(part);
      if (!value.ok) return value;
      values.push(value.value);
    }
    return ok(values);
  };

type Inputs<Values> = { readonly [Key in keyof Values]: Input<Values[Key]> };

/** A sum: each input is read by its own parser, and the first that cannot be read is named. */
export function sum<Values extends object>(
  name: string,
  says: string,
  inputs: Inputs<Values>,
  run: (values: Values) => Result<Worked> | Worked,
): Sum {
  const entries = Object.entries(inputs) as [string, Input<unknown>][];
  return {
    name,
    says,
    inputs: entries.map(([key, { says: what, unit, example, optional: may }]) => ({
      name: key,
      says: what,
      unit,
      example,
      ...(may && { optional: may }),
    })),
    run: (given) => {
      const values: Record<string, unknown> = {};
      for (const [key, { read, optional: may }] of entries) {
        const text = given[key];
        if (text === undefined && may) continue;
        if (text === undefined || text.trim() === '')
          return bad('missing-input', `The input "${key}" is missing: give ${key}=…`, key);
        const parsed = read(text);
        if (!parsed.ok) return bad(parsed.problem.code, parsed.problem.says, key);
        values[key] = parsed.value;
      }
      const answer = run(values as Values);
      if (!('ok' in answer)) return ok(answer);
      // What does not go together is said with the first input, where nothing more is known.
      return answer.ok
        ? answer
        : bad(answer.problem.code, answer.problem.says, answer.problem.at ?? entries[0]?.[0] ?? '');
    },
  };
}
