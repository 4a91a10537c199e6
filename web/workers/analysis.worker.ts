import { expose } from 'comlink';
import {
  acceptance,
  ask,
  bringUp,
  compareReach,
  drawYears,
  compile,
  endpointNames,
  exposureColumns,
  ExposureMemory,
  interview,
  keeping,
  layoutOf,
  mends,
  pictureOf,
  planOfBrief,
  readBrief,
  recommendedChannels,
  vaultSecretsOf,
  runChecks,
  runSheet,
  simulate,
  simulateClient,
  stepsOfVisit,
  clientCapture,
  wayOfQuestion,
  widthsFor,
  workingsAt,
  writePcapng,
  type Accepted,
  type Answer,
  type Answers,
  type Brief,
  type ChannelPlan,
  type Interview,
  type Layout,
  type Picture,
  type Exchange,
  type ExposureMatrix,
  type Finding,
  type Learnt,
  type MatrixRow,
  type Plan,
  type ReachChange,
  type Result,
  type RunStep,
  type Script,
  type SimulationRun,
  type Site,
  type SiteRecord,
  type SituationName,
  type WidthAdvice,
  type Worked,
  type YearsResult,
} from '../../core/index.ts';

export interface BriefResult {
  readonly brief: Brief;
  readonly questions: Interview['questions'];
  readonly plan: Plan;
  readonly findings: readonly Finding[];
  readonly secrets: readonly { readonly name: string; readonly value: string; readonly says: string }[];
}

export interface ChannelAdvice {
  readonly best: ChannelPlan;
  readonly widths: readonly WidthAdvice[];
}

export interface Analysis {
  readonly findings: readonly Finding[];
  /** Every step that there is: what evidence is weighed by. */
  readonly steps: readonly RunStep[];
  /** Those of this visit. */
  readonly visit: readonly RunStep[];
  readonly accepted: readonly Accepted[];
  readonly names: readonly string[];
}

let plan: Plan | undefined;
let site: Site | undefined;
/** A plan that came over from the page, with the rows that the loaded one has: what follows from them is known. */
const known = (came: Plan): Plan => keeping(plan, came);
/** What was computed for the plan before its last edit. */
const memory = new ExposureMemory();
let asked = 0;

const api = {
  /** Computes all that follows from a plan; later questions are about this one. */
  load(came: Plan, records: readonly SiteRecord[], today: string, learnt: Learnt): Analysis {
    plan = known(came);
    site = compile(plan);
    const steps = runSheet(site, learnt, today);
    const accepted = acceptance(site, records, steps);
    return {
      findings: runChecks(site, today),
      steps,
      visit: stepsOfVisit(site, steps, records, accepted, today),
      accepted,
      names: endpointNames(site),
    };
  },
  /** Brings a line up against its stand-in; the same seed, the same run. */
  rehearse(line: number, fault: string, seed: number): Exchange | undefined {
    const found = site?.lines[line];
    return found && bringUp(found, fault, seed);
  },
  capture: (exchange: Exchange, startSeconds: number): Uint8Array =>
    writePcapng(exchange.messages, startSeconds),
  /** A client in a situation as a capture at one end; undefined where nothing is on the wire there. */
  clientCapture(
    peerId: string,
    situation: SituationName,
    end: 'client' | 'router',
    startSeconds: number,
  ): Uint8Array | undefined {
    const peer = site?.vpn.peers.find(({ id }) => id === peerId);
    if (!site || !peer) return undefined;
    const run = simulateClient(site, peer, situation);
    const { messages, keyLog } = clientCapture(site, peer, situation, run, end, startSeconds);
    return messages.length === 0 ? undefined : writePcapng(messages, startSeconds, keyLog);
  },
  simulate: (script: Script): SimulationRun | undefined => site && simulate(site, script),
  /** Draws random years; `goOn` hears the share that is done and answers whether to go on. Undefined where it was stopped. */
  async years(
    promiseId: string,
    count: number,
    seed: number,
    goOn: (share: number) => Promise<boolean>,
  ): Promise<YearsResult | undefined> {
    const promise = site?.failover.promises.find(({ id }) => id === promiseId);
    if (!site || !promise) return undefined;
    const run = drawYears(site, promise, count, seed);
    for (;;) {
      const step = run.next();
      if (step.done) return step.value;
      if (!(await goOn(step.value))) return undefined;
    }
  },
  /** The picture of the site with these groups open, laid out. */
  picture(open: readonly string[]): { picture: Picture; layout: Layout } | undefined {
    const picture = site && pictureOf(site, new Set(open));
    return picture && { picture, layout: layoutOf(picture) };
  },
  /** What a text says of a new site, what is still to be asked, and the plan as it comes out. */
  brief(text: string, answers: Answers, probes: readonly string[], today: string): BriefResult {
    const brief = readBrief(text);
    const { questions, facts } = interview(brief.facts, answers, { probes });
    const plan = planOfBrief(brief, facts, () => crypto.randomUUID().slice(0, 8));
    return {
      brief,
      questions,
      plan,
      findings: runChecks(compile(plan), today),
      secrets: vaultSecretsOf(brief, facts),
    };
  },
  /** The way of a question's packet on the picture, with these groups open. */
  way: (question: string, open: readonly string[]) => site && wayOfQuestion(site, question, new Set(open)),
  /** Channels and widths for all radios together; undefined where the site has none. */
  channels(): ChannelAdvice | undefined {
    const best = site && recommendedChannels(site);
    return site && best && { best, widths: widthsFor(site) };
  },
  workings: (at: string): Worked[] => (site ? workingsAt(site, at) : []),
  /** Who can reach what while these lines (by id) are down. Undefined where another plan came meanwhile. */
  async exposure(came: Plan, down: readonly string[]): Promise<ExposureMatrix | undefined> {
    const mine = (asked += 1);
    const of = known(came);
    const compiled = compile(of);
    const rows: MatrixRow[] = [];
    for (const row of memory.rows(of, compiled, new Set(down))) {
      rows.push(row);
      // What was asked meanwhile goes first.
      await new Promise((resolve) => setTimeout(resolve));
      if (asked !== mine) return undefined;
    }
    return { columns: exposureColumns(compiled), rows };
  },
  /** What a plan opens and closes beside another; neither has to be the one that is loaded. */
  compareReach: (before: Plan, after: Plan): ReachChange[] =>
    compareReach(compile(known(before)), compile(known(after))),
  /** Whether a fix of the loaded site mends without harm. */
  mends: (after: Plan, finding: Finding, today: string): boolean =>
    !site || mends(site, compile(known(after)), finding, today),
  ask: (question: string): Result<Answer> | undefined => (site ? ask(site, question) : undefined),
};

export type AnalysisWorker = typeof api;
expose(api);
