import type { Check } from '../terms/finding.ts';
import { step, worked } from '../worked/worked.ts';

/** Rules between networks that lead nowhere. What the others open is judged by what the networks are for. */
export const separation: Check = {
  name: 'separation',
  run: (site) =>
    site.brokenReach.map((at) => ({
      rule: 'reach-dangling',
      severity: 'warning',
      at,
      says: 'A rule between networks names something that was removed or cannot be read, so it does nothing. Correct it or remove it.',
      why: worked('Ends of the rule', null, '', [step('readable', 'no')], 'the plan itself'),
      fix: { says: 'Remove the rule', patch: [{ op: 'remove', path: at }] },
      source: 'the plan itself',
    })),
};
