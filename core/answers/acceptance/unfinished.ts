import { emptyFields } from '../../intake/readings/fields.ts';
import { judgeValues } from '../../intake/readings/judge.ts';
import { stepStates, valuesOf, type SiteRecord } from '../run-sheet/record.ts';
import type { Site } from '../../site/model.ts';
import type { RunStep } from '../../behaviour/domain-types/step.ts';
import type { Accepted } from './judge.ts';
import { changedSince, partTitle } from './parts.ts';

/** What must not be left open when a job is handed over, whatever the promises say, and what it means where it is. */
const musts: readonly (readonly [step: string, says: string])[] = [
  ['admin-secret', 'the factory login of the router was not changed'],
  ['remote-admin-off', 'management from WAN not checked'],
  ['backup-after', 'the settings as they are now were not saved'],
  ['secrets', 'the secrets were not given over'],
  ['handover', 'record not handed over'],
];

/** Why a job is not finished, in the order in which it is to be settled; empty where it is. */
export function unfinished(
  site: Site,
  accepted: readonly Accepted[],
  steps: readonly RunStep[],
  records: readonly SiteRecord[],
): string[] {
  const states = stepStates(records);
  const open = musts.flatMap(([id, says]) => {
    const step = steps.find((each) => each.id === id);
    if (!step) return [];
    const state = states.get(id);
    if (!state?.done) return [says];
    // A tick without what was to be read off says that somebody pressed a button.
    const values = valuesOf(step, state.last!);
    const empty = emptyFields(step.fields, values);
    if (empty.length > 0)
      return [`"${step.title}" is done, but not written down: ${empty.map(({ label }) => label).join(', ')}`];
    const wrong = judgeValues(site, step, values).find(({ verdict }) => verdict.kind === 'bad');
    if (wrong) return [`"${step.title}": ${wrong.verdict.says.replace(/\.$/, '')}`];
    const changed = changedSince(site, state.last!.parts, step);
    return changed.length === 0
      ? []
      : [
          `"${step.title}" is older than a change: ${changed.map((part) => partTitle(site, part)).join(', ')}`,
        ];
  });
  const unproven = accepted.filter((each) => !each.accepted).length;
  return [
    ...open,
    ...(unproven === 0 ? [] : [`${unproven} ${unproven === 1 ? 'promise is' : 'promises are'} not proven`]),
  ];
}
