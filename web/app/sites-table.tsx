import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { Link } from 'react-router';
import useSWR from 'swr';
import { SeverityMark } from '../parts/severity.tsx';
import { Headings } from '../parts/table-head.tsx';
import { clockText, dayOnly, today } from '../state/time.ts';
import type { SiteRow } from '../state/api.ts';
import { Select } from '../parts/inputs.tsx';
import './sites.css';

export type ListShow = 'all' | 'open' | 'due' | 'awaiting' | 'unproven';
export type ListSort = 'saved' | 'name' | 'customer' | 'due';

const shows: readonly (readonly [ListShow, string])[] = [
  ['all', 'All'],
  ['open', 'Open findings'],
  ['due', 'Ends within 30 days'],
  ['awaiting', 'Awaits the provider'],
  ['unproven', 'Not proven on site'],
];
const sorts: readonly (readonly [ListSort, string])[] = [
  ['saved', 'last saved first'],
  ['name', 'by name'],
  ['customer', 'by customer'],
  ['due', 'by what ends first'],
];

/** What the lead looks after: how many sites of each kind there are, and in which order they stand. */
export function DeskFilter({
  show,
  choose,
  sort,
  order,
}: {
  show: ListShow;
  choose: (show: ListShow) => void;
  sort: ListSort;
  order: (sort: ListSort) => void;
}) {
  const { data } = useSWR<Record<ListShow, number>>('/api/due');
  return (
    <div className="desk-filter">
      <ToggleButtonGroup
        exclusive
        size="small"
        value={show}
        aria-label="Which sites"
        onChange={(_, next: ListShow | null) => next && choose(next)}
      >
        {shows.map(([key, title]) => (
          <ToggleButton key={key} value={key}>
            {title}
            {data && <span className="desk-count mono">{data[key]}</span>}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Select
        className="boxed"
        aria-label="Order of the sites"
        value={sort}
        onChange={({ target }) => order(target.value as ListSort)}
      >
        {sorts.map(([key, title]) => (
          <option key={key} value={key}>
            {title}
          </option>
        ))}
      </Select>
    </div>
  );
}

/** The sites, each with what is due on it. */
export function SiteTable({ rows }: { rows: readonly SiteRow[] }) {
  return (
    <Table className="sites cards desk" aria-label="Sites">
      <Headings columns={['Site', 'Customer', 'Findings', 'Next', 'Proven', 'Saved']} />
      <TableBody>
        {rows.map((row) => (
          <TableRow key={row.id}>
            <TableCell>
              <Link to={`/sites/${row.id}/picture`}>{row.name || 'unnamed site'}</Link>{' '}
              {row.demo && <span className="tag">demo</span>}
              {row.town !== '' && <span className="site-town">{row.town}</span>}
            </TableCell>
            <TableCell>{row.customer}</TableCell>
            <TableCell>
              <OpenCounts row={row} />
            </TableCell>
            <TableCell>
              <Due row={row} />
            </TableCell>
            <TableCell className="mono">
              {row.desk && row.desk.promises > 0 ? `${row.desk.proven}/${row.desk.promises}` : ''}
            </TableCell>
            <TableCell>
              <span className="mono">{clockText(row.savedAt)}</span>
              <span className="site-town mono">revision {row.revision}</span>
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

/** What comes next on a site: an end that is near, a line that is awaited, values nobody confirmed. */
function Due({ row: { desk } }: { row: SiteRow }) {
  if (!desk) return <span className="quiet">not worked out yet</span>;
  const [first] = desk.dates;
  const parts = [
    first && { text: `${dayOnly(first.day)}: ${first.says}`, late: first.day < today() },
    desk.awaiting.length > 0 && { text: `the provider: ${desk.awaiting.join(', ')}`, late: false },
    desk.unconfirmed > 0 && {
      text: `${desk.unconfirmed} ${desk.unconfirmed === 1 ? 'value' : 'values'} not confirmed`,
      late: false,
    },
  ].filter((part) => part !== false && part !== undefined);
  if (parts.length === 0) return null;
  return (
    <ul>
      {parts.map(({ text, late }) => (
        <li key={text} className={late ? 'verdict-bad' : undefined}>
          {text}
        </li>
      ))}
    </ul>
  );
}

/** How many findings a site has; a heavy plan is counted after it was saved. */
function OpenCounts({ row: { blockers, warnings } }: { row: SiteRow }) {
  if (blockers === null || warnings === null) return <span className="quiet">not counted yet</span>;
  if (blockers + warnings === 0) return <span className="quiet">none</span>;
  return (
    <>
      {blockers > 0 && <SeverityMark severity="blocker" count={blockers} />}{' '}
      {warnings > 0 && <SeverityMark severity="warning" count={warnings} />}
    </>
  );
}
