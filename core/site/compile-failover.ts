import type { Failover, TargetReach, WatchTarget } from '../failover/model.ts';
import { usualWatch } from '../failover/model.ts';
import { parseAddress, sameAddress, type Address } from '../net/address.ts';
import { parsePorts } from '../net/ports.ts';
import { contains } from '../net/prefix.ts';
import type { Plan } from '../plan/schema.ts';
import { bad, ok, type Result } from '../result.ts';
import type { FormReader } from './form-reader.ts';
import type { Line, Network } from './model.ts';

const nameForm = /^[\p{L}\p{N}]([\p{L}\p{N}-]{0,62})(\.[\p{L}\p{N}-]{1,63})+$/u;

/** An address, or a name that has to be looked up first. */
function parseHost(text: string): Result<Address | undefined> {
  const typed = text.trim();
  if (nameForm.test(typed) && !/^[\d.]+$/.test(typed)) return ok(undefined);
  const parsed = parseAddress(typed);
  return parsed.ok
    ? parsed
    : bad('host', `"${typed}" is neither an address nor a name such as time.example.`);
}

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

/** Reads the failover part of a plan; figures nobody set are the usual ones. */
export function compileFailover(
  plan: Plan,
  lines: readonly Line[],
  networks: readonly Network[],
  form: FormReader,
): Failover {
  const settings = plan.failover;
  const networkOf = (id: string): Network | undefined => networks.find((each) => each.id === id);
  const linesOf = (ids: readonly string[]): Line[] =>
    ids.flatMap((id) => lines.find((each) => each.id === id) ?? []);
  return {
    plan: settings,
    watches: lines.map((line) => {
      const { watch } = line.plan;
      const at = `${line.at}/watch`;
      const { windowProbes, windowLossPercent, windowDelayMs } = watch;
      return {
        at,
        line,
        targets: watch.targets.map((target, index): WatchTarget => {
          const place = `${at}/targets/${index}`;
          const host = form.read(`${place}/host`, 'Target', target.host, parseHost, false);
          return {
            at: place,
            method: target.method,
            name: target.host.trim() || 'no target yet',
            host,
            reach: reachOf(line, host, target.host, networks),
            pinned: target.pinned,
          };
        }),
        intervalSeconds: watch.intervalSeconds ?? usualWatch.intervalSeconds,
        timeoutSeconds: watch.timeoutSeconds ?? usualWatch.timeoutSeconds,
        downAfter: Math.round(watch.downAfter ?? usualWatch.downAfter),
        upAfter: Math.round(watch.upAfter ?? usualWatch.upAfter),
        holdSeconds: watch.holdSeconds ?? usualWatch.holdSeconds,
        window:
          windowProbes !== null && (windowLossPercent !== null || windowDelayMs !== null)
            ? {
                probes: Math.round(windowProbes),
                lossPercent: windowLossPercent ?? undefined,
                delayMs: windowDelayMs ?? undefined,
              }
            : undefined,
        carrier: watch.carrier,
      };
    }),
    rules: settings.rules.map((rule, index) => ({
      at: `/failover/rules/${index}`,
      network: networkOf(rule.network),
      protocol: rule.protocol,
      ports: form.read(`/failover/rules/${index}/ports`, 'Ports', rule.ports, parsePorts, false),
      lines: linesOf(rule.lines),
      says: rule.says,
    })),
    promises: settings.promises.flatMap((promise, index) => {
      const network = networkOf(promise.network) ?? networks[0];
      return network && promise.withinSeconds !== null
        ? [
            {
              at: `/failover/promises/${index}`,
              id: promise.id,
              says: promise.says || `${network.name} is back within ${promise.withinSeconds} s`,
              network,
              kind: promise.kind,
              withinSeconds: promise.withinSeconds,
            },
          ]
        : [];
    }),
    causes: settings.causes.map((cause, index) => ({
      at: `/failover/causes/${index}`,
      name: cause.name || cause.kind,
      kind: cause.kind,
      lines: linesOf(cause.uplinks),
      perYear: cause.perYear ?? undefined,
      repairHours: cause.repairHours ?? undefined,
    })),
    loads: settings.loads.flatMap((load, index) => {
      const network = networkOf(load.network);
      return network && load.mbps !== null
        ? [{ at: `/failover/loads/${index}`, network, mbps: load.mbps }]
        : [];
    }),
    fixed: settings.fixedServices.map((service, index) => ({
      at: `/failover/fixedServices/${index}`,
      name: service.name || 'a service outside',
      network: networkOf(service.network),
      ports: form.read(`/failover/fixedServices/${index}/ports`, 'Ports', service.ports, parsePorts, false),
    })),
    ownResolvers: form.readAll('/failover/ownResolvers', 'Resolvers', settings.ownResolvers, parseAddress),
  };
}
