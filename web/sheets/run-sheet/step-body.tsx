import Button from '@mui/material/Button';
import InputBase from '@mui/material/InputBase';
import Radio from '@mui/material/Radio';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import { useState } from 'react';
import {
  capitalized,
  judgeValues,
  outsideRefusal,
  partsOfStep,
  rungOf,
  takeOvers,
  valuesFromText,
  valuesOf,
  valuesText,
  type Entry,
  type ReadingField,
  type RunStep,
  type StepState,
  type Values,
  type Verdict,
} from '../../../core/index.ts';
import { useAnalysis, useSite } from '../../state/analysis.ts';
import { useAddRecord } from '../../state/records.ts';
import { usePlan, useSession } from '../../state/session.ts';
import { useVaultDialog } from '../../state/vault.ts';
import { CopyButton } from '../../parts/copy.tsx';
import { dayText } from '../../state/time.ts';
import { useStepDraft } from './step-draft.ts';
import { FileCheck } from './file-check.tsx';
import { Lights } from './lights.tsx';
import { HoldCountdown, Timer } from './timer.tsx';
import '../../parts/step.css';

const verdictWords: Record<Verdict['kind'], string> = {
  good: 'Correct.',
  doubt: 'Check again.',
  bad: 'Does not count.',
};

/** Long enough for most boxes, too short for the deeper reset of some (common practice, no source). */
const usualHoldSeconds = 15;

