import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import type { RunStep } from '../../../core/index.ts';
import '../../parts/step.css';

/** Seconds as "4:05". */
const clock = (seconds: number): string =>
  `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`;

/** Seconds since a moment. It counts from the recorded start, so a reload or a closed laptop changes nothing. */
function useElapsed(startedAt: string | undefined): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    if (startedAt === undefined) return undefined;
    const timer = setInterval(() => setNow(Date.now()), 500);
    return () => clearInterval(timer);
  }, [startedAt]);
  return startedAt === undefined ? 0 : Math.max(0, (now - Date.parse(startedAt)) / 1000);
}

const wordOf = ({ lowSeconds, highSeconds }: RunStep, elapsed: number): string =>
  elapsed < lowSeconds
    ? `wait at least ${clock(lowSeconds - elapsed)} more`
    : elapsed <= highSeconds
      ? `may be ready; give it up to ${clock(highSeconds - elapsed)} more`
      : `overdue by ${clock(elapsed - highSeconds)}: look under "If it fails"`;

/** A wait that is timed. */
export function Timer({
  step,
  startedAt,
  start,
}: {
  step: RunStep;
  startedAt: string | undefined;
  start: () => void;
}) {
  const elapsed = useElapsed(startedAt);
  if (startedAt === undefined)
    return (
      <p className="timer">
        <Button onClick={start}>Start the timer</Button>
      </p>
    );
  return (
    <div className="timer">
      <span className="mono timer-clock" role="timer">
        {clock(elapsed)}
      </span>
      <progress max={step.highSeconds} value={Math.min(elapsed, step.highSeconds)} aria-label="Time waited" />
      <span className={elapsed > step.highSeconds ? 'timer-overdue' : ''}>{wordOf(step, elapsed)}</span>
    </div>
  );
}

/** Every timer that runs, whatever step is open: what is overdue is said. */
export function TimerStrip({
  running,
  startedAt,
  open,
}: {
  running: readonly RunStep[];
  startedAt: (step: RunStep) => string;
  open: (step: RunStep) => void;
}) {
  if (running.length === 0) return null;
  return (
    <ul className="timer-strip" aria-label="Timers">
      {running.map((step) => (
        <li key={step.id}>
          <RunningTimer step={step} startedAt={startedAt(step)} open={() => open(step)} />
        </li>
      ))}
    </ul>
  );
}

function RunningTimer({ step, startedAt, open }: { step: RunStep; startedAt: string; open: () => void }) {
  const elapsed = useElapsed(startedAt);
  return (
    <button type="button" className="timer-chip" onClick={open}>
      <span className="mono">{clock(elapsed)}</span> {step.title}
      <span className={elapsed > step.highSeconds ? 'timer-overdue' : 'quiet'}> {wordOf(step, elapsed)}</span>
    </button>
  );
}

/** How long a button is held: counted down, and said when to let go. */
export function HoldCountdown({ seconds }: { seconds: number }) {
  const [begun, setBegun] = useState<string>();
  const elapsed = useElapsed(begun);
  if (begun === undefined)
    return (
      <p className="timer">
        <Button onClick={() => setBegun(new Date().toISOString())}>Hold the button now: {seconds} s</Button>
      </p>
    );
  const left = Math.ceil(seconds - elapsed);
  return (
    <p className="timer" role="timer" aria-live="assertive">
      <span className="mono timer-clock">{left > 0 ? left : 'Let go'}</span>
      <Button onClick={() => setBegun(undefined)}>Again</Button>
    </p>
  );
}
