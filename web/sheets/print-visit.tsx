import { useEffect, useState } from 'react';
import { createPortal } from 'react-dom';
import { houseCard, labelStrip, type RunStep } from '../../core/index.ts';
import { useSite } from '../app/analysis.ts';
import { useSession, useSnapshot } from '../app/session.ts';
import { keepRevision } from '../app/api.ts';
import { useVisit } from '../app/visit.ts';
import { spanText } from '../parts/time.ts';
import './print-visit.css';

type Page = 'run-sheet' | 'labels' | 'house-card';

const titles: Record<Page, string> = {
  'run-sheet': 'Run sheet, A4',
  labels: 'Labels, to cut out',
  'house-card': 'House card, for who lives there',
};

/** What goes along on paper, and what stays in the house: A4, black and white. */
export function PrintVisit() {
  const session = useSession();
  const { revision } = useSnapshot();
  const [page, setPage] = useState<Page>();
  useEffect(() => {
    if (page === undefined) return;
    if (page === 'run-sheet') keepRevision(session.id, revision, 'print');
    window.print();
    setPage(undefined);
  }, [page, session.id, revision]);
  return (
    <>
      <select
        className="choice boxed"
        aria-label="Print"
        value=""
        onChange={({ target }) => setPage(target.value as Page)}
      >
        <option value="">Print …</option>
        {Object.entries(titles).map(([id, title]) => (
          <option key={id} value={id}>
            {title}
          </option>
        ))}
      </select>
      {page !== undefined && createPortal(<Paper page={page} />, document.body)}
    </>
  );
}

function Paper({ page }: { page: Page }) {
  return (
    <article className={`paper-page paper-${page}`} aria-label={titles[page]}>
      {page === 'run-sheet' ? <RunSheetPaper /> : page === 'labels' ? <LabelPaper /> : <HouseCardPaper />}
    </article>
  );
}

function RunSheetPaper() {
  const site = useSite();
  const visit = useVisit();
  const { revision } = useSnapshot();
  return (
    <>
      <h1>
        Run sheet: {site.about.name || 'Unnamed site'}, revision {revision}
      </h1>
      <ol className="paper-steps">
        {visit?.steps.map((step) => (
          <PaperStep key={step.id} step={step} done={visit.stateOf(step).done} />
        ))}
      </ol>
    </>
  );
}

const PaperStep = ({ step, done }: { step: RunStep; done: boolean }) => (
  <li>
    <p>
      <span className="paper-box">{done ? '☒' : '☐'}</span> <strong>{step.title}</strong>{' '}
      {spanText(step.lowSeconds, step.highSeconds)}
    </p>
    {step.cautions.map((caution) => (
      <p key={caution}>
        <strong>Caution:</strong> {caution}
      </p>
    ))}
    {step.entries.length > 0 && (
      <table>
        <tbody>
          {step.entries.map((entry) => (
            <tr key={entry.label + entry.value}>
              <th scope="row">{entry.label}</th>
              <td className="mono">{entry.value}</td>
            </tr>
          ))}
        </tbody>
      </table>
    )}
    <p>{step.proof}</p>
    {step.fields.length > 0 && (
      <p className="paper-fields">
        {step.fields.map((field) => (
          <span key={field.key}>
            {field.label}
            {field.unit && `, ${field.unit}`}:{' '}
            {field.kind === 'choice'
              ? field.choices.map(({ title }) => `☐ ${title}`).join('  ')
              : '____________'}
          </span>
        ))}
      </p>
    )}
  </li>
);

function LabelPaper() {
  const site = useSite();
  return (
    <>
      <h1>Labels: {site.about.name || 'Unnamed site'}</h1>
      <ul className="paper-labels">
        {labelStrip(site).map(({ title, text }) => (
          <li key={`${title}${text}`}>
            <strong>{title}</strong>
            <span className="mono">{text}</span>
          </li>
        ))}
      </ul>
    </>
  );
}

function HouseCardPaper() {
  const card = houseCard(useSite());
  return (
    <>
      <h1>{card.title}</h1>
      {card.parts.map(({ heading, rows }) => (
        <section key={heading}>
          <h2>{heading}</h2>
          <table>
            <tbody>
              {rows.map(([label, value]) => (
                <tr key={label + value}>
                  <th scope="row">{label}</th>
                  <td>{value}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      ))}
    </>
  );
}
