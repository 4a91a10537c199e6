import { expose } from 'comlink';
import {
  acceptance,
  ask,
  bringUp,
  compile,
  endpointNames,
  runChecks,
  runSheet,
  workingsAt,
  writePcapng,
  type Accepted,
  type Answer,
  type Exchange,
  type Finding,
  type Plan,
  type Result,
  type RunStep,
  type Site,
  type SiteRecord,
  type Worked,
} from '../../core/index.ts';

export interface Analysis {
  readonly plan: Plan;
  readonly findings: readonly Finding[];
  readonly steps: readonly RunStep[];
  readonly accepted: readonly Accepted[];
  readonly names: readonly string[];
}

let site: Site | undefined;

const api = {
  /** Compiles a plan and computes all that follows from it; later questions are about this plan. */
  load(plan: Plan, records: readonly SiteRecord[]): Analysis {
    site = compile(plan);
    const steps = runSheet(site);
    return {
      plan,
      findings: runChecks(site),
      steps,
      accepted: acceptance(site, records, steps),
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
  workings: (at: string): Worked[] => (site ? workingsAt(site, at) : []),
  ask: (question: string): Result<Answer> | undefined => (site ? ask(site, question) : undefined),
};

export type AnalysisWorker = typeof api;
expose(api);
