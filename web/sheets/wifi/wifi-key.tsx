import Button from '@mui/material/Button';
import { useState } from 'react';
import { passphraseProblem, wifiCode, wifiPassphrase } from '../../../core/index.ts';
import { useSite } from '../../state/analysis.ts';
import { useAround } from '../../state/around.ts';
import { postJson, sentence } from '../../state/api.ts';
import { useSession } from '../../state/session.ts';
import { reveal, useVault, useVaultDialog } from '../../state/vault.ts';
import { useCodePicture } from '../../parts/code-picture.ts';

/**
 * The passphrase of a Wi-Fi network: made here, judged as it is in the vault, and drawn as a code to scan. It is shown
 * to whoever may open the vault, and kept nowhere else.
 */
export default function WifiKey({ index }: { index: number }) {
  const session = useSession();
  const { state } = useVault();
  const openVault = useVaultDialog();
  const around = useAround();
  const network = useSite().wifi.networks[index];
  const [shown, setShown] = useState<string>();
  const [said, setSaid] = useState('');
  const [sure, setSure] = useState(false);
  const picture = useCodePicture(
    state === 'open' && network && shown !== undefined ? wifiCode(network, shown) : undefined,
  );
  if (!network || network.security === 'open') return null;
  const name = network.secret.trim();
  const attempt = async (work: () => Promise<string>): Promise<void> => {
    if (state !== 'open') {
      openVault(name);
      return;
    }
    try {
      setSaid(await work());
    } catch (error) {
      setSaid(sentence(error));
    }
  };
  const make = async (): Promise<string> => {
    const passphrase = wifiPassphrase(crypto.getRandomValues(new Uint8Array(64)));
    if (passphrase === undefined) return 'No passphrase came out. Try again.';
    const kept = name || `wifi-${index + 1}`;
    await postJson('/api/vault/put', { siteId: session.id, name: kept, secret: passphrase, given: true });
    if (name === '') session.editAll({ [`${network.at}/secret`]: kept });
    setShown(undefined);
    return `A passphrase of 23 characters is in the vault as ${kept}. It is in no other place.`;
  };
  const show = async (): Promise<string> => {
    const secret = await reveal(session.id, name);
    const problem = passphraseProblem(secret);
    if (problem !== undefined) return problem;
    const { fit, says } = await postJson<{ fit: boolean; says: string }>('/api/vault/strength', {
      secret,
      around: [...around, network.ssid],
    });
    setShown(secret);
    return fit ? '' : `It can be used, and is too easy to guess: ${says}`;
  };
  return (
    <div className="wifi-key">
      <div className="row-actions">
        <Button
          onClick={() => {
            // The vault keeps the earlier one no longer, and every device that knows it is off.
            if (name !== '' && state === 'open' && !sure) setSure(true);
            else {
              setSure(false);
              void attempt(make);
            }
          }}
        >
          {name === '' ? 'Make a passphrase' : sure ? 'The old one ends: make it' : 'New passphrase'}
        </Button>
        {name !== '' && (
          <Button onClick={() => (shown === undefined ? void attempt(show) : setShown(undefined))}>
            {shown === undefined ? 'Code to scan' : 'Hide the code'}
          </Button>
        )}
      </div>
      {said && <p role="status">{said}</p>}
      {picture && (
        <div
          className="wifi-code"
          role="img"
          aria-label={`Code to join ${network.ssid}`}
          dangerouslySetInnerHTML={{ __html: picture }}
        />
      )}
    </div>
  );
}
