import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import { step, worked } from '../../base/worked/worked.ts';

/** Rules between networks that lead nowhere. What the others open is judged by what the networks are for. */
export const separation: Check = {
  name: 'separation',
  run: (site) => [
    ...site.contradictions.map(({ own, with: service }): Finding => ({
      rule: 'row-contradicts',
      severity: 'blocker',
      at: own[0]![0],
      says: `The row names the service ${service} and another protocol or other ports beside it. It does nothing until one of the two is gone. Remove the protocol and the ports, or the service.`,
      why: worked(
        'Meaning of the row',
        null,
        '',
        [step('service', service), step('own protocol or ports', 'another')],
        'the plan itself',
      ),
      fix: {
        says: 'Keep the service, and clear what stands beside it',
        patch: own.map(([path, value]) => ({ op: 'replace' as const, path, value })),
      },
      source: 'the plan itself',
    })),
    ...site.brokenReach.map((at): Finding => ({
      rule: 'reach-dangling',
      severity: 'warning',
      at,
      says: 'A rule between networks names something that was removed or cannot be read, so it does nothing. Correct it or remove it.',
      why: worked('Ends of the rule', null, '', [step('readable', 'no')], 'the plan itself'),
      fix: { says: 'Remove the rule', patch: [{ op: 'remove', path: at }] },
      source: 'the plan itself',
    })),
  ],
};
