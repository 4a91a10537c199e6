import { wrap, type Remote } from 'comlink';
import { createContext, useContext, useDeferredValue, useEffect } from 'react';
import {
  compile,
  severityOrder,
  type Learnt,
  type Plan,
  type Severity,
  type Site,
  type SiteRecord,
} from '../../core/index.ts';
import type { Analysis, AnalysisWorker } from '../workers/analysis.worker.ts';
import { Newest } from './newest.ts';
import { useLearnt, useRecords } from './records.ts';
import { today } from './time.ts';
import { usePlan } from './session.ts';
import { Signal, useSignal } from './signal.ts';

export type { Analysis };

let worker: Worker | undefined;
let remote: Remote<AnalysisWorker> | undefined;

/** The core in a thread of its own, so that typing never waits for it. */
export const analysisWorker = (): Remote<AnalysisWorker> =>
  (remote ??= wrap<AnalysisWorker>(
    (worker ??= new Worker(new URL('../workers/analysis.worker.ts', import.meta.url), { type: 'module' })),
  ));

/** How the analysis stands: what it last said is only as good as this. */
export type AnalysisStanding = 'done' | 'working' | 'late' | 'failed';

/** An analysis that takes longer says so. */
const lateMs = 4_000;
/** One that takes longer is given up, and the thread with it: the next edit begins a new one. */
const longestMs = 60_000;

const standing = new Signal<AnalysisStanding>('working');
export const useStanding = (): AnalysisStanding => useSignal(standing, (value) => value);

/** Ends the thread: what was asked of it is never answered. */
function endWorker(): void {
  worker?.terminate();
  worker = undefined;
  remote = undefined;
}

export const AnalysisContext = createContext(new Signal<Analysis | undefined>(undefined));

/** What follows from the plan and the records; the last known one while the next is computed. */
export const useAnalysis = (): Analysis | undefined => useAnalysisPiece((analysis) => analysis);

/** A piece of it; the component follows that piece only. */
export const useAnalysisPiece = <Piece>(piece: (analysis: Analysis | undefined) => Piece): Piece =>
  useSignal(useContext(AnalysisContext), piece);

interface Wanted {
  readonly plan: Plan;
  readonly records: readonly SiteRecord[];
  readonly learnt: Learnt;
  readonly take: (analysis: Analysis) => void;
}

const analyses = new Newest<Wanted>(async ({ plan, records, learnt, take }, isNewest) => {
  standing.set('working');
  const late = setTimeout(() => standing.set('late'), lateMs);
  let giveUp: ReturnType<typeof setTimeout> | undefined;
  const givenUp = new Promise<undefined>((resolve) => {
    giveUp = setTimeout(() => {
      endWorker();
      resolve(undefined);
    }, longestMs);
  });
  try {
    const result = await Promise.race([analysisWorker().load(plan, records, today(), learnt), givenUp]);
    if (result === undefined) standing.set('failed');
    else if (isNewest()) {
      take(result);
      standing.set('done');
    }
  } catch {
    standing.set('failed');
  } finally {
    clearTimeout(late);
    clearTimeout(giveUp);
  }
});

/** Keeps the analysis up to date with the plan and the records. Draws nothing. */
export function Analyst(): null {
  const plan = useDeferredValue(usePlan());
  const records = useRecords();
  const learnt = useLearnt();
  const signal = useContext(AnalysisContext);
  useEffect(() => {
    let current = true;
    analyses.ask({ plan, records, learnt, take: (analysis) => current && signal.set(analysis) });
    return () => {
      current = false;
      analyses.clear();
    };
  }, [plan, records, learnt, signal]);
  return null;
}

const marks = new WeakMap<Analysis, Map<string, Severity>>();

/** The gravest finding on each field. */
function marksOf(analysis: Analysis): Map<string, Severity> {
  const known = marks.get(analysis);
  if (known) return known;
  const found = new Map<string, Severity>();
  for (const { at, severity } of analysis.findings) {
    const before = found.get(at);
    if (before === undefined || severityOrder[severity] < severityOrder[before]) found.set(at, severity);
  }
  marks.set(analysis, found);
  return found;
}

/** The severity of the gravest finding on exactly this field. */
export const useMark = (at: string): Severity | undefined =>
  useAnalysisPiece((analysis) => analysis && marksOf(analysis).get(at));

/** The severity of the gravest finding at or below any of these places. */
export const useGravest = (places: readonly string[]): Severity | undefined =>
  useAnalysisPiece((analysis) => {
    let gravest: Severity | undefined;
    for (const [at, severity] of analysis ? marksOf(analysis) : [])
      if (
        (gravest === undefined || severityOrder[severity] < severityOrder[gravest]) &&
        places.some((place) => at === place || at.startsWith(`${place}/`))
      )
        gravest = severity;
    return gravest;
  });

const compiled = new WeakMap<Plan, Site>();

/** The compiled plan: the one place of the page that compiles, once for each plan. */
export function siteOf(plan: Plan): Site {
  const known = compiled.get(plan);
  if (known) return known;
  const site = compile(plan);
  compiled.set(plan, site);
  return site;
}

/** The compiled plan, for pictures: drawn as soon as the field that is typed in has been. */
export const useSite = (): Site => siteOf(useDeferredValue(usePlan()));

/** The compiled plan as it is at this keystroke, for what leaves the page: a file, a code to scan. */
export const useSiteNow = (): Site => siteOf(usePlan());
