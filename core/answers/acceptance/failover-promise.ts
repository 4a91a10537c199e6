import { faultKind } from '../../behaviour/failover/faults.ts';
import type { FailoverPromise } from '../../site/failover.ts';
import { linesForKind, predict } from '../../behaviour/failover/predict.ts';
import { rehearsePromise } from '../../behaviour/failover/rehearse.ts';
import { traffic } from '../../behaviour/failover/traffic.ts';
import { numberOf } from '../../intake/readings/fields.ts';
import { gapOf } from '../../intake/readings/outage.ts';
import { valueOf } from '../../base/result.ts';
import type { Site } from '../../site/model.ts';
import { failoverPromiseId } from '../../behaviour/domain-types/promise.ts';
import type { SitePromise } from '../../behaviour/domain-types/promise.ts';
import type { Values } from '../../behaviour/domain-types/reading.ts';
import type { RungId } from '../../behaviour/domain-types/rungs.ts';
import type { RunStep } from '../../behaviour/domain-types/step.ts';

/**
 * "Back within N seconds": on paper from the way the line is watched, on the bench under six faults, on site by
 * pulling the line and timing it.
 */
export function failoverPromise(site: Site, promise: FailoverPromise): SitePromise {
  const { network, kind, withinSeconds } = promise;
  const [first, second] = linesForKind(site, network, kind);
  const prediction = predict(site, promise);
  const rehearsals = rehearsePromise(site, promise);
  const failed = rehearsals.filter(({ kept }) => !kept);
  const { protocol, destinationPort } = traffic[kind].sample;
  const label = first?.label.trim() || first?.name || 'the first line';
  return {
    id: failoverPromiseId(promise),
    kind: 'failover',
    at: promise.at,
    says: promise.says,
    needs: ['line-pulled', 'fail-back'],
    outside: false,
    withinSeconds,
    ladder: [
      {
        rung: 'light',
        says: `${second?.name ?? 'The backup'} is on standby; its light shows no more than that.`,
      },
      { rung: 'ping-number', says: 'Each target answers over its own line.' },
      { rung: 'line-pulled', says: `${label} is pulled, and the gap is ${withinSeconds} s or less.` },
      { rung: 'fail-back', says: `${label} is plugged in, and traffic goes back without help.` },
      { rung: 'power-cut', says: 'Everything loses power, and comes back without a hand.' },
    ],
    paper: {
      kept: prediction.worstSeconds !== undefined && prediction.worstSeconds <= withinSeconds,
      says:
        prediction.worstSeconds === undefined
          ? prediction.says
          : `${traffic[kind].title} of ${network.name} are back after ${prediction.worstSeconds} s at worst.`,
      question: `from ${network.name} to internet ${protocol} ${destinationPort}${first ? ` when ${first.name} is down` : ''}`,
    },
    bench: {
      kept: rehearsals.length > 0 && failed.length === 0,
      says:
        rehearsals.length === 0
          ? 'There is no line on which a fault could be rehearsed.'
          : failed.length === 0
            ? `Kept under ${rehearsals.length} faults; the longest gap was ${Math.max(...rehearsals.map((each) => each.longestGap))} s.`
            : `Not kept: ${failed.map((each) => `${faultKind(each.kind).title}, ${each.longestGap} s`).join('; ')}.`,
    },
  };
}

/** Why a timed change does not count for a promise, or undefined where it does. */
export function gapRefusal(
  promise: SitePromise,
  rung: RungId,
  step: RunStep | undefined,
  values: Values,
  reading: string,
): string | undefined {
  if (promise.withinSeconds === undefined || (rung !== 'line-pulled' && rung !== 'fail-back'))
    return undefined;
  const field = step?.fields.find(({ key }) => key === 'gap');
  const gap = field ? valueOf(numberOf(field, values.gap ?? '')) : gapOf(reading);
  if (gap === undefined) return 'the gap was not noted in seconds: a change that nobody timed proves nothing';
  // The way back may take its time; it has to have been seen.
  return rung === 'line-pulled' && gap > promise.withinSeconds
    ? `it took ${gap} s, and ${promise.withinSeconds} s were promised`
    : undefined;
}
