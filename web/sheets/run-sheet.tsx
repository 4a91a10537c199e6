import Button from '@mui/material/Button';
import InputBase from '@mui/material/InputBase';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import {
  judgeReading,
  readingOf,
  rungOf,
  stepStates,
  type RunStep,
  type StepState,
  type Verdict,
} from '../../core/index.ts';
import { useAnalysis, useSite } from '../app/analysis.ts';
import { useAddRecord, useRecords } from '../app/records.ts';
import { useVaultDialog } from '../app/vault.ts';
import { CopyButton } from '../parts/copy.tsx';
import { Initials } from '../parts/initials.tsx';
import { SheetHead } from '../parts/sheet-head.tsx';
import { clockText, dayText, spanText } from '../parts/time.ts';
import { Timer } from './timer.tsx';

const verdictWords: Record<Verdict['kind'], string> = {
  good: 'Correct.',
  doubt: 'Check again.',
  bad: 'Wrong.',
};
const fresh: StepState = { done: false, last: undefined, history: [], timerAt: undefined };

export function Component() {
  const analysis = useAnalysis();
  const records = useRecords();
  const [opened, setOpened] = useState<string>();
  const ready = analysis !== undefined;
  useEffect(() => {
    // On another day, or after a reload, the next step is where the work goes on.
    if (ready) document.querySelector('.step-next')?.scrollIntoView({ block: 'nearest' });
  }, [ready]);
  if (!analysis) return <p className="quiet">Computing …</p>;
  const { steps, findings } = analysis;
  const states = stepStates(records);
  const stateOf = (step: RunStep): StepState => states.get(step.id) ?? fresh;
  const next = steps.find((step) => !stateOf(step).done);
  const left = steps.filter((step) => !stateOf(step).done);
  const seconds = (key: 'lowSeconds' | 'highSeconds'): number =>
    left.reduce((sum, step) => sum + step[key], 0);
  const blockers = findings.filter((finding) => finding.severity === 'blocker').length;
  const current = opened ?? next?.id;
  let phase = '';
  return (
    <>
      <SheetHead
        title="Run sheet"
        says={
          next ? (
            <>
              {steps.length - left.length} of {steps.length} done;{' '}
              {spanText(seconds('lowSeconds'), seconds('highSeconds'))} of work and waiting left.
            </>
          ) : (
            'All steps are done.'
          )
        }
      >
        <Initials />
      </SheetHead>
      <progress
        className="run-progress"
        max={steps.length}
        value={steps.length - left.length}
        aria-label="Steps done"
      />
      {blockers > 0 && (
        <p className="note" role="note">
          {blockers === 1 ? 'One finding stops' : `${blockers} findings stop`} this plan from working as it
          is. Settle {blockers === 1 ? 'it' : 'them'} before you drive out:{' '}
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
              heading={heading}
              state={stateOf(step)}
              isNext={step === next}
              open={step.id === current}
              waits={step.needs.some((need) => steps.some((each) => each.id === need && !stateOf(each).done))}
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
  readonly heading: string | undefined;
  readonly state: StepState;
  readonly isNext: boolean;
  readonly open: boolean;
  readonly waits: boolean;
  readonly toggle: () => void;
  readonly done: () => void;
}

function StepRow({ step, number, heading, state, isNext, open, waits, toggle, done }: StepRowProps) {
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
            ) : isNext ? (
              'next'
            ) : waits ? (
              'waits'
            ) : (
              ''
            )}
          </span>
          <span className="step-span mono">
            {step.highSeconds > 0 ? spanText(step.lowSeconds, step.highSeconds) : ''}
          </span>
        </button>
        {open && <StepBody step={step} state={state} waits={waits} done={done} />}
      </li>
    </>
  );
}

