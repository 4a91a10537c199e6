import type { Network, Site } from '../../site/model.ts';
import type { RunStep } from '../../behaviour/domain-types/step.ts';

export type Span = readonly [lowSeconds: number, highSeconds: number];

/** How long a network stands still during the visit, all interruptions together. */
export interface Outage {
  readonly network: Network;
  readonly span: Span;
  /** Titles of the steps in which it does. */
  readonly during: readonly string[];
}

export interface VisitSummary {
  /** For one person, from the first step to the end of the last wait. */
  readonly total: Span;
  /** Hands at work; the rest of the total is walking and waiting. */
  readonly work: Span;
  readonly outages: readonly Outage[];
  /** The step after which the old way is gone; undefined where nothing is taken away. */
  readonly noReturn: RunStep | undefined;
  /** Putting the old router back: how long it takes. */
  readonly wayBack: Span;
}

/** Plug the old router in, let it start and hold its line again (common practice, no source). */
const wayBack: Span = [300, 900];

const add = (a: Span, b: Span): Span => [a[0] + b[0], a[1] + b[1]];

/** What a visit costs: hours for one person, minutes of outage for each network, and until when there is a way back. */
export function summaryOf(site: Site, steps: readonly RunStep[]): VisitSummary {
  const total: Span = [
    Math.max(0, ...steps.map(({ times }) => times.end[0])),
    Math.max(0, ...steps.map(({ times }) => times.end[1])),
  ];
  const work = steps.reduce<Span>(
    (sum, { times }) => add(sum, [times.free[0] - times.start[0], times.free[1] - times.start[1]]),
    [0, 0],
  );
  // From the moment the old router is off until a page opens, the networks stand still.
  const off = steps.find(({ id }) => id === 'old-off');
  const outages = site.networks.flatMap((network): Outage[] => {
    const during = steps.filter(({ id, interrupts }) => id !== 'old-off' && interrupts.includes(network.id));
    let span = during.reduce<Span>(
      (sum, { lowSeconds, highSeconds }) => add(sum, [lowSeconds, highSeconds]),
      [0, 0],
    );
    const again = steps.find(({ id }) => id === `internet:${network.id}`);
    if (off && again)
      span = add(span, [
        Math.max(0, again.times.end[0] - off.times.start[0]),
        Math.max(0, again.times.end[1] - off.times.start[1]),
      ]);
    const titles = [...(off && again ? [off.title] : []), ...during.map(({ title }) => title)];
    return titles.length === 0 ? [] : [{ network, span, during: titles }];
  });
  return { total, work, outages, noReturn: off, wayBack };
}

/** Seconds since midnight of "14:30"; undefined where it is no time of day. */
export function timeOfDay(text: string): number | undefined {
  const found = /^([01]?\d|2[0-3])[:.h]([0-5]\d)$/.exec(text.trim());
  return found ? Number(found[1]) * 3600 + Number(found[2]) * 60 : undefined;
}

/** "14:05" of seconds since midnight, on the next day too. */
export function timeOfDayText(seconds: number): string {
  const minutes = Math.floor(seconds / 60);
  const day = Math.floor(minutes / 1440);
  const text = `${String(Math.floor(minutes / 60) % 24).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;
  return day === 0 ? text : `${text}, ${day === 1 ? 'the next day' : `${day} days later`}`;
}
