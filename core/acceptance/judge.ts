import { formatAddress, parseAddress, sameAddress } from '../net/address.ts';
import { classify, reachableFromOutside } from '../net/classify.ts';
import { contains } from '../net/prefix.ts';
import { runSheet } from '../runsheet/sheet.ts';
import { stepStates, type SiteRecord } from '../runsheet/record.ts';
import type { RunStep } from '../terms/step.ts';
import type { Site } from '../site/model.ts';
import { gapRefusal } from './failover-promise.ts';
import { promisesOf } from './promises.ts';
import type { SitePromise } from '../terms/promise.ts';
import { rungOf, strengthOf, type RungId } from '../terms/rungs.ts';

/** One piece of evidence and what it is worth for the promise. */
export interface Weighed {
  readonly record: SiteRecord;
  readonly rung: RungId;
  readonly counts: boolean;
  readonly says: string;
}

export interface Accepted {
  readonly promise: SitePromise;
  readonly evidence: readonly Weighed[];
  /** The strongest evidence that counts. */
  readonly best: Weighed | undefined;
  readonly accepted: boolean;
  /** What is still missing, or empty. */
  readonly missing: string;
}

/** Weighs the records of a site against its promises. Nothing is accepted below its least rung. */
export function acceptance(
  site: Site,
  records: readonly SiteRecord[],
  steps: readonly RunStep[] = runSheet(site),
): Accepted[] {
  const gathered = gather(records, steps);
  return promisesOf(site).map((promise) => judge(site, promise, gathered.get(promise.id) ?? []));
}

/** Evidence for each promise: given on its own, or by a step that is still ticked. */
function gather(
  records: readonly SiteRecord[],
  steps: readonly RunStep[],
): Map<string, { record: SiteRecord; rung: RungId }[]> {
  const found = new Map<string, { record: SiteRecord; rung: RungId }[]>();
  const add = (promise: string, record: SiteRecord, rung: RungId): void => {
    found.set(promise, [...(found.get(promise) ?? []), { record, rung }]);
  };
  for (const record of records)
    if (record.kind === 'evidence' && record.rung) add(record.subject, record, record.rung);
  const states = stepStates(records);
  for (const step of steps) {
    const state = states.get(step.id);
    if (!state?.done || !state.last) continue;
    for (const { promise, rung } of step.evidence) add(promise, state.last, rung);
  }
  return found;
}

function judge(
  site: Site,
  promise: SitePromise,
  evidence: readonly { record: SiteRecord; rung: RungId }[],
): Accepted {
  const weighed = evidence.map(({ record, rung }) => weigh(site, promise, record, rung));
  const best = weighed
    .filter((each) => each.counts)
    .sort((a, b) => strengthOf(b.rung) - strengthOf(a.rung))[0];
  const enough = best !== undefined && strengthOf(best.rung) >= strengthOf(promise.least);
  const accepted = enough && promise.paper.kept;
  return {
    promise,
    evidence: weighed,
    best,
    accepted,
    missing: accepted ? '' : whatIsMissing(promise, weighed, best, enough),
  };
}

function weigh(site: Site, promise: SitePromise, record: SiteRecord, rung: RungId): Weighed {
  const title = rungOf(rung).title;
  if (!promise.outside) {
    if (!rungOf(rung).outside) {
      const late = gapRefusal(promise, rung, record.reading);
      return { record, rung, counts: late === undefined, says: late ?? title };
    }
    return {
      record,
      rung,
      counts: false,
      says: `${title}: a test from outside says nothing about the way out`,
    };
  }
  if (!rungOf(rung).outside)
    return {
      record,
      rung,
      counts: false,
      says: `${title}: a test from inside never proves reach from outside`,
    };
  const refusal = outsideRefusal(site, record.seenFrom);
  return {
    record,
    rung,
    counts: refusal === undefined,
    says: refusal ?? `${title}, from ${record.seenFrom.trim()}`,
  };
}

/** Why an address is no proof that the test came from outside; undefined where it is one. */
export function outsideRefusal(site: Site, seenFrom: string): string | undefined {
  if (seenFrom.trim() === '')
    return 'the address the test came from is not noted, so it may have come from inside';
  const parsed = parseAddress(seenFrom);
  if (!parsed.ok) return `the address the test came from cannot be read: ${parsed.problem.says}`;
  const host = parsed.value;
  const own = site.lines.find(
    (line) =>
      (line.publicAddressKnown && sameAddress(line.publicAddress, host)) ||
      (line.addressKnown && sameAddress(line.address, host)),
  );
  if (own)
    return `${formatAddress(host)} is this site's own address on ${own.name}: the test came from inside`;
  const inside = site.prefixes.find(({ prefix, role }) => role !== 'line' && contains(prefix, host));
  if (inside) return `${formatAddress(host)} is on ${inside.name}: the test came from inside`;
  const name = classify(host).class;
  if (!reachableFromOutside(name) && name !== 'carrier-shared')
    return `${formatAddress(host)} is ${name}: the address seen by the other end is wanted, not the one on the device`;
  return undefined;
}

function whatIsMissing(
  promise: SitePromise,
  weighed: readonly Weighed[],
  best: Weighed | undefined,
  enough: boolean,
): string {
  if (!promise.paper.kept) return `It does not work on paper: ${promise.paper.says}`;
  const wanted = rungOf(promise.least).title;
  if (enough) return '';
  const last = weighed.at(-1);
  if (last && !last.counts) return `Not counted: ${last.says}. Still needed: ${wanted}.`;
  return best ? `So far only ${best.says}. Still needed: ${wanted}.` : `Still needed: ${wanted}.`;
}
