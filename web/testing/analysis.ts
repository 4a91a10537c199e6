import {
  acceptance,
  compile,
  endpointNames,
  runChecks,
  runSheet,
  type Plan,
  type SiteRecord,
} from '../../core/index.ts';
import type { Analysis } from '../app/analysis.ts';

/** What the worker would have answered. */
export function analysisOf(plan: Plan, records: readonly SiteRecord[] = []): Analysis {
  const site = compile(plan);
  const steps = runSheet(site);
  return {
    findings: runChecks(site),
    steps,
    accepted: acceptance(site, records, steps),
    names: endpointNames(site),
  };
}
