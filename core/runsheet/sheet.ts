import type { Site } from '../site/model.ts';
import { adminPlace } from './admin-place.ts';
import { failoverSteps } from './failover.ts';
import { firstContact } from './first-contact.ts';
import { insideSteps } from './inside.ts';
import { inOrder } from './order.ts';
import { prepare } from './prepare.ts';
import { proofSteps } from './proof.ts';
import { ruleSteps } from './rules.ts';
import type { RunStep, Session, StepDraft } from '../terms/step.ts';
import { uplinkSteps } from './uplink.ts';
import { vpnSteps } from './vpn.ts';

/**
 * The steps for this plan, in an order in which each comes after what it needs. The inside address changes once,
 * as the last thing done on the old address and before anything is plugged into an uplink.
 */
export function runSheet(site: Site): RunStep[] {
  const place = adminPlace(site);
  const drafts = [
    ...prepare(site),
    ...firstContact(site, place),
    ...insideSteps(site, place),
    ...uplinkSteps(site),
    ...ruleSteps(site),
    ...failoverSteps(site),
    ...vpnSteps(site),
    ...proofSteps(site),
  ];
  let session: Session = { kind: 'none' };
  return inOrder(drafts.map(complete)).map((step) => {
    if (step.id === 'laptop') session = { kind: 'none' };
    if (step.id === 'first-login') session = { kind: 'router', address: place.factory ?? 'as on its label' };
    if (step.id === 'reconnect') session = { kind: 'router', address: place.planned ?? 'as planned' };
    return { ...step, session };
  });
}

const complete = (draft: StepDraft): RunStep => ({
  needs: [],
  entries: [],
  lowSeconds: 0,
  highSeconds: 0,
  cautions: [],
  reading: '',
  evidence: [],
  session: { kind: 'none' },
  ...draft,
});
