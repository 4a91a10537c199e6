import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { lazy, Suspense, useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import useSWR from 'swr';
import { dayText } from '../state/time.ts';
import { getFile, getJson, postJson, sendFile, sentence, type SiteDocument } from '../state/api.ts';
import { FinalDialog } from './final.tsx';
import { LookButton } from '../parts/look-button.tsx';
import type { ThreeWays } from './merge-dialog.tsx';
import { isSignedOut, SignIn } from '../parts/sign-in.tsx';
import { saveBlob } from '../parts/download.ts';
import { Headings } from '../parts/table-head.tsx';
import { Input } from '../parts/inputs.tsx';
import './data-page.css';

const MergeDialog = lazy(async () => ({ default: (await import('./merge-dialog.tsx')).MergeDialog }));

/** Does something; a refusal is shown as the sentence it is. */
type Act = (what: () => Promise<unknown>) => Promise<void>;

/** Where the data are and who may see them: backups, what comes from another laptop, the trash, browsers. */
export function Component() {
  const [problem, setProblem] = useState('');
  const session = useSWR<{ kind: string }>('/api/session');
  useEffect(() => {
    document.title = 'Data · Netter';
  }, []);
  const act: Act = async (what) => {
    try {
      await what();
      setProblem('');
    } catch (error) {
      setProblem(sentence(error));
    }
  };
  if (isSignedOut(session.error)) return <SignIn done={() => void session.mutate()} />;
  return (
    <main className="page data-page">
      <header className="page-head">
        <Typography variant="h1">Data</Typography>
        <p className="quiet">Backups, the trash, and the browsers that are signed in.</p>
        <Link to="/" className="page-link">
          Sites
        </Link>
        <LookButton />
      </header>
      {problem && (
        <p role="alert" className="note">
          {problem}
        </p>
      )}
      <Damage />
      <Backups act={act} />
      <BringIn act={act} />
      <Trash act={act} />
      <Browsers act={act} />
    </main>
  );
}

interface Integrity {
  readonly looked: number;
  readonly sites: number;
  readonly damaged: readonly { id: string; name: string; revision: number; newestReadable: number | null }[];
  readonly tables: readonly string[];
  readonly rebuilt: readonly string[];
}

/** What the look through the data folder found; nothing where all is well. */
function Damage() {
  const { data } = useSWR<{ integrity: Integrity | null }>('/api/integrity');
  const found = data?.integrity;
  if (!found || found.damaged.length + found.tables.length + found.rebuilt.length === 0) return null;
  return (
    <section role="alert" className="note" aria-labelledby="damage">
      <Typography variant="h2" id="damage">
        Damaged in the data folder
      </Typography>
      <ul>
        {found.damaged.map(({ id, name, revision, newestReadable }) => (
          <li key={id}>
            <Link to={`/sites/${id}/site`}>{name || id}</Link>: revision {revision} cannot be read.{' '}
            {newestReadable === null
              ? 'No older one can be read either: restore it from a backup.'
              : `Revision ${newestReadable} can be read: open the site to go on from it.`}
          </li>
        ))}
        {found.rebuilt.map((each) => (
          <li key={each}>Was damaged and was rebuilt: {each}. Nothing is lost.</li>
        ))}
        {found.tables.map((table) => (
          <li key={table}>
            The table <span className="mono">{table}</span> cannot be read whole. Make a backup now: it takes
            all that can be read, and names what cannot.
          </li>
        ))}
      </ul>
      <p>
        Everything else works. The disk may be failing: make a backup onto another one, then restore it into a
        new data folder.
      </p>
    </section>
  );
}

const sizeText = (bytes: number): string =>
  bytes < 1e6 ? `${Math.ceil(bytes / 1000)} kB` : `${(bytes / 1e6).toFixed(1)} MB`;

interface BackupFile {
  readonly name: string;
  readonly bytes: number;
  readonly madeAt: string;
  readonly byItself: boolean;
  /** Its secrets open with a passphrase that was changed since. */
  readonly earlierPassphrase: boolean;
}

function Backups({ act }: { act: Act }) {
  const { data, mutate } = useSWR<{ folder: string; backups: BackupFile[]; copies: number }>('/api/backups');
  const [made, setMade] = useState('');
  const [erasing, setErasing] = useState(false);
  const earlier = data?.backups.filter(({ earlierPassphrase }) => earlierPassphrase).length ?? 0;
  const make = (): Promise<void> =>
    act(async () => {
      const { path } = await postJson<{ path: string }>('/api/backups', {});
      setMade(path);
      await mutate();
    });
  return (
    <section aria-labelledby="backups">
      <Typography variant="h2" id="backups">
        Backups
      </Typography>
      <p>
        One file holds everything: sites, revisions, records, templates, the trash and the sealed vault.
        Netter makes one every day into <span className="mono">{data?.folder}</span> and keeps seven days and
        four weeks. Copy one to another disk or stick from time to time: a laptop can be lost whole.
      </p>
      <div className="row-actions">
        <Button variant="contained" onClick={() => void make()}>
          Back up now
        </Button>
        {made && (
          <span role="status">
            Written and read back: <span className="mono">{made}</span>
          </span>
        )}
      </div>
      {earlier > 0 && (
        <div className="note">
          <p>
            The secrets in {earlier} {earlier === 1 ? 'backup' : 'backups'} open with an earlier passphrase of
            the vault. If another person knows that passphrase, erase {earlier === 1 ? 'it' : 'them'}, and
            your own copies elsewhere.
          </p>
          <Button onClick={() => setErasing(true)}>
            Erase {earlier} {earlier === 1 ? 'backup' : 'backups'} …
          </Button>
        </div>
      )}
      {erasing && (
        <FinalDialog
          title="Erase backups with an earlier passphrase"
          says={`Erases ${earlier} ${earlier === 1 ? 'backup' : 'backups'}${data!.copies > 0 ? ` and ${data!.copies} ${data!.copies === 1 ? 'copy' : 'copies'} of the data folder from before an update` : ''}. Make a new backup first.`}
          button="Erase"
          act={(proof) => postJson('/api/backups/erase-earlier', proof).then(() => mutate())}
          close={() => setErasing(false)}
        />
      )}
      {data && data.backups.length === 0 && <p className="empty">No backup yet.</p>}
      {data && data.backups.length > 0 && (
        <Table className="sites cards" aria-label="Backups">
          <Headings columns={['File', 'Made', 'Size', 'How']} />
          <TableBody>
            {data.backups.slice(0, 12).map(({ name, bytes, madeAt, byItself, earlierPassphrase }) => (
              <TableRow key={name}>
                <TableCell>
                  <Button
                    className="plain mono"
                    variant="text"
                    title="Save this backup as a file"
                    onClick={() =>
                      void act(async () => saveBlob(name, await getFile(`/api/backups/${name}`)))
                    }
                  >
                    {name}
                  </Button>
                </TableCell>
                <TableCell className="mono">{dayText(madeAt)}</TableCell>
                <TableCell className="mono">{sizeText(bytes)}</TableCell>
                <TableCell>
                  {byItself ? 'automatic' : 'by hand'}
                  {earlierPassphrase && <span className="tag data-tag">earlier passphrase</span>}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
    </section>
  );
}

interface Compared {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly savedAt: string;
  readonly relation: 'new' | 'same' | 'behind' | 'ahead' | 'diverged';
  readonly revisionHere: number | null;
  readonly secrets: number;
}

interface Incoming {
  readonly id: string;
  readonly madeAt: string;
  readonly program: string;
  readonly sites: readonly Compared[];
  readonly vault: 'none' | 'new' | 'same' | 'other';
  readonly damaged: readonly string[];
}

const relationWords: Record<Compared['relation'], string> = {
  new: 'not here: will be added',
  same: 'the same here',
  behind: 'here is newer: nothing to do',
  ahead: 'newer in backup: will update',
  diverged: 'changed on both sides: merge it',
};

/** A backup of another laptop, or of this one: looked at first, then brought in beside what is here. */
function BringIn({ act }: { act: Act }) {
  const file = useRef<HTMLInputElement>(null);
  const [incoming, setIncoming] = useState<Incoming>();
  const [passphrase, setPassphrase] = useState('');
  const [done, setDone] = useState('');
  const [merging, setMerging] = useState<{ compared: Compared; ways: ThreeWays }>();
  const look = (chosen: File | undefined): Promise<void> =>
    act(async () => {
      if (!chosen) return;
      setDone('');
      setIncoming(await sendFile<Incoming>('/api/incoming', chosen));
    });
  const apply = (): Promise<void> =>
    act(async () => {
      const outcome = await postJson<{
        added: number;
        updated: number;
        diverged: string[];
        secrets: number;
        secretsLeft: number;
        secretsBeside: number;
      }>(`/api/incoming/${incoming!.id}/apply`, { passphrase });
      setPassphrase('');
      setDone(
        `Added: ${outcome.added}. Brought forward: ${outcome.updated}. Left to merge: ${outcome.diverged.length}. Secrets brought in: ${outcome.secrets}${outcome.secretsLeft > 0 ? `, left out: ${outcome.secretsLeft} (open the vault here, and type the passphrase of theirs)` : ''}.${outcome.secretsBeside > 0 ? ` Different here under the same name: ${outcome.secretsBeside}. Yours stayed; theirs are in the trash of the vault, where you can put them back.` : ''}`,
      );
      setIncoming({
        ...incoming!,
        sites: incoming!.sites.map((site) =>
          site.relation === 'diverged' ? site : { ...site, relation: 'same', revisionHere: site.revision },
        ),
      });
    });
  const begin = (compared: Compared): Promise<void> =>
    act(async () => {
      const [both, here] = await Promise.all([
        getJson<Pick<ThreeWays, 'base' | 'theirs'>>(`/api/incoming/${incoming!.id}/sites/${compared.id}`),
        getJson<SiteDocument>(`/api/sites/${compared.id}`),
      ]);
      setMerging({
        compared: { ...compared, revisionHere: here.revision },
        ways: { ...both, mine: here.plan, name: compared.name },
      });
    });
  const waiting =
    incoming?.sites.filter(({ relation }) => relation === 'new' || relation === 'ahead').length ?? 0;
  return (
    <section aria-labelledby="bring-in">
      <Typography variant="h2" id="bring-in">
        Restore, or merge another laptop
      </Typography>
      <p>
        Choose a backup file. It is looked at first; nothing here is overwritten. A site that was changed on
        both laptops is shown like a conflict, value by value.
      </p>
      <div className="row-actions">
        <Button onClick={() => file.current?.click()}>Choose a backup file …</Button>
        <input
          ref={file}
          type="file"
          accept=".gz,application/gzip"
          hidden
          aria-label="Backup file"
          onChange={(event) => void look(event.target.files?.[0]).finally(() => (event.target.value = ''))}
        />
      </div>
      {incoming && (
        <>
          <p>
            Made {dayText(incoming.madeAt)} by Netter {incoming.program}; it is whole.
            {incoming.damaged.length > 0 &&
              ` Could not be read when it was made: ${incoming.damaged.join(', ')}.`}
          </p>
          <Table className="sites cards" aria-label="Sites in the backup">
            <Headings columns={['Site', 'Revision there', 'Here', 'What']} actions />
            <TableBody>
              {incoming.sites.map((site) => (
                <TableRow key={site.id}>
                  <TableCell>{site.name || 'unnamed site'}</TableCell>
                  <TableCell className="mono">{site.revision}</TableCell>
                  <TableCell className="mono">{site.revisionHere ?? '–'}</TableCell>
                  <TableCell>{relationWords[site.relation]}</TableCell>
                  <TableCell>
                    {site.relation === 'diverged' && (
                      <Button aria-label={`Merge ${site.name}`} onClick={() => void begin(site)}>
                        Merge …
                      </Button>
                    )}
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
          {incoming.vault === 'other' && (
            <label className="data-field">
              Passphrase of the vault in the backup, if its secrets are to come along (the vault here must be
              open)
              <Input
                type="password"
                className="boxed mono"
                autoComplete="off"
                maxLength={500}
                value={passphrase}
                onChange={({ target }) => setPassphrase(target.value)}
              />
            </label>
          )}
          <div className="row-actions">
            <Button variant="contained" onClick={() => void apply()}>
              {waiting > 0 ? `Bring in ${waiting} ${waiting === 1 ? 'site' : 'sites'}` : 'Bring in the rest'}
            </Button>
            <Button
              onClick={() =>
                void act(() => postJson(`/api/incoming/${incoming.id}/forget`, {})).then(() =>
                  setIncoming(undefined),
                )
              }
            >
              Close it
            </Button>
          </div>
        </>
      )}
      {done && <p role="status">{done}</p>}
      {merging && incoming && (
        <Suspense fallback={null}>
          <MergeDialog
            ways={merging.ways}
            close={() => setMerging(undefined)}
            save={async (plan) => {
              const { id, revisionHere } = merging.compared;
              await postJson(`/api/incoming/${incoming.id}/sites/${id}`, { base: revisionHere, plan });
              setIncoming({
                ...incoming,
                sites: incoming.sites.map((site) =>
                  site.id === id ? { ...site, relation: 'behind' } : site,
                ),
              });
            }}
          />
        </Suspense>
      )}
    </section>
  );
}

interface TrashedSite {
  readonly id: string;
  readonly name: string;
  readonly customer: string;
  readonly revision: number;
  readonly deletedAt: string;
  /** It has lain there for 30 days, and on 30 days Netter was used. */
  readonly ripe: boolean;
}

function Trash({ act }: { act: Act }) {
  const { data, mutate } = useSWR<{ sites: TrashedSite[] }>('/api/trash');
  const [erasing, setErasing] = useState<readonly TrashedSite[]>();
  const sites = data?.sites ?? [];
  const ripe = sites.filter((site) => site.ripe);
  return (
    <section aria-labelledby="trash">
      <Typography variant="h2" id="trash">
        Trash
      </Typography>
      {sites.length === 0 ? (
        <p className="empty">Empty. A site that is removed stays here until you erase it.</p>
      ) : (
        <Table className="sites cards" aria-label="Removed sites">
          <Headings columns={['Site', 'Customer', 'Revision', 'Removed']} actions />
          <TableBody>
            {sites.map((site) => {
              const { id, name, customer, revision, deletedAt, ripe } = site;
              return (
                <TableRow key={id}>
                  <TableCell>{name || 'unnamed site'}</TableCell>
                  <TableCell>{customer}</TableCell>
                  <TableCell className="mono">{revision}</TableCell>
                  <TableCell className="mono">
                    {dayText(deletedAt)} {ripe && <span className="tag">over 30 days</span>}
                  </TableCell>
                  <TableCell className="row-buttons">
                    <Button
                      aria-label={`Put ${name} back`}
                      onClick={() =>
                        void act(() => postJson('/api/trash/restore', { id })).then(() => mutate())
                      }
                    >
                      Put back
                    </Button>
                    <Button
                      className="plain"
                      variant="text"
                      aria-label={`Erase ${name}`}
                      onClick={() => setErasing([site])}
                    >
                      Erase …
                    </Button>
                  </TableCell>
                </TableRow>
              );
            })}
          </TableBody>
        </Table>
      )}
      {ripe.length > 0 && (
        <div className="row-actions">
          <Button onClick={() => setErasing(ripe)}>Erase {ripe.length} removed over 30 days ago …</Button>
        </div>
      )}
      {erasing && (
        <FinalDialog
          title={
            erasing.length === 1
              ? `Erase ${erasing[0]!.name || 'the unnamed site'}`
              : `Erase ${erasing.length} sites`
          }
          says="Erases the plan, every revision, the records and the secrets. Backups keep what they hold."
          button="Erase"
          act={async (proof) => {
            for (const { id } of erasing) await postJson('/api/trash/erase', { id, ...proof });
            await mutate();
          }}
          close={() => setErasing(undefined)}
        />
      )}
    </section>
  );
}

interface Browser {
  readonly id: string;
  readonly label: string;
  readonly startedAt: string;
  readonly usedAt: string;
  readonly thisOne: boolean;
}

function Browsers({ act }: { act: Act }) {
  const { data, mutate } = useSWR<{ browsers: Browser[] }>('/api/browsers');
  const [address, setAddress] = useState('');
  const invite = (): Promise<void> =>
    act(async () => setAddress((await postJson<{ address: string }>('/api/sign-in/codes', {})).address));
  return (
    <section aria-labelledby="browsers">
      <Typography variant="h2" id="browsers">
        Signed-in browsers
      </Typography>
      <Table className="sites cards" aria-label="Signed-in browsers">
        <Headings columns={['Browser', 'Since', 'Last used']} actions />
        <TableBody>
          {data?.browsers.map(({ id, label, startedAt, usedAt, thisOne }) => (
            <TableRow key={id}>
              <TableCell>
                {label} {thisOne && <span className="tag">this one</span>}
              </TableCell>
              <TableCell className="mono">{dayText(startedAt)}</TableCell>
              <TableCell className="mono">{dayText(usedAt)}</TableCell>
              <TableCell>
                {thisOne ? (
                  <Button
                    onClick={() =>
                      void act(() => postJson('/api/sign-out', {})).then(() => location.assign('/'))
                    }
                  >
                    Sign out
                  </Button>
                ) : (
                  <Button
                    aria-label={`End the session of ${label}`}
                    onClick={() => void act(() => postJson('/api/browsers/end', { id })).then(() => mutate())}
                  >
                    End its session
                  </Button>
                )}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <div className="row-actions">
        <Button onClick={() => void invite()}>Sign in another browser</Button>
      </div>
      {address && (
        <p role="status">
          Open this address in the other browser on this machine. It works once, within 30 minutes:{' '}
          <span className="mono data-address">{address}</span>
        </p>
      )}
    </section>
  );
}
