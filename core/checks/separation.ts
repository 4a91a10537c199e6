import type { Check, Finding } from '../terms/finding.ts';
import { practice, step, worked } from '../worked/worked.ts';

/** Allowances between networks that undo the reason for having two. */
export const separation: Check = {
  name: 'separation',
  run: (site) => {
    const found: Finding[] = [];
    for (const at of site.brokenReach)
      found.push({
        rule: 'reach-dangling',
        severity: 'warning',
        at,
        says: 'An exception between networks refers to something that was removed, so it allows nothing. Correct it or remove it.',
        why: worked('Ends of the allowance', null, '', [step('readable', 'no')], 'the plan itself'),
        fix: { says: 'Remove the allowance', patch: [{ op: 'remove', path: at }] },
        source: 'the plan itself',
      });
    for (const rule of site.reach) {
      const { at } = rule;
      const guests = rule.from.purpose === 'guests';
      const payment = rule.to.purpose === 'payment';
      if (rule.device || (!guests && !payment)) continue;
      found.push({
        rule: guests ? 'guests-inside' : 'payment-open',
        severity: guests ? 'blocker' : 'warning',
        at,
        says: guests
          ? `Everybody on ${rule.from.name} may reach everything on ${rule.to.name}: visitors' devices are strangers. Allow one device and service, or nothing.`
          : `All of ${rule.from.name} may reach all of ${rule.to.name}, which draws ${rule.from.name} into the scope of every check on payments. Allow one device and service.`,
        why: worked(
          'What is allowed',
          'all',
          '',
          [
            step('from', rule.from.name),
            step('to', rule.to.name),
            step('devices', 'all'),
            step('services', 'all'),
          ],
          practice,
        ),
        fix: { says: 'Remove the allowance', patch: [{ op: 'remove', path: at }] },
        source: practice,
      });
    }
    return found;
  },
};
