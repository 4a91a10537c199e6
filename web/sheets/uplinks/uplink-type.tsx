import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { callSheet, likelyTypes, missingFields, type UplinkPlan } from '../../../core/index.ts';
import { useSite } from '../../state/analysis.ts';
import { useFocus } from '../../state/focus.ts';
import { useSession } from '../../state/session.ts';
import { Field } from '../../parts/field.tsx';

/** What the paperwork has, and which WAN types that makes likely. */
export function WhichType({ index, uplink }: { index: number; uplink: UplinkPlan }) {
  const session = useSession();
  const at = `/uplinks/${index}` as const;
  const likely = likelyTypes(uplink.medium, uplink.papers, uplink.handoff.mode === 'routes');
  return (
    <div className="which-type">
      <Field at={`${at}/papers`} />
      <ol className="likely" aria-label="Likely WAN types">
        {likely.slice(0, 3).map(({ type, title, reasons, against }, place) => (
          <li key={type}>
            <strong>{title}</strong> <span className="quiet">{[...reasons, ...against].join(' ')}</span>{' '}
            {type === uplink.type ? (
              <span className="mono">taken</span>
            ) : (
              <Button
                variant={place === 0 ? 'contained' : 'outlined'}
                onClick={() => {
                  session.edit(`${at}/type`, type);
                  session.settle();
                }}
              >
                Take this
              </Button>
            )}
          </li>
        ))}
        {likely.length === 0 && <li className="quiet">No likely type yet. Call the provider.</li>}
      </ol>
    </div>
  );
}

/** The questions for the provider, a place for each answer, who gave it and when. */
export function CallSheet({ index, uplink }: { index: number; uplink: UplinkPlan }) {
  const [open, setOpen] = useState(false);
  const session = useSession();
  const { goTo } = useFocus();
  const site = useSite();
  const line = site.lines[index];
  if (!line) return null;
  const at = `/uplinks/${index}/answers` as const;
  const questions = callSheet(line, site.problems);
  const missing = missingFields(line, site.problems);
  const unknown = questions.filter(({ known }) => !known).length;
  const answer = (id: string): void => {
    const place = uplink.answers.findIndex((each) => each.id === id);
    if (place < 0) session.edit(at, [...uplink.answers, { id, answer: '', who: '', when: '' }]);
  };
  return (
    <section className="call-sheet" data-at={at} tabIndex={-1} aria-label="Call sheet">
      <Typography variant="h4" className="sub">
        Call sheet
        <Button onClick={() => setOpen(!open)} aria-expanded={open}>
          {open ? 'Close' : unknown === 0 ? 'Nothing left to ask' : `${unknown} to ask`}
        </Button>
        {missing.length > 0 && (
          <span className="missing">
            Missing:{' '}
            {missing.map((field) => (
              <button key={field.at} type="button" className="link" onClick={() => goTo(field.at)}>
                {field.term}
              </button>
            ))}
          </span>
        )}
      </Typography>
      {open && (
        <ol>
          {questions.map((question) => {
            const place = uplink.answers.findIndex((each) => each.id === question.id);
            return (
              <li key={question.id} className={question.known ? 'asked' : undefined}>
                <p>
                  {question.asks} <span className="quiet">{question.why}</span>
                </p>
                <div className="answer">
                  {question.known && <span className="mono">known</span>}
                  {question.at && (
                    <Button className="plain" variant="text" onClick={() => goTo(question.at!)}>
                      To the field
                    </Button>
                  )}
                  {place < 0 ? (
                    <Button className="plain" variant="text" onClick={() => answer(question.id)}>
                      Write an answer
                    </Button>
                  ) : (
                    <>
                      <Field at={`${at}/${place}/answer`} />
                      <Field at={`${at}/${place}/who`} />
                      <Field at={`${at}/${place}/when`} />
                    </>
                  )}
                </div>
              </li>
            );
          })}
        </ol>
      )}
    </section>
  );
}
