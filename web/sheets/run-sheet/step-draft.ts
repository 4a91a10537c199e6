import { useState } from 'react';
import type { Values } from '../../../core/index.ts';
import { kept } from '../../state/kept.ts';
import { useSession } from '../../state/session.ts';

/** What is typed for a step and not recorded yet. */
export interface StepDraft {
  readonly values: Values;
  readonly seenFrom: string;
  readonly note: string;
}

const nothing: StepDraft = { values: {}, seenFrom: '', note: '' };
const keyOf = (siteId: string, stepId: string): string => `netter-draft-${siteId}-${stepId}`;

function read(key: string): StepDraft {
  const before = kept.getItem(key);
  if (before === null) return nothing;
  try {
    return { ...nothing, ...(JSON.parse(before) as Partial<StepDraft>) };
  } catch {
    // A draft of before there were fields was a text of its own.
    return { ...nothing, note: before };
  }
}

/** Puts figures into the draft of a step, beside what is typed there already. */
export function addToDraft(siteId: string, stepId: string, values: Values, seenFrom = ''): void {
  const key = keyOf(siteId, stepId);
  const before = read(key);
  kept.setItem(
    key,
    JSON.stringify({
      ...before,
      values: { ...before.values, ...values },
      seenFrom: seenFrom === '' ? before.seenFrom : seenFrom,
    }),
  );
}

/** Half-typed readings survive a reload, a closed lid and another day. */
export function useStepDraft(
  stepId: string,
): [draft: StepDraft, write: (draft: StepDraft) => void, forget: () => void] {
  const { id } = useSession();
  const key = keyOf(id, stepId);
  const [draft, setDraft] = useState(() => read(key));
  const write = (next: StepDraft): void => {
    setDraft(next);
    kept.setItem(key, JSON.stringify(next));
  };
  return [draft, write, () => kept.removeItem(key)];
}
