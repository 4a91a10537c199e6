import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import type { Worked } from '../../core/index.ts';

/** A calculation as on paper: the figures at the right edge, a rule, the result below it. */
export function WorkedSum({ worked }: { worked: Worked }) {
  const last = worked.steps.length - 1;
  return (
    <figure className="sum">
      <figcaption>{worked.name}</figcaption>
      <Table>
        <TableBody>
          {worked.steps.map((step, index) => (
            <TableRow
              key={`${step.says}${index}`}
              className={index === last && last > 0 ? 'sum-result' : undefined}
            >
              <TableCell component="th" scope="row">
                {step.says}
              </TableCell>
              <TableCell className={step.value.length <= 19 ? 'short' : undefined}>{step.value}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      {worked.means && <p className="sum-means">{worked.means}</p>}
      <p className="sum-source">{worked.source}</p>
    </figure>
  );
}
