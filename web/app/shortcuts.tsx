import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { sheets } from './sheets.ts';

const keys: readonly (readonly [string, string])[] = [
  [`Alt 1 … Alt ${sheets.length % 10}`, 'open a sheet'],
  ['Ctrl K', 'ask about a packet'],
  ['F7', 'open or fold all figures'],
  ['F8, Shift F8', 'next or previous finding'],
  ['Ctrl Z, Ctrl Shift Z', 'undo, redo'],
  ['Ctrl S', 'save at once (it saves by itself)'],
  ['Tab, Shift Tab', 'next or previous field'],
  ['F1', 'this list'],
];

export function ShortcutsDialog({ open, close }: { open: boolean; close: () => void }) {
  return (
    <Dialog open={open} onClose={close}>
      <DialogTitle>By keyboard</DialogTitle>
      <DialogContent>
        <table className="keys">
          <tbody>
            {keys.map(([key, does]) => (
              <tr key={key}>
                <th scope="row">
                  <kbd>{key}</kbd>
                </th>
                <td>{does}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </DialogContent>
      <DialogActions>
        <Button onClick={close} autoFocus>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}
