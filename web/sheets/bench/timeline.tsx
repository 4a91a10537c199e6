import { useState } from 'react';
import Button from '@mui/material/Button';
import type { Lane, SimulationRun } from '../../../core/index.ts';

/** Seconds as "4:05" from the start of the run. */
export const clockOf = (seconds: number): string =>
  `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`;

/** The drawing is this wide, whatever the screen: strokes and hatches keep their weight. */
const width = 1000;
const laneHeight = 22;

/** Which mark a state gets: the height tells as much as the colour. */
const marks: Record<string, string> = {
  good: 'fine',
  works: 'fine',
  up: 'fine',
  doubt: 'doubt',
  limping: 'doubt',
  slow: 'doubt',
  starting: 'waiting',
  holding: 'waiting',
  dead: 'out',
  down: 'out',
  broken: 'out',
};
const heights: Record<string, number> = { fine: 3, doubt: 10, waiting: 10, out: 18, other: 14 };

interface Span {
  readonly from: number;
  readonly to: number;
}

/** Stretches that are worth a closer look: the first change, the way back, and everything. */
function views({ events, flows, lanes, untilSeconds, faults }: SimulationRun): (readonly [string, Span])[] {
  const begins = Math.min(...faults.map(({ atSeconds }) => atSeconds), untilSeconds);
  const gap = Math.max(
    20,
    ...flows
      .filter(({ stillBroken }) => !stillBroken)
      .map(({ longestGap }) => (longestGap < 120 ? longestGap : 0)),
  );
  const active = lanes.find(({ kind }) => kind === 'active')?.segments ?? [];
  const back = active.at(-1);
  const all = ['The whole run', { from: 0, to: untilSeconds }] as const;
  const change = [
    'Switching over',
    { from: Math.max(0, begins - 10), to: Math.min(untilSeconds, begins + 2 * gap + 15) },
  ] as const;
  if (events.length === 0) return [all];
  return back && active.length > 2 && back.from > begins + 60
    ? [
        all,
        change,
        ['Switching back', { from: Math.max(0, back.from - 90), to: Math.min(untilSeconds, back.from + 30) }],
      ]
    : [all, change];
}

/** Steps of a scale that a person can read: 1, 2, 5, 10, 15, 30 s, minutes. */
const ticksOf = ({ from, to }: Span): number[] => {
  const step =
    [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 1800, 3600].find((each) => (to - from) / each <= 10) ?? 7200;
  const first = Math.ceil(from / step) * step;
  return Array.from({ length: Math.floor((to - first) / step) + 1 }, (_, index) => first + index * step);
};

/** The run as a strip chart: lines, the router's opinion of them, and what every flow of traffic sees. */
export function Timeline({
  run,
  at,
  moveTo,
}: {
  run: SimulationRun;
  at: number;
  moveTo: (at: number) => void;
}) {
  const offered = views(run);
  const [chosen, setChosen] = useState(1);
  const [, span] = offered[Math.min(chosen, offered.length - 1)]!;
  const x = (seconds: number): number =>
    Math.min(width, Math.max(0, ((seconds - span.from) / Math.max(0.001, span.to - span.from)) * width));
  const cursor = Math.min(span.to, Math.max(span.from, at));
  /** Goes to an event; where it is outside the view, the whole run is shown. */
  const goTo = (moment: number): void => {
    if (moment < span.from || moment > span.to) setChosen(0);
    moveTo(moment);
  };
  const before = run.events.filter((event) => event.at < at - 0.001).at(-1);
  const after = run.events.find((event) => event.at > at + 0.001);
  return (
    <div className="timeline">
      <div className="timeline-tools">
        {offered.map(([title], index) => (
          <Button
            key={title}
            aria-pressed={index === Math.min(chosen, offered.length - 1)}
            className={index === Math.min(chosen, offered.length - 1) ? 'chosen' : ''}
            onClick={() => {
              setChosen(index);
              moveTo(offered[index]![1].from);
            }}
          >
            {title}
          </Button>
        ))}
        <span className="timeline-steps">
          <Button disabled={!before} onClick={() => before && goTo(before.at)}>
            Event before
          </Button>
          <Button disabled={!after} onClick={() => after && goTo(after.at)}>
            Next event
          </Button>
        </span>
      </div>
      <div
        className="timeline-lanes"
        role="img"
        aria-label={`What happened between ${clockOf(span.from)} and ${clockOf(span.to)}`}
      >
        {run.lanes.map((lane) => (
          <LaneRow key={lane.id} lane={lane} span={span} x={x} cursor={cursor} />
        ))}
        <div className="timeline-row timeline-scale">
          <span />
          <svg viewBox={`0 0 ${width} 20`} preserveAspectRatio="none" aria-hidden="true" />
          <span className="timeline-ticks" aria-hidden="true">
            {ticksOf(span).map((tick) => (
              <span key={tick} className="mono" style={{ left: `${x(tick) / 10}%` }}>
                {clockOf(tick)}
              </span>
            ))}
          </span>
        </div>
      </div>
      <p className="quiet timeline-legend">
        A thin stroke works; a band is slow or in doubt; dashes are coming up or held; in a box nothing
        passes.
      </p>
      <label className="timeline-scrub">
        <span className="mono">{clockOf(cursor)}</span>
        <input
          type="range"
          aria-label="Time"
          min={span.from}
          max={span.to}
          step={Math.max(0.1, Math.round((span.to - span.from) / 60) / 10)}
          value={cursor}
          onChange={({ target }) => moveTo(Number(target.value))}
        />
      </label>
    </div>
  );
}

