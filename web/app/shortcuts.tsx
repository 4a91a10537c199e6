import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import { sheets } from '../sheets/index.ts';

const keys: readonly (readonly [string, string])[] = [
  [
    sheets.map(({ shortcut: [printed] }) => `Alt ${printed}`).join(', '),
    'open a sheet, in the order of the rail',
  ],
  ['Ctrl K', 'find anything: a packet, a field, a device, a finding, a command, a site'],
  ['F7', 'open or fold all figures'],
  ['F8, Shift F8', 'next or previous finding'],
  ['Ctrl Z, Ctrl Shift Z', 'undo, redo'],
  ['Ctrl S', 'save at once (saving is automatic)'],
  ['Tab, Shift Tab', 'next or previous field'],
  ['F1', 'this list'],
];

export function ShortcutsDialog({ open, close }: { open: boolean; close: () => void }) {
  return (
    <Dialog open={open} onClose={close}>
      <DialogTitle>By keyboard</DialogTitle>
      <DialogContent>
        <Table className="keys">
          <TableBody>
            {keys.map(([key, does]) => (
              <TableRow key={key}>
                <TableCell component="th" scope="row">
                  <kbd>{key}</kbd>
                </TableCell>
                <TableCell>{does}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </DialogContent>
      <DialogActions>
        <Button onClick={close} autoFocus>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}
