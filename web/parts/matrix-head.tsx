import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import './matrix.css';

/** The head of a table in which rows send and columns receive. */
export const MatrixHead = ({ columns }: { columns: readonly (readonly [key: string, name: string])[] }) => (
  <TableHead>
    <TableRow>
      <TableCell className="matrix-corner">from ↓ to →</TableCell>
      {columns.map(([key, name]) => (
        <TableCell key={key} scope="col">
          {name}
        </TableCell>
      ))}
    </TableRow>
  </TableHead>
);
