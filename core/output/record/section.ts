/** A table of the record. */
export interface RecordSection {
  readonly title: string;
  /** Heading of each column; those whose values are addresses or names of machines are listed in `mono`. */
  readonly headings: readonly string[];
  readonly mono: readonly number[];
  readonly rows: readonly (readonly string[])[];
  /** What stands there while there is no row. */
  readonly none: string;
}

/** A table from its parts. */
export const section = (
  title: string,
  headings: readonly string[],
  mono: readonly number[],
  rows: readonly (readonly string[])[],
  none: string,
): RecordSection => ({ title, headings, mono, rows, none });
