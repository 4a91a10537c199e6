import { adviceFor, backupDataOf } from '../../behaviour/failover/demand.ts';
import { lossOf } from '../../behaviour/failover/usual.ts';
import type { Watch } from '../../site/failover.ts';
import { nameWorked, predict } from '../../behaviour/failover/predict.ts';
import { causeRates, failureRateOf, linesAvailability } from '../../behaviour/failover/years.ts';
import type { Line, Site } from '../../site/model.ts';
import {
  availabilityOf,
  detectionWorked,
  falseAlarmsWorked,
  missesWorked,
  returnWorked,
  togetherWorked,
  upsWorked,
  windowAlarmsWorked,
} from '../../base/worked/failover.ts';
import { availabilityWorked } from '../../base/worked/line.ts';
import type { Worked } from '../../base/worked/worked.ts';

/** The arithmetic behind a field of how a line is watched. */
export function ofWatch(site: Site, line: Line, rest: string): Worked[] {
  const watch = site.failover.watches[site.lines.indexOf(line)];
  if (!watch) return [];
  if (/^(upAfter|holdSeconds)$/.test(rest))
    return [returnWorked(watch.intervalSeconds, watch.upAfter, watch.holdSeconds)];
  if (rest.startsWith('window')) return ofWindow(watch);
  const count = Math.max(1, watch.targets.length);
  return [
    detectionWorked(watch.intervalSeconds, watch.timeoutSeconds, watch.downAfter),
    falseAlarmsWorked(lossOf(line), watch.intervalSeconds, watch.downAfter, count),
    missesWorked(40, 600, watch.intervalSeconds, watch.downAfter, count),
  ];
}

const ofWindow = ({ window, line, intervalSeconds, targets }: Watch): Worked[] =>
  window?.lossPercent === undefined
    ? []
    : [
        windowAlarmsWorked(
          lossOf(line),
          intervalSeconds,
          Math.max(1, targets.length),
          window.probes,
          window.lossPercent,
        ),
      ];

/** How long a line is out, by its own rates or typical ones. */
export function ofFailures(line: Line): Worked[] {
  const { perYear, repairHours } = failureRateOf(line);
  return [availabilityWorked(Number((availabilityOf(perYear, repairHours) * 100).toFixed(4)))];
}

/** The arithmetic behind a field of the failover part of the failover. */
export function ofFailover(site: Site, rest: string): Worked[] {
  const [part = '', place = ''] = rest.split('/');
  const { failover } = site;
  const { promises, watches } = failover;
  const [first] = watches;
  switch (part) {
    case 'promises': {
      const promise = promises.find(({ at }) => at === `/failover/promises/${place}`);
      if (!promise) return [];
      const advice = adviceFor(site, promise);
      return [predict(site, promise).worked, ...(advice ? [advice.worked] : [])];
    }
    case 'loads':
    case 'backupGigabytes': {
      const carried = backupDataOf(site);
      return carried ? [carried] : [];
    }
    case 'causes':
      return site.lines.length < 2
        ? []
        : [
            togetherWorked(
              site.lines.map((line) => linesAvailability(site, [line])),
              causeRates(site)
                .filter(({ lines }) => site.lines.every((line) => lines.includes(line)))
                .map(({ perYear, repairHours }) => availabilityOf(perYear, repairHours)),
            ),
          ];
    case 'power':
      return failover.power.wattHours === null || failover.power.loadWatts === null
        ? []
        : [upsWorked(failover.power.wattHours, failover.power.loadWatts)];
    case 'dynamicName':
    case 'ttlSeconds':
    case 'updateSeconds':
      return [nameWorked(failover.updateSeconds, failover.ttlSeconds)];
    case 'back':
    case 'backHoldSeconds':
      return first ? [returnWorked(first.intervalSeconds, first.upAfter, first.holdSeconds)] : [];
    default:
      return [];
  }
}
