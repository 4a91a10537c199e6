import { fallenOf, stepStates, type RunStep, type StepState } from '../../core/index.ts';
import { useAnalysis } from './analysis.ts';
import { useRecords } from './records.ts';

const fresh: StepState = { done: false, last: undefined, history: [], timerAt: undefined };

export interface Visit {
  readonly steps: readonly RunStep[];
  readonly stateOf: (step: RunStep) => StepState;
  readonly next: RunStep | undefined;
  readonly left: readonly RunStep[];
  /** How many there are and how many are done, without those that may be left out. */
  readonly count: number;
  readonly done: number;
  /** Titles of the steps before one that are still open. */
  readonly waitsFor: (step: RunStep) => string[];
}

/** How the visit stands: what is done, what is next, what waits for what. Undefined while it is computed. */
export function useVisit(): Visit | undefined {
  const analysis = useAnalysis();
  const records = useRecords();
  if (!analysis) return undefined;
  const steps = analysis.visit;
  const states = stepStates(records);
  // What proved something that changed since is done once more.
  const fallen = new Set(analysis.accepted.flatMap((each) => fallenOf(each).map(({ record }) => record.id)));
  const stateOf = (step: RunStep): StepState => {
    const state = states.get(step.id) ?? fresh;
    return state.last && state.done && fallen.has(state.last.id) ? { ...state, done: false } : state;
  };
  const left = steps.filter((step) => !step.optional && !stateOf(step).done);
  // What runs by itself is waited for beside the next thing, not in front of it.
  const next = left.find((step) => step.waitShare === 0 || stateOf(step).timerAt === undefined) ?? left[0];
  const byId = new Map(steps.map((step) => [step.id, step]));
  const waitsFor = (step: RunStep): string[] =>
    step.needs.flatMap((need) => {
      const before = byId.get(need);
      return before && !before.optional && !stateOf(before).done ? [before.title] : [];
    });
  const count = steps.filter(({ optional }) => !optional).length;
  return { steps, stateOf, next, left, count, done: count - left.length, waitsFor };
}
