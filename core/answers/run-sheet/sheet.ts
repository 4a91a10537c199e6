import type { Site } from '../../site/model.ts';
import type { RunStep, Session, StepDraft } from '../../behaviour/domain-types/step.ts';
import { adminPlace } from './admin-place.ts';
import { cablingSteps } from './cabling.ts';
import { clockStep } from './clock.ts';
import { failoverSteps } from './failover.ts';
import { finishSteps } from './finish.ts';
import { firstContact } from './first-contact.ts';
import { insideSteps } from './inside.ts';
import { ofKind } from './job-kinds.ts';
import type { Learnt } from './learnt.ts';
import { natureOf } from '../../behaviour/domain-types/nature.ts';
import { prepare } from './prepare.ts';
import { proofSteps } from './proof.ts';
import { reachOf } from './reach.ts';
import { ruleSteps } from './rules.ts';
import { secondSteps } from './second.ts';
import { criticalPath, searchOrder, timesOf, type Task } from './search.ts';
import { uplinkSteps } from './uplink.ts';
import { vpnSteps } from './vpn.ts';
import { wifiSteps } from './wifi.ts';

/**
 * The steps for this plan, in the order in which one person is done soonest and never cut off: each after what it
 * needs, waits beside work of the hands, each line measured while it alone carries the traffic. `learnt` has the
 * times of earlier jobs; `today` (ISO 8601) the year by which zones change their clocks.
 */
export function runSheet(site: Site, learnt: Learnt = {}, today = ''): RunStep[] {
  const place = adminPlace(site);
  const drafts = [
    ...prepare(site),
    ...firstContact(site, place),
    ...insideSteps(site, place),
    ...cablingSteps(site),
    ...wifiSteps(site),
    ...secondSteps(site),
    ...uplinkSteps(site),
    ...ruleSteps(site),
    clockStep(site, Number(today.slice(0, 4)) || firstYear),
    ...failoverSteps(site),
    ...vpnSteps(site),
    ...proofSteps(site),
    ...finishSteps(site),
  ];
  const steps = ofKind(site, drafts).map((draft) => complete(site, draft, learnt));
  const ids = new Set(steps.map(({ id }) => id));
  const { order } = searchOrder(steps.map((step) => ({ ...taskOf(step, ids, 'middle'), step })));
  return placed(
    site,
    order.map(({ step }) => step),
  );
}

/** Work of an order, and the times of each step in it, at its quickest and at its slowest. */
export function placed(site: Site, order: readonly RunStep[]): RunStep[] {
  const place = adminPlace(site);
  const ids = new Set(order.map(({ id }) => id));
  const [low, high] = (['low', 'high'] as const).map((which) =>
    timesOf(order.map((step) => taskOf(step, ids, which))),
  );
  const critical = new Set(criticalPath(high!));
  const reach = reachOf(site, place);
  const up = new Set<string>();
  let session: Session = { kind: 'none' };
  return order.map((step, index) => {
    if (step.id === 'first-login') session = { kind: 'router', address: place.factory ?? 'as on its label' };
    if (step.id === 'reconnect') session = { kind: 'router', address: place.planned ?? 'as planned' };
    const [a, b] = [low![index]!, high![index]!];
    const here = { ...step, session };
    const answer = reach(here, up);
    const [kind, id = ''] = step.id.split(':');
    if (kind === 'uplink') up.add(id);
    return {
      ...here,
      reach: answer,
      times: {
        start: [a.start, b.start],
        free: [a.free, b.free],
        end: [a.end, b.end],
        critical: critical.has(step.id),
      },
    };
  });
}

/** Where nobody says which year it is. */
const firstYear = 2026;

const shares = { low: 0, middle: 0.5, high: 1 } as const;

function taskOf(step: RunStep, ids: ReadonlySet<string>, which: keyof typeof shares): Task {
  // What is done only where something fails is no part of what the visit takes.
  const seconds = step.optional ? 0 : step.lowSeconds + (step.highSeconds - step.lowSeconds) * shares[which];
  const waitSeconds = Math.round(seconds * step.waitShare);
  return {
    id: step.id,
    needs: step.needs.filter((need) => ids.has(need)),
    handSeconds: Math.round(seconds) - waitSeconds,
    waitSeconds,
    busy: step.busy,
    uses: step.uses,
    place: step.place,
    group: step.group,
    phase: step.phase,
  };
}

/** What every step of a phase comes after: nothing is entered into a box that is not ours yet. */
const gates: Partial<Record<RunStep['phase'], readonly string[]>> = {
  inside: ['remote-admin-off'],
  uplink: ['remote-admin-off', 'reconnect'],
  rules: ['remote-admin-off', 'reconnect'],
  proof: ['remote-admin-off', 'reconnect'],
  finish: ['save'],
};

function complete(site: Site, { nature, ...draft }: StepDraft, learnt: Learnt): RunStep {
  const known = learnt[draft.id.split(':')[0]!];
  return {
    optional: false,
    entries: [],
    // Reading a step and ticking it takes a moment, however little is to do.
    lowSeconds: 10,
    highSeconds: 30,
    cautions: [],
    fields: [],
    evidence: [],
    session: { kind: 'none' },
    reach: { kind: 'none' },
    times: { start: [0, 0], free: [0, 0], end: [0, 0], critical: false },
    ...natureOf(site, nature),
    ...draft,
    needs: [...(draft.needs ?? []), ...(draft.phase in gates ? gates[draft.phase]! : [])],
    ...(known && { lowSeconds: known.lowSeconds, highSeconds: known.highSeconds }),
    learntFrom: known?.count ?? 0,
  };
}
