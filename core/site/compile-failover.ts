import { sameAddress, type Address } from '../base/net/address.ts';
import { parseHost } from '../base/net/identifiers.ts';
import { contains } from '../base/net/prefix.ts';
import type { FailoverValues, Plan } from '../plan/schema.ts';
import { valueOf } from '../base/result.ts';
import type { Failover, TargetReach, Watch } from './failover.ts';
import type { Line, Network } from './model.ts';

/** How far along the line a target stands: what is near answers although the internet is gone. */
function reachOf(
  line: Line,
  host: Address | undefined,
  typed: string,
  networks: readonly Network[],
): TargetReach {
  if (typed.trim() === '') return 'unset';
  if (!host) return 'beyond';
  if (networks.some(({ prefix }) => prefix && contains(prefix, host))) return 'inside';
  const { box, gateway, prefix, resolvers } = line;
  const own = [line.address, line.lineAddress].some((each) => sameAddress(each, host));
  if (own) return 'inside';
  if (box?.address && sameAddress(box.address, host)) return 'box';
  if (box?.prefix && contains(box.prefix, host)) return 'box';
  if (gateway && sameAddress(gateway, host)) return 'first-hop';
  if (prefix && contains(prefix, host)) return 'provider';
  return resolvers.some((each) => sameAddress(each, host)) ? 'provider' : 'beyond';
}

/** How a line is watched. */
function compileWatch(line: Line, networks: readonly Network[]): Watch {
  const { windowProbes, windowLossPercent, windowDelayMs, targets, ...figures } = line.watch;
  const at = `${line.at}/watch` as const;
  return {
    ...figures,
    at,
    line,
    targets: targets.map(({ method, host: typed, pinned }, index) => {
      const host = valueOf(parseHost(typed));
      return {
        at: `${at}/targets/${index}`,
        method,
        name: typed.trim() || 'no target yet',
        host,
        reach: reachOf(line, host, typed, networks),
        pinned,
      };
    }),
    window:
      windowProbes !== null && (windowLossPercent !== null || windowDelayMs !== null)
        ? {
            probes: windowProbes,
            lossPercent: windowLossPercent ?? undefined,
            delayMs: windowDelayMs ?? undefined,
          }
        : undefined,
  };
}

/** Resolves what the plan says about the day a line fails. */
export function compileFailover(
  settings: FailoverValues,
  lines: readonly Line[],
  networks: readonly Network[],
  typed: Plan['failover'],
): Failover {
  const networkOf = (id: string): Network | undefined => networks.find((each) => each.id === id);
  const linesOf = (ids: readonly string[]): Line[] =>
    ids.flatMap((id) => lines.find((each) => each.id === id) ?? []);
  const { rules, promises, causes, loads, fixedServices, ...rest } = settings;
  return {
    ...rest,
    watches: lines.map((line) => compileWatch(line, networks)),
    rules: rules.map((rule, index) => ({
      at: `/failover/rules/${index}`,
      network: networkOf(rule.network),
      protocol: rule.protocol,
      ports: rule.ports,
      lines: linesOf(rule.lines),
      says: rule.says,
    })),
    promises: promises.flatMap(({ id, says, network: named, kind, withinSeconds }, index) => {
      const network = networkOf(named) ?? networks[0];
      return network && withinSeconds !== null
        ? [
            {
              at: `/failover/promises/${index}`,
              id,
              says: says || `${network.name} is back within ${withinSeconds} s`,
              network,
              kind,
              withinSeconds,
            },
          ]
        : [];
    }),
    unfigured: promises.flatMap(({ says, withinSeconds }, index) =>
      withinSeconds === null ? [{ at: `/failover/promises/${index}`, says }] : [],
    ),
    causes: causes.map(({ name, kind, uplinks, perYear, repairHours }, index) => ({
      at: `/failover/causes/${index}`,
      name: name || kind,
      kind,
      lines: linesOf(uplinks),
      perYear,
      repairHours,
      own: typed.causes[index]!.perYear !== null && typed.causes[index]!.repairHours !== null,
    })),
    loads: loads.flatMap((load, index) => {
      const network = networkOf(load.network);
      return network && load.mbps !== null
        ? [{ at: `/failover/loads/${index}`, network, mbps: load.mbps }]
        : [];
    }),
    fixed: fixedServices.map((service, index) => ({
      at: `/failover/fixedServices/${index}`,
      name: service.name || 'a service outside',
      network: networkOf(service.network),
      ports: service.ports,
    })),
  };
}
