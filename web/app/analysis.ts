import { wrap, type Remote } from 'comlink';
import { createContext, useContext, useEffect, useState } from 'react';
import type { Plan, Site, SiteRecord } from '../../core/index.ts';
import type { Analysis, AnalysisWorker } from '../workers/analysis.worker.ts';

export type { Analysis };

let remote: Remote<AnalysisWorker> | undefined;

/** The core in a thread of its own, so that typing never waits for it. */
export const analysisWorker = (): Remote<AnalysisWorker> =>
  (remote ??= wrap<AnalysisWorker>(
    new Worker(new URL('../workers/analysis.worker.ts', import.meta.url), { type: 'module' }),
  ));

/** What follows from the plan and the records; the last known one while the next is computed. */
export function useAnalysisOf(plan: Plan, records: readonly SiteRecord[]): Analysis | undefined {
  const [analysis, setAnalysis] = useState<Analysis>();
  useEffect(() => {
    let current = true;
    void analysisWorker()
      .load(plan, records)
      .then((result) => {
        if (current) setAnalysis(result);
      });
    return () => {
      current = false;
    };
  }, [plan, records]);
  return analysis;
}

export const AnalysisContext = createContext<Analysis | undefined>(undefined);
export const useAnalysis = (): Analysis | undefined => useContext(AnalysisContext);

/** The compiled plan of this moment, for pictures that must not lag behind the typing. */
export const SiteContext = createContext<Site | undefined>(undefined);

export function useSite(): Site {
  const site = useContext(SiteContext);
  if (!site) throw new Error('No site is open here.');
  return site;
}
