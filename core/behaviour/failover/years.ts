import { seeded } from '../provider-sim/stand-in.ts';
import { medium } from '../media/index.ts';
import type { FailoverPromise } from '../../site/failover.ts';
import type { Line, Site } from '../../site/model.ts';
import { availabilityOf, availabilityTogether } from '../../base/worked/failover.ts';
import { detectionOf, linesForKind, switchOf, watchOf } from './predict.ts';
import { traffic } from './traffic.ts';

/** Share of failures that take the link away; the others are noticed by probes only (common practice, no source). */
const linkShare = 0.3;
const linkSeconds = 1;
const hoursInYear = 8760;
const hoursInMonth = 730;

export interface FailureRate {
  readonly name: string;
  readonly perYear: number;
  readonly repairHours: number;
  /** The user's own figures, or typical ones. */
  readonly own: boolean;
}

export const failureRateOf = (line: Line): FailureRate => {
  const { perYear, repairHours } = line.failures;
  const usual = medium(line.medium).usualFailures;
  return {
    name: line.name,
    perYear: perYear ?? usual[0],
    repairHours: repairHours ?? usual[1],
    own: perYear !== null && repairHours !== null,
  };
};

export const causeRates = (site: Site): readonly (FailureRate & { readonly lines: readonly Line[] })[] =>
  site.failover.causes;

/** Closed form: share of the time in which at least one of the lines works (IEC 61078). */
export function linesAvailability(site: Site, lines: readonly Line[] = site.lines): number {
  const shared = causeRates(site);
  const whole = shared.filter((cause) => lines.every((line) => cause.lines.includes(line)));
  const single = (line: Line): number =>
    shared
      .filter((cause) => !whole.includes(cause) && cause.lines.includes(line))
      .reduce(
        (all, { perYear, repairHours }) => all * availabilityOf(perYear, repairHours),
        availabilityOf(failureRateOf(line).perYear, failureRateOf(line).repairHours),
      );
  return availabilityTogether(
    lines.map(single),
    whole.map(({ perYear, repairHours }) => availabilityOf(perYear, repairHours)),
  );
}

/** Upper ends of the classes of outages, in seconds; the last is open. */
export const outageClasses = [15, 45, 120, 600, 3600, 6 * 3600, Number.POSITIVE_INFINITY] as const;

/** Shares of the years at which their spread is told. */
const spreadShares = [0.05, 0.25, 0.5, 0.75, 0.95] as const;

export interface YearsResult {
  readonly years: number;
  readonly seed: number;
  readonly promise: string;
  readonly withinSeconds: number;
  readonly outages: number;
  /** Outages by length, as `outageClasses`. */
  readonly classes: readonly number[];
  /** Share of the outages within what was promised. */
  readonly kept: number;
  readonly outageMinutesPerYear: number;
  /** Minutes lost that 5, 25, 50, 75 and 95 of 100 years do not exceed. */
  readonly outageMinutesSpread: readonly number[];
  /** Share of the time in which at least one line works: drawn, and by the closed form. */
  readonly availability: number;
  readonly availabilityComputed: number;
  readonly backupGigabytesPerMonth: number;
  /** Share of the months in which the backup carries more than its cap. */
  readonly monthsBeyondCap: number;
  readonly costPerYear: number;
  readonly rates: readonly FailureRate[];
}

interface Source {
  readonly lines: readonly number[];
  readonly meanUpHours: number;
  readonly meanDownHours: number;
  /** When it fails, or is mended, next. */
  nextHours: number;
  down: boolean;
}

/**
 * Draws random years of failures for one promise: every line and every shared cause fails and is mended with
 * exponential times. Yields the share that is done, so that a caller can show it, or stop.
 */
