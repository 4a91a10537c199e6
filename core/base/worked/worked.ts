/** One line of a calculation: what it is, and its figure as a person would write it. */
export interface Step {
  readonly says: string;
  readonly value: string;
}

/** A figure with its working, so that nobody has to believe it. The last step is the result. */
export interface Worked<Value extends number | string | boolean | null = number | string | boolean | null> {
  readonly name: string;
  /** The figure to compute with: not rounded. */
  readonly value: Value;
  /** Unit of the value: "bytes", "hosts", "seconds" …; empty where it has none. */
  readonly unit: string;
  readonly steps: readonly Step[];
  /** The standard and section, or "arithmetic", or "common practice, no source". */
  readonly source: string;
  /** What the figure means for the job, in one plain sentence. */
  readonly means?: string;
}

/** Free of what binary fractions add: 19.950000000000003 is 19.95. Fourteen digits are more than any reader needs. */
const tidy = <Value>(value: Value): Value =>
  typeof value === 'number' && Number.isFinite(value) ? (Number(value.toPrecision(14)) as Value) : value;

/** A worked figure from its parts; the last step is the result. */
export const worked = <Value extends Worked['value']>(
  name: string,
  value: Value,
  unit: string,
  steps: readonly Step[],
  source: string,
  means?: string,
): Worked<Value> => ({
  name,
  value: tidy(value),
  unit,
  steps,
  source,
  ...(means !== undefined && { means }),
});

export const step = (says: string, value: string | number | bigint): Step => ({ says, value: String(value) });

/** Large whole numbers with thin groups, as on paper: 16 777 216. */
export const grouped = (value: bigint | number): string =>
  value.toLocaleString('en-US', { maximumFractionDigits: 20 }).replaceAll(',', '\u202f');

/**
 * A figure as it is printed: so many places at most, no zeros behind them. Below 1 it has three significant digits at
 * least, so that what is not zero is never printed as zero, and a reader can compute on with it.
 */
export function figure(value: number, places = 2): string {
  if (!Number.isFinite(value)) return String(value);
  const fixed = Number(value.toFixed(places));
  const precise = Number(value.toPrecision(3));
  return plain(Math.abs(value) < 1 && Math.abs(precise - value) < Math.abs(fixed - value) ? precise : fixed);
}

/** Without an exponent as long as that stays readable. */
const plain = (value: number): string =>
  value !== 0 && Math.abs(value) < 1e-4 ? value.toExponential(2) : String(Object.is(value, -0) ? 0 : value);

/** Whether a value is printed as it is, not rounded. */
export const exact = (value: number, places = 2): boolean =>
  Math.abs(Number(figure(value, places)) - value) <= Math.abs(value) * 1e-12;

/**
 * "= 12.5" where the printed figure is the value, "≈ 12.53" where it is rounded, or one of its parts was printed
 * rounded: the parts as printed combine to the total as printed, or the line says that it is rounded.
 */
export const equals = (value: number, places = 2, exactParts = true): string =>
  `${exactParts && exact(value, places) ? '=' : '≈'} ${figure(value, places)}`;

/** The same for a figure that stands alone: "rounded" is said where it is. */
export function shown(value: number, unit = '', places = 2): string {
  const sign = equals(value, places);
  return `${sign.startsWith('≈') ? '≈ ' : ''}${figure(value, places)}${unit && ` ${unit}`}`;
}

export const arithmetic = 'arithmetic';
export const practice = 'common practice, no source';
