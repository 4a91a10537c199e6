import { practice, step, worked } from '../../base/worked/worked.ts';
import type { WanType } from '../type.ts';

/** Nobody knows yet. A job with such a line cannot be handed over. */
export const wanType: WanType<'unknown'> = {
  name: 'unknown',
  says: 'Say below what comes into the building and what the paperwork has: the likely types are ranked, and the call sheet has the questions.',
  check: (line) => [
    {
      rule: 'uplink-unknown',
      severity: 'blocker',
      at: `${line.at}/type`,
      says: `The WAN type of ${line.name} is not known yet, so it cannot be configured. Choose the likeliest type, or call the provider with the call sheet.`,
      why: worked('WAN type', 'unknown', '', [step('WAN type', 'unknown')], practice),
      source: practice,
    },
  ],
  workings: () => [],
  entries: () => [],
  bringUp: () => ({
    lowSeconds: 0,
    highSeconds: 0,
    proof: 'The type is known and this step says what to enter.',
    ifNot: 'Do not guess on site: wrong tries can lock an account.',
    cautions: ['The kind of this line is not known yet: settle that before you drive out.'],
  }),
  stack: [],
  nextHop: 'offered',
  uses: () => [],
  clues: [],
};