export function* drawYears(
  site: Site,
  promise: FailoverPromise,
  years: number,
  seed: number,
): Generator<number, YearsResult> {
  const random = seeded(seed);
  const exponential = (mean: number): number => -Math.log(1 - random()) * mean;
  const between = (low: number, high: number): number => low + (high - low) * random();
  const order = linesForKind(site, promise.network, promise.kind);
  const kind = traffic[promise.kind];
  const changes = order.map((line) => ({
    detection: detectionOf(watchOf(site, line)),
    change: switchOf(line),
  }));
  const rates = [
    ...order.map(failureRateOf),
    ...causeRates(site).map(({ name, perYear, repairHours, own }) => ({ name, perYear, repairHours, own })),
  ];
  const sources = [
    ...order.map((line, index) => sourceOf(failureRateOf(line), [index])),
    ...causeRates(site).map((cause) =>
      sourceOf(
        cause,
        cause.lines.map((line) => order.indexOf(line)).filter((index) => index >= 0),
      ),
    ),
  ].filter(({ lines }) => lines.length > 0);
  for (const source of sources) source.nextHours = exponential(source.meanUpHours);
  const failed = order.map(() => 0);
  const upLine = (): number => failed.indexOf(0);

  const end = years * hoursInYear;
  const classes = outageClasses.map(() => 0);
  const yearMinutes = new Float64Array(years);
  const monthGigabytes = new Float64Array(Math.ceil(end / hoursInMonth) + 1);
  const mbps = site.failover.loads
    .filter(({ network }) => linesForKind(site, network, 'web').length > 1)
    .reduce((sum, load) => sum + load.mbps, 0);
  const holdHours = site.failover.backHoldSeconds / 3600;
  let outages = 0;
  let kept = 0;
  let using = order.length > 0 ? 0 : -1;
  let outSince: number | undefined;
  let outHours = 0;
  let backupSince: number | undefined;
  let told = 0;

  const note = (fromHours: number, seconds: number): void => {
    outages += 1;
    if (seconds <= promise.withinSeconds) kept += 1;
    classes[outageClasses.findIndex((limit) => seconds <= limit)]! += 1;
    const year = Math.min(years - 1, Math.floor(fromHours / hoursInYear));
    yearMinutes[year]! += seconds / 60;
  };
  const endBackup = (now: number, hold: number): void => {
    if (backupSince === undefined) return;
    const month = Math.min(monthGigabytes.length - 1, Math.floor(backupSince / hoursInMonth));
    monthGigabytes[month]! += ((now - backupSince + hold) * 3600 * mbps) / 8000;
    backupSince = undefined;
  };

  for (;;) {
    let source = sources[0];
    for (const each of sources) if (each.nextHours < source!.nextHours) source = each;
    if (!source || source.nextHours >= end) break;
    const now = source.nextHours;
    if (now / end - told >= 0.02) {
      told = now / end;
      yield told;
    }
    source.down = !source.down;
    source.nextHours = now + exponential(source.down ? source.meanDownHours : source.meanUpHours);
    for (const index of source.lines) failed[index]! += source.down ? 1 : -1;

    if (source.down && using >= 0 && failed[using]! > 0) {
      const before = changes[using]!;
      const next = upLine();
      endBackup(now, 0);
      if (next < 0) {
        outSince = now;
        using = -1;
      } else {
        const link = random() < linkShare;
        const found = link
          ? linkSeconds
          : before.detection
            ? between(before.detection.bestSeconds, before.detection.worstSeconds)
            : // Nobody notices: it lasts until the line is mended.
              (source.nextHours - now) * 3600;
        const { lowSeconds, highSeconds } = changes[next]!.change;
        note(now, found + between(lowSeconds, highSeconds) + random() * kind.retrySeconds);
        using = next;
        if (next > 0) backupSince = now;
      }
    } else if (!source.down && upLine() >= 0) {
      const next = upLine();
      if (using < 0) {
        outHours += now - (outSince ?? now);
        note(outSince ?? now, (now - (outSince ?? now)) * 3600 + random() * kind.retrySeconds);
        outSince = undefined;
        using = next;
        if (next > 0) backupSince = now;
      } else if (next < using) {
        if (next === 0) endBackup(now, holdHours);
        using = next;
      }
    }
  }
  if (outSince !== undefined) outHours += end - outSince;
  endBackup(end, 0);

  const sorted = [...yearMinutes].sort((a, b) => a - b);
  const backup = order[1];
  const { capGigabytes, pricePerGigabyte } = backup?.settings.cellular ?? {};
  const cap = site.failover.backupGigabytes ?? capGigabytes ?? undefined;
  let carried = 0;
  let beyond = 0;
  let months = 0;
  for (const gigabytes of monthGigabytes) {
    carried += gigabytes;
    if (cap !== undefined && gigabytes > cap) {
      months += 1;
      beyond += gigabytes - cap;
    }
  }
  return {
    years,
    seed,
    promise: promise.says,
    withinSeconds: promise.withinSeconds,
    outages,
    classes,
    kept: outages === 0 ? 1 : kept / outages,
    outageMinutesPerYear: yearMinutes.reduce((sum, each) => sum + each, 0) / years,
    outageMinutesSpread: spreadShares.map((share) => sorted[Math.floor(years * share)] ?? 0),
    availability: 1 - outHours / end,
    availabilityComputed: linesAvailability(site, order),
    backupGigabytesPerMonth: carried / (years * 12),
    monthsBeyondCap: months / (years * 12),
    costPerYear: (beyond / years) * (pricePerGigabyte ?? 0),
    rates,
  };
}

function sourceOf({ perYear, repairHours }: FailureRate, lines: readonly number[]): Source {
  return {
    lines,
    meanUpHours: perYear <= 0 ? Number.POSITIVE_INFINITY : hoursInYear / perYear,
    meanDownHours: Math.max(repairHours, 1e-6),
    nextHours: 0,
    down: false,
  };
}

/** The same in one go. */
export function years(site: Site, promise: FailoverPromise, count: number, seed: number): YearsResult {
  const run = drawYears(site, promise, count, seed);
  for (;;) {
    const step = run.next();
    if (step.done) return step.value;
  }
}
