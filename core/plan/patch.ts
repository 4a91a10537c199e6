import jsonPatch, { type Operation } from 'fast-json-patch';
import { parsePlan } from './read.ts';
import type { Plan } from './schema.ts';
import type { Result } from '../base/result.ts';

/** A change to a plan: RFC 6902 operations with RFC 6901 pointers. */
export type Patch = readonly Operation[];

/** Applies a patch to a copy of the plan. A patch that does not fit the plan is refused as a whole. */
export function applyPatch(plan: Plan, patch: Patch): Result<Plan> {
  try {
    const changed = jsonPatch.applyPatch(plan, [...patch], true, false).newDocument;
    return parsePlan(changed);
  } catch (error) {
    const says = error instanceof Error ? error.message.split('\n')[0] : 'it does not fit';
    return {
      ok: false,
      problem: { code: 'patch', says: `The change does not fit this plan any more: ${says}.` },
    };
  }
}
