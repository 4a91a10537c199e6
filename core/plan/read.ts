import { bad, ok, type Result } from '../base/result.ts';
import { pointer } from './pointer.ts';
import { rowLists } from './places.ts';
import { planSchema, type Plan } from './schema.ts';
import { upgraded } from './upgrade.ts';
import type * as z from 'zod';

/** Largest plan file that is read, in bytes of UTF-8 text. */
export const largestPlanBytes = 4 * 1024 * 1024;

/** Reads a plan file. What is wrong is said with the place (JSON Pointer, RFC 6901, or line and column). */
export function readPlan(text: string): Result<Plan> {
  if (text.length > largestPlanBytes) return bad('too-large', 'The file exceeds the maximum of 4 MB.');
  let document: unknown;
  try {
    document = JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch (error) {
    return bad('not-json', `The file is not JSON: ${jsonProblem(error)}`, jsonPlace(text, error));
  }
  return parsePlan(document);
}

/** Checks a document that is already JSON. */
export function parsePlan(document: unknown): Result<Plan> {
  const about = document as { format?: unknown; version?: unknown } | null;
  if (typeof about !== 'object' || about === null || Array.isArray(document))
    return bad('not-a-plan', 'The file holds no plan: a plan is a JSON object.', '');
  if (about.format !== 'netter-plan')
    return bad('not-a-plan', 'The file is not a plan: its "format" is not "netter-plan".', '/format');
  const today = upgraded({ ...about });
  if (!today.ok) return today;
  const parsed = planSchema.safeParse(today.value);
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!;
    return bad('wrong-structure', structureProblem(issue), pointer(issue.path));
  }
  const repeated = repeatedId(parsed.data);
  if (repeated)
    return bad(
      'repeated-id',
      `Two entries have the id "${repeated.id}"; ids tell entries apart.`,
      repeated.at,
    );
  return ok(parsed.data);
}

function structureProblem(issue: z.core.$ZodIssue): string {
  const where = issue.path.length === 0 ? 'At the top' : `At ${pointer(issue.path)}`;
  if (issue.code === 'unrecognized_keys')
    return `${where} there is a field that plans do not have: ${issue.keys.map((key) => `"${key}"`).join(', ')}.`;
  return `${where}: ${issue.message.charAt(0).toLowerCase()}${issue.message.slice(1)}.`;
}

const jsonProblem = (error: unknown): string =>
  error instanceof Error ? error.message.replace(/\s+/g, ' ') : 'unreadable';

/** Line and column of a JSON error: engines name the position, or show the text around it. */
function jsonPlace(text: string, error: unknown): string {
  const before = text.slice(0, jsonPosition(text, String(error))).split('\n');
  return `line ${before.length}, column ${(before.at(-1) ?? '').length + 1}`;
}

function jsonPosition(text: string, message: string): number {
  const named = /position (\d+)/.exec(message)?.[1];
  if (named !== undefined) return Number(named);
  const shown = /Unexpected token '(.)', (\.{3})?"([\s\S]*?)"(?:\.{3})? is not valid JSON/.exec(message);
  if (!shown) return text.length;
  const [, token, cut, around] = shown as unknown as [string, string, string | undefined, string];
  const start = text.indexOf(around);
  // A cut excerpt shows ten characters before the token; a short one may show the token's letter more than once.
  if (cut) return start + 10;
  for (let place = text.indexOf(token, start); place >= 0; place = text.indexOf(token, place + 1))
    if (stopsAt(text.slice(0, place + 1))) return place;
  return start;
}

/** Whether the text is wrong at its last character, and not merely unfinished. */
function stopsAt(text: string): boolean {
  try {
    JSON.parse(text);
    return false;
  } catch (error) {
    return String(error).includes('Unexpected token');
  }
}

/** The first id that two rows of one list have, with its place. */
function repeatedId(plan: Plan): { id: string; at: string } | undefined {
  for (const list of listsOfRows) {
    const found = repeatedIn(plan, list.split('/').slice(1), '');
    if (found) return found;
  }
  return undefined;
}

const listsOfRows = rowLists();

function repeatedIn(
  value: unknown,
  [part, ...rest]: string[],
  at: string,
): { id: string; at: string } | undefined {
  if (part === undefined) {
    const seen = new Set<string>();
    for (const [index, { id }] of (value as readonly { id: string }[]).entries()) {
      if (seen.has(id)) return { id, at: `${at}/${index}/id` };
      seen.add(id);
    }
    return undefined;
  }
  if (part !== '*') return repeatedIn((value as Record<string, unknown>)[part], rest, `${at}/${part}`);
  for (const [index, row] of (value as readonly unknown[]).entries()) {
    const found = repeatedIn(row, rest, `${at}/${index}`);
    if (found) return found;
  }
  return undefined;
}
