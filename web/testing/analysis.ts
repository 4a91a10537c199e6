import {
  acceptance,
  compile,
  endpointNames,
  runChecks,
  runSheet,
  stepsOfVisit,
  type Plan,
  type SiteRecord,
} from '../../core/index.ts';
import type { Analysis } from '../state/analysis.ts';

/** What the worker would have answered. */
export function analysisOf(plan: Plan, records: readonly SiteRecord[] = []): Analysis {
  const site = compile(plan);
  const steps = runSheet(site);
  const accepted = acceptance(site, records, steps);
  return {
    findings: runChecks(site),
    steps,
    visit: stepsOfVisit(site, steps, records, accepted, ''),
    accepted,
    names: endpointNames(site),
  };
}
