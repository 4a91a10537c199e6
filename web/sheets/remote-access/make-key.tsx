import Button from '@mui/material/Button';
import { useState } from 'react';
import { type At, valueAt } from '../../../core/index.ts';
import { postJson, sentence } from '../../state/api.ts';
import { usePlanPiece, useSession } from '../../state/session.ts';
import { useVault, useVaultDialog } from '../../state/vault.ts';
import { Field } from '../../parts/field.tsx';

/** Makes a key pair: the private half goes into the vault, the public half into the plan, and nowhere else. */
export function MakeKey({
  publicAt,
  secretAt,
  suggested,
  bare = false,
}: {
  publicAt: string;
  secretAt: At;
  suggested: string;
  bare?: boolean;
}) {
  const session = useSession();
  const { state } = useVault();
  const openVault = useVaultDialog();
  const [problem, setProblem] = useState('');
  const [sure, setSure] = useState(false);
  const there = usePlanPiece((plan) => String(valueAt(plan, publicAt) ?? '').trim() !== '');
  const kept = usePlanPiece((plan) => String(valueAt(plan, secretAt) ?? '').trim());
  const make = async (): Promise<void> => {
    if (there && !sure) {
      setSure(true);
      return;
    }
    setSure(false);
    const name = kept || suggested;
    try {
      const { keyPair } = await import('./key-pair.ts');
      const pair = keyPair(crypto.getRandomValues(new Uint8Array(32)));
      await postJson('/api/vault/put', { siteId: session.id, name, secret: pair.privateKey, given: true });
      setProblem('');
      session.editAll({ [secretAt]: name, [publicAt]: pair.publicKey });
    } catch (error) {
      setProblem(sentence(error));
    }
  };
  return (
    <div className="secret-field">
      {!bare && <Field at={secretAt} />}
      <Button onClick={() => (state === 'open' ? void make() : openVault(kept || suggested))}>
        {sure ? 'Replace the old key' : there ? 'New key' : 'Make a key'}
      </Button>
      {problem && <span role="alert">{problem}</span>}
    </div>
  );
}
