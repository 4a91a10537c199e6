import { mdiCheck, mdiClose, mdiDotsHorizontal } from '@mdi/js';
import Button from '@mui/material/Button';
import InputBase from '@mui/material/InputBase';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { Link } from 'react-router';
import { rungs, rungOf, shortestProof, strengthOf, type Accepted, type RungId } from '../../../core/index.ts';
import { useAnalysis } from '../../state/analysis.ts';
import { useFocus } from '../../state/focus.ts';
import { useAddRecord } from '../../state/records.ts';
import { Initials } from '../../parts/initials.tsx';
import { Icon } from '../../parts/severity.tsx';
import { SheetHead } from '../../parts/sheet-head.tsx';
import { dayText } from '../../state/time.ts';
import { Select } from '../../parts/inputs.tsx';
import '../../parts/promises.css';
import '../../parts/step.css';

export function Component() {
  const analysis = useAnalysis();
  const [open, setOpen] = useState('');
  if (!analysis) return <p className="quiet">Computing …</p>;
  const { accepted } = analysis;
  const done = accepted.filter((each) => each.accepted).length;
  const shortest = shortestProof(accepted, analysis.steps);
  return (
    <>
      <SheetHead
        title="Acceptance"
        says={
          accepted.length === 0
            ? 'No promises yet: they follow from the lines, the inside networks and the port forwards.'
            : `${done} of ${accepted.length} promises ${done === 1 ? 'is' : 'are'} proven. Each names what must have been seen; everything is required.`
        }
      >
        <Initials />
      </SheetHead>
      {shortest.length > 0 && (
        <p>
          The shortest way to prove the rest: {shortest.length} {shortest.length === 1 ? 'step' : 'steps'},
          beginning with “{shortest[0]!.title}”. <Link to="../cabinet">One step at a time</Link>
        </p>
      )}
      {accepted.length > 0 && (
        <Table className="promises cards" aria-label="Promises">
          <TableHead>
            <TableRow>
              <TableCell>Promise</TableCell>
              <TableCell>On paper</TableCell>
              <TableCell>On the bench</TableCell>
              <TableCell>On site</TableCell>
              <TableCell>Still missing</TableCell>
            </TableRow>
          </TableHead>
          {accepted.map((each) => (
            <PromiseRows
              key={each.promise.id}
              accepted={each}
              open={open === each.promise.id}
              toggle={() => setOpen(open === each.promise.id ? '' : each.promise.id)}
            />
          ))}
        </Table>
      )}
      <Typography variant="h3">Levels of evidence</Typography>
      <ol className="ladder">
        {rungs.map((rung) => (
          <li key={rung.id}>
            {rung.title}
            {rung.outside && <span className="quiet"> (only from an external network)</span>}
          </li>
        ))}
      </ol>
    </>
  );
}

function PromiseRows({ accepted, open, toggle }: { accepted: Accepted; open: boolean; toggle: () => void }) {
  const { promise, best, missing } = accepted;
  const focus = useFocus();
  return (
    <TableBody className={accepted.accepted ? 'promise-kept' : ''}>
      <TableRow onFocus={() => focus.place.set(promise.at)}>
        <TableCell component="th" scope="row">
          {promise.says}
          <span className="quiet">needs: {promise.needs.map((rung) => rungOf(rung).title).join('; ')}</span>
        </TableCell>
        <TableCell>
          <State good={promise.paper.kept} word={promise.paper.kept ? 'kept' : 'not kept'} />{' '}
          {promise.paper.question !== '' && (
            <Link to={`../ask?q=${encodeURIComponent(promise.paper.question)}`} title={promise.paper.says}>
              see the path
            </Link>
          )}
        </TableCell>
        <TableCell>
          {promise.bench ? (
            <>
              <State good={promise.bench.kept} word={promise.bench.kept ? 'shown' : 'not shown'} />{' '}
              <Link to="../bench" title={promise.bench.says}>
                rehearse
              </Link>
            </>
          ) : (
            <span className="quiet">calculated</span>
          )}
        </TableCell>
        <TableCell>
          {accepted.accepted ? (
            <State good word={best?.says ?? ''} />
          ) : best ? (
            <State word={best.says} />
          ) : (
            <State word={accepted.evidence.length > 0 ? 'no valid evidence' : 'nothing yet'} />
          )}
        </TableCell>
        <TableCell>
          {missing || 'nothing'}{' '}
          <Button aria-expanded={open} onClick={toggle}>
            Evidence
          </Button>
        </TableCell>
      </TableRow>
      {open && (
        <TableRow>
          <TableCell colSpan={5}>
            <EvidenceBox accepted={accepted} />
          </TableCell>
        </TableRow>
      )}
    </TableBody>
  );
}

