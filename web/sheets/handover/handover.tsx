import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { Fragment, useState } from 'react';
import { useNavigate } from 'react-router';
import { unfinished, type RecordSection } from '../../../core/index.ts';
import { keepRevision, removeSite } from '../../state/api.ts';
import { useAnalysis, useSite, useStanding } from '../../state/analysis.ts';
import { useRecords } from '../../state/records.ts';
import { useSession, useSnapshot } from '../../state/session.ts';
import { useSiteRecord } from '../../state/sources.ts';
import { SheetHead } from '../../parts/sheet-head.tsx';
import { SaveFile, SaveFolder } from '../../parts/save-file.tsx';
import { dayText } from '../../state/time.ts';
import './handover.css';

export function Component() {
  const { plan, revision, savedAt } = useSnapshot();
  const site = useSite();
  const analysis = useAnalysis();
  const session = useSession();
  const print = (): void => {
    keepRevision(session.id, revision, 'print');
    window.print();
  };
  const standing = useStanding();
  const record = useSiteRecord(site)();
  const records = useRecords();
  const open = analysis && unfinished(site, analysis.accepted, analysis.steps, records);
  return (
    <>
      <SheetHead
        title="Handover"
        says={
          open === undefined || standing !== 'done'
            ? standing === 'failed'
              ? 'The analysis of this plan failed: nothing here says that it is proven or sound.'
              : 'Checking promises …'
            : open.length === 0
              ? 'Finished: all promises are proven, and no required step is open.'
              : `Not finished: ${open.join('; ')}.`
        }
      >
        <Button variant="contained" onClick={print}>
          Print, A4
        </Button>
        <SaveFile format="plan" before={() => keepRevision(session.id, revision, 'file')}>
          Plan file
        </SaveFile>
        <SaveFile format="record-markdown">Record as Markdown</SaveFile>
        <SaveFile format="record-json">Record as JSON</SaveFile>
        <SaveFolder format="linux">Files for a Linux router</SaveFolder>
        <RemoveSite name={plan.site.name} />
      </SheetHead>
      <article className="record" aria-label="Record">
        <header className="record-head">
          <Typography variant="h1">{record.title}</Typography>
          <p>
            Record of the edge router. {record.says} Revision <span className="mono">{revision}</span>,{' '}
            {dayText(savedAt)}
            {plan.demo && '. An invented site.'}
          </p>
        </header>
        <dl className="record-facts">
          {record.facts.map(([label, value]) => (
            <Fragment key={label}>
              <dt>{label}</dt>
              <dd>{value}</dd>
            </Fragment>
          ))}
        </dl>
        {record.sections.map((section) => (
          <RecordTable key={section.title} section={section} />
        ))}
        <footer className="record-sign">
          <p>Installed by</p>
          <p>Received by</p>
          <p>Date</p>
        </footer>
      </article>
    </>
  );
}

function RecordTable({ section: { title, headings, rows, mono, none } }: { section: RecordSection }) {
  return (
    <section>
      <Typography variant="h2">{title}</Typography>
      {rows.length === 0 ? (
        <p>{none}</p>
      ) : (
        <Table>
          <TableHead>
            <TableRow>
              {headings.map((heading) => (
                <TableCell key={heading} scope="col">
                  {heading}
                </TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.map((cells, index) => (
              <TableRow key={index}>
                {cells.map((cell, place) => (
                  <TableCell key={place}>
                    {mono.includes(place) ? <span className="mono mono-list">{cell}</span> : cell}
                  </TableCell>
                ))}
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
    </section>
  );
}

function RemoveSite({ name }: { name: string }) {
  const session = useSession();
  const navigate = useNavigate();
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button color="error" onClick={() => setOpen(true)}>
        Remove site …
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)}>
        <DialogTitle>Remove {name || 'this site'}?</DialogTitle>
        <DialogContent>
          Its plan, all revisions, records and secrets go to the trash. On the page &quot;Data&quot; they can
          be put back until they are erased there.
        </DialogContent>
        <DialogActions>
          <Button autoFocus onClick={() => setOpen(false)}>
            Keep it
          </Button>
          <Button
            color="error"
            variant="contained"
            onClick={() => void removeSite(session.id).then(() => navigate('/'))}
          >
            Remove it
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
