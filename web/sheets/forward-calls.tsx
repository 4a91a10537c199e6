import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { forwardCalls } from '../../core/index.ts';
import { useSite } from '../app/analysis.ts';
import { CopyButton } from '../parts/copy.tsx';

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
          <TableBody>
            {calls.map(({ forward, outside, inside }) => (
              <TableRow key={forward.id}>
                <TableCell component="th" scope="row">
                  {forward.name}
                </TableCell>
                <TableCell className="mono">
                  {outside} <CopyButton value={outside} what={`${forward.name}, from outside`} />
                </TableCell>
                <TableCell className="mono">
                  {inside} <CopyButton value={inside} what={`${forward.name}, from inside`} />
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
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
