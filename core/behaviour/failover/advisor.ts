import { detection, falseAlarms } from '../../base/worked/failover.ts';
import { arithmetic, equals, figure, shown, step, type Worked, worked } from '../../base/worked/worked.ts';

/** What is promised, and what the line was measured to do. */
export interface Demand {
  readonly withinSeconds: number;
  readonly falsePerMonth: number;
  /** Data that probes may use in a month. */
  readonly probeGigabytes: number;
  readonly lossPercent: number;
  readonly delayMs: number;
  readonly targets: number;
  /** What comes after the line is found dead: the change, names, the next try. */
  readonly afterSeconds: number;
}

export interface Advice {
  readonly setting:
    | {
        readonly intervalSeconds: number;
        readonly timeoutSeconds: number;
        readonly downAfter: number;
        readonly upAfter: number;
        readonly holdSeconds: number;
      }
    | undefined;
  readonly worked: Worked;
  /** The setting in words, or the demand that makes it impossible. */
  readonly says: string;
}

const intervals = [60, 30, 20, 15, 10, 5, 3, 2, 1] as const;
const timeouts = [0.2, 0.3, 0.5, 1, 1.5, 2, 3, 5, 8] as const;
const counts = [2, 3, 4, 5, 6, 7, 8, 9, 10] as const;
/** Bytes of an echo and its answer in IPv4 (RFC 791, RFC 792). */
const probeBytes = 168;

const monthly = (intervalSeconds: number, targets: number): number =>
  ((2_592_000 / intervalSeconds) * targets * probeBytes) / 1e9;

/** The cheapest monitoring that keeps a promise: the fewest probes, then the fewest false alarms. */
export function advise(demand: Demand): Advice {
  const { withinSeconds, falsePerMonth, probeGigabytes, lossPercent, delayMs, targets, afterSeconds } =
    demand;
  // An answer that is three times as late as usual is still an answer.
  const timeout = timeouts.find((each) => each * 1000 >= 3 * delayMs) ?? timeouts.at(-1)!;
  const left = withinSeconds - afterSeconds;
  const dead = hopeless(demand);
  const fast = (interval: number, count: number): boolean =>
    detection(interval, timeout, count).worstSeconds <= left;
  const alarms = (interval: number, count: number): number =>
    falseAlarms(lossPercent, interval, count, targets);
  const head = [
    step('promised', `${withinSeconds} s`),
    step('switchover, DNS, next try', `${figure(afterSeconds)} s`),
    step('left to find it down', `${withinSeconds} - ${figure(afterSeconds)} ${equals(left)} s`),
    step('probe timeout', `3 × ${delayMs} ms, so ${timeout} s`),
  ];
  for (const interval of dead === undefined ? intervals : []) {
    if (monthly(interval, targets) > probeGigabytes) continue;
    const fitting = counts.filter(
      (count) => fast(interval, count) && alarms(interval, count) <= falsePerMonth,
    );
    const count = fitting.at(-1);
    if (count === undefined) continue;
    const { worstSeconds } = detection(interval, timeout, count);
    const holdSeconds = Math.max(60, 6 * interval);
    const upAfter = Math.max(3, Math.ceil(20 / interval));
    return {
      setting: {
        intervalSeconds: interval,
        timeoutSeconds: timeout,
        downAfter: count,
        upAfter,
        holdSeconds,
      },
      says: `Probe interval ${interval} s, probe timeout ${timeout} s, down after ${count} failures in a row, up after ${upAfter} answers in a row, hold ${holdSeconds} s before switching back.`,
      worked: worked(
        'Cheapest monitoring that keeps it',
        interval,
        's between probes',
        [
          ...head,
          step('found down after at worst', `${count} × ${interval} + ${timeout} = ${worstSeconds} s`),
          step(
            'false alarms',
            `${shown(alarms(interval, count), '', 3)} in 30 days, ${falsePerMonth} allowed`,
          ),
          step('probes', `${shown(monthly(interval, targets), 'GB')} in 30 days`),
          step('probe interval', `${interval} s`),
        ],
        `RFC 5880 section 6.8.4; ${arithmetic}`,
      ),
    };
  }
  const says = dead ?? whyNot(demand, left, timeout, fast, alarms);
  return {
    setting: undefined,
    says,
    worked: worked(
      'No monitoring keeps it',
      'impossible',
      '',
      [...head, step('why', says)],
      `RFC 5880 section 6.8.4; ${arithmetic}`,
    ),
  };
}

/** Why no probe tells anything on such a line; undefined where probes do. */
function hopeless({ lossPercent, delayMs, targets }: Demand): string | undefined {
  if ((lossPercent / 100) ** targets > 0.5)
    return `At ${lossPercent} % loss most probes are lost: the line is down, and no way of monitoring changes that. Have it repaired first.`;
  const slowest = timeouts.at(-1)!;
  return 3 * delayMs > slowest * 1000
    ? `A round trip of ${delayMs} ms is longer than any probe waits (${slowest} s are the most, three times the delay is wanted): have the line repaired first.`
    : undefined;
}

function whyNot(
  demand: Demand,
  left: number,
  timeout: number,
  fast: (interval: number, count: number) => boolean,
  alarms: (interval: number, count: number) => number,
): string {
  const { withinSeconds, afterSeconds, falsePerMonth, probeGigabytes, lossPercent, targets } = demand;
  if (left <= 0)
    return `The change alone takes ${figure(afterSeconds)} s, more than the ${withinSeconds} s promised: keep the backup up, or promise more time.`;
  if (!fast(1, 2))
    return `Even a probe every second, two lost in a row, needs ${detection(1, timeout, 2).worstSeconds} s, and ${figure(left)} s are left: promise more time.`;
  const quick = intervals.flatMap((interval) =>
    counts.filter((count) => fast(interval, count)).map((count) => [interval, count] as const),
  );
  const calm = quick.filter(([interval, count]) => alarms(interval, count) <= falsePerMonth);
  if (calm.length === 0) {
    const best = Math.min(...quick.map(([interval, count]) => alarms(interval, count)));
    return `At ${lossPercent} % loss the calmest of the fast settings still leaves the line ${figure(best, 1)} times a month for nothing, ${falsePerMonth} allowed: have the line repaired, add a probe target, or promise more time.`;
  }
  const least = Math.min(...calm.map(([interval]) => monthly(interval, targets)));
  return `Probes would use ${figure(least)} GB a month over this line, ${probeGigabytes} allowed: fewer targets, more data, or more time.`;
}