function State({ good, word }: { good?: boolean; word: string }) {
  return (
    <span className={`state ${good === true ? 'state-good' : good === false ? 'state-bad' : ''}`}>
      <Icon path={good === true ? mdiCheck : good === false ? mdiClose : mdiDotsHorizontal} /> {word}
    </span>
  );
}

function EvidenceBox({ accepted }: { accepted: Accepted }) {
  const { promise, evidence } = accepted;
  const { add, problem } = useAddRecord();
  const [rung, setRung] = useState<RungId>(promise.needs[0]!);
  const [reading, setReading] = useState('');
  const [seenFrom, setSeenFrom] = useState('');
  const offered = rungs.filter((each) =>
    promise.ladder
      ? strengthOf(each.id) > strengthOf('outside-session') ||
        promise.ladder.some(({ rung: own }) => own === each.id)
      : each.outside === promise.outside || !each.outside,
  );
  const reached = new Set(evidence.filter(({ counts }) => counts).map((each) => each.rung));
  return (
    <div className="evidence">
      {promise.ladder && (
        <ol className="own-ladder" aria-label={`Evidence for: ${promise.says}`}>
          {promise.ladder.map((each) => (
            <li key={each.rung} className={promise.needs.includes(each.rung) ? 'least' : ''}>
              <span className={`state ${reached.has(each.rung) ? 'state-good' : ''}`}>
                <Icon path={reached.has(each.rung) ? mdiCheck : mdiDotsHorizontal} />{' '}
                {rungOf(each.rung).title}
              </span>
              <span>
                {each.says}
                {promise.needs.includes(each.rung) && <strong> Needed for this promise.</strong>}
              </span>
            </li>
          ))}
        </ol>
      )}
      {evidence.length === 0 && (
        <p className="quiet">No evidence yet. Steps of the run sheet add theirs; more can be noted here.</p>
      )}
      <ul>
        {evidence.map(({ record, counts, says, waivable }) => (
          <li key={`${record.id}${says}`} className={counts ? '' : 'not-counted'}>
            <span className="mono">{dayText(record.at)}</span> {record.initials}: {says}
            {record.reading && <span className="mono"> “{record.reading}”</span>}
            {!counts && <strong> not counted</strong>}
            {waivable && <Waive what={says} waive={(reason) => add(waiverOf(record.id, reason))} />}
          </li>
        ))}
      </ul>
      <form
        className="evidence-add"
        onSubmit={(event) => {
          event.preventDefault();
          void add({ kind: 'evidence', subject: promise.id, rung, reading, seenFrom }).then((done) => {
            if (!done) return;
            setReading('');
            setSeenFrom('');
          });
        }}
      >
        <label>
          Seen
          <Select className="boxed" value={rung} onChange={(event) => setRung(event.target.value as RungId)}>
            {offered.map((each) => (
              <option key={each.id} value={each.id}>
                {strengthOf(each.id) + 1}. {each.title}
              </option>
            ))}
          </Select>
        </label>
        <label>
          Reading
          <InputBase
            className="boxed mono"
            value={reading}
            onChange={(event) => setReading(event.target.value)}
            slotProps={{ input: { maxLength: 2000 } }}
          />
        </label>
        {promise.outside && (
          <label>
            From outside address
            <InputBase
              className="boxed mono"
              value={seenFrom}
              onChange={(event) => setSeenFrom(event.target.value)}
              slotProps={{ input: { maxLength: 64 } }}
            />
          </label>
        )}
        <Button type="submit">Record it</Button>
      </form>
      {problem && <p role="alert">{problem}</p>}
    </div>
  );
}

const waiverOf = (id: number, reason: string) =>
  ({ kind: 'waive', subject: String(id), reading: reason, seenFrom: '' }) as const;

/** A bad reading may be let be, by somebody with a reason; the record says so. */
function Waive({ what, waive }: { what: string; waive: (reason: string) => Promise<boolean> }) {
  const [reason, setReason] = useState<string>();
  if (reason === undefined)
    return (
      <Button className="plain" variant="text" onClick={() => setReason('')}>
        Waive …
      </Button>
    );
  return (
    <form
      className="evidence-add"
      onSubmit={(event) => {
        event.preventDefault();
        if (reason.trim() !== '') void waive(reason.trim());
      }}
    >
      <label>
        Reason for waiver
        <InputBase
          className="boxed"
          value={reason}
          onChange={({ target }) => setReason(target.value)}
          slotProps={{ input: { maxLength: 500, 'aria-description': what } }}
        />
      </label>
      <Button type="submit">Record it</Button>
    </form>
  );
}
