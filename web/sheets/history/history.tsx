import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import useSWR from 'swr';
import { comparePlans } from '../../../core/index.ts';
import { getJson, sentence, type SiteDocument } from '../../state/api.ts';
import { useSession, useSnapshot } from '../../state/session.ts';
import { ReachChanges } from '../../parts/reach-changes.tsx';
import { SheetHead } from '../../parts/sheet-head.tsx';
import { dayText } from '../../state/time.ts';
import { Headings } from '../../parts/table-head.tsx';
import './history.css';

interface Kept {
  readonly revision: number;
  readonly savedAt: string;
}

/** Every autosave that is kept: look at one, compare it with now, take it back. */
export function Component() {
  const session = useSession();
  const { revision } = useSnapshot();
  const list = useSWR<Kept[], unknown>([`/api/sites/${session.id}/revisions`, revision], ([url]: [string]) =>
    getJson<Kept[]>(url),
  );
  const [chosen, setChosen] = useState<number>();
  return (
    <>
      <SheetHead
        title="Revisions"
        says="Every autosave. The newest hundred and the last eight hours of work are kept, then one an hour for a week, then one a day. What a record, a print or a plan file names is always kept."
      />
      {list.error !== undefined && <p role="alert">{sentence(list.error)}</p>}
      <div className="history">
        <ol className="history-list" aria-label="Revisions">
          {list.data?.map((each) => (
            <li key={each.revision}>
              <button
                type="button"
                aria-pressed={each.revision === chosen}
                onClick={() => setChosen(each.revision)}
              >
                <span className="mono">{each.revision}</span> <span>{dayText(each.savedAt)}</span>
              </button>
            </li>
          ))}
        </ol>
        {chosen === undefined ? (
          <p className="quiet">Choose a revision to see what has changed since.</p>
        ) : (
          <Compared key={chosen} number={chosen} />
        )}
      </div>
    </>
  );
}

function Compared({ number }: { number: number }) {
  const session = useSession();
  const { plan } = useSnapshot();
  const { data, error } = useSWR<SiteDocument, unknown>(`/api/sites/${session.id}/revisions/${number}`);
  if (error !== undefined) return <p role="alert">{sentence(error)}</p>;
  if (!data) return <p className="quiet">Opening …</p>;
  // What a brief set and somebody confirmed is no change of the plan.
  const differences = comparePlans(data.plan, plan).filter(({ path }) => !path.startsWith('origins'));
  return (
    <section aria-label={`Revision ${number}`}>
      <div className="row-actions">
        <Typography variant="h3">
          Revision {number}, {dayText(data.savedAt)}
        </Typography>
        <Button disabled={differences.length === 0} onClick={() => session.replace(data.plan)}>
          Take this revision back
        </Button>
      </div>
      {differences.length === 0 ? (
        <p className="quiet">It is the same as now.</p>
      ) : (
        <>
          <ReachChanges before={data.plan} after={plan} />
          <Table className="conflicts" aria-label="Differences">
            <Headings columns={['Value', 'Then', 'Now']} />
            <TableBody>
              {differences.slice(0, 200).map((each) => (
                <TableRow key={each.path}>
                  <TableCell component="th" scope="row">
                    {each.label}
                  </TableCell>
                  <TableCell className="mono">{each.says[0]}</TableCell>
                  <TableCell className="mono">{each.says[1]}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </>
      )}
    </section>
  );
}
