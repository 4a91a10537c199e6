import { emptyFields } from '../../intake/readings/fields.ts';
import { judgeValues } from '../../intake/readings/judge.ts';
import { placed } from '../run-sheet/sheet.ts';
import { stepStates, valuesOf, type SiteRecord } from '../run-sheet/record.ts';
import type { Site } from '../../site/model.ts';
import type { RunStep } from '../../behaviour/domain-types/step.ts';
import { fallenOf, type Accepted } from './judge.ts';
import { isEntered } from './parts.ts';

/** Steps that stand around others: a change that is entered is saved, kept as a file and handed over again. */
const around = ['save', 'backup-after', 'laptop-back', 'handover'];

/**
 * The steps of a second visit or a change: those that are still open, those whose proof fell, and what they cannot do
 * without. What was done since `since` (ISO 8601) stays in sight. Any other kind of job has all of its steps.
 */
export function stepsOfVisit(
  site: Site,
  steps: readonly RunStep[],
  records: readonly SiteRecord[],
  accepted: readonly Accepted[],
  since: string,
): RunStep[] {
  if (site.visit.kind !== 'second' && site.visit.kind !== 'change') return [...steps];
  const states = stepStates(records);
  const fallen = new Set(accepted.flatMap((each) => fallenOf(each).map(({ record }) => record.subject)));
  const isOpen = (step: RunStep): boolean => {
    if (step.optional) return false;
    const state = states.get(step.id);
    if (!state?.done || !state.last || state.last.at >= since || fallen.has(step.id)) return true;
    const values = valuesOf(step, state.last);
    return (
      emptyFields(step.fields, values).length > 0 ||
      judgeValues(site, step, values).some(({ verdict }) => verdict.kind === 'bad') ||
      !isEntered(state.last.parts, step)
    );
  };
  const open = new Set(steps.filter(isOpen).map(({ id }) => id));
  if (open.size === 0) return [];
  const chosen = steps.filter(({ id }) => open.has(id));
  if (chosen.some(({ phase }) => ['inside', 'uplink', 'rules'].includes(phase)))
    for (const id of around) open.add(id);
  if (chosen.some(({ place }) => place === 'router')) {
    open.add('reconnect');
    open.add('laptop-back');
  }
  if (chosen.some(({ interrupts }) => interrupts.length > 0)) open.add('warn-people');
  return placed(
    site,
    steps.filter(({ id }) => open.has(id)),
  );
}
