import { readFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { bad, dayOf, isDay, ok, readPlan, type Plan, type Result } from '../core/index.ts';

/** What a command was given, read by the platform's own parser. */
export interface Given {
  readonly operands: readonly string[];
  readonly options: Readonly<Record<string, string>>;
}

/**
 * Reads the operands and options of a command: `--name value` or `--name=value`, in any order, each once. What is not
 * known, is missing its value or stands twice is refused by name.
 */
export function readArguments(args: readonly string[], known: readonly string[]): Result<Given> {
  const { tokens } = parseArgs({
    args: [...args],
    options: Object.fromEntries(known.map((name) => [name, { type: 'string' as const }])),
    strict: false,
    allowPositionals: true,
    tokens: true,
  });
  const operands: string[] = [];
  const options: Record<string, string> = {};
  for (const token of tokens) {
    if (token.kind === 'positional') operands.push(token.value);
    if (token.kind !== 'option') continue;
    const { name, rawName, value } = token;
    if (!known.includes(name) || !rawName.startsWith('--'))
      return bad(
        'usage',
        `"${rawName}" is not understood${known.length > 0 ? `; known: ${known.map((each) => `--${each}`).join(', ')}` : ' here'}.`,
        rawName,
      );
    if (value === undefined || value === '') return bad('usage', `--${name} needs a value.`, `--${name}`);
    if (Object.hasOwn(options, name))
      return bad('usage', `--${name} is given twice; once is enough.`, `--${name}`);
    options[name] = value;
  }
  return ok({ operands, options });
}

/** A text file, or the reason why it cannot be read. */
export function readFile(file: string): Result<string> {
  try {
    return ok(readFileSync(file, 'utf8'));
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    return bad(
      'unreadable',
      code === 'ENOENT'
        ? `There is no file "${file}".`
        : `The file "${file}" cannot be read (${code ?? 'unknown reason'}).`,
      file,
    );
  }
}

/** The plan of a file; what is wrong is said with the file and the place in it. */
export function planFrom(file: string | undefined): Result<Plan> {
  if (file === undefined)
    return bad('usage', 'Which plan? Name a file, like farrow-sound.json.', 'PLAN.json');
  const text = readFile(file);
  if (!text.ok) return text;
  const plan = readPlan(text.value);
  if (plan.ok) return plan;
  const { code, says, at } = plan.problem;
  return bad(code, says, at ? `${file}: ${at}` : file);
}

/** A day of the calendar; without it the usual one. */
export function dayOption({ options }: Given, usual: string): Result<string> {
  const { date = usual } = options;
  const day = date === 'today' ? dayOf(new Date()) : date;
  return day === '' || isDay(day)
    ? ok(day)
    : bad('usage', `--date is a day such as 2027-03-01, or today, not "${date}".`, '--date');
}

/** A number of an option within limits, or the one that is usual. */
export function numberOption(
  { options }: Given,
  name: string,
  usual: number,
  highest: number,
): Result<number> {
  const text = options[name];
  if (text === undefined) return ok(usual);
  const value = Number(text);
  return /^\d+(\.\d+)?$/.test(text) && value <= highest
    ? ok(value)
    : bad('usage', `--${name} is a number from 0 to ${highest}, not "${text}".`, `--${name}`);
}

/** What a command answers: something to print, as JSON or as text, and the exit code. */
export type Answered = ({ readonly json: unknown } | { readonly text: string }) & { readonly exit?: number };

/** Answers by the plan of the first operand. */
export function onPlan({ operands }: Given, answer: (plan: Plan) => Answered): Result<Answered> {
  const plan = planFrom(operands[0]);
  return plan.ok ? ok(answer(plan.value)) : plan;
}