function LaneRow({
  lane,
  span,
  x,
  cursor,
}: {
  lane: Lane;
  span: Span;
  x: (seconds: number) => number;
  cursor: number;
}) {
  const middle = laneHeight / 2;
  return (
    <div className={`timeline-row timeline-${lane.kind}`}>
      <span className="timeline-name">{lane.name}</span>
      <svg viewBox={`0 0 ${width} ${laneHeight}`} preserveAspectRatio="none" aria-hidden="true">
        {lane.segments
          .filter(({ from, to }) => to > span.from && from < span.to)
          .map((segment) => {
            const mark =
              lane.kind === 'active'
                ? segment.state === ''
                  ? 'out'
                  : 'other'
                : (marks[segment.state] ?? 'other');
            const height = heights[mark]!;
            return (
              <rect
                key={segment.from}
                className={`mark-${mark}`}
                x={x(segment.from)}
                width={Math.max(0.8, x(segment.to) - x(segment.from))}
                y={middle - height / 2}
                height={height}
              />
            );
          })}
        <line x1={x(cursor)} x2={x(cursor)} y1={0} y2={laneHeight} className="timeline-cursor" />
      </svg>
      <span className="timeline-words" aria-hidden="true">
        {lane.segments
          .filter(
            ({ from, to, state }) =>
              to > span.from && from < span.to && (lane.kind === 'active' || marks[state] === 'out'),
          )
          .map((segment) => {
            const left = x(segment.from);
            const room = x(segment.to) - left;
            const words =
              lane.kind === 'active'
                ? segment.says
                : lane.kind === 'flow'
                  ? `${Math.round((segment.to - segment.from) * 10) / 10} s`
                  : segment.says;
            // About seven units a letter: words that do not fit are left to the moment below.
            return room > 8 * words.length + 8 ? (
              <span key={segment.from} style={{ left: `${left / 10}%`, width: `${room / 10}%` }}>
                {words}
              </span>
            ) : null;
          })}
      </span>
    </div>
  );
}

/** What every lane says at one moment, and the last thing that happened. */
export function Moment({ run, at }: { run: SimulationRun; at: number }) {
  const said = (lane: Lane): string =>
    (lane.segments.find(({ from, to }) => from <= at + 0.001 && at + 0.001 < to) ?? lane.segments.at(-1))
      ?.says ?? '';
  const last = run.events.filter((event) => event.at <= at + 0.001).at(-1);
  return (
    <section className="moment" aria-label="At this moment">
      <p>
        <strong className="mono">{clockOf(at)}</strong>{' '}
        {last ? (
          <>
            {last.says} <span className="quiet mono">({Math.round((at - last.at) * 10) / 10} s ago)</span>
          </>
        ) : (
          'Nothing has happened yet.'
        )}
      </p>
      <dl>
        {run.lanes.map((lane) => (
          <div key={lane.id} className={`moment-${lane.kind}`}>
            <dt>{lane.name}</dt>
            <dd>{said(lane)}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
