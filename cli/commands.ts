import { existsSync, mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import {
  acceptance,
  accessEvents,
  accessList,
  ask,
  bad,
  besidePlan,
  checkProfile,
  compareListing,
  compareReach,
  compile,
  describeField,
  desktops,
  exposure,
  fillSteps,
  findSite,
  interview,
  planOfBrief,
  readBrief,
  folderFormats,
  formatAddress,
  formatPrefix,
  ok,
  originOf,
  parseFault,
  parseListing,
  parseProfile,
  parseQuery,
  peerFormats,
  planJsonSchema,
  reachesOf,
  reachText,
  readPaste,
  readTranscript,
  recordInputSchema,
  checkPlan,
  runChecks,
  runSheet,
  runSum,
  searchFields,
  sendersOf,
  simulate,
  siteFormats,
  siteRecord,
  slug,
  sums,
  vpnOverview,
  writeScript,
  years,
  type Desktop,
  type FolderFormatName,
  type Paste,
  type PeerFormatName,
  type Plan,
  type Result,
  type ScriptedFault,
  type Secrets,
  type Site,
  type SiteFormatName,
  type SiteRecord,
  type SiteRecordDocument,
  type Sources,
} from '../core/index.ts';
import {
  dayOption,
  numberOption,
  onPlan,
  planFrom,
  readFile,
  type Answered,
  type Given,
} from './arguments.ts';
import { channelsCommand, secondCommand, wiringCommand } from './inside.ts';

/** A command: how it is called, what it does, and what it takes. */
export interface Command<Answer = Result<Answered>> {
  readonly usage: string;
  readonly says: string;
  readonly options: readonly string[];
  /** Most operands that it takes. */
  readonly operands: number;
  readonly run: (given: Given) => Answer;
}

const command = (
  usage: string,
  says: string,
  options: readonly string[],
  run: Command['run'],
  operands = 1,
): Command => ({ usage, says, options, operands, run });

/** The registry of commands on plans and figures. */
export const commands: Readonly<Record<string, Command>> = {
  check: command(
    'check PLAN.json [--date DAY|today]',
    'Findings of a plan. Exit code 1 where there is a blocker.',
    ['date'],
    checkCommand,
  ),
  path: command(
    'path PLAN.json --from X --to Y [--proto tcp|udp|icmp] [--port N] [--size BYTES] [--down LINE]',
    'Follows one packet through the site and its reply back.',
    ['from', 'to', 'proto', 'port', 'size', 'down'],
    pathCommand,
  ),
  exposure: command(
    'exposure PLAN.json [--down LINE]',
    'Who can reach what, exactly: senders, what they reach, the rule, and a packet that shows it.',
    ['down'],
    exposureCommand,
  ),
  diff: command(
    'diff A.json B.json',
    'Access that B opens or closes against A. Exit code 1 where it opens something.',
    [],
    diffCommand,
    2,
  ),
  runsheet: command('runsheet PLAN.json', 'The run sheet in order.', [], (given) =>
    onPlan(given, (plan) => ({ json: runSheet(compile(plan)) })),
  ),
  script: command(
    'script PLAN.json --from NETWORK|outside [--on linux|macos|windows]',
    'A script that tries from one network what must answer and what must not. It only looks.',
    ['from', 'on'],
    scriptCommand,
  ),
  transcript: command(
    'transcript FILE --plan PLAN.json',
    'What the output of a script says: from where, what contradicts what, which steps it answers. Exit code 1 where something contradicts.',
    ['plan'],
    transcriptCommand,
  ),
  found: command(
    'found FILE [FILE …] [--plan PLAN.json]',
    'The site as its own devices tell it, one paste a file; with a plan, beside it. Exit code 1 where something contradicts.',
    ['plan'],
    foundCommand,
    40,
  ),
  brief: command(
    'brief FILE [--answer ID=VALUE,…]',
    'A letter, an order or a sentence becomes a plan: what was understood of each line, what is still to be asked, and the resulting plan.',
    ['answer'],
    briefCommand,
  ),
  wiring: command(
    'wiring PLAN.json [--from "BOX PORT" [--tag VLAN] [--to BOX]]',
    'The cabling: what each run carries, the way of every line and VLAN hop by hop, loads and loops. Exit code 1 where a way ends or a loop is open. With --from a frame that is put in at a port, followed through switches that learn; exit code 1 where it does not arrive.',
    ['from', 'tag', 'to'],
    wiringCommand,
  ),
  second: command(
    'second PLAN.json',
    'Second routers and access points of a plan: the three ways for each, compared; exits with 1 where one is not decided or has a blocker.',
    [],
    secondCommand,
  ),
  channels: command(
    'channels PLAN.json [--scan FILE]',
    'Wi-Fi channels for all radios of a plan together, beside what a scan heard; without a file, beside what the plan has of one.',
    ['scan'],
    channelsCommand,
  ),
  acceptance: command(
    'acceptance PLAN.json [--records RECORDS.json]',
    'Promises and the evidence for each.',
    ['records'],
    acceptanceCommand,
  ),
  record: command(
    'record PLAN.json [--as json|markdown] [--records RECORDS.json] [--date DAY|today]',
    'The as-built record.',
    ['as', 'records', 'date'],
    recordCommand,
  ),
  failover: command(
    'failover PLAN.json --fault KIND:LINE[:AMOUNT][,…] [--at S] [--for S] [--until S] [--seed N]',
    'Rehearses faults. Exit code 1 where a promise is not kept.',
    ['fault', 'at', 'for', 'until', 'seed'],
    failoverCommand,
  ),
  availability: command(
    'availability PLAN.json [--years N] [--promise ID] [--seed N]',
    'Draws random years for a promise.',
    ['years', 'promise', 'seed'],
    availabilityCommand,
  ),
  vpn: command('vpn PLAN.json', 'Remote access in one overview.', [], (given) =>
    onPlan(given, (plan) => ({ json: vpnOverview(compile(plan)) })),
  ),
  access: command(
    'access PLAN.json [--date DAY|today] [--router LIST]',
    'Who has remote access on a day; with the list of the router also what differs.',
    ['date', 'router'],
    accessCommand,
  ),
  export: command(
    'export PLAN.json --as FORMAT [--to FOLDER] [--peer ID] [--vault SECRETS.json] [--records RECORDS.json] [--date DAY|today]',
    `A file in an open format: ${Object.keys(siteFormats).join(', ')}; with --peer ${Object.keys(peerFormats).join(', ')}; as a folder ${Object.keys(folderFormats).join(', ')}.`,
    ['as', 'to', 'peer', 'vault', 'records', 'date'],
    exportCommand,
  ),
  profile: command(
    'profile FILE --plan PLAN.json',
    'Compares a profile with the plan.',
    ['plan'],
    profileCommand,
  ),
  words: command(
    'words TERM',
    'What a field is called, here and on devices and paperwork.',
    [],
    wordsCommand,
    20,
  ),
  schema: command('schema', 'The JSON Schema of the plan file.', [], () => ok({ json: planJsonSchema() }), 0),
  sum: command('sum NAME key=value … | sum --list', 'One sum with its working.', [], sumCommand, 40),
};

/** The sums that there are, for `netter sum --list`. */
export const sumList = (): Answered => ({
  json: sums.map(({ name, says, inputs }) => ({ name, says, inputs })),
});

function checkCommand(given: Given): Result<Answered> {
  const day = dayOption(given, '');
  return day.ok ? onPlan(given, (plan) => checkAnswer(plan, day.value)) : day;
}

function checkAnswer(plan: Plan, today: string): Answered {
  const findings = checkPlan(plan, today);
  const count = (severity: string): number => findings.filter((each) => each.severity === severity).length;
  return {
    json: { blockers: count('blocker'), warnings: count('warning'), advice: count('advice'), findings },
    exit: count('blocker') > 0 ? 1 : 0,
  };
}

function pathCommand(given: Given): Result<Answered> {
  const { from, to, proto = 'tcp', port, size, down } = given.options;
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
  const plan = planFrom(given.operands[0]);
  if (!plan.ok) return plan;
  const answer = ask(compile(plan.value), query.value);
  return answer.ok ? ok({ json: answer.value }) : answer;
}

function exposureCommand(given: Given): Result<Answered> {
  const plan = planFrom(given.operands[0]);
  if (!plan.ok) return plan;
  const site = compile(plan.value);
  const { down } = given.options;
  const line = site.lines.find(({ id, name }) => id === down || slug(name) === slug(down ?? ''));
  if (down !== undefined && !line)
    return bad(
      'unknown-line',
      `No uplink is called "${down}". Uplinks: ${site.lines.map(({ name }) => name).join(', ') || 'none yet'}.`,
      '--down',
    );
  const passing = exposure(site, new Set(line ? [line.id] : []));
  return ok({
    json: {
      down: line ? [line.name] : [],
      senders: sendersOf(site).map(({ id, kind, name }) => ({
        from: name,
        kind,
        reaches: passing
          .filter(({ sender }) => sender.kind === kind && sender.id === id)
          .flatMap((each) =>
            reachesOf(site, [each]).map((reach) => ({
              ...reach,
              at: each.at ?? null,
              rule: each.rule(),
              witness: each.witness,
            })),
          ),
      })),
    },
  });
}

function diffCommand({ operands }: Given): Result<Answered> {
  const before = planFrom(operands[0]);
  if (!before.ok) return before;
  const after = planFrom(operands[1]);
  if (!after.ok) return after;
  const changes = compareReach(compile(before.value), compile(after.value));
  const of = (kind: string) =>
    changes.filter((each) => each.kind === kind).map(({ kind: _kind, ...rest }) => rest);
  const opens = of('opens');
  return ok({ json: { opens, closes: of('closes') }, exit: opens.length > 0 ? 1 : 0 });
}

function failoverCommand(given: Given): Result<Answered> {
  const at = numberOption(given, 'at', 60, 86_400);
  const lasts = numberOption(given, 'for', 600, 86_400);
  const seed = numberOption(given, 'seed', 1, 4_294_967_295);
  if (!at.ok) return at;
  if (!lasts.ok) return lasts;
  if (!seed.ok) return seed;
  const until = numberOption(given, 'until', at.value + lasts.value + 900, 604_800);
  if (!until.ok) return until;
  if (given.options.fault === undefined)
    return bad('usage', 'Which fault? Give --fault pull:fibre, or several with commas.', '--fault');
  const plan = planFrom(given.operands[0]);
  if (!plan.ok) return plan;
  const site = compile(plan.value);
  const faults: ScriptedFault[] = [];
  for (const text of given.options.fault.split(',')) {
    const fault = parseFault(site, text, at.value, lasts.value);
    if (!fault.ok) return bad(fault.problem.code, fault.problem.says, '--fault');
    faults.push(fault.value);
  }
  const run = simulate(site, { faults, untilSeconds: until.value, seed: seed.value });
  return ok({ json: run, exit: run.promises.every(({ kept }) => kept) ? 0 : 1 });
}

function availabilityCommand(given: Given): Result<Answered> {
  const count = numberOption(given, 'years', 10_000, 100_000);
  if (!count.ok) return count;
  const seed = numberOption(given, 'seed', 1, 4_294_967_295);
  if (!seed.ok) return seed;
  if (count.value < 1) return bad('usage', 'At least one year is drawn.', '--years');
  const plan = planFrom(given.operands[0]);
  if (!plan.ok) return plan;
  const site = compile(plan.value);
  const { promises } = site.failover;
  const wanted = given.options.promise;
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
function accessCommand(given: Given): Result<Answered> {
  const day = dayOption(given, 'today');
  if (!day.ok) return day;
  const text = given.options.router === undefined ? ok(undefined) : readFile(given.options.router);
  if (!text.ok) return text;
  const listed = text.value === undefined ? ok(undefined) : parseListing(text.value, day.value);
  if (!listed.ok) return bad(listed.problem.code, listed.problem.says, given.options.router);
  return onPlan(given, (plan) => {
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

/** A file in an open format: of the whole site, or of one client. */
function exportCommand(given: Given): Result<Answered> {
  const { as = '' } = given.options;
  if (Object.hasOwn(siteFormats, as)) return exportSite(given, as as SiteFormatName);
  if (Object.hasOwn(folderFormats, as)) return exportFolder(given, as as FolderFormatName);
  if (Object.hasOwn(peerFormats, as)) return exportPeer(given, as as PeerFormatName);
  const names = [siteFormats, folderFormats, peerFormats].flatMap((each) => Object.keys(each));
  return bad('usage', `--as is one of ${names.join(', ')}, not "${as}".`, '--as');
}

function exportSite(given: Given, as: SiteFormatName): Result<Answered> {
  for (const option of ['peer', 'vault'] as const)
    if (given.options[option] !== undefined)
      return bad(
        'usage',
        `--${option} does not go with --as ${as}: it is a file of the whole site.`,
        `--${option}`,
      );
  const sources = sourcesFrom(given);
  return sources.ok ? ok({ text: siteFormats[as].write(sources.value) }) : sources;
}

/** Files that belong together, into a folder that is new or empty: nothing that is there is overwritten. */
function exportFolder(given: Given, as: FolderFormatName): Result<Answered> {
  const sources = sourcesFrom(given);
  if (!sources.ok) return sources;
  const folder = given.options.to ?? `${sources.value.siteId}-${as}`;
  if (existsSync(folder) && readdirSync(folder).length > 0)
    return bad('not-empty', `The folder ${folder} is not empty. Name another one with --to.`, '--to');
  const files = folderFormats[as].write(sources.value);
  for (const [name, text] of files) {
    const file = join(folder, name);
    mkdirSync(dirname(file), { recursive: true });
    // A script is one that can be run.
    writeFileSync(file, text, { mode: text.startsWith('#!/bin/sh') ? 0o755 : 0o644 });
  }
  return ok({ json: { folder, files: [...files.keys()] } });
}

/** What files of a site are made from: the plan, and records and a day where they are given. */
function sourcesFrom(given: Given): Result<Sources> {
  const day = dayOption(given, 'today');
  if (!day.ok) return day;
  const records = given.options.records === undefined ? ok([]) : recordsFrom(given.options.records);
  if (!records.ok) return records;
  const plan = planFrom(given.operands[0]);
  if (!plan.ok) return plan;
  const site = compile(plan.value);
  return ok({
    plan: plan.value,
    site,
    siteId: basename(given.operands[0]!).replace(/(?:\.netter)?\.json$/, ''),
    revision: undefined,
    day: day.value,
    stampedAt: new Date().toISOString(),
    record: () => recordOf(plan.value, site, records.value, day.value),
  });
}

function recordOf(plan: Plan, site: Site, records: readonly SiteRecord[], day: string): SiteRecordDocument {
  const steps = runSheet(site);
  return siteRecord(site, {
    plan,
    accepted: acceptance(site, records, steps),
    steps,
    records,
    findings: runChecks(site, day),
    today: day,
    momentText: (iso) => iso.replace('T', ' ').replace(/:\d\d(?:\.\d+)?Z$/, ' UTC'),
  });
}

/** A profile as text. Secrets come only from a file of "name": "secret" that is named on purpose. */
function exportPeer(given: Given, as: PeerFormatName): Result<Answered> {
  const { peer: wanted, vault } = given.options;
  const plan = planFrom(given.operands[0]);
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
  return ok({ json: { peer: peer.id, profile: peerFormats[as].write(site, peer, secrets.value) } });
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

function profileCommand(given: Given): Result<Answered> {
  const [file] = given.operands;
  if (file === undefined || given.options.plan === undefined)
    return bad(
      'usage',
      'Name the file of the profile, and the plan: profile FILE --plan PLAN.json.',
      '--plan',
    );
  const text = readFile(file);
  if (!text.ok) return text;
  const profile = parseProfile(text.value);
  if (!profile.ok) return bad(profile.problem.code, profile.problem.says, file);
  const plan = planFrom(given.options.plan);
  if (!plan.ok) return plan;
  const { peer, faults } = checkProfile(compile(plan.value), profile.value);
  return ok({
    json: { peer: peer?.id ?? null, faults },
    exit: faults.some(({ severity }) => severity === 'blocker') ? 1 : 0,
  });
}

/** A script for a network by its id or its name. */
function scriptCommand(given: Given): Result<Answered> {
  const { from = '', on = 'linux' } = given.options;
  if (!Object.hasOwn(desktops, on))
    return bad('usage', `"${on}" is none of ${Object.keys(desktops).join(', ')}.`, '--on');
  const plan = planFrom(given.operands[0]);
  if (!plan.ok) return plan;
  const site = compile(plan.value);
  const network = site.networks.find(({ id, name }) => id === from || name === from);
  if (!network && from !== 'outside')
    return bad(
      'usage',
      `No network is called "${from}". There are: ${site.networks.map(({ id }) => id).join(', ')}, outside.`,
      '--from',
    );
  return ok({ text: writeScript(site, on as Desktop, network ?? 'outside') });
}

function transcriptCommand(given: Given): Result<Answered> {
  const [file] = given.operands;
  if (file === undefined || given.options.plan === undefined)
    return bad('usage', 'Name the file and the plan: transcript FILE --plan PLAN.json.', '--plan');
  const text = readFile(file);
  if (!text.ok) return text;
  const plan = planFrom(given.options.plan);
  if (!plan.ok) return plan;
  const site = compile(plan.value);
  const transcript = readTranscript(text.value);
  const { network, address, line, contradictions } = originOf(site, transcript);
  return ok({
    json: {
      network: network?.id ?? null,
      address: address ? formatAddress(address) : null,
      line: line?.id ?? null,
      contradictions,
      steps: fillSteps(site, runSheet(site), transcript).map(({ step, values, seenFrom, complete }) => ({
        id: step.id,
        values,
        seenFrom,
        complete,
      })),
    },
    exit: contradictions.length > 0 ? 1 : 0,
  });
}

function foundCommand(given: Given): Result<Answered> {
  if (given.operands.length === 0)
    return bad('usage', 'Name one file for each paste: found FILE [FILE …].', '');
  const pastes: Paste[] = [];
  for (const file of given.operands) {
    const text = readFile(file);
    if (!text.ok) return text;
    pastes.push(readPaste(text.value));
  }
  const site = findSite(pastes);
  const plan = given.options.plan === undefined ? undefined : planFrom(given.options.plan);
  if (plan && !plan.ok) return plan;
  return ok({
    json: {
      boxes: site.boxes.map(({ address, outside, translates, page }) => ({
        address: formatAddress(address),
        outside: outside ? formatAddress(outside) : null,
        model: page?.model ?? '',
        translates,
      })),
      networks: site.networks.map(({ prefix, router, hosts }) => ({
        prefix: formatPrefix(prefix),
        router: router ? formatAddress(router) : null,
        hosts: hosts.length,
      })),
      outside: site.outside ? formatAddress(site.outside) : null,
      translations: site.translations,
      contradictions: site.contradictions,
      unused: pastes.flatMap(({ unused }) => unused),
      ...(plan && {
        beside: besidePlan(plan.value, compile(plan.value), site).map(
          ({ what, found, planned, differs }) => ({
            what,
            found,
            planned,
            differs,
          }),
        ),
      }),
    },
    exit: site.contradictions.length > 0 ? 1 : 0,
  });
}

/** The whole way from a text to a plan, as the page New site goes it; secrets of the text are left out. */
function briefCommand(given: Given): Result<Answered> {
  const [file] = given.operands;
  if (file === undefined) return bad('usage', 'Name the file with the text: brief FILE.', '');
  const text = readFile(file);
  if (!text.ok) return text;
  const answers = (given.options.answer ?? '').split(',').filter((each) => each.includes('='));
  const brief = readBrief(text.value);
  const { questions, facts } = interview(
    brief.facts,
    Object.fromEntries(
      answers.map((each) => [each.slice(0, each.indexOf('=')), each.slice(each.indexOf('=') + 1)]),
    ),
  );
  let count = 0;
  return ok({
    json: {
      marks: brief.marks,
      unused: brief.unused,
      questions: questions.map(({ id, asks, likely, answer, problem, choices }) => ({
        id,
        asks,
        choices: choices.map(({ value }) => value),
        likely,
        answer: answer ?? null,
        problem: problem ?? null,
      })),
      plan: planOfBrief(brief, facts, () => `row-${(count += 1)}`),
    },
  });
}

function acceptanceCommand(given: Given): Result<Answered> {
  const records = given.options.records === undefined ? ok([]) : recordsFrom(given.options.records);
  if (!records.ok) return records;
  return onPlan(given, (plan) => ({ json: acceptance(compile(plan), records.value) }));
}

/** The record of a site, as it is handed over: a document for other programs, or Markdown to be read. */
function recordCommand(given: Given): Result<Answered> {
  const { as = 'json' } = given.options;
  if (as !== 'json' && as !== 'markdown')
    return bad('usage', `--as is json or markdown, not "${as}".`, '--as');
  const sources = sourcesFrom(given);
  return sources.ok ? ok({ text: siteFormats[`record-${as}`].write(sources.value) }) : sources;
}

/** What a field is called, here and on devices and paperwork. */
function wordsCommand(given: Given): Result<Answered> {
  const typed = given.operands.join(' ');
  if (typed === '')
    return bad('usage', 'Which word? netter words TERM, such as: netter words masquerade.', 'TERM');
  const found = searchFields(typed);
  if (found.length === 0)
    return bad('unknown-word', `No field of a plan is called "${typed}", here or on a device.`, typed);
  return ok({
    json: found.slice(0, 20).map(({ at, field }) => ({
      at,
      term: field.term,
      says: describeField(field),
      alsoCalled: field.alsoCalled,
      ...(field.kind === 'number' && {
        unit: field.unit,
        least: field.least,
        most: field.most,
        whole: field.whole,
        usual: field.usual ?? null,
      }),
    })),
  });
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

function sumCommand(given: Given): Result<Answered> {
  const [name, ...pairs] = given.operands;
  if (name === undefined) return bad('usage', 'Which sum? netter sum --list names them all.', 'NAME');
  const inputs: Record<string, string> = {};
  for (const pair of pairs) {
    const [key = '', value, ...more] = pair.split('=');
    if (key === '' || value === undefined)
      return bad('usage', `"${pair}" is not of the form key=value.`, pair);
    // A list of rows has "=" of its own; in any other value a second one is a slip.
    if (Object.hasOwn(inputs, key)) return bad('usage', `"${key}" is given twice; once is enough.`, key);
    inputs[key] = [value, ...more].join('=');
  }
  const worked = runSum(name, inputs);
  return worked.ok ? ok({ json: worked.value }) : worked;
}
