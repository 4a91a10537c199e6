import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import type { RunStep } from '../../core/index.ts';

/** Seconds as "4:05". */
const clock = (seconds: number): string =>
  `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`;

/** A wait that is timed. It counts from the recorded start, so a reload or a closed laptop changes nothing. */
export function Timer({
  step,
  startedAt,
  start,
}: {
  step: RunStep;
  startedAt: string | undefined;
  start: () => void;
}) {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    if (startedAt === undefined) return undefined;
    const timer = setInterval(() => setNow(Date.now()), 500);
    return () => clearInterval(timer);
  }, [startedAt]);
  if (startedAt === undefined)
    return (
      <p className="timer">
        <Button onClick={start}>Start the timer</Button>
      </p>
    );
  const elapsed = Math.max(0, (now - Date.parse(startedAt)) / 1000);
  const word =
    elapsed < step.lowSeconds
      ? `wait at least ${clock(step.lowSeconds - elapsed)} more`
      : elapsed <= step.highSeconds
        ? `may be ready; give it up to ${clock(step.highSeconds - elapsed)} more`
        : 'longer than usual: look under "If not"';
  return (
    <div className="timer">
      <span className="mono timer-clock" role="timer">
        {clock(elapsed)}
      </span>
      <progress max={step.highSeconds} value={Math.min(elapsed, step.highSeconds)} aria-label="Time waited" />
      <span>{word}</span>
    </div>
  );
}
