import { bad, ok, type Result } from '../result.ts';
import type { Worked } from '../worked/worked.ts';

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

/** Reads a typed input, or tells which one cannot be read. */
export function input<T>(given: Given, name: string, parse: (text: string) => Result<T>): Result<T> {
  const text = given[name];
  if (text === undefined || text.trim() === '')
    return bad('missing-input', `The input "${name}" is missing: give ${name}=…`, name);
  const parsed = parse(text);
  return parsed.ok ? parsed : bad(parsed.problem.code, parsed.problem.says, name);
}

/** A finite number within limits. */
export const numberBetween =
  (lowest: number, highest: number) =>
  (text: string): Result<number> => {
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
  (lowest: number, highest: number) =>
  (text: string): Result<number> => {
    const value = numberBetween(lowest, highest)(text);
    return value.ok && !Number.isInteger(value.value)
      ? bad('not-whole', `${text} is not a whole number.`)
      : value;
  };

/** A sum whose inputs are all needed: each is read by its own parser, and the first that cannot be read is named. */
export function sum<Inputs extends Record<string, unknown>>(of: {
  readonly name: string;
  readonly says: string;
  readonly inputs: readonly SumInput[];
  readonly read: { readonly [Key in keyof Inputs]: (text: string) => Result<Inputs[Key]> };
  readonly run: (inputs: Inputs) => Result<Worked>;
}): Sum {
  return {
    name: of.name,
    says: of.says,
    inputs: of.inputs,
    run: (given) => {
      const values: Partial<Inputs> = {};
      for (const name of Object.keys(of.read) as (keyof Inputs & string)[]) {
        const value = input(given, name, of.read[name]);
        if (!value.ok) return value;
        values[name] = value.value;
      }
      return of.run(values as Inputs);
    },
  };
}
