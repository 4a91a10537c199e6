import type { Result } from '../result.ts';
import type { FieldReader } from '../uplinks/type.ts';
import type { FormProblem } from './model.ts';

/** Reads typed fields and keeps what could not be read, with the place. */
export class FormReader {
  readonly problems: FormProblem[] = [];

  /** The value, or undefined with a problem noted: an empty field is one only where the value is needed. */
  read<T>(
    at: string,
    label: string,
    text: string,
    parse: (text: string) => Result<T>,
    needed: boolean,
  ): T | undefined {
    if (text.trim() === '') {
      if (needed) this.problems.push({ at, label, needed, code: 'empty', says: `${label} is missing.` });
      return undefined;
    }
    const result = parse(text);
    if (result.ok) return result.value;
    this.problems.push({ at, label, needed, ...result.problem });
    return undefined;
  }

  /** All values that can be read; empty entries are left out. */
  readAll<T>(at: string, label: string, texts: readonly string[], parse: (text: string) => Result<T>): T[] {
    return texts.flatMap((text) => this.read(at, label, text, parse, false) ?? []);
  }

  /** The same reader for the fields of one object. */
  below(base: string): FieldReader {
    return {
      read: (key, label, text, parse, needed) => this.read(`${base}/${key}`, label, text, parse, needed),
      readAll: (key, label, texts, parse) => this.readAll(`${base}/${key}`, label, texts, parse),
    };
  }
}
