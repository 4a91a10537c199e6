import { secondsOf } from '../../base/days.ts';
import { median } from '../../base/worked/line.ts';
import type { SiteRecord } from './record.ts';

/** How long a kind of step took on earlier jobs. */
export interface LearntTime {
  readonly lowSeconds: number;
  readonly medianSeconds: number;
  readonly highSeconds: number;
  /** Times on which it rests. */
  readonly count: number;
}

/** By the first part of a step's id. */
export type Learnt = Readonly<Record<string, LearntTime>>;

/** Fewer times than this are chance. */
const fewest = 3;
/** Longer between two ticks is a break, a journey or another day. */
const longestSeconds = 2 * 3600;
/** Ticks that follow one another faster were made afterwards, at a desk. */
const shortestSeconds = 3;

const secondsBetween = (from: string, to: string): number => (secondsOf(to) ?? 0) - (secondsOf(from) ?? 0);

/** What is known of a record that times are learnt from. */
export type StepMoment = Pick<SiteRecord, 'kind' | 'subject' | 'at'>;

/** What each step of one site took: from its timer, or from the tick before it, to its own tick. */
export function durationsOf(records: readonly StepMoment[]): { kind: string; seconds: number }[] {
  const timers = new Map<string, string>();
  const seen = new Set<string>();
  let before: string | undefined;
  return records.flatMap(({ kind, subject, at }) => {
    if (kind === 'timer') timers.set(subject, at);
    if (kind !== 'tick') return [];
    const from = timers.get(subject) ?? before;
    const first = !seen.has(subject);
    seen.add(subject);
    before = at;
    const seconds = from === undefined ? 0 : secondsBetween(from, at);
    return first && seconds >= shortestSeconds && seconds <= longestSeconds
      ? [{ kind: subject.split(':')[0]!, seconds: Math.round(seconds) }]
      : [];
  });
}

const quantile = (sorted: readonly number[], share: number): number =>
  sorted[Math.min(sorted.length - 1, Math.round(share * (sorted.length - 1)))]!;

/** Median and spread (first and ninth tenth) of each kind of step over earlier jobs; kinds with few times are left out. */
export function learntFrom(durations: readonly { kind: string; seconds: number }[]): Learnt {
  const kinds = new Map<string, number[]>();
  for (const { kind, seconds } of durations) kinds.set(kind, [...(kinds.get(kind) ?? []), seconds]);
  return Object.fromEntries(
    [...kinds].flatMap(([kind, all]) => {
      if (all.length < fewest) return [];
      const sorted = [...all].sort((a, b) => a - b);
      return [
        [
          kind,
          {
            lowSeconds: quantile(sorted, 0.1),
            medianSeconds: Math.round(median(sorted)),
            highSeconds: quantile(sorted, 0.9),
            count: all.length,
          },
        ],
      ];
    }),
  );
}
