import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useCallback, useEffect, useState } from 'react';
import { createPortal } from 'react-dom';
import {
  fileName,
  pageOf,
  pageText,
  peerFormats,
  type PersonPage,
  type Secrets,
} from '../../../core/index.ts';
import { postJson, sentence } from '../../state/api.ts';
import { useAround } from '../../state/around.ts';
import { useSiteNow } from '../../state/analysis.ts';
import { useSession } from '../../state/session.ts';
import { reveal, useVault, useVaultDialog } from '../../state/vault.ts';
import { download } from '../../parts/download.ts';
import { sealBundle } from '../../parts/seal.ts';
import { useCodePicture } from '../../parts/code-picture.ts';
import { Input } from '../../parts/inputs.tsx';
import '../../parts/paper-page.css';

const shortestPassphrase = 12;

/** The profile of one device as text and as a picture to be scanned, and the page that its person gets. */
export default function PersonPanel({ index }: { index: number }) {
  const site = useSiteNow();
  const session = useSession();
  const { state } = useVault();
  const openVault = useVaultDialog();
  const [shown, setSecrets] = useState<Secrets>();
  // Locked means gone, in this very drawing; and what is gone does not come back when it is opened again.
  const secrets = state === 'open' ? shown : undefined;
  useEffect(() => {
    if (state !== 'open' && shown) setSecrets(undefined);
  }, [state, shown]);
  const [problem, setProblem] = useState('');
  const [printing, setPrinting] = useState(false);
  const printed = useCallback(() => setPrinting(false), []);
  const peer = site.vpn.peers[index];
  const tunnel = site.vpn.way === 'wireguard';
  const text = peer && peerFormats.wireguard.write(site, peer, secrets);
  const picture = useCodePicture(secrets && text);
  if (!peer || text === undefined) return null;
  const page = pageOf(site, peer);
  const show = async (): Promise<void> => {
    try {
      const names = [peer.ownKey ? '' : peer.secret, peer.preshared].filter((each) => each !== '');
      const found = await Promise.all(
        names.map(async (each) => [each, await reveal(session.id, each)] as const),
      );
      setSecrets(new Map(found));
      setProblem('');
    } catch (error) {
      setProblem(sentence(error));
    }
  };
  return (
    <div className="profile-page">
      <div>
        <Typography variant="h4" className="sub">
          For {peer.name}
        </Typography>
        <ol className="steps-plain">
          {page.steps.map((each) => (
            <li key={each}>{each}</li>
          ))}
        </ol>
        <p>
          <span className="quiet">May reach:</span>{' '}
          {page.opens.map(({ what }) => what).join('; ') || 'nothing'}.
        </p>
        <p>
          <span className="quiet">Allowed IPs of the client:</span>{' '}
          <span className="mono">{page.routes}</span>
        </p>
        {[...(secrets ? [page.keyCaution] : []), ...page.cautions].map((each) => (
          <p key={each} className="caution">
            {each}
          </p>
        ))}
        <div className="row-actions">
          {!tunnel ? null : secrets ? (
            <>
              <Button
                onClick={() =>
                  download(peerFormats.wireguard.fileName(peer), [text], peerFormats.wireguard.mediaType)
                }
              >
                Save the profile
              </Button>
              <Button onClick={() => setSecrets(undefined)}>Hide</Button>
            </>
          ) : state === 'open' ? (
            <Button variant="contained" onClick={() => void show()}>
              Show it with its secrets
            </Button>
          ) : (
            <Button onClick={() => openVault(peer.secret)}>Open the vault for its secrets</Button>
          )}
          <Button onClick={() => setPrinting(true)}>
            {secrets ? 'Print the page with the key, A4' : 'Print the page, A4'}
          </Button>
        </div>
        {secrets && (
          <SealForm
            save={async (passphrase) => {
              const files = {
                [fileName(peerFormats.wireguard.fileName(peer))]: text,
                [fileName(`${peer.name}.txt`)]: pageText(page),
              };
              const bytes = await sealBundle(files, passphrase);
              download(`${peer.name}.zip.age`, [bytes as BlobPart], 'application/octet-stream');
            }}
          />
        )}
        {problem && <p role="alert">{problem}</p>}
      </div>
      {picture ? (
        <div
          className="profile-code"
          role="img"
          aria-label="The profile as a code to scan"
          dangerouslySetInnerHTML={{ __html: picture }}
        />
      ) : (
        tunnel && <pre className="profile-text mono">{text}</pre>
      )}
      {printing && <Printed page={page} picture={picture} done={printed} />}
    </div>
  );
}

/** Profile and page in one sealed file; its passphrase is told on the telephone, never with the file. */
function SealForm({ save }: { save: (passphrase: string) => Promise<void> }) {
  const [passphrase, setPassphrase] = useState('');
  const [problem, setProblem] = useState('');
  const around = useAround();
  const send = async (): Promise<void> => {
    try {
      const { fit, says } = await postJson<{ fit: boolean; says: string }>('/api/vault/strength', {
        secret: passphrase,
        around,
      });
      setProblem(fit ? '' : says);
      if (!fit) return;
      await save(passphrase);
      setPassphrase('');
    } catch (error) {
      setProblem(sentence(error));
    }
  };
  return (
    <form
      className="seal"
      onSubmit={(event) => {
        event.preventDefault();
        void send();
      }}
    >
      <Input
        type="password"
        className="boxed mono"
        aria-label="Passphrase for a sealed file"
        placeholder="passphrase, told on the telephone"
        autoComplete="off"
        maxLength={200}
        value={passphrase}
        onChange={({ target }) => setPassphrase(target.value)}
      />
      <Button
        type="submit"
        disabled={passphrase.length < shortestPassphrase}
        title={`At least ${shortestPassphrase} characters; told on the telephone, never with the file`}
      >
        Save it sealed
      </Button>
      {problem && <p role="alert">{problem}</p>}
    </form>
  );
}

/** The page on paper: beside the application, and seen by the printer only. */
function Printed({ page, picture, done }: { page: PersonPage; picture: string; done: () => void }) {
  useEffect(() => {
    addEventListener('afterprint', done);
    window.print();
    return () => removeEventListener('afterprint', done);
  }, [done]);
  return createPortal(
    <article className="paper-page" aria-label={page.title}>
      <Typography variant="h1">{page.title}</Typography>
      <div className="paper-top">
        <ol>
          {page.steps.map((each) => (
            <li key={each}>{each}</li>
          ))}
        </ol>
        {picture && <div className="paper-code" dangerouslySetInnerHTML={{ __html: picture }} />}
      </div>
      <Typography variant="h2">What you can reach</Typography>
      <Table>
        <TableBody>
          {page.opens.map(({ what, where }) => (
            <TableRow key={what}>
              <TableCell component="th" scope="row">
                {what}
              </TableCell>
              <TableCell className="mono">{where}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <Typography variant="h2">If it does not work</Typography>
      <ul>
        {page.ifNot.map((each) => (
          <li key={each}>{each}</li>
        ))}
      </ul>
      <div className="paper-caution">
        {picture && <p>{page.keyCaution}</p>}
        {page.cautions.map((each) => (
          <p key={each}>{each}</p>
        ))}
      </div>
      <dl>
        {page.facts.map(({ label, value }) => (
          <div key={label}>
            <dt>{label}</dt>
            <dd className="mono">{value}</dd>
          </div>
        ))}
      </dl>
    </article>,
    document.body,
  );
}
