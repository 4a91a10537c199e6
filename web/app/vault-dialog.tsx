import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState, type FormEvent, type ReactNode } from 'react';
import { Link } from 'react-router';
import useSWR from 'swr';
import { dayText } from '../state/time.ts';
import { useAround } from '../state/around.ts';
import { postJson, sentence } from '../state/api.ts';
import { FinalDialog } from './final.tsx';
import { usePlanPiece, useSession } from '../state/session.ts';
import { download } from '../parts/download.ts';
import { bytesOf, filePrefix, type SealedFile } from '../state/sealed-file.ts';
import { clipboardSeconds, copyForAWhile, reveal, useSecretNames, useVault } from '../state/vault.ts';
import { Input, Tick } from '../parts/inputs.tsx';
import './vault-dialog.css';

/** Passwords, PINs and keys: made, opened, filled and locked here, and kept nowhere else. */
export function VaultDialog({ open, name, close }: { open: boolean; name: string; close: () => void }) {
  const { state, again } = useVault();
  const [problem, setProblem] = useState('');
  const demo = usePlanPiece((plan) => plan.demo);
  /** Asks the vault for something; a refusal is shown as the sentence it is. */
  const ask = async (path: string, body: object): Promise<boolean> => {
    try {
      await postJson(`/api/vault/${path}`, body);
      setProblem('');
      await again();
      return true;
    } catch (error) {
      setProblem(sentence(error));
      await again();
      return false;
    }
  };
  return (
    <Dialog open={open} onClose={close} aria-labelledby="vault-title" fullWidth maxWidth="sm">
      <DialogTitle id="vault-title">Vault</DialogTitle>
      <DialogContent className="vault">
        {demo && <p className="note">This is an invented site: keep invented secrets only in its vault.</p>}
        {state === 'none' && <Make ask={ask} />}
        {state === 'locked' && <Unlock ask={ask} />}
        {state === 'open' && <Secrets ask={ask} wanted={name} fail={setProblem} />}
        {problem && <p role="alert">{problem}</p>}
      </DialogContent>
      <DialogActions>
        {state === 'open' && <Button onClick={() => void ask('lock', {})}>Lock</Button>}
        <Button onClick={close}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

/** Typed by whoever forgot the passphrase and ends the vault. */
const forgetSentence = 'everything in it is gone';

type Ask = (path: string, body: object) => Promise<boolean>;

function Secret({
  label,
  value,
  change,
  first = false,
}: {
  label: string;
  value: string;
  change: (value: string) => void;
  first?: boolean;
}) {
  return (
    <label>
      {label}
      <Input
        type="password"
        className="boxed mono"
        value={value}
        autoFocus={first}
        autoComplete="off"
        onChange={({ target }) => change(target.value)}
        maxLength={500}
      />
    </label>
  );
}

function Form({
  send,
  children,
  button,
  ready,
}: {
  send: () => void;
  children: ReactNode;
  button: string;
  ready: boolean;
}) {
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    if (ready) send();
  };
  return (
    <form onSubmit={submit} className="vault-form">
      {children}
      <Button type="submit" variant="contained" disabled={!ready}>
        {button}
      </Button>
    </form>
  );
}

function Make({ ask }: { ask: Ask }) {
  const [one, setOne] = useState('');
  const [two, setTwo] = useState('');
  const around = useAround();
  return (
    <>
      <p>
        There is no vault yet. One passphrase opens it, for all sites on this machine. It is kept nowhere: if
        it is forgotten, what the vault holds is gone. Four or five words that do not belong together are
        good.
      </p>
      <Form
        send={() => void ask('make', { passphrase: one, around })}
        button="Make the vault"
        ready={one !== '' && one === two}
      >
        <Secret label="Passphrase" value={one} change={setOne} first />
        <Secret label="Repeat the passphrase" value={two} change={setTwo} />
        {two !== '' && one !== two && <p className="quiet">The two differ.</p>}
      </Form>
    </>
  );
}

function Unlock({ ask }: { ask: Ask }) {
  const [passphrase, setPassphrase] = useState('');
  const [typed, setTyped] = useState('');
  return (
    <>
      <p>The vault is locked. It locks itself when Netter starts, and after ten minutes without use.</p>
      <Form send={() => void ask('unlock', { passphrase })} button="Open it" ready={passphrase !== ''}>
        <Secret label="Passphrase" value={passphrase} change={setPassphrase} first />
      </Form>
      <details>
        <summary>Forgotten passphrase</summary>
        <p>
          Nobody can open the vault without it, and there is no other way in. You can end this vault and make
          a new one; ask the provider and the customer for the secrets again.
        </p>
        <p>
          So that nobody else does it, this works only in a browser that signed in within the last ten
          minutes. In a terminal run <code className="mono">npm run -s netter -- sign-in</code>, open the
          address it prints, and come back here.
        </p>
        <Form
          send={() => void ask('forget', { sentence: typed })}
          button="Delete vault for all sites"
          ready={typed.trim().toLowerCase() === forgetSentence}
        >
          <label>
            Type this sentence: {forgetSentence}
            <Input
              className="boxed mono"
              value={typed}
              autoComplete="off"
              maxLength={100}
              onChange={({ target }) => setTyped(target.value)}
            />
          </label>
        </Form>
      </details>
    </>
  );
}

function Secrets({ ask, wanted, fail }: { ask: Ask; wanted: string; fail: (says: string) => void }) {
  const { id: siteId } = useSession();
  const { data, mutate } = useSecretNames(siteId, 'open');
  const names = data?.names ?? [];
  const [name, setName] = useState(wanted);
  const [secret, setSecret] = useState('');
  const [said, setSaid] = useState('');
  const [leaving, setLeaving] = useState('');
  const [given, setGiven] = useState(wanted !== '');
  const around = useAround();
  const put = async (): Promise<void> => {
    if (!(await ask('put', { siteId, name, secret, given, around }))) return;
    const strength = await postJson<{ fit: boolean; says: string }>('/api/vault/strength', {
      secret,
      around,
    });
    setSaid(
      strength.fit
        ? `${name} is kept. ${strength.says}`
        : `${name} is kept as it is. A word on it: ${strength.says}`,
    );
    setSecret('');
    await mutate();
  };
  const saveFile = async (each: string): Promise<void> => {
    try {
      const file = JSON.parse(await reveal(siteId, each)) as SealedFile;
      download(file.name, [bytesOf(file.base64)], 'application/octet-stream');
      setSaid(
        `${file.name} is saved: of ${file.box || 'a box without a name'}, firmware ${file.version || 'not noted'}.`,
      );
    } catch (error) {
      fail(sentence(error));
    }
  };
  const copy = async (each: string): Promise<void> => {
    try {
      await copyForAWhile(await reveal(siteId, each));
      setSaid(`${each} is on the clipboard for ${clipboardSeconds} seconds.`);
    } catch (error) {
      fail(sentence(error));
    }
  };
  return (
    <>
      {names.length === 0 ? (
        <p className="empty">Nothing is kept for this site yet.</p>
      ) : (
        <ul className="vault-names" aria-label="Secrets of this site">
          {names.map((each) => (
            <li key={each}>
              <span className="mono">{each}</span>
              {each.startsWith(filePrefix) ? (
                <Button onClick={() => void saveFile(each)}>Save it as a file</Button>
              ) : (
                <Button onClick={() => void copy(each)}>Copy</Button>
              )}
              {leaving === each ? (
                <Button
                  color="error"
                  onClick={() => void ask('remove', { siteId, name: each }).then(() => mutate())}
                >
                  Move it to the trash
                </Button>
              ) : (
                <Button className="plain" variant="text" onClick={() => setLeaving(each)}>
                  Remove
                </Button>
              )}
            </li>
          ))}
        </ul>
      )}
      <RemovedSecrets siteId={siteId} changed={names.join(' ')} ask={ask} again={() => void mutate()} />
      <Form
        send={() => void put()}
        button={names.includes(name.trim()) ? 'Replace it' : 'Keep it'}
        ready={name.trim() !== '' && secret !== ''}
      >
        <label>
          Name
          <Input
            className="boxed mono"
            value={name}
            onChange={({ target }) => setName(target.value)}
            maxLength={64}
          />
        </label>
        <Secret label="Secret" value={secret} change={setSecret} first={wanted !== ''} />
        <label className="vault-line">
          <Tick checked={given} onChange={({ target }) => setGiven(target.checked)} /> The provider chose it:
          keep it as it is. Otherwise one that is easy to guess is refused.
        </label>
      </Form>
      {said && <p role="status">{said}</p>}
      <ChangePassphrase ask={ask} around={around} />
    </>
  );
}

function ChangePassphrase({ ask, around }: { ask: Ask; around: readonly string[] }) {
  const [before, setBefore] = useState('');
  const [after, setAfter] = useState('');
  const [done, setDone] = useState(false);
  const send = async (): Promise<void> => {
    const changed = await ask('change', { before, after, around });
    setDone(changed);
    if (changed) [setBefore, setAfter].forEach((set) => set(''));
  };
  return (
    <details>
      <summary>Change passphrase</summary>
      <Form send={() => void send()} button="Change it" ready={before !== '' && after !== ''}>
        <Secret label="Current passphrase" value={before} change={setBefore} />
        <Secret label="New passphrase" value={after} change={setAfter} />
      </Form>
      {done && (
        <p role="status">
          The new passphrase opens the vault from now on; the old one does not. Backups made before still open
          with the old one: the page <Link to="/data">Data</Link> erases them.
        </p>
      )}
    </details>
  );
}

interface Removed {
  readonly id: number;
  readonly name: string;
  readonly deletedAt: string;
}

/** Secrets of this site that were removed: sealed until a person erases them. */
function RemovedSecrets({
  siteId,
  changed,
  ask,
  again,
}: {
  siteId: string;
  changed: string;
  ask: Ask;
  again: () => void;
}) {
  const { data, mutate } = useSWR(['vault-trash', siteId, changed], () =>
    postJson<{ trash: Removed[] }>('/api/vault/trash', { siteId }),
  );
  const [erasing, setErasing] = useState<{ id: number; name: string }>();
  const trash = data?.trash ?? [];
  if (trash.length === 0) return null;
  const act = (path: string, id: number): void =>
    void ask(path, { siteId, id }).then(() => {
      void mutate();
      again();
    });
  return (
    <details>
      <summary>{trash.length} in the trash</summary>
      <ul className="vault-names" aria-label="Removed secrets">
        {trash.map(({ id, name, deletedAt }) => (
          <li key={id}>
            <span className="mono">{name}</span>
            <span className="quiet">removed {dayText(deletedAt)}</span>
            <Button onClick={() => act('put-back', id)}>Put back</Button>
            <Button color="error" onClick={() => setErasing({ id, name })}>
              Erase …
            </Button>
          </li>
        ))}
      </ul>
      {erasing && (
        <FinalDialog
          title={`Erase ${erasing.name}`}
          says="The secret cannot be brought back. Backups keep what they hold."
          button="Erase"
          act={async (proof) => {
            await postJson('/api/vault/erase', { siteId, id: erasing.id, ...proof });
            await mutate();
          }}
          close={() => setErasing(undefined)}
        />
      )}
    </details>
  );
}
