import { formatAddress, type Address } from '../net/address.ts';
import { formatPrefix, maskText, type Prefix } from '../net/prefix.ts';
import { laptopAddress } from '../worked/addresses.ts';
import type { Site } from '../site/model.ts';
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

/** Where the router is managed from, before and after its inside address changes. */
export interface AdminPlace {
  /** Address the new box answers on; undefined where nobody noted it. */
  readonly factory: string | undefined;
  /** Fixed address for the laptop in the new box's network, as "192.168.1.254, mask 255.255.255.0". */
  readonly factoryLaptop: string | undefined;
  /** Address after the change. */
  readonly planned: string | undefined;
  readonly plannedLaptop: string | undefined;
  /** The address changes, so the session ends there. */
  readonly changes: boolean;
}

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

function adminPlace(site: Site): AdminPlace {
  const { factory, adminNetwork } = site.router;
  const planned = adminNetwork?.routerAddress;
  const laptop = (router: Address, prefix: Prefix): string | undefined => {
    const chosen = laptopAddress(router, prefix);
    return (
      chosen &&
      `${formatAddress(chosen)}, ${prefix.family === 4 ? `mask ${maskText(prefix.length)}` : `prefix length ${prefix.length}`}`
    );
  };
  return {
    factory: factory && formatAddress(factory.host),
    factoryLaptop: factory && laptop(factory.host, factory.prefix),
    planned: planned && formatAddress(planned),
    plannedLaptop: planned && adminNetwork.prefix && laptop(planned, adminNetwork.prefix),
    changes:
      !factory ||
      !planned ||
      factory.host.value !== planned.value ||
      (adminNetwork?.prefix !== undefined &&
        formatPrefix(factory.prefix) !== formatPrefix(adminNetwork.prefix)),
  };
}
