import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { memo, useEffect, useState } from 'react';
import { Link } from 'react-router';
import type { ExposureMatrix, MatrixRow, Opening } from '../../../core/index.ts';
import { analysisWorker, useAnalysis, useSite } from '../../state/analysis.ts';
import { useFocus } from '../../state/focus.ts';
import { useSession } from '../../state/session.ts';
import { MatrixHead } from '../../parts/matrix-head.tsx';
import { Rows } from '../../parts/rows-in-sight.tsx';
import { Headings } from '../../parts/table-head.tsx';
import { Select } from '../../parts/inputs.tsx';
import './rules.css';
import '../../parts/panel.css';

interface OpenCell {
  readonly from: string;
  readonly column: string;
}

/** Who can reach what, exactly, as the thread computes it; each cell opens into its rules and packets. */
export function Exposure() {
  const { lines } = useSite();
  const [down, setDown] = useState('');
  const matrix = useMatrix(down);
  const [open, setOpen] = useState<OpenCell>();
  const cell = matrix?.rows
    .find(({ from }) => from === open?.from)
    ?.cells.find(({ column }) => column === open?.column);
  return (
    <section aria-labelledby="exposure">
      <Typography variant="h3" id="exposure">
        Who can reach what
      </Typography>
      <p className="quiet">
        Computed from all rules, routes, tunnels and services together: every packet of every sender.
      </p>
      {lines.length > 0 && (
        <label className="exposure-lines">
          Lines
          <Select className="boxed" value={down} onChange={({ target }) => setDown(target.value)}>
            <option value="">all up</option>
            {lines.map(({ id, name }) => (
              <option key={id} value={id}>
                {name} is down
              </option>
            ))}
          </Select>
        </label>
      )}
      {matrix && (
        <>
          <FromOutside row={matrix.rows[0]} />
          <div className="matrix-scroll">
            <Table className="matrix exposure" aria-label="Who can reach what">
              <MatrixHead columns={matrix.columns.map((column) => [column, column] as const)} />
              <Rows>
                {matrix.rows.map((row) => (
                  <Row
                    key={`${row.kind} ${row.from}`}
                    row={row}
                    open={open?.from === row.from ? open.column : undefined}
                    setOpen={setOpen}
                  />
                ))}
              </Rows>
            </Table>
          </div>
          {open && cell && <Openings from={open.from} to={open.column} openings={cell.openings} />}
        </>
      )}
    </section>
  );
}

function useMatrix(down: string): ExposureMatrix | undefined {
  const analysis = useAnalysis();
  const session = useSession();
  const [matrix, setMatrix] = useState<ExposureMatrix>();
  useEffect(() => {
    let current = true;
    if (analysis)
      void analysisWorker()
        .exposure(session.snapshot().plan, down === '' ? [] : [down])
        .then(
          (found) => current && found && setMatrix((before) => withKeptRows(found, before)),
          () => current && setMatrix(undefined),
        );
    return () => {
      current = false;
    };
  }, [analysis, down, session]);
  return matrix;
}

/** Rows that say the same as before are the same objects: only the others are drawn anew. */
function withKeptRows(found: ExposureMatrix, before: ExposureMatrix | undefined): ExposureMatrix {
  const known = new Map(before?.rows.map((row) => [JSON.stringify(row), row]));
  return { ...found, rows: found.rows.map((row) => known.get(JSON.stringify(row)) ?? row) };
}

/** What a customer asks first, large enough to be read across a desk. */
function FromOutside({ row }: { row: MatrixRow | undefined }) {
  const openings = row?.cells.flatMap((cell) => cell.openings) ?? [];
  return (
    <div className="from-outside">
      <p>
        {openings.length === 0
          ? 'From the internet nothing can be reached.'
          : `From the internet ${openings.length === 1 ? 'one thing' : `${openings.length} things`} can be reached:`}
      </p>
      {openings.length > 0 && (
        <ul>
          {openings.slice(0, 12).map(({ to, services, only, rule }) => (
            <li key={to + services + rule}>
              <strong>{to}</strong>, <span className="mono">{services}</span>,{' '}
              {only === '' ? 'by everybody' : `by ${only} only`}
            </li>
          ))}
          {openings.length > 12 && <li>and {openings.length - 12} more: see the table.</li>}
        </ul>
      )}
    </div>
  );
}

const Row = memo(function Row({
  row,
  open,
  setOpen,
}: {
  row: MatrixRow;
  open: string | undefined;
  setOpen: (cell: OpenCell | undefined) => void;
}) {
  return (
    <TableRow className={row.kind === 'internet' ? 'exposure-internet' : ''}>
      <TableCell component="th" scope="row">
        {row.from}
      </TableCell>
      {row.cells.map(({ column, text, openings }) => (
        <TableCell key={column}>
          {column === row.from ? (
            <span className="matrix-self">itself</span>
          ) : openings.length === 0 ? (
            <span className="quiet">nothing</span>
          ) : (
            <button
              type="button"
              className={`matrix-cell ${text === 'everything' ? 'matrix-all' : 'matrix-some'}`}
              aria-expanded={open === column}
              aria-label={`${row.from} to ${column}: ${text}`}
              onClick={() => setOpen(open === column ? undefined : { from: row.from, column })}
            >
              {text}
            </button>
          )}
        </TableCell>
      ))}
    </TableRow>
  );
});

function Openings({ from, to, openings }: { from: string; to: string; openings: readonly Opening[] }) {
  const { goTo } = useFocus();
  return (
    <Table className="losses" aria-label={`What ${from} can reach: ${to}`}>
      <Headings columns={['Reaches', 'Services', 'Because', 'A packet that shows it']} />
      <TableBody>
        {openings.slice(0, 60).map(({ to: target, services, only, at, rule, witness }) => (
          <TableRow key={target + services + witness}>
            <TableCell>{target}</TableCell>
            <TableCell className="mono">{services}</TableCell>
            <TableCell>
              {at === undefined ? (
                rule
              ) : (
                <button type="button" className="link" onClick={() => goTo(at)}>
                  {rule}
                </button>
              )}
              {only !== '' && `; from ${only} only`}
            </TableCell>
            <TableCell>
              <Link className="mono" to={`../ask?q=${encodeURIComponent(witness)}`}>
                {witness}
              </Link>
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
