import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import { sentence } from '../state/api.ts';
import { useSession } from '../state/session.ts';
import { useSignal } from '../state/signal.ts';
import { useVault, useVaultDialog } from '../state/vault.ts';
import { forgetWaiting, keepWaiting, waitingSecrets } from '../state/waiting-secrets.ts';

/** Passwords of a brief wait here until the vault is open, and go into it by themselves. */
export function SecretsNote() {
  const { id } = useSession();
  const waiting = useSignal(waitingSecrets, (all) => all).filter(({ siteId }) => siteId === id);
  const { state, again } = useVault();
  const open = useVaultDialog();
  const [problem, setProblem] = useState('');
  const ready = state === 'open' && waiting.length > 0;
  useEffect(() => {
    if (!ready) return;
    keepWaiting(id).then(
      () => void again(),
      (error: unknown) => setProblem(sentence(error)),
    );
  }, [ready, id, again]);
  if (waiting.length === 0) return null;
  return (
    <div role="status" className="note save-note">
      <p>
        {problem ||
          `Kept in this window only: ${waiting.map(({ says }) => says).join(', ')}. The vault takes it once it is open.`}
      </p>
      <div className="row-actions">
        <Button onClick={() => open(waiting[0]!.name)}>Open the vault</Button>
        <Button onClick={() => forgetWaiting(id)}>Forget it</Button>
      </div>
    </div>
  );
}
