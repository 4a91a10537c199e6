import Button from '@mui/material/Button';
import { lazy, Suspense, useEffect, useState } from 'react';
import { Link } from 'react-router';
import { counted, type RunStep } from '../../../core/index.ts';
import { useAnalysis } from '../../state/analysis.ts';
import { useVisit, type Visit } from '../../state/visit.ts';
import { Initials } from '../../parts/initials.tsx';
import { SheetHead } from '../../parts/sheet-head.tsx';
import { clockText, spanText } from '../../state/time.ts';
import { StepBody } from './step-body.tsx';
import '../../parts/step.css';
import '../../parts/promises.css';

const ScriptPanel = lazy(() => import('./script-panel.tsx'));
const PrintVisit = lazy(() => import('./print-visit.tsx'));

export function Component() {
  const analysis = useAnalysis();
  const visit = useVisit();
  const [opened, setOpened] = useState<string>();
  const [scripts, setScripts] = useState(false);
  const ready = visit !== undefined;
  useEffect(() => {
    // On another day, or after a reload, the next step is where the work goes on.
    if (ready) document.querySelector('.step-next')?.scrollIntoView({ block: 'nearest' });
  }, [ready]);
  if (!analysis || !visit) return <p className="quiet">Computing …</p>;
  const { steps, next, left } = visit;
  const seconds = (key: 'lowSeconds' | 'highSeconds'): number =>
    left.reduce((sum, step) => sum + step[key], 0);
  const blockers = analysis.findings.filter((finding) => finding.severity === 'blocker').length;
  const current = opened ?? next?.id;
  const whole = Math.max(1, ...steps.map(({ times }) => times.end[1]));
  let phase = '';
  return (
    <>
      <SheetHead
        title="Run sheet"
        says={
          next ? (
            <>
              {visit.done} of {visit.count} done; {spanText(seconds('lowSeconds'), seconds('highSeconds'))}{' '}
              left, waits included.
            </>
          ) : (
            'All steps are done.'
          )
        }
      >
        <Button variant="contained" component={Link} to="../cabinet">
          One step at a time
        </Button>
        <Button aria-expanded={scripts} onClick={() => setScripts(!scripts)}>
          Scripts
        </Button>
        <Button component={Link} to="../found">
          What is here?
        </Button>
        <Suspense fallback={<Button disabled>Print …</Button>}>
          <PrintVisit />
        </Suspense>
        <Initials />
      </SheetHead>
      <progress className="run-progress" max={visit.count} value={visit.done} aria-label="Steps done" />
      {scripts && (
        <Suspense fallback={<p className="quiet">Opening …</p>}>
          <ScriptPanel />
        </Suspense>
      )}
      {blockers > 0 && (
        <p className="note" role="note">
          {counted(blockers, 'blocker')}. Resolve {blockers === 1 ? 'it' : 'them'} before the visit:{' '}
          <Link to="../site">begin with F8</Link>.
        </p>
      )}
      <ol className="steps">
        {steps.map((step, index) => {
          const heading = step.phase !== phase ? step.phase : undefined;
          phase = step.phase;
          return (
            <StepRow
              key={step.id}
              step={step}
              number={index + 1}
              whole={whole}
              heading={heading}
              visit={visit}
              open={step.id === current}
              toggle={() => setOpened(step.id === current ? '' : step.id)}
              done={() => setOpened(undefined)}
            />
          );
        })}
      </ol>
    </>
  );
}

interface StepRowProps {
  readonly step: RunStep;
  readonly number: number;
  /** Seconds of the whole visit, at its slowest. */
  readonly whole: number;
  readonly heading: string | undefined;
  readonly visit: Visit;
  readonly open: boolean;
  readonly toggle: () => void;
  readonly done: () => void;
}

function StepRow({ step, number, whole, heading, visit, open, toggle, done }: StepRowProps) {
  const state = visit.stateOf(step);
  const isNext = step === visit.next;
  const waits = visit.waitsFor(step);
  return (
    <>
      {heading && (
        <li className="phase" aria-hidden>
          {heading}
        </li>
      )}
      <li
        className={`step ${state.done ? 'step-done' : ''} ${isNext ? 'step-next' : ''} ${open ? 'step-open' : ''}`}
      >
        <button type="button" className="step-head" aria-expanded={open} onClick={toggle}>
          <span className="step-number mono">{number}</span>
          <span className="step-title">{step.title}</span>
          <span className="step-state">
            {state.done && state.last ? (
              <>
                done <span className="mono">{clockText(state.last.at)}</span> {state.last.initials}
              </>
            ) : state.last?.kind === 'tick' ? (
              'repeat'
            ) : isNext ? (
              'next'
            ) : state.timerAt ? (
              'running'
            ) : step.optional ? (
              'if needed'
            ) : waits.length > 0 ? (
              'waits'
            ) : (
              ''
            )}
          </span>
          <TimeBar step={step} whole={whole} />
          <span
            className="step-span mono"
            title={
              step.learntFrom > 0
                ? `from ${step.learntFrom} earlier jobs`
                : 'the usual time; too few jobs to learn from'
            }
          >
            {spanText(step.lowSeconds, step.highSeconds)}
          </span>
        </button>
        {open && <StepBody step={step} state={state} waits={waits} done={done} />}
      </li>
    </>
  );
}

/** Where a step lies in the visit: hands at work filled, waiting hatched; on the longest chain with a rule below. */
function TimeBar({ step: { times, waitShare }, whole }: { step: RunStep; whole: number }) {
  const percent = (seconds: number): string => `${(100 * seconds) / whole}%`;
  const minute = (seconds: number): number => Math.round(seconds / 60);
  return (
    <span
      className={`time-bar ${times.critical ? 'time-bar-critical' : ''}`}
      title={`Begins ${minute(times.start[0])} to ${minute(times.start[1])} minutes after the first step${waitShare > 0 ? '; most of it is waiting, beside other work' : ''}${times.critical ? '; the visit cannot be over sooner without it' : ''}`}
    >
      <span
        className="time-hands"
        style={{ left: percent(times.start[1]), width: percent(times.free[1] - times.start[1]) }}
      />
      {times.end[1] > times.free[1] && (
        <span
          className="time-wait"
          style={{ left: percent(times.free[1]), width: percent(times.end[1] - times.free[1]) }}
        />
      )}
    </span>
  );
}
