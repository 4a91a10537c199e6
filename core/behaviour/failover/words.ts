import type { Site } from '../../site/model.ts';
import { adviceFor } from './demand.ts';
import { linesForKind, predict } from './predict.ts';

const methods = { ping: 'ping', name: 'DNS query', tcp: 'TCP connect', http: 'HTTP' } as const;
const counts = ['no target', 'one target', 'two targets', 'three targets', 'four targets'] as const;

/**
 * How a line is monitored, in a sentence: what is probed, how often, when it counts as down and as up, and by which
 * promise that was set.
 */
export function watchText(site: Site, index: number): string {
  const watch = site.failover.watches[index];
  if (!watch) return '';
  const { targets, intervalSeconds, downAfter, holdSeconds } = watch;
  if (targets.length === 0)
    return `Probes nothing: a line that has link and carries nothing is used on. Probing every ${intervalSeconds} s would begin with a target.`;
  const named = targets.map(({ name, method }) => `${name} (${methods[method]})`).join(' and ');
  const setBy = promiseBehind(site, index);
  return `Probes ${counts[targets.length] ?? `${targets.length} targets`}, ${named}, every ${intervalSeconds} s: down after ${downAfter} lost, back after ${holdSeconds} s good${setBy}`;
}

/** The promise that the figures of a line serve: they were set by it where they are what the advisor would set. */
function promiseBehind(site: Site, index: number): string {
  const watch = site.failover.watches[index]!;
  const line = site.lines[index]!;
  const promises = site.failover.promises.filter(
    (promise) => linesForKind(site, promise.network, promise.kind)[0] === line,
  );
  const tightest = [...promises].sort((a, b) => a.withinSeconds - b.withinSeconds)[0];
  if (!tightest) return '.';
  const setting = adviceFor(site, tightest)?.setting;
  const same =
    setting && (Object.keys(setting) as (keyof typeof setting)[]).every((key) => setting[key] === watch[key]);
  if (same) return `: set by the promise of ${tightest.withinSeconds} s.`;
  const { worstSeconds } = predict(site, tightest);
  if (worstSeconds === undefined) return '.';
  return worstSeconds <= tightest.withinSeconds
    ? `: keeps the promise of ${tightest.withinSeconds} s, ${worstSeconds} s at worst.`
    : `: too slow for the promise of ${tightest.withinSeconds} s, ${worstSeconds} s at worst.`;
}
