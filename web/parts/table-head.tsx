import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';

/** Headings of a table; `actions` adds a column of buttons, whose heading only a reader of the screen needs. */
export const Headings = ({ columns, actions }: { columns: readonly string[]; actions?: boolean }) => (
  <TableHead>
    <TableRow>
      {columns.map((each) => (
        <TableCell key={each}>{each}</TableCell>
      ))}
      {actions && (
        <TableCell>
          <span className="hidden">What to do</span>
        </TableCell>
      )}
    </TableRow>
  </TableHead>
);
