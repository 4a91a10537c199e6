/**
 * Whether an error of the database says that stored data are damaged (class XX, internal error, and 58, system
 * error; PostgreSQL appendix A), or that a stored text is no JSON.
 */
export function isDamage(error: unknown): boolean {
  if (error instanceof SyntaxError) return true;
  const { code, cause } = error as { code?: unknown; cause?: unknown };
  if (typeof code === 'string' && /^(XX|58|22P02|22021)/.test(code)) return true;
  return cause !== undefined && cause !== error && isDamage(cause);
}
