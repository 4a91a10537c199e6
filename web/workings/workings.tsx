import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { applyPatch, labelAt, type Finding, type Worked } from '../../core/index.ts';
import { analysisWorker, useAnalysis, useStanding } from '../state/analysis.ts';
import { useFocus, usePlace } from '../state/focus.ts';
import { sheetOf, type SheetKey } from '../sheets/index.ts';
import { usePlan, useSession } from '../state/session.ts';
import { SeverityMark } from '../parts/severity.tsx';
import { today } from '../state/time.ts';
import { WorkedSum } from '../parts/worked.tsx';
import { FieldFacts } from './field-facts.tsx';
import { OriginNote, SheetColumn } from './sheet-column.tsx';
import './column.css';
import { PatchPreview } from './patch.tsx';
import { VisitColumn } from './visit-column.tsx';

/** The standing column: the arithmetic behind the field in focus, the findings on it, and the fixes. */
export function Workings({ sheet }: { sheet: SheetKey }) {
  const at = usePlace();
  const plan = usePlan();
  const analysis = useAnalysis();
  const worked = useWorkings(at);
  const standing = useStanding();
  if (!analysis)
    return (
      <aside className="workings" aria-label="Workings">
        <AnalysisNote />
        {at === '' && sheet !== 'run-sheet' && <SheetColumn sheet={sheet} />}
      </aside>
    );
  const touches = (finding: Finding): boolean =>
    at !== '' &&
    [finding.at, ...(finding.also ?? [])].some(
      (place) =>
        place === at ||
        place.startsWith(`${at}/`) ||
        // What is wrong with a row is wrong in each of its fields.
        (/\/\d+$/.test(place) && at.startsWith(`${place}/`)),
    );
  const here = analysis.findings.filter(touches);
  const others = analysis.findings.filter(
    (finding) => !here.includes(finding) && sheetOf(finding.at) === sheet,
  );
  const empty = here.length === 0 && worked.length === 0;
  return (
    <aside className="workings" aria-label="Workings">
      <AnalysisNote />
      {at !== '' ? (
        <Typography variant="h2">{labelAt(plan, at)}</Typography>
      ) : sheet === 'run-sheet' ? (
        <VisitColumn />
      ) : (
        <SheetColumn sheet={sheet} />
      )}
      <FieldFacts at={at} />
      <OriginNote at={at} />
      {here.map((finding) => (
        <FindingNote key={`${finding.rule}${finding.at}`} finding={finding} open />
      ))}
      {worked.map((each) => (
        <WorkedSum key={each.name} worked={each} />
      ))}
      {empty && at !== '' && standing === 'done' && <p className="quiet">No workings, no findings.</p>}
      {others.length > 0 && (
        <>
          <Typography variant="h2" className="more">
            {here.length > 0 ? 'Also on this sheet' : 'Open on this sheet'}
          </Typography>
          {others.slice(0, 12).map((finding) => (
            <FindingNote key={`${finding.rule}${finding.at}`} finding={finding} open={false} />
          ))}
          {others.length > 12 && (
            <p className="quiet">… and {others.length - 12} more. Press F8 to go from one to the next.</p>
          )}
        </>
      )}
    </aside>
  );
}

/** Says when what is shown is not the answer to what was typed last. */
function AnalysisNote() {
  const standing = useStanding();
  if (standing === 'late')
    return (
      <p className="note" role="status">
        The analysis of this plan takes long. Results may be out of date.
      </p>
    );
  if (standing === 'failed')
    return (
      <p className="note" role="alert">
        The analysis of this plan failed: nothing here says that the plan is sound. What you typed is saved
        all the same. Undo the last change (Ctrl Z), or save the plan file and report it.
      </p>
    );
  return null;
}

function useWorkings(at: string): readonly Worked[] {
  const analysis = useAnalysis();
  const [worked, setWorked] = useState<readonly Worked[]>([]);
  useEffect(() => {
    let current = true;
    void analysisWorker()
      .workings(at)
      .then(
        (found) => current && setWorked(found),
        () => current && setWorked([]),
      );
    return () => {
      current = false;
    };
  }, [at, analysis]);
  return worked;
}

/** Fixes that are known to mend, and not to, by the finding that offers them. */
const verdicts = new WeakMap<Finding, boolean>();

const restMs = 400;

/** Whether the fix of a finding is one to offer: computed when it is shown, and taken for granted until then. */
function useMends(finding: Finding): boolean {
  const session = useSession();
  const [mends, setMends] = useState(verdicts.get(finding) ?? true);
  useEffect(() => {
    if (!finding.fix || verdicts.has(finding)) return undefined;
    const { patch } = finding.fix;
    let current = true;
    // While somebody types, findings come and go: the thread has better things to do.
    const timer = setTimeout(() => {
      const after = applyPatch(session.snapshot().plan, patch);
      if (!after.ok) return;
      void analysisWorker()
        .mends(after.value, finding, today())
        .then(
          (found) => {
            verdicts.set(finding, found);
            if (current) setMends(found);
          },
          () => {},
        );
    }, restMs);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [finding, session]);
  return mends;
}

function FindingNote({ finding, open }: { finding: Finding; open: boolean }) {
  const session = useSession();
  const { goTo } = useFocus();
  const mends = useMends(finding);
  const [shown, setShown] = useState(false);
  const [refusal, setRefusal] = useState<string>();
  return (
    <article className={`finding finding-${finding.severity}`}>
      <p>
        <SeverityMark severity={finding.severity} /> {finding.says}
      </p>
      {open && <WorkedSum worked={finding.why} />}
      {open && finding.source !== finding.why.source && <p className="sum-source">{finding.source}</p>}
      {finding.fix && mends && (
        <div className="finding-fix">
          <Button
            variant="contained"
            onClick={() => {
              setRefusal(session.patch(finding.fix!.patch));
              goTo(finding.at);
            }}
          >
            {finding.fix.says}
          </Button>
          <Button onClick={() => setShown(!shown)} aria-expanded={shown}>
            {shown ? 'Hide what changes' : 'Show changes'}
          </Button>
          {shown && <PatchPreview patch={finding.fix.patch} />}
          {refusal && <p role="alert">{refusal}</p>}
        </div>
      )}
      {finding.packet !== undefined && (
        <p className="finding-packet">
          <span className="quiet">A packet that shows it:</span>{' '}
          <Link className="mono" to={`../ask?q=${encodeURIComponent(finding.packet)}`}>
            {finding.packet}
          </Link>
        </p>
      )}
      {open && finding.accept && (
        <Button
          variant="text"
          className="plain"
          onClick={() => {
            setRefusal(session.patch(finding.accept!));
            goTo(`/exceptions/${session.snapshot().plan.exceptions.length - 1}/acceptedBy`);
          }}
        >
          Accept it as an exception
        </Button>
      )}
      {!open && (
        <Button className="plain" variant="text" onClick={() => goTo(finding.at)}>
          Go there
        </Button>
      )}
    </article>
  );
}
