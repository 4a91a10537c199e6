import { readFileSync } from 'node:fs';
import {
  acceptance,
  accessEvents,
  accessList,
  ask,
  bad,
  checkProfile,
  compareListing,
  compile,
  isDay,
  ok,
  parseQuery,
  parseFault,
  parseListing,
  parseProfile,
  planJsonSchema,
  profileText,
  reachText,
  readPlan,
  recordInputSchema,
  runChecks,
  runSheet,
  runSum,
  simulate,
  sums,
  vpnOverview,
  years,
  type Plan,
  type Result,
  type ScriptedFault,
  type Secrets,
  type SiteRecord,
} from '../core/index.ts';
import { folderCommands } from './folder.ts';

/** Where a command writes; the process, or a test. */
export interface Out {
  readonly stdout: { write(text: string): unknown };
  readonly stderr: { write(text: string): unknown };
}

/** What a command answers: something to print, and the exit code. */
interface Answered {
  readonly json: unknown;
  readonly exit?: number;
}

type Command = { readonly usage: string; readonly run: (args: readonly string[]) => Result<Answered> };

const commands: Record<string, Command> = {
  check: { usage: 'check PLAN.json [--date DAY|today]', run: checkCommand },
  path: {
    usage: 'path PLAN.json --from X --to Y [--proto tcp|udp|icmp] [--port N] [--size BYTES] [--down LINE]',
    run: pathCommand,
  },
  runsheet: {
    usage: 'runsheet PLAN.json',
    run: (args) => onPlan(args, (plan) => ({ json: runSheet(compile(plan)) })),
  },
  acceptance: { usage: 'acceptance PLAN.json [--records RECORDS.json]', run: acceptanceCommand },
  failover: {
    usage: 'failover PLAN.json --fault KIND:LINE[:AMOUNT][,…] [--at S] [--for S] [--until S] [--seed N]',
    run: failoverCommand,
  },
  availability: {
    usage: 'availability PLAN.json [--years N] [--promise ID] [--seed N]',
    run: availabilityCommand,
  },
  vpn: {
    usage: 'vpn PLAN.json',
    run: (args) => onPlan(args, (plan) => ({ json: vpnOverview(compile(plan)) })),
  },
  access: {
    usage: 'access PLAN.json [--date DAY|today] [--router LIST]',
    run: accessCommand,
  },
  export: {
    usage: 'export PLAN.json --as wireguard --peer ID [--vault SECRETS.json]',
    run: exportCommand,
  },
  profile: { usage: 'profile FILE --plan PLAN.json', run: profileCommand },
  schema: {
    usage: 'schema',
    run: (args) =>
      args.length > 0 ? bad('usage', 'netter schema takes nothing more.') : ok({ json: planJsonSchema() }),
  },
  sum: { usage: 'sum NAME key=value … | sum --list', run: sumCommand },
};

/** Runs one command. Answers are JSON on stdout; what cannot be done is one JSON object on stderr and exit code 2. */
export function run(args: readonly string[], out: Out): number {
  const [name, ...rest] = args;
  const command = name === undefined ? undefined : Object.hasOwn(commands, name) ? commands[name] : undefined;
  let answered: Result<Answered>;
  try {
    answered = command
      ? command.run(rest)
      : bad(
          'usage',
          `${name === undefined ? 'No command given' : `There is no command "${name}"`}. Commands: ${Object.values(
            { ...commands, ...folderCommands },
          )
            .map((each) => `netter ${each.usage}`)
            .join('; ')}.`,
        );
  } catch (error) {
    answered = bad(
      'program',
      `The program failed: ${error instanceof Error ? error.message : 'unknown reason'}. The input was kept as it is.`,
    );
  }
  return report(answered, out);
}

/** Runs a command on the data folder; undefined where the arguments name none. */
export function runOnFolder(args: readonly string[], out: Out): Promise<number> | undefined {
  const [name = '', ...rest] = args;
  return Object.hasOwn(folderCommands, name)
    ? folderCommands[name]!.run(rest).then((answered) => report(answered, out))
    : undefined;
}

function report(answered: Result<Answered>, out: Out): number {
  if (!answered.ok) {
    out.stderr.write(
      `${JSON.stringify({ error: answered.problem.code, at: answered.problem.at ?? '', says: answered.problem.says })}\n`,
    );
    return 2;
  }
  out.stdout.write(`${JSON.stringify(answered.value.json, null, 2)}\n`);
  return answered.value.exit ?? 0;
}

