import type { Line, Site } from '../../site/model.ts';
import { advise, type Advice } from './advisor.ts';
import type { FailoverPromise } from '../../site/failover.ts';
import { linesForKind, predict, switchOf, watchOf } from './predict.ts';
import { delayOf, lossOf } from './usual.ts';
import { failureRateOf } from './years.ts';
import { availabilityOf, backupDataWorked } from '../../base/worked/failover.ts';
import type { Worked } from '../../base/worked/worked.ts';
import { traffic } from './traffic.ts';

/** Probes never take more of a backup's data than this share (common practice, no source). */
const probeShare = 0.05;

export const falseAllowed = (site: Site): number => site.failover.falsePerMonth;

/** Data that the backup may carry in a month: what was asked for, or what its contract has. */
export const capOf = (site: Site, backup: Line | undefined): number | undefined =>
  site.failover.backupGigabytes ?? backup?.settings.cellular.capGigabytes ?? undefined;

/** How the first line of a promise should be watched so that the promise is kept, at the least cost. */
export function adviceFor(site: Site, promise: FailoverPromise): Advice | undefined {
  const [first, second] = linesForKind(site, promise.network, promise.kind);
  if (!first || !second) return undefined;
  const now = predict(site, promise);
  const watch = watchOf(site, first);
  const detected = watch.downAfter * watch.intervalSeconds + watch.timeoutSeconds;
  const afterSeconds =
    now.worstSeconds === undefined
      ? switchOf(second).highSeconds + traffic[promise.kind].retrySeconds
      : Math.round((now.worstSeconds - detected) * 10) / 10;
  const cap = capOf(site, second);
  return advise({
    withinSeconds: promise.withinSeconds,
    falsePerMonth: falseAllowed(site),
    // The first line has no cap as a rule; where it has one, probes keep to their share.
    probeGigabytes: site.lines.indexOf(first) === 0 || cap === undefined ? 1000 : cap * probeShare,
    lossPercent: lossOf(first),
    delayMs: delayOf(first),
    targets: Math.max(1, watch.targets.length),
    afterSeconds,
  });
}

/** What the backup is expected to carry in a month, or undefined where nobody said what it carries. */
export function backupDataOf(site: Site): Worked<number> | undefined {
  const [first, backup] = site.lines;
  if (!first || !backup || site.failover.loads.length === 0) return undefined;
  const { perYear, repairHours } = failureRateOf(first);
  const holdHours = site.failover.backHoldSeconds / 3600;
  const hours = (1 - availabilityOf(perYear, repairHours)) * 730 + (perYear / 12) * holdHours;
  const carried = site.failover.loads.filter(({ network }) =>
    linesForKind(site, network, 'web').includes(backup),
  );
  const watch = watchOf(site, backup);
  return backupDataWorked({
    hours: Math.round(hours * 100) / 100,
    mbps: Math.round(carried.reduce((sum, { mbps }) => sum + mbps, 0) * 100) / 100,
    probeSeconds: watch.targets.length === 0 ? 0 : watch.intervalSeconds,
    targets: watch.targets.length,
    capGigabytes: capOf(site, backup),
    pricePerGigabyte: backup.settings.cellular.pricePerGigabyte ?? undefined,
  });
}