/** What a step is about: what to enter, why, what proves it, what to read off, and done. */
export function StepBody({
  step,
  state,
  waits,
  done,
}: {
  step: RunStep;
  state: StepState;
  /** Titles of the steps before it that are still open. */
  waits: readonly string[];
  done: () => void;
}) {
  const { add, problem } = useAddRecord();
  const hold = useSite().router.kit?.card.holdSeconds ?? usualHoldSeconds;
  return (
    <div className="step-body">
      {step.cautions.map((caution) => (
        <p key={caution} className="caution">
          <strong>Caution:</strong> {caution}
        </p>
      ))}
      {step.reach.kind === 'cut-off' && (
        <p className="caution" role="note">
          <strong>Unreachable from {step.reach.from}:</strong> {step.reach.says}
        </p>
      )}
      <Entries step={step} />
      <dl className="step-facts">
        {step.reach.kind === 'reached' ? (
          <>
            <dt>Laptop</dt>
            <dd>
              on {step.reach.from}, browse to <span className="mono entry-value">{step.reach.to}</span>
              {step.place.startsWith('box') && <span className="quiet"> {step.reach.says}</span>}
            </dd>
          </>
        ) : (
          step.session.kind === 'router' &&
          step.place === 'router' && (
            <>
              <dt>Browse to</dt>
              <dd className="mono">{step.session.address}</dd>
            </>
          )
        )}
        <dt>Why</dt>
        <dd>{step.why}</dd>
        <dt>Check</dt>
        <dd>{step.proof}</dd>
        <dt>If it fails</dt>
        <dd>{step.ifNot}</dd>
      </dl>
      {step.id === 'reset' && !state.done && <HoldCountdown seconds={hold} />}
      {!state.done && step.highSeconds >= 60 && (
        <Timer
          step={step}
          startedAt={state.timerAt}
          start={() => void add({ kind: 'timer', subject: step.id, reading: '', seenFrom: '' })}
        />
      )}
      {state.done ? (
        <Seen step={step} state={state} />
      ) : (
        <StepForm key={step.id} step={step} waits={waits} done={done} />
      )}
      {problem && <p role="alert">{problem}</p>}
      {state.history.length > 1 && (
        <ul className="step-history quiet">
          {state.history.map((record) => (
            <li key={record.id}>
              <span className="mono">{dayText(record.at)}</span>{' '}
              {record.kind === 'tick' ? 'done' : record.kind === 'untick' ? 'reopened' : 'timer started'} by{' '}
              {record.initials}
              {record.reading && `: ${record.reading}`}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

/** Addresses and keys are copied as a whole, and break where a person would break them. */
function Entries({ step }: { step: RunStep }) {
  if (step.entries.length === 0) return null;
  return (
    <Table className="entries" aria-label={`What to enter: ${step.title}`}>
      <TableBody>
        {step.entries.map((entry) => (
          <EntryRow key={entry.label + entry.value} entry={entry} />
        ))}
      </TableBody>
    </Table>
  );
}

function EntryRow({ entry }: { entry: Entry }) {
  const openVault = useVaultDialog();
  return (
    <TableRow>
      <TableCell component="th" scope="row">
        {entry.label}
      </TableCell>
      <TableCell className="mono entry-value">{entry.value}</TableCell>
      <TableCell>
        {entry.secret === undefined ? (
          <CopyButton value={entry.value} what={entry.label} at={entry.at} />
        ) : (
          <Button onClick={() => openVault(entry.secret)} aria-label={`Vault, for ${entry.label}`}>
            Vault
          </Button>
        )}
      </TableCell>
      <TableCell className="quiet entry-names">
        {entry.alsoCalled.length > 0 && `also called ${entry.alsoCalled.join(', ')}`}
      </TableCell>
    </TableRow>
  );
}

function StepForm({ step, waits, done }: { step: RunStep; waits: readonly string[]; done: () => void }) {
  const site = useSite();
  const analysis = useAnalysis();
  const { add, problem } = useAddRecord();
  const [typed, write, forget] = useStepDraft(step.id);
  const outside = step.evidence.some(({ rung }) => rungOf(rung).outside);
  const verdicts = judgeValues(site, step, typed.values);
  const refusal = outside && typed.seenFrom.trim() !== '' ? outsideRefusal(site, typed.seenFrom) : undefined;
  const take = (text: string): void => {
    const found = valuesFromText(step.fields, text);
    write({ ...typed, values: { ...typed.values, ...found } });
  };
  const tick = async (): Promise<void> => {
    const record = {
      kind: 'tick',
      subject: step.id,
      reading: [valuesText(step.fields, typed.values), typed.note.trim()]
        .filter((part) => part !== '')
        .join('. ')
        .slice(0, 2000),
      values: typed.values,
      parts: partsOfStep(site, step, analysis?.accepted.map(({ promise }) => promise) ?? []),
      seenFrom: typed.seenFrom,
    } as const;
    if (!(await add(record))) return;
    forget();
    done();
  };
  return (
    <form
      className="step-form"
      onSubmit={(event) => {
        event.preventDefault();
        void tick();
      }}
    >
      <Lights
        step={step}
        note={(text) =>
          write({ ...typed, note: [typed.note, text].filter((part) => part !== '').join('; ') })
        }
      />
      <FileCheck step={step} fill={(values) => write({ ...typed, values: { ...typed.values, ...values } })} />
      {step.fields.map((field) => (
        <ReadingInput
          key={field.key}
          field={field}
          value={typed.values[field.key] ?? ''}
          verdict={verdicts.find(({ key }) => key === field.key)?.verdict}
          change={(value) => write({ ...typed, values: { ...typed.values, [field.key]: value } })}
          paste={take}
        />
      ))}
      {outside && (
        <label className="step-reading">
          Outside address the test came from, as the other end sees it
          <InputBase
            value={typed.seenFrom}
            onChange={(event) => write({ ...typed, seenFrom: event.target.value })}
            className="mono boxed"
            slotProps={{ input: { maxLength: 64, 'aria-label': 'Outside address the test came from' } }}
          />
        </label>
      )}
      {verdicts.map(({ key, verdict }) => (
        <VerdictLine key={key} verdict={verdict} />
      ))}
      {refusal && <VerdictLine verdict={{ kind: 'bad', says: `${capitalized(refusal)}.` }} />}
      <label className="step-reading step-note">
        Note
        <InputBase
          value={typed.note}
          data-note
          onChange={(event) => write({ ...typed, note: event.target.value })}
          className="boxed"
          slotProps={{ input: { maxLength: 1000, 'aria-label': 'Note' } }}
        />
      </label>
      <TakeOverList step={step} values={typed.values} />
      <div className="step-tick">
        <Button variant="contained" type="submit" data-done>
          Done{waits.length > 0 ? ', out of order' : ''}
        </Button>
        {waits.length > 0 && (
          <span className="quiet">
            Do first: {waits.slice(0, 2).join('; ')}
            {waits.length > 2 && `; and ${waits.length - 2} more`}.
          </span>
        )}
      </div>
      {problem && <p role="alert">{problem}</p>}
    </form>
  );
}

function ReadingInput({
  field,
  value,
  verdict,
  change,
  paste,
}: {
  field: ReadingField;
  value: string;
  verdict: Verdict | undefined;
  change: (value: string) => void;
  paste: (text: string) => void;
}) {
  const label = `${field.label}${field.unit === '' ? '' : `, ${field.unit}`}${field.optional ? ' (if shown)' : ''}`;
  if (field.kind === 'choice')
    return (
      <fieldset className="step-choice">
        <legend>{label}</legend>
        {field.choices.map((choice) => (
          <label key={choice.value}>
            <Radio
              name={field.key}
              slotProps={{ input: { 'aria-label': `${label}: ${choice.title}` } }}
              checked={value === choice.value}
              onChange={() => change(choice.value)}
            />{' '}
            {choice.title}
          </label>
        ))}
      </fieldset>
    );
  return (
    <label className={`step-reading step-reading-${field.kind}`}>
      {label}
      <InputBase
        value={value}
        onChange={(event) => change(event.target.value)}
        onPaste={(event) => {
          // What a tool printed over several lines becomes its figures.
          const text = event.clipboardData.getData('text/plain');
          if (!text.trim().includes('\n')) return;
          event.preventDefault();
          paste(text);
        }}
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          const [file] = event.dataTransfer.files;
          if (!file || file.size > 1_000_000) return;
          event.preventDefault();
          void file.text().then(paste);
        }}
        className={`boxed ${field.kind === 'text' ? '' : 'mono'}`}
        slotProps={{
          input: {
            maxLength: 500,
            'aria-label': label,
            'aria-invalid': verdict?.kind === 'bad',
            inputMode: field.kind === 'number' ? 'decimal' : 'text',
          },
        }}
      />
    </label>
  );
}

const VerdictLine = ({ verdict }: { verdict: Verdict }) => (
  <p className={`verdict verdict-${verdict.kind}`} role="status">
    <strong>{verdictWords[verdict.kind]}</strong> {verdict.says}
  </p>
);

/** What was measured, offered to the plan: no figure is typed twice. */
function TakeOverList({ step, values }: { step: RunStep; values: Values }) {
  const plan = usePlan();
  const site = useSite();
  const session = useSession();
  const [problem, setProblem] = useState<string>();
  const offers = takeOvers(plan, site, step, values);
  if (offers.length === 0) return null;
  return (
    <ul className="take-over" aria-label="For the plan">
      {offers.map(({ says, patch }) => (
        <li key={says}>
          {says}{' '}
          <Button
            onClick={() => {
              setProblem(session.patch(patch));
            }}
          >
            Use value
          </Button>
        </li>
      ))}
      {problem && <li role="alert">{problem}</li>}
    </ul>
  );
}

/** What was seen, and the way to take it back. */
function Seen({ step, state }: { step: RunStep; state: StepState }) {
  const { add, problem } = useAddRecord();
  const { last } = state;
  const site = useSite();
  const values = last ? valuesOf(step, last) : {};
  const wrong = judgeValues(site, step, values).filter(({ verdict }) => verdict.kind === 'bad');
  return (
    <div className="step-form">
      {last?.reading && <p className="mono">{last.reading}</p>}
      {wrong.map(({ key, verdict }) => (
        <VerdictLine key={key} verdict={verdict} />
      ))}
      <TakeOverList step={step} values={values} />
      <div className="step-tick">
        <Button onClick={() => void add({ kind: 'untick', subject: step.id, reading: '', seenFrom: '' })}>
          Reopen step
        </Button>
      </div>
      {problem && <p role="alert">{problem}</p>}
    </div>
  );
}
