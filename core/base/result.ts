/** What went wrong with something a person typed: a stable code and a sentence that tells the way out. */
export interface Problem {
  readonly code: string;
  readonly says: string;
  /** Where: a JSON Pointer (RFC 6901), a line and column, or the name of an input. */
  readonly at?: string;
}

/** Either a value or the reason why there is none. Bad input is a value of the domain, never an exception. */
export type Result<T> =
  { readonly ok: true; readonly value: T } | { readonly ok: false; readonly problem: Problem };

export const ok = <T>(value: T): Result<T> => ({ ok: true, value });
export const bad = (code: string, says: string, at?: string): { ok: false; problem: Problem } => ({
  ok: false,
  problem: { code, says, ...(at !== undefined && { at }) },
});

/** The value, or undefined where there is none: for callers to whom the reason does not matter. */
export const valueOf = <T>(result: Result<T>): T | undefined => (result.ok ? result.value : undefined);
