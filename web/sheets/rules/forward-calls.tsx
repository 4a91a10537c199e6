import Table from '@mui/material/Table';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { memo } from 'react';
import { forwardCalls } from '../../../core/index.ts';
import { useSite } from '../../state/analysis.ts';
import { CopyButton } from '../../parts/copy.tsx';
import { Rows } from '../../parts/rows-in-sight.tsx';

/** What people type to get to each forwarded device, from outside and from inside. */
export function ForwardCallList() {
  const calls = forwardCalls(useSite());
  if (calls.length === 0) return null;
  const why = [...new Set(calls.map(({ insideSays }) => insideSays).filter((each) => each !== ''))];
  return (
    <>
      <Typography variant="h4" className="sub">
        What is typed to get there
      </Typography>
      <div className="matrix-scroll">
        <Table className="calls">
          <TableHead>
            <TableRow>
              <TableCell>Forward</TableCell>
              <TableCell>From outside</TableCell>
              <TableCell>From inside</TableCell>
            </TableRow>
          </TableHead>
          <Rows>
            {calls.map(({ forward, outside, inside }) => (
              <CallRow key={forward.id} name={forward.name} outside={outside} inside={inside} />
            ))}
          </Rows>
        </Table>
      </div>
      {why.map((each) => (
        <p key={each} className="quiet">
          {each}
        </p>
      ))}
    </>
  );
}

const CallRow = memo(function CallRow({
  name,
  outside,
  inside,
}: {
  name: string;
  outside: string;
  inside: string;
}) {
  return (
    <TableRow>
      <TableCell component="th" scope="row">
        {name}
      </TableCell>
      <TableCell className="mono">
        {outside} <CopyButton value={outside} what={`${name}, from outside`} />
      </TableCell>
      <TableCell className="mono">
        {inside} <CopyButton value={inside} what={`${name}, from inside`} />
      </TableCell>
    </TableRow>
  );
});