function StepBody({
  step,
  state,
  waits,
  done,
}: {
  step: RunStep;
  state: StepState;
  waits: boolean;
  done: () => void;
}) {
  const { add, problem } = useAddRecord();
  const openVault = useVaultDialog();
  const [reading, setReading] = useState('');
  const [seenFrom, setSeenFrom] = useState('');
  const outside = step.evidence.some(({ rung }) => rungOf(rung).outside);
  const verdict = judgeReading(useSite(), step.id, reading);
  // A half-typed reading survives a reload and another day.
  const draft = `netter-draft-${location.pathname.split('/')[2]}-${step.id}`;
  useEffect(() => {
    setReading(localStorage.getItem(draft) ?? '');
  }, [draft]);
  const write = (text: string): void => {
    setReading(text);
    if (text === '') localStorage.removeItem(draft);
    else localStorage.setItem(draft, text);
  };
  const tick = async (): Promise<void> => {
    if (!(await add({ kind: 'tick', subject: step.id, reading, seenFrom }))) return;
    localStorage.removeItem(draft);
    done();
  };
  return (
    <div className="step-body">
      {step.cautions.map((caution) => (
        <p key={caution} className="caution">
          <strong>Caution:</strong> {caution}
        </p>
      ))}
      {step.entries.length > 0 && (
        <table className="entries" aria-label={`What to enter: ${step.title}`}>
          <tbody>
            {step.entries.map((entry) => (
              <tr key={entry.label + entry.value}>
                <th scope="row">{entry.label}</th>
                <td className="mono entry-value">{entry.value}</td>
                <td>
                  {entry.secret === undefined ? (
                    <CopyButton value={entry.value} what={entry.label} at={entry.at} />
                  ) : (
                    <Button onClick={() => openVault(entry.secret)} aria-label={`Vault, for ${entry.label}`}>
                      Vault
                    </Button>
                  )}
                </td>
                <td className="quiet entry-names">
                  {entry.alsoCalled.length > 0 && `also called ${entry.alsoCalled.join(', ')}`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <dl className="step-facts">
        {step.session.kind === 'router' && (
          <>
            <dt>Browse to</dt>
            <dd className="mono">{step.session.address}</dd>
          </>
        )}
        <dt>Why</dt>
        <dd>{step.why}</dd>
        <dt>Check</dt>
        <dd>{step.proof}</dd>
        <dt>If it fails</dt>
        <dd>{step.ifNot}</dd>
      </dl>
      {!state.done && step.highSeconds > 0 && (
        <Timer
          step={step}
          startedAt={state.timerAt}
          start={() => void add({ kind: 'timer', subject: step.id, reading: '', seenFrom: '' })}
        />
      )}
      {!state.done && (
        <div className="step-tick">
          {step.reading !== '' && (
            <label className="step-reading">
              {step.reading}
              <InputBase
                value={reading}
                onChange={(event) => write(event.target.value)}
                onPaste={(event) => {
                  // What a tool printed over several lines becomes its figures.
                  const text = event.clipboardData.getData('text/plain');
                  if (!text.trim().includes('\n')) return;
                  event.preventDefault();
                  write(readingOf(text));
                }}
                onDragOver={(event) => event.preventDefault()}
                onDrop={(event) => {
                  const [file] = event.dataTransfer.files;
                  if (!file || file.size > 1_000_000) return;
                  event.preventDefault();
                  void file.text().then((text) => write(readingOf(text)));
                }}
                className="mono boxed"
                slotProps={{ input: { maxLength: 2000 } }}
              />
            </label>
          )}
          {outside && (
            <label className="step-reading">
              Outside address the test came from
              <InputBase
                value={seenFrom}
                onChange={(event) => setSeenFrom(event.target.value)}
                className="mono boxed"
                placeholder="as the other end sees it"
                slotProps={{ input: { maxLength: 64 } }}
              />
            </label>
          )}
          {verdict && (
            <p className={`verdict verdict-${verdict.kind}`} role="status">
              <strong>{verdictWords[verdict.kind]}</strong> {verdict.says}
            </p>
          )}
          <Button variant="contained" onClick={() => void tick()}>
            Done{waits ? ', out of order' : ''}
          </Button>
          {waits && <span className="quiet">Steps before this one are open.</span>}
        </div>
      )}
      {state.done && (
        <div className="step-tick">
          {state.last?.reading && <span className="mono">{state.last.reading}</span>}
          <Button onClick={() => void add({ kind: 'untick', subject: step.id, reading: '', seenFrom: '' })}>
            Not done after all
          </Button>
        </div>
      )}
      {problem && <p role="alert">{problem}</p>}
      {state.history.length > 1 && (
        <ul className="step-history quiet">
          {state.history.map((record) => (
            <li key={record.id}>
              <span className="mono">{dayText(record.at)}</span>{' '}
              {record.kind === 'tick' ? 'done' : record.kind === 'untick' ? 'taken back' : 'timer started'} by{' '}
              {record.initials}
              {record.reading && `: ${record.reading}`}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