function checkCommand(args: readonly string[]): Result<Answered> {
  const [file, ...rest] = args;
  const given = options(rest, ['date']);
  if (!given.ok) return given;
  const day = dayOption(given.value, '');
  return day.ok ? onPlan(file === undefined ? [] : [file], (plan) => checkPlan(plan, day.value)) : day;
}

/** A day of the calendar; without it nothing is said about what ended. */
function dayOption(given: Record<string, string>, usual: string): Result<string> {
  const { date = usual } = given;
  const day = date === 'today' ? new Date().toISOString().slice(0, 10) : date;
  return day === '' || isDay(day)
    ? ok(day)
    : bad('usage', `--date is a day such as 2027-03-01, or today, not "${date}".`, '--date');
}

function checkPlan(plan: Plan, today: string): Answered {
  const findings = runChecks(compile(plan), today);
  const count = (severity: string): number => findings.filter((each) => each.severity === severity).length;
  return {
    json: { blockers: count('blocker'), warnings: count('warning'), advice: count('advice'), findings },
    exit: count('blocker') > 0 ? 1 : 0,
  };
}

function readFile(file: string): Result<string> {
  try {
    return ok(readFileSync(file, 'utf8'));
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code;
    return bad(
      'unreadable',
      code === 'ENOENT'
        ? `There is no file "${file}".`
        : `The file "${file}" cannot be read (${code ?? 'unknown reason'}).`,
      file,
    );
  }
}

function onPlan(args: readonly string[], answer: (plan: Plan) => Answered): Result<Answered> {
  const [file, ...rest] = args;
  if (file === undefined || file.startsWith('--'))
    return bad('usage', 'Which plan? Name a file, like farrow-sound.json.');
  if (rest.length > 0) return bad('usage', `"${rest[0]}" is not understood here.`, rest[0]);
  const plan = planFrom(file);
  return plan.ok ? ok(answer(plan.value)) : plan;
}

function planFrom(file: string): Result<Plan> {
  const text = readFile(file);
  if (!text.ok) return text;
  const plan = readPlan(text.value);
  if (plan.ok) return plan;
  const { code, says, at } = plan.problem;
  return bad(code, says, at ? `${file}: ${at}` : file);
}

/** Reads "--name value" pairs; anything else, and a name that is not known, is refused. */
function options(args: readonly string[], known: readonly string[]): Result<Record<string, string>> {
  const found: Record<string, string> = {};
  for (let index = 0; index < args.length; index += 2) {
    const name = args[index]!.replace(/^--/, '');
    const value = args[index + 1];
    if (!args[index]!.startsWith('--') || !known.includes(name))
      return bad(
        'usage',
        `"${args[index]}" is not understood; known: ${known.map((each) => `--${each}`).join(', ')}.`,
        args[index],
      );
    if (value === undefined) return bad('usage', `--${name} needs a value.`, `--${name}`);
    found[name] = value;
  }
  return ok(found);
}

function pathCommand(args: readonly string[]): Result<Answered> {
  const [file, ...rest] = args;
  const given = options(rest, ['from', 'to', 'proto', 'port', 'size', 'down']);
  if (!given.ok) return given;
  const { from, to, proto = 'tcp', port, size, down } = given.value;
  if (from === undefined || to === undefined)
    return bad('usage', 'A path needs --from and --to.', from === undefined ? '--from' : '--to');
  const words = [
    `from ${from} to ${to}`,
    proto === 'icmp' ? 'ping' : `${proto} ${port ?? '443'}`,
    ...(size === undefined ? [] : [`size ${size}`]),
    ...(down === undefined ? [] : [`when ${down} is down`]),
  ];
  if (!['tcp', 'udp', 'icmp'].includes(proto))
    return bad('usage', `--proto is tcp, udp or icmp, not "${proto}".`, '--proto');
  if (port !== undefined && !/^\d+$/.test(port))
    return bad('usage', `"${port}" is not a port; ports go from 1 to 65535.`, '--port');
  if (size !== undefined && !/^\d{1,5}$/.test(size))
    return bad('usage', `"${size}" is not a size in bytes.`, '--size');
  const query = parseQuery(words.join(' '));
  if (!query.ok) return query;
  if (file === undefined) return bad('usage', 'Which plan? Name a file, like farrow-sound.json.');
  const plan = planFrom(file);
  if (!plan.ok) return plan;
  const answer = ask(compile(plan.value), query.value);
  return answer.ok ? ok({ json: answer.value }) : answer;
}

/** A number of an option within limits, or the one that is usual. */
function numberOption(
  given: Record<string, string>,
  name: string,
  usual: number,
  highest: number,
): Result<number> {
  const text = given[name];
  if (text === undefined) return ok(usual);
  const value = Number(text);
  return /^\d+(\.\d+)?$/.test(text) && value <= highest
    ? ok(value)
    : bad('usage', `--${name} is a number from 0 to ${highest}, not "${text}".`, `--${name}`);
}

