import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState, type FormEvent } from 'react';
import { Input } from '../parts/inputs.tsx';
import { sentence } from '../state/api.ts';
import { useVault } from '../state/vault.ts';
import './final.css';

/** Asks before something that cannot be undone: for the passphrase of the vault, or for a session begun anew. */
export function FinalDialog({
  title,
  says,
  button,
  act,
  close,
}: {
  title: string;
  says: string;
  button: string;
  /** Does it; the passphrase where one was typed. */
  act: (proof: { passphrase?: string }) => Promise<unknown>;
  close: () => void;
}) {
  const { state } = useVault();
  const [passphrase, setPassphrase] = useState('');
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  const send = async (event: FormEvent): Promise<void> => {
    event.preventDefault();
    setBusy(true);
    try {
      await act(passphrase === '' ? {} : { passphrase });
      close();
    } catch (error) {
      setProblem(sentence(error));
    } finally {
      setBusy(false);
    }
  };
  return (
    <Dialog open onClose={close} aria-labelledby="final-title" fullWidth maxWidth="sm">
      <form onSubmit={(event) => void send(event)}>
        <DialogTitle id="final-title">{title}</DialogTitle>
        <DialogContent className="vault">
          <p>{says}</p>
          {state !== 'none' && (
            <label className="final-field">
              Passphrase of the vault
              <Input
                type="password"
                className="boxed mono"
                autoComplete="off"
                autoFocus
                maxLength={500}
                value={passphrase}
                onChange={({ target }) => setPassphrase(target.value)}
              />
            </label>
          )}
          <p className="quiet">
            {state === 'none' ? 'There is no vault, so sign' : 'Without the passphrase, sign'} in again first:
            run <code className="mono">npm run -s netter -- sign-in</code> in a terminal, open the address it
            prints, and come back within ten minutes.
          </p>
          {problem && <p role="alert">{problem}</p>}
        </DialogContent>
        <DialogActions>
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" color="error" disabled={busy}>
            {button}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
