import { asLine, asText, isLine } from '../base/text.ts';
import { fieldAt } from './places.ts';

/**
 * A document whose lines are lines: what was pasted or comes from an earlier version is brought into the form that a
 * plan has. The same object where nothing had to change.
 */
export function withCleanLines<T>(document: T, at = ''): T {
  if (typeof document === 'string') {
    if (isLine(document)) return document;
    return (fieldAt(at)?.kind === 'notes' ? asText(document) : asLine(document)) as T;
  }
  if (Array.isArray(document)) {
    const clean = document.map((each: unknown, index) => withCleanLines(each, `${at}/${index}`));
    return clean.every((each, index) => each === document[index]) ? document : (clean as T);
  }
  if (typeof document !== 'object' || document === null) return document;
  const entries = Object.entries(document).map(([key, each]: [string, unknown]) => [
    key,
    withCleanLines(each, `${at}/${key}`),
  ]);
  return entries.every(([key, each]) => (document as Record<string, unknown>)[key as string] === each)
    ? document
    : (Object.fromEntries(entries) as T);
}
