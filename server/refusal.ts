import type { FastifyError } from 'fastify';
import type * as z from 'zod';
import { parsePlan, type Plan } from '../core/index.ts';
import { causesOf } from './causes.ts';
import { nulIn } from './shape.ts';
import { isDamage } from './store/damage.ts';
import { NotWritable } from './store/guard.ts';

/** An answer that is not a success: a status, a stable code, a sentence, and where. */
export class Refusal extends Error {
  readonly status: number;
  readonly code: string;
  readonly at: string;
  readonly more: object;

  constructor(status: number, code: string, says: string, at = '', more: object = {}) {
    super(says);
    this.status = status;
    this.code = code;
    this.at = at;
    this.more = more;
  }
}

const noNul = (value: unknown): void => {
  const at = nulIn(value);
  if (at !== undefined)
    throw new Refusal(
      400,
      'wrong-form',
      `${at === '' ? 'The request' : `The field ${at}`} holds the character NUL, which is no text. Type it again.`,
      at,
    );
};

/** The form of a request, checked; what does not fit is refused with the place. */
export function fitting<T extends z.ZodType>(schema: T, value: unknown): z.output<T> {
  const parsed = schema.safeParse(value);
  if (parsed.success) {
    noNul(parsed.data);
    return parsed.data;
  }
  const issue = parsed.error.issues[0]!;
  const at = issue.path.length === 0 ? '' : `/${issue.path.map(String).join('/')}`;
  throw new Refusal(
    400,
    'wrong-form',
    issue.code === 'unrecognized_keys'
      ? `There is no field ${issue.keys.map((key) => `"${key}"`).join(', ')} here.`
      : `${at === '' ? 'The request' : `The field ${at}`} does not fit: ${issue.message}.`,
    at,
  );
}

/** A plan, checked like a file that is brought in. */
export function fittingPlan(value: unknown): Plan {
  const plan = parsePlan(value);
  if (!plan.ok) throw new Refusal(400, plan.problem.code, plan.problem.says, plan.problem.at);
  noNul(plan.value);
  return plan.value;
}

/** Whatever went wrong, as an answer. */
export function asRefusal(error: unknown): Refusal {
  if (error instanceof Refusal) return error;
  const notWritable = causesOf(error).find((each) => each instanceof NotWritable);
  if (notWritable) return new Refusal(507, notWritable.code, notWritable.message);
  const state = causesOf(error)
    .map((each) => (each as { code?: unknown }).code)
    .find((code): code is string => typeof code === 'string' && /^[0-9A-Z]{5}$/.test(code));
  const ofDatabase = state && databaseRefusals.find(([pattern]) => pattern.test(state))?.[1];
  if (ofDatabase) return ofDatabase();
  if (isDamage(error))
    return new Refusal(
      500,
      'damaged-data',
      'That cannot be read: its rows in the data folder are damaged. The rest works; the page "Data" restores from a backup.',
    );
  return fromFramework(error as FastifyError);
}

/** Errors of the database by their state (PostgreSQL appendix A) that say something of the request. */
const databaseRefusals: readonly (readonly [RegExp, () => Refusal])[] = [
  [/^23503$/, () => new Refusal(404, 'unknown-site', 'There is no such site here.')],
  [/^23/, () => new Refusal(409, 'in-use', 'Something of that name is there already.')],
  [
    /^(22003|22008|22P03|54)/,
    () => new Refusal(400, 'wrong-form', 'A number or a text in the request is larger than can be kept.'),
  ],
  [
    /^53100$/,
    () =>
      new Refusal(
        507,
        'disk-full',
        'Not saved: the disk with the data folder is full. Delete something there, then try again.',
      ),
  ],
];

/** What the framework refuses, and what went wrong inside, in a sentence. */
function fromFramework(error: FastifyError): Refusal {
  switch (error.code) {
    case 'FST_ERR_CTP_INVALID_JSON_BODY':
    case 'FST_ERR_CTP_EMPTY_JSON_BODY':
      return new Refusal(400, 'not-json', 'The request is not JSON.');
    case 'FST_ERR_CTP_BODY_TOO_LARGE':
      return new Refusal(413, 'too-large', 'The request is larger than any plan is (4 MB).');
    case 'FST_ERR_CTP_INVALID_MEDIA_TYPE':
      return new Refusal(415, 'wrong-type', 'Send JSON, with the content type application/json.');
    default: {
      const status = error.statusCode ?? 500;
      if (status < 500) return new Refusal(status, 'bad-request', 'The request cannot be understood.');
      return new Refusal(
        500,
        'failed',
        'The server could not do that. What was saved before is still there; the number of the revision says how far. Keep this window open and try again.',
      );
    }
  }
}
