import { adviceFor } from '../../behaviour/failover/demand.ts';
import {
  failoverPromiseSchema,
  failoverRuleSchema,
  watchTargetSchema,
  type Plan,
} from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import type { Facts, LineFacts } from '../../intake/letter/facts.ts';
import { inOrder } from './plan-lines.ts';
import type { Told } from './plan.ts';

/** Failover from the promise: what is promised to whom, what is probed, and how often, as the advisor computes it. */
export function withFailover(
  plan: Plan,
  facts: Facts,
  { newId, tell }: { newId: () => string; tell: Told },
): Plan {
  const seconds = facts.withinSeconds;
  if (plan.uplinks.length < 2 || !seconds) return plan;
  const promised = (purpose: string, kind: 'card' | 'web', says: string) =>
    plan.networks
      .filter((network) => network.purpose === purpose)
      .slice(0, 1)
      .map((network) => {
        const id = newId();
        tell(`/failover/promises/${id}/withinSeconds`, seconds.from);
        return failoverPromiseSchema.parse({
          id,
          says: `${says} within ${seconds.value} s`,
          network: network.id,
          kind,
          withinSeconds: seconds.value,
        });
      });
  const [first] = plan.uplinks;
  const guests = plan.networks.filter(({ purpose }) => purpose === 'guests');
  const rules = facts.guestsWait?.value
    ? guests.map((network) => {
        const id = newId();
        tell(`/failover/rules/${id}/lines`, facts.guestsWait!.from);
        return failoverRuleSchema.parse({
          id,
          network: network.id,
          lines: [first!.id],
          says: `${network.name} wait for ${first!.name}`,
        });
      })
    : [];
  const lines = inOrder(facts);
  const watched: Plan = {
    ...plan,
    uplinks: plan.uplinks.map((uplink, index) => ({
      ...uplink,
      watch: { ...uplink.watch, targets: targetsOf(lines[index]!, uplink.id, { newId, tell }) },
    })),
    failover: {
      ...plan.failover,
      rules: [...plan.failover.rules, ...rules],
      promises: [
        ...promised('payment', 'card', 'Card payments are back'),
        ...promised('staff', 'web', 'The office is back'),
      ],
    },
  };
  return advised(watched, tell);
}

/** What is probed over a line: hosts beyond its provider. */
function targetsOf(
  line: LineFacts,
  uplinkId: string,
  { newId, tell }: { newId: () => string; tell: Told },
): Plan['uplinks'][number]['watch']['targets'] {
  return (line.probes?.value ?? []).map((host) => {
    const id = newId();
    tell(`/uplinks/${uplinkId}/watch/targets/${id}/host`, line.probes!.from);
    return watchTargetSchema.parse({ id, method: 'ping', host });
  });
}

/** The probing that keeps the tightest promise of each first line, at the least cost. */
function advised(plan: Plan, tell: Told): Plan {
  const site = compile(plan);
  const tightest = [...site.failover.promises].sort((a, b) => a.withinSeconds - b.withinSeconds)[0];
  const setting = tightest && adviceFor(site, tightest)?.setting;
  if (!setting) return plan;
  const [first, ...others] = plan.uplinks;
  for (const key of Object.keys(setting))
    tell(
      `/uplinks/${first!.id}/watch/${key}`,
      `Usual value: computed from the promise of ${tightest.withinSeconds} s, with the fewest probes that keep it.`,
    );
  return { ...plan, uplinks: [{ ...first!, watch: { ...first!.watch, ...setting } }, ...others] };
}