function failoverCommand(args: readonly string[]): Result<Answered> {
  const [file, ...rest] = args;
  const given = options(rest, ['fault', 'at', 'for', 'until', 'seed']);
  if (!given.ok) return given;
  const at = numberOption(given.value, 'at', 60, 86_400);
  const lasts = numberOption(given.value, 'for', 600, 86_400);
  const seed = numberOption(given.value, 'seed', 1, 4_294_967_295);
  if (!at.ok) return at;
  if (!lasts.ok) return lasts;
  if (!seed.ok) return seed;
  const until = numberOption(given.value, 'until', at.value + lasts.value + 900, 604_800);
  if (!until.ok) return until;
  if (given.value.fault === undefined)
    return bad('usage', 'Which fault? Give --fault pull:fibre, or several with commas.', '--fault');
  if (file === undefined || file.startsWith('--'))
    return bad('usage', 'Which plan? Name a file, like farrow-sound.json.');
  const plan = planFrom(file);
  if (!plan.ok) return plan;
  const site = compile(plan.value);
  const faults: ScriptedFault[] = [];
  for (const text of given.value.fault.split(',')) {
    const fault = parseFault(site, text, at.value, lasts.value);
    if (!fault.ok) return bad(fault.problem.code, fault.problem.says, '--fault');
    faults.push(fault.value);
  }
  const run = simulate(site, { faults, untilSeconds: until.value, seed: seed.value });
  return ok({ json: run, exit: run.promises.every(({ kept }) => kept) ? 0 : 1 });
}

function availabilityCommand(args: readonly string[]): Result<Answered> {
  const [file, ...rest] = args;
  const given = options(rest, ['years', 'promise', 'seed']);
  if (!given.ok) return given;
  const count = numberOption(given.value, 'years', 10_000, 100_000);
  if (!count.ok) return count;
  const seed = numberOption(given.value, 'seed', 1, 4_294_967_295);
  if (!seed.ok) return seed;
  if (count.value < 1) return bad('usage', 'At least one year is drawn.', '--years');
  if (file === undefined || file.startsWith('--'))
    return bad('usage', 'Which plan? Name a file, like farrow-sound.json.');
  const plan = planFrom(file);
  if (!plan.ok) return plan;
  const site = compile(plan.value);
  const { promises } = site.failover;
  const wanted = given.value.promise;
  const promise = wanted === undefined ? promises[0] : promises.find(({ id }) => id === wanted);
  if (!promise)
    return bad(
      'no-promise',
      promises.length === 0
        ? 'This plan promises nothing for the day a line fails: add a promise on the Failover sheet first.'
        : `There is no promise "${wanted}". Known: ${promises.map(({ id }) => id).join(', ')}.`,
      '--promise',
    );
  return ok({ json: years(site, promise, Math.round(count.value), seed.value) });
}

/** Who may come in on a day; with the router's own list of far ends also what differs. */
function accessCommand(args: readonly string[]): Result<Answered> {
  const [file, ...rest] = args;
  const given = options(rest, ['date', 'router']);
  if (!given.ok) return given;
  const day = dayOption(given.value, 'today');
  if (!day.ok) return day;
  const text = given.value.router === undefined ? ok(undefined) : readFile(given.value.router);
  if (!text.ok) return text;
  const listed = text.value === undefined ? ok(undefined) : parseListing(text.value, day.value);
  if (!listed.ok) return bad(listed.problem.code, listed.problem.says, given.value.router);
  return onPlan(file === undefined ? [] : [file], (plan) => {
    const site = compile(plan);
    const compared = listed.value && compareListing(site, listed.value, day.value);
    return {
      json: {
        date: day.value,
        access: accessList(site, day.value).map(({ peer, state, says }) => ({
          id: peer.id,
          name: peer.name,
          state,
          says,
          given: peer.created,
          reaches: reachText(peer),
        })),
        events: accessEvents(site),
        ...(compared && { router: compared.faults }),
      },
      exit: compared?.faults.some(({ severity }) => severity === 'blocker') ? 1 : 0,
    };
  });
}

