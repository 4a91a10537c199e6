import { bad, ok, type Result } from '../core/index.ts';
import { readArguments, type Answered } from './arguments.ts';
import { commands, sumList, type Command } from './commands.ts';
import { folderCommands } from './folder.ts';

/** Where a command writes; the process, or a test. */
export interface Out {
  readonly stdout: { write(text: string): unknown };
  readonly stderr: { write(text: string): unknown };
}

const all = { ...commands, ...folderCommands };

/** Runs one command. Answers are JSON on stdout; what cannot be done is one JSON object on stderr and exit code 2. */
export function run(args: readonly string[], out: Out): number {
  const [name, ...rest] = args;
  if (name === '--help' || name === '-h' || name === 'help') return help(Object.values(all), out);
  const command = name !== undefined && Object.hasOwn(commands, name) ? commands[name] : undefined;
  if (!command)
    return report(
      bad(
        'usage',
        `${name === undefined ? 'No command given' : `There is no command "${name}"`}. Commands: ${Object.keys(all).join(', ')}. netter --help tells more.`,
      ),
      out,
    );
  if (rest.includes('--help') || rest.includes('-h')) return help([command], out);
  if (name === 'sum' && rest.length === 1 && rest[0] === '--list') return report(ok(sumList()), out);
  try {
    const given = argumentsOf(command, rest);
    return report(given.ok ? command.run(given.value) : given, out);
  } catch (error) {
    return report(
      bad(
        'program',
        `The program failed: ${error instanceof Error ? error.message : 'unknown reason'}. The input was kept as it is.`,
      ),
      out,
    );
  }
}

/** Runs a command on the data folder; undefined where the arguments name none. */
export function runOnFolder(args: readonly string[], out: Out): Promise<number> | undefined {
  const [name = '', ...rest] = args;
  const command = Object.hasOwn(folderCommands, name) ? folderCommands[name]! : undefined;
  if (!command) return undefined;
  if (rest.includes('--help') || rest.includes('-h')) return Promise.resolve(help([command], out));
  const given = argumentsOf(command, rest);
  return given.ok
    ? command.run(given.value).then((answered) => report(answered, out))
    : Promise.resolve(report(given, out));
}

function argumentsOf(command: Command<unknown>, args: readonly string[]): ReturnType<typeof readArguments> {
  const given = readArguments(args, command.options);
  const extra = given.ok ? given.value.operands[command.operands] : undefined;
  return extra === undefined
    ? given
    : bad('usage', `Unexpected "${extra}". Usage: netter ${command.usage}.`, extra);
}

/** How commands are called, for people. */
function help(shown: readonly Command<unknown>[], out: Out): number {
  for (const { usage, says } of shown) out.stdout.write(`netter ${usage}\n    ${says}\n`);
  return 0;
}

/**
 * A figure as people count it: binary fractions end after twelve digits (0.1 + 0.2 is 0.3), and what has no bound says
 * so, where JSON (RFC 8259 section 6) knows no infinity and would print null.
 */
const asFigure = (_: string, value: unknown): unknown => {
  if (typeof value !== 'number' || Number.isSafeInteger(value)) return value;
  if (Number.isFinite(value)) return Number(value.toPrecision(12));
  return Number.isNaN(value) ? 'unknown' : value > 0 ? 'infinite' : '-infinite';
};

function report(answered: Result<Answered>, out: Out): number {
  if (!answered.ok) {
    const { code, at = '', says } = answered.problem;
    out.stderr.write(`${JSON.stringify({ error: code, at, says })}\n`);
    return 2;
  }
  const { value } = answered;
  out.stdout.write('text' in value ? value.text : `${JSON.stringify(value.json, asFigure, 2)}\n`);
  return value.exit ?? 0;
}
