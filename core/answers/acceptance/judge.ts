import { addressesIn } from '../../base/net/find.ts';
import { contains } from '../../base/net/prefix.ts';
import { emptyFields } from '../../intake/readings/fields.ts';
import { judgeValues } from '../../intake/readings/judge.ts';
import { outsideRefusal, sourceRefusal } from '../../intake/readings/outside.ts';
import { runSheet } from '../run-sheet/sheet.ts';
import { stepStates, valuesOf, type SiteRecord } from '../run-sheet/record.ts';
import type { Site } from '../../site/model.ts';
import { forwardPromiseId, type SitePromise } from '../../behaviour/domain-types/promise.ts';
import type { Values } from '../../behaviour/domain-types/reading.ts';
import { rungOf, strengthOf, type RungId } from '../../behaviour/domain-types/rungs.ts';
import type { RunStep } from '../../behaviour/domain-types/step.ts';
import { gapRefusal } from './failover-promise.ts';
import { changedUnder, partTitle } from './parts.ts';
import { promisesOf } from './promises.ts';

/** One piece of evidence and what it is worth for the promise. */
export interface Weighed {
  readonly record: SiteRecord;
  readonly rung: RungId;
  readonly counts: boolean;
  readonly says: string;
  /** It does not count for its reading only: somebody may let it be, with a name and a reason. */
  readonly waivable: boolean;
  /** It counted once, and what it proves changed afterwards: how. */
  readonly stale?: string;
}

export interface Accepted {
  readonly promise: SitePromise;
  readonly evidence: readonly Weighed[];
  /** The strongest evidence that counts. */
  readonly best: Weighed | undefined;
  readonly accepted: boolean;
  /** Evidence that it still needs. */
  readonly open: readonly RungId[];
  /** What is still missing, or empty. */
  readonly missing: string;
}

/** Evidence that fell and is still needed: nothing else has taken its place. */
export const fallenOf = ({ evidence, open }: Accepted): Weighed[] =>
  evidence.filter(({ stale, rung }) => stale !== undefined && open.includes(rung));

interface Given {
  readonly record: SiteRecord;
  readonly rung: RungId;
  /** The step by which it was seen; undefined where it was noted on its own. */
  readonly step: RunStep | undefined;
  /** Somebody let a bad reading be, for a reason. */
  readonly waived: SiteRecord | undefined;
}

/** What all records are weighed against. */
interface Scale {
  readonly site: Site;
  /** Number of the record by which the firmware was last loaded; 0 where nobody said so. */
  readonly firmware: SiteRecord | undefined;
}

/** Weighs the records of a site against its promises. Nothing is accepted while one thing that it needs was not seen. */
export function acceptance(
  site: Site,
  records: readonly SiteRecord[],
  steps: readonly RunStep[] = runSheet(site),
): Accepted[] {
  const gathered = gather(records, steps);
  const loaded = stepStates(records).get('firmware');
  const scale: Scale = {
    site,
    firmware: loaded?.done ? loaded.last : undefined,
  };
  return promisesOf(site).map((promise) => judge(scale, promise, gathered.get(promise.id) ?? []));
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

function judge(scale: Scale, promise: SitePromise, given: readonly Given[]): Accepted {
  const weighed = given.map((each) => fallen(scale, promise, each) ?? weigh(scale.site, promise, each));
  const counting = weighed.filter((each) => each.counts);
  const best = [...counting].sort((a, b) => strengthOf(b.rung) - strengthOf(a.rung))[0];
  const open = promise.needs.filter((need) => !counting.some(({ rung }) => rung === need));
  const accepted = open.length === 0 && promise.paper.kept;
  return {
    promise,
    evidence: weighed,
    best,
    accepted,
    open,
    missing: accepted ? '' : whatIsMissing(promise, weighed, best, open),
  };
}

/** Evidence of what was changed afterwards is evidence of something else. */
function fallen(scale: Scale, promise: SitePromise, { record, rung, step }: Given): Weighed | undefined {
  const changed = changedUnder(scale.site, record.parts, promise);
  const loaded = scale.firmware;
  const why =
    changed.length > 0
      ? `${changed.map((part) => partTitle(scale.site, part)).join(' and ')} changed afterwards`
      : loaded && loaded.id > record.id && record.parts !== undefined && step?.phase !== 'first contact'
        ? 'firmware was loaded afterwards'
        : undefined;
  return why === undefined
    ? undefined
    : { record, rung, counts: false, says: `${rungOf(rung).title}: ${why}`, waivable: false, stale: why };
}

function weigh(site: Site, promise: SitePromise, given: Given): Weighed {
  const { record, rung, step } = given;
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
  const values = step ? valuesOf(step, record) : {};
  // A record of before there were fields never named its device.
  const empty = step
    ? emptyFields(step.fields, values).filter(({ key }) => record.values !== undefined || key !== 'from')
    : [];
  if (step && empty.length > 0)
    return not(`${title}: nothing was written down (${lower(empty.map(({ label }) => label).join('; '))})`);
  // Where the other end saw it from is a reading of its own.
  if (!outside && !step && record.reading.trim() === '') return not(`${title}: nothing was written down`);
  const elsewhere = step ? undefined : placeRefusal(site, promise, record.reading);
  if (elsewhere !== undefined) return not(`${title}: ${elsewhere}`);
  const bad = gapRefusal(promise, rung, step, values, record.reading) ?? badReading(site, given, values);
  const seen = outside ? `${title}, from ${record.seenFrom.trim()}` : title;
  if (bad === undefined) return { record, rung, counts: true, says: seen, waivable: false };
  const { waived } = given;
  return waived
    ? {
        record,
        rung,
        counts: true,
        says: `${seen}: ${bad}. ${waived.initials} waived it: ${waived.reading}`,
        waivable: false,
      }
    : not(bad, true);
}

/** Evidence that was noted on its own tells its network by the address of the device on which it was seen. */
function placeRefusal(site: Site, { id, kind }: SitePromise, reading: string): string | undefined {
  const own = id.slice(id.indexOf(':') + 1);
  const network =
    kind === 'failover'
      ? site.failover.promises.find((each) => each.id === own)?.network
      : kind === 'internet' || kind === 'apart'
        ? site.networks.find((each) => each.id === own)
        : undefined;
  const { prefix } = network ?? {};
  if (!prefix) return undefined;
  const hosts = addressesIn(reading);
  if (hosts.some((host) => contains(prefix, host))) return undefined;
  return hosts.length > 0
    ? `it was not taken on ${network!.name}`
    : `the address of the device is not written down, so it may have been taken on another network than ${network!.name}`;
}

/** What the judge of readings says of a wrong one. */
function badReading(site: Site, { step, rung }: Given, values: Values): string | undefined {
  if (!step) return undefined;
  // A timed change is held against what was promised; that it was expected sooner is for the step to say.
  const wrong = judgeValues(site, step, values).find(
    ({ key, verdict }) => verdict.kind === 'bad' && !(rung === 'line-pulled' && key === 'gap'),
  );
  return wrong && `the reading is wrong: ${wrong.verdict.says.replace(/\.$/, '')}`;
}

function listRefusal(site: Site, promise: SitePromise, { record, rung }: Given): string | undefined {
  const forward = site.forwards.find((each) => forwardPromiseId(each) === promise.id);
  return (
    forward && sourceRefusal(forward, record.seenFrom, rung === 'outside-refused' ? 'refused' : 'answered')
  );
}

const lower = (text: string): string => text.slice(0, 1).toLowerCase() + text.slice(1);

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
