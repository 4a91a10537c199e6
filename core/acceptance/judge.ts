import { formatAddress, parseAddress, sameAddress } from '../net/address.ts';
import { classify, reachableFromOutside } from '../net/classify.ts';
import { contains } from '../net/prefix.ts';
import { runSheet } from '../runsheet/sheet.ts';
import { stepStates, type SiteRecord } from '../runsheet/record.ts';
import type { RunStep } from '../terms/step.ts';
import type { Site } from '../site/model.ts';
import { admits } from '../site/allowed.ts';
import { judgeReading } from '../readings/judge.ts';
import { valueOf } from '../result.ts';
import { forwardPromiseId } from '../terms/promise.ts';
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
  /** It does not count for its reading only: somebody may let it be, with a name and a reason. */
  readonly waivable: boolean;
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

interface Given {
  readonly record: SiteRecord;
  readonly rung: RungId;
  /** The step by which it was seen; undefined where it was noted on its own. */
  readonly step: RunStep | undefined;
  /** Somebody let a bad reading be, for a reason. */
  readonly waived: SiteRecord | undefined;
}

/** Weighs the records of a site against its promises. Nothing is accepted while one thing that it needs was not seen. */
export function acceptance(
  site: Site,
  records: readonly SiteRecord[],
  steps: readonly RunStep[] = runSheet(site),
): Accepted[] {
  const gathered = gather(records, steps);
  return promisesOf(site).map((promise) => judge(site, promise, gathered.get(promise.id) ?? []));
}

/** Evidence for each promise: given on its own, or by a step that is still ticked. */
function gather(records: readonly SiteRecord[], steps: readonly RunStep[]): Map<string, Given[]> {
  const waivers = new Map(
    records.filter(({ kind }) => kind === 'waive').map((record) => [record.subject, record]),
  );
  const found = new Map<string, Given[]>();
  const add = (promise: string, record: SiteRecord, rung: RungId, step?: RunStep): void => {
    const given = { record, rung, step, waived: waivers.get(String(record.id)) };
    found.set(promise, [...(found.get(promise) ?? []), given]);
  };
  for (const record of records)
    if (record.kind === 'evidence' && record.rung) add(record.subject, record, record.rung);
  const states = stepStates(records);
  for (const step of steps) {
    const state = states.get(step.id);
    if (!state?.done || !state.last) continue;
    for (const { promise, rung } of step.evidence) add(promise, state.last, rung, step);
  }
  return found;
}

function judge(site: Site, promise: SitePromise, given: readonly Given[]): Accepted {
  const weighed = given.map((each) => weigh(site, promise, each));
  const counting = weighed.filter((each) => each.counts);
  const best = [...counting].sort((a, b) => strengthOf(b.rung) - strengthOf(a.rung))[0];
  const open = promise.needs.filter((need) => !counting.some(({ rung }) => rung === need));
  const accepted = open.length === 0 && promise.paper.kept;
  return {
    promise,
    evidence: weighed,
    best,
    accepted,
    missing: accepted ? '' : whatIsMissing(promise, weighed, best, open),
  };
}

function weigh(site: Site, promise: SitePromise, given: Given): Weighed {
  const { record, rung } = given;
  const title = rungOf(rung).title;
  const not = (says: string, waivable = false): Weighed => ({ record, rung, counts: false, says, waivable });
  const { outside } = rungOf(rung);
  if (outside !== promise.outside)
    return not(
      outside
        ? `${title}: a test from outside says nothing about the way out`
        : `${title}: a test from inside never proves reach from outside`,
    );
  const from = outside
    ? (outsideRefusal(site, record.seenFrom) ?? listRefusal(site, promise, given))
    : undefined;
  if (from !== undefined) return not(from);
  // Where the other end saw it from is a reading of its own.
  if (!outside && record.reading.trim() === '')
    return not(
      `${title}: nothing was written down${given.step?.reading ? ` (${lower(given.step.reading)})` : ''}`,
    );
  const bad = gapRefusal(promise, rung, record.reading) ?? badReading(site, given);
  const seen = outside ? `${title}, from ${record.seenFrom.trim()}` : title;
  if (bad === undefined) return { record, rung, counts: true, says: seen, waivable: false };
  const { waived } = given;
  return waived
    ? {
        record,
        rung,
        counts: true,
        says: `${seen}: ${bad}. ${waived.initials} let it be: ${waived.reading}`,
        waivable: false,
      }
    : not(bad, true);
}

/** What the judge of readings says of a wrong one. */
function badReading(site: Site, { record, step, rung }: Given): string | undefined {
  // A timed change is held against what was promised; that it was expected sooner is for the step to say.
  const verdict = step && rung !== 'line-pulled' ? judgeReading(site, step.id, record.reading) : undefined;
  return verdict?.kind === 'bad' ? `the reading is wrong: ${verdict.says.replace(/\.$/, '')}` : undefined;
}

/** Tries of a limited forward: one from an allowed source, and one from another, which must be refused. */
function listRefusal(site: Site, promise: SitePromise, { record, rung }: Given): string | undefined {
  const forward = site.forwards.find((each) => forwardPromiseId(each) === promise.id);
  const host = valueOf(parseAddress(record.seenFrom));
  if (!forward || !host || forward.allowed.kind !== 'some') return undefined;
  const allowed = admits(forward.allowed, host);
  if (rung === 'outside-refused' && allowed)
    return `${formatAddress(host)} is an allowed source: the try has to come from another one`;
  return rung === 'outside-port' && !allowed
    ? `${formatAddress(host)} is no allowed source: that it answers there would be wrong`
    : undefined;
}

const lower = (text: string): string => text.slice(0, 1).toLowerCase() + text.slice(1);

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
  open: readonly RungId[],
): string {
  if (!promise.paper.kept) return `It does not work on paper: ${promise.paper.says}`;
  const wanted = open.map((rung) => rungOf(rung).title).join('; ');
  const refused = weighed.filter(({ counts }) => !counts);
  // What was refused says most where it is about something that is still needed.
  const last = refused.findLast(({ rung }) => open.includes(rung)) ?? (best ? undefined : refused.at(-1));
  if (last) return `Not counted: ${last.says}. Still needed: ${wanted}.`;
  return best ? `So far only ${best.says}. Still needed: ${wanted}.` : `Still needed: ${wanted}.`;
}
