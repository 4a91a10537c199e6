import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link } from 'react-router';
import { useAddRecord } from '../../state/records.ts';
import { useVisit } from '../../state/visit.ts';
import { Initials } from '../../parts/initials.tsx';
import { spanText } from '../../state/time.ts';
import { StepBody } from '../run-sheet/step-body.tsx';
import { TimerStrip } from '../run-sheet/timer.tsx';
import './cabinet.css';
import '../../parts/step.css';
import '../../parts/promises.css';

const keys: readonly (readonly [string, string])[] = [
  ['N', 'next step'],
  ['P', 'previous step'],
  ['D', 'done'],
  ['M', 'note'],
  ['T', 'timer'],
];

/** One step at a time, for one hand at the cabinet; the next one is in sight. */
export function Component() {
  const visit = useVisit();
  const { add, problem } = useAddRecord();
  const [chosen, setChosen] = useState<string>();
  const page = useRef<HTMLDivElement>(null);
  const steps = visit?.steps ?? [];
  const at = Math.max(
    0,
    steps.findIndex(({ id }) => id === (chosen ?? visit?.next?.id)),
  );
  const step = steps[at];
  const move = (by: number): void => {
    const to = steps[Math.min(steps.length - 1, Math.max(0, at + by))];
    if (to) setChosen(to.id);
    window.scrollTo(0, 0);
  };
  const startTimer = (): void => {
    if (step && !visit?.stateOf(step).timerAt && !visit?.stateOf(step).done)
      void add({ kind: 'timer', subject: step.id, reading: '', seenFrom: '' });
  };
  const press = (selector: string): void => page.current?.querySelector<HTMLElement>(selector)?.click();
  useHotkeys('n', () => move(1), [at, steps.length]);
  useHotkeys('p', () => move(-1), [at, steps.length]);
  useHotkeys('d', () => press('[data-done]'), []);
  useHotkeys('m', () => page.current?.querySelector<HTMLElement>('[data-note] input')?.focus(), {
    preventDefault: true,
  });
  useHotkeys('t', startTimer, [step, visit]);
  if (!visit) return <p className="quiet">Computing …</p>;
  if (!step) return <p className="quiet">No steps yet: they follow from the uplinks and the networks.</p>;
  const state = visit.stateOf(step);
  const following = visit.left.find((each) => steps.indexOf(each) > at);
  return (
    <div className="cabinet" ref={page}>
      <div className="cabinet-head">
        <Link to="../run-sheet">All steps</Link>
        <span className="mono">
          {at + 1} of {steps.length}
        </span>
        <span className="quiet">{visit.done} done</span>
        <Initials />
      </div>
      <progress className="run-progress" max={visit.count} value={visit.done} aria-label="Steps done" />
      <TimerStrip
        running={visit.left.filter((each) => visit.stateOf(each).timerAt !== undefined)}
        startedAt={(each) => visit.stateOf(each).timerAt!}
        open={(each) => setChosen(each.id)}
      />
      <article className={`cabinet-step ${state.done ? 'step-done' : ''}`}>
        <p className="cabinet-phase">
          {step.phase}
          <span className="mono"> {spanText(step.lowSeconds, step.highSeconds)}</span>
          {step.learntFrom > 0 && <span className="quiet"> (from {step.learntFrom} earlier jobs)</span>}
          {state.done && <strong> done by {state.last?.initials}</strong>}
        </p>
        <Typography variant="h2">{step.title}</Typography>
        <StepBody
          key={step.id}
          step={step}
          state={state}
          waits={visit.waitsFor(step)}
          done={() => {
            setChosen(undefined);
            window.scrollTo(0, 0);
          }}
        />
        {problem && <p role="alert">{problem}</p>}
      </article>
      <nav className="cabinet-foot" aria-label="Steps">
        <p>{following ? <>Then: {following.title}</> : 'No open steps after this.'}</p>
        <Button onClick={() => move(-1)} disabled={at === 0}>
          Before
        </Button>
        {!state.done && (
          <Button variant="contained" onClick={() => press('[data-done]')}>
            Done
          </Button>
        )}
        <Button onClick={() => move(1)} disabled={at === steps.length - 1}>
          Next
        </Button>
      </nav>
      <p className="quiet cabinet-keys">
        {keys.map(([key, does]) => (
          <span key={key}>
            <kbd>{key}</kbd> {does}
          </span>
        ))}
      </p>
    </div>
  );
}
