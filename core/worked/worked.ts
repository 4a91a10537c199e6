/** One line of a calculation: what it is, and its figure as a person would write it. */
export interface Step {
  readonly says: string;
  readonly value: string;
}

/** A figure with its working, so that nobody has to believe it. The last step is the result. */
export interface Worked {
  readonly name: string;
  readonly value: number | string | boolean | null;
  /** Unit of the value: "bytes", "hosts", "seconds" …; empty where it has none. */
  readonly unit: string;
  readonly steps: readonly Step[];
  /** The standard and section, or "arithmetic", or "common practice, no source". */
  readonly source: string;
  /** What the figure means for the job, in one plain sentence. */
  readonly means?: string;
}

/** A worked figure from its parts; the last step is the result. */
export const worked = (
  name: string,
  value: Worked['value'],
  unit: string,
  steps: readonly Step[],
  source: string,
  means?: string,
): Worked => ({ name, value, unit, steps, source, ...(means !== undefined && { means }) });

export const step = (says: string, value: string | number | bigint): Step => ({ says, value: String(value) });

/** Large whole numbers with thin groups, as on paper: 16 777 216. */
export const grouped = (value: bigint | number): string =>
  value.toLocaleString('en-US', { maximumFractionDigits: 20 }).replaceAll(',', '\u202f');

export const arithmetic = 'arithmetic';
export const practice = 'common practice, no source';
