/* The shape of a value that came from outside, looked at without the stack: however deep it is, it costs no more than its size. */

/** PostgreSQL's text holds every character but this one; it has no place in what a person types either. */
const nul = '\0';

/** Where a value holds the character NUL: a JSON Pointer, or undefined. However deep it is, the stack is not. */
export function nulIn(whole: unknown): string | undefined {
  const open: [string, unknown][] = [['', whole]];
  for (let next = open.pop(); next; next = open.pop()) {
    const [at, value] = next;
    if (typeof value === 'string' && value.includes(nul)) return at;
    if (typeof value !== 'object' || value === null) continue;
    for (const [key, each] of Object.entries(value)) {
      if (key.includes(nul)) return at;
      open.push([at.length < 200 ? `${at}/${key}` : at, each]);
    }
  }
  return undefined;
}

/** Levels of nesting of the deepest value that is kept; a plan has fewer than a dozen. */
export const deepest = 64;

/**
 * Whether a JSON text (RFC 8259) is nested no deeper than anything that is kept. Asked of the text, before it is
 * parsed: a few megabytes of brackets make a value of gigabytes.
 */
export function isShallow(text: string): boolean {
  let depth = 0;
  let quoted = false;
  for (let at = 0; at < text.length; at += 1) {
    const unit = text.charCodeAt(at);
    if (quoted) {
      if (unit === 0x5c) at += 1;
      else if (unit === 0x22) quoted = false;
    } else if (unit === 0x22) quoted = true;
    else if (unit === 0x7b || unit === 0x5b) {
      depth += 1;
      if (depth > deepest) return false;
    } else if (unit === 0x7d || unit === 0x5d) depth -= 1;
  }
  return true;
}
