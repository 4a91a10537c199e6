import type { Line, Site } from '../../site/model.ts';
import type { FaultKind, ScriptedFault } from './faults.ts';
import type { FailoverPromise } from '../../site/failover.ts';
import { detectionOf, linesForKind, switchOf, watchOf } from './predict.ts';
import { simulate } from './simulate.ts';

/** The faults every promise has to survive on the bench: those that a pulled cable alone does not show are among them. */
const rehearsed: readonly (readonly [FaultKind, number])[] = [
  ['pull', 0],
  ['beyond', 0],
  ['resolver', 0],
  ['loss', 40],
  ['flapping', 25],
  ['reboot', 0],
];

export interface Rehearsal {
  readonly kind: FaultKind;
  readonly longestGap: number;
  readonly kept: boolean;
}

const startSeconds = 60;

/** Lets the six faults happen to the first line of a promise, one after the other, and measures the longest gap. */
export function rehearsePromise(site: Site, promise: FailoverPromise, seed = 1): Rehearsal[] {
  const [first] = linesForKind(site, promise.network, promise.kind);
  if (!first) return [];
  const forSeconds = Math.max(180, 2 * promise.withinSeconds);
  return rehearsed.map(([kind, amount]) => {
    const fault: ScriptedFault = { kind, line: first.id, atSeconds: startSeconds, forSeconds, amount };
    const run = simulate(site, {
      faults: [fault],
      untilSeconds: startSeconds + forSeconds + 30,
      seed,
    });
    const { longestGap = 0, kept = true } = run.promises.find(({ id }) => id === promise.id) ?? {};
    return { kind, longestGap, kept };
  });
}

/** What a running ping may show when a line is pulled, or dies beyond the first hop: from and to, in seconds. */
export function pingRange(
  site: Site,
  line: Line,
  backup: Line,
  how: 'pull' | 'beyond',
): { readonly fromSeconds: number; readonly toSeconds: number } | undefined {
  const watch = watchOf(site, line);
  const change = switchOf(backup);
  if (how === 'pull' && watch.carrier) return { fromSeconds: 0, toSeconds: 1 + change.highSeconds + 1 };
  const found = detectionOf(watch);
  return (
    found && {
      fromSeconds: Math.round((found.bestSeconds + change.lowSeconds - 1) * 10) / 10,
      toSeconds: Math.round((found.worstSeconds + change.highSeconds + 1) * 10) / 10,
    }
  );
}
