import Radio from '@mui/material/Radio';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import type { Conflict } from '../../core/index.ts';
import { Headings } from '../parts/table-head.tsx';
import './merge-table.css';

/** What was chosen for each value that differs; what is not chosen stays as it is here. */
export type MergeChoices = Record<string, 'mine' | 'theirs'>;

/** Values that were changed on both sides, each with a choice. */
export function MergeTable({
  conflicts,
  choices,
  choose,
}: {
  conflicts: readonly Conflict[];
  choices: MergeChoices;
  choose: (choices: MergeChoices) => void;
}) {
  if (conflicts.length === 0) return null;
  return (
    <Table className="conflicts" aria-label="Changed on both sides">
      <Headings columns={['Value', 'Before', 'Here', 'There']} />
      <TableBody>
        {conflicts.map(({ path, label, says }) => (
          <TableRow key={path}>
            <TableCell component="th" scope="row">
              {label}
            </TableCell>
            <TableCell className="mono">{says.base}</TableCell>
            {(['mine', 'theirs'] as const).map((side) => (
              <TableCell key={side}>
                <label>
                  <Radio
                    name={path}
                    checked={(choices[path] ?? 'mine') === side}
                    onChange={() => choose({ ...choices, [path]: side })}
                  />{' '}
                  <span className="mono">{says[side]}</span>
                </label>
              </TableCell>
            ))}
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