/** A profile as text. Secrets come only from a file of "name": "secret" that is named on purpose. */
function exportCommand(args: readonly string[]): Result<Answered> {
  const [file, ...rest] = args;
  const given = options(rest, ['as', 'peer', 'vault']);
  if (!given.ok) return given;
  const { as, peer: wanted, vault } = given.value;
  if (as !== 'wireguard') return bad('usage', `--as is wireguard, not "${as ?? ''}".`, '--as');
  if (file === undefined || file.startsWith('--'))
    return bad('usage', 'Which plan? Name a file, like farrow-sound.json.');
  const plan = planFrom(file);
  if (!plan.ok) return plan;
  const site = compile(plan.value);
  const peer = site.vpn.peers.find(({ id, name }) => id === wanted || name === wanted);
  if (!peer)
    return bad(
      'no-peer',
      `There is no peer "${wanted ?? ''}". Known: ${site.vpn.peers.map(({ id }) => id).join(', ') || 'none'}.`,
      '--peer',
    );
  if (peer.revoked) return bad('revoked', `${peer.name} is revoked: no profile is written for it.`, '--peer');
  const secrets = vault === undefined ? ok(undefined) : secretsFrom(vault);
  if (!secrets.ok) return secrets;
  return ok({ json: { peer: peer.id, profile: profileText(site, peer, secrets.value) } });
}

function secretsFrom(file: string): Result<Secrets> {
  const text = readFile(file);
  if (!text.ok) return text;
  try {
    const rows: unknown = JSON.parse(text.value);
    if (
      typeof rows === 'object' &&
      rows !== null &&
      Object.values(rows).every((each) => typeof each === 'string')
    )
      return ok(new Map(Object.entries(rows as Record<string, string>)));
  } catch {
    // Said below: what stands in the file is never repeated.
  }
  return bad('not-secrets', 'The file of secrets is no JSON object of "name": "secret".', file);
}

function profileCommand(args: readonly string[]): Result<Answered> {
  const [file, ...rest] = args;
  const given = options(rest, ['plan']);
  if (!given.ok) return given;
  if (file === undefined || file.startsWith('--') || given.value.plan === undefined)
    return bad('usage', 'Name the file of the profile, and the plan: profile FILE --plan PLAN.json.');
  const text = readFile(file);
  if (!text.ok) return text;
  const profile = parseProfile(text.value);
  if (!profile.ok) return bad(profile.problem.code, profile.problem.says, file);
  const plan = planFrom(given.value.plan);
  if (!plan.ok) return plan;
  const { peer, faults } = checkProfile(compile(plan.value), profile.value);
  return ok({
    json: { peer: peer?.id ?? null, faults },
    exit: faults.some(({ severity }) => severity === 'blocker') ? 1 : 0,
  });
}

function acceptanceCommand(args: readonly string[]): Result<Answered> {
  const [file, ...rest] = args;
  const given = options(rest, ['records']);
  if (!given.ok) return given;
  const records = given.value.records === undefined ? ok([]) : recordsFrom(given.value.records);
  if (!records.ok) return records;
  return onPlan(file === undefined ? [] : [file], (plan) => ({
    json: acceptance(compile(plan), records.value),
  }));
}

/** Records as the server hands them out: the input fields with id and time. */
function recordsFrom(file: string): Result<SiteRecord[]> {
  const text = readFile(file);
  if (!text.ok) return text;
  let rows: unknown;
  try {
    rows = JSON.parse(text.value);
  } catch {
    return bad('not-json', 'The file of records is not JSON.', file);
  }
  if (!Array.isArray(rows)) return bad('not-records', 'The file of records is no list.', file);
  const records: SiteRecord[] = [];
  for (const [index, row] of rows.entries()) {
    const { id, at, ...rest } = (row ?? {}) as { id?: unknown; at?: unknown };
    const parsed = recordInputSchema.safeParse(rest);
    if (!parsed.success || typeof at !== 'string')
      return bad(
        'not-records',
        `Record ${index + 1} does not have the form of a record.`,
        `${file}: /${index}`,
      );
    records.push({ ...parsed.data, id: typeof id === 'number' ? id : index + 1, at });
  }
  return ok(records);
}

function sumCommand(args: readonly string[]): Result<Answered> {
  const [name, ...rest] = args;
  if (name === '--list' && rest.length === 0)
    return ok({ json: sums.map(({ name: each, says, inputs }) => ({ name: each, says, inputs })) });
  if (name === undefined || name.startsWith('--'))
    return bad('usage', 'Which sum? netter sum --list names them all.');
  const given: Record<string, string> = {};
  for (const pair of rest) {
    const equals = pair.indexOf('=');
    if (equals < 1) return bad('usage', `"${pair}" is not of the form key=value.`, pair);
    given[pair.slice(0, equals)] = pair.slice(equals + 1);
  }
  const worked = runSum(name, given);
  return worked.ok ? ok({ json: worked.value }) : worked;
}
