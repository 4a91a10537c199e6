import Button from '@mui/material/Button';
import { useEffect, useMemo, useState } from 'react';
import {
  formatAddress,
  freePeerAddress,
  profileText,
  reachText,
  routesOf,
  formatPrefix,
  vpnPeerSchema,
  type PeerPlan,
  type Secrets,
} from '../../core/index.ts';
import { newId, sentence } from '../app/api.ts';
import { useSite, useSiteNow } from '../app/analysis.ts';
import { useFocus } from '../app/focus.ts';
import { usePlanPiece, useSession } from '../app/session.ts';
import { useSignal } from '../app/signal.ts';
import { reveal, useVault, useVaultDialog } from '../app/vault.ts';
import { ChoiceField, SwitchField, TextField } from '../parts/field.tsx';
import { download } from '../parts/download.ts';
import { sealText } from '../parts/seal.ts';
import { RemoveButton, RowTable, useRows } from '../parts/rows.tsx';
import { MakeKey } from './make-key.tsx';
import { systemChoices } from './remote-access.tsx';

/** One row a device: whose it is, its key, its address, what it reaches, and its profile. */
export function People() {
  const site = useSite();
  const { ids, add, remove } = useRows<PeerPlan>('/vpn/peers');
  const list = usePlanPiece((plan) => plan.vpn.groups);
  const groups = useMemo(() => list.map(({ id, name }) => [id, name || 'unnamed group'] as const), [list]);
  const [open, setOpen] = useState('');
  const addOne = (): void => {
    const [four, six] = [freePeerAddress(site, 4), freePeerAddress(site, 6)];
    add(
      vpnPeerSchema.parse({
        id: newId(),
        group: groups[0]?.[0] ?? '',
        address: four ? formatAddress(four) : '',
        address6: six ? formatAddress(six) : '',
        created: new Date().toISOString().slice(0, 10),
      }),
      'person',
    );
  };
  return (
    <section aria-labelledby="people" data-at="/vpn/peers" tabIndex={-1}>
      <h3 id="people">People, one row a device</h3>
      <RowTable
        label="People and devices"
        headings={[
          ['Person', 'l'],
          ['Device', 'm'],
          ['Group', 'm'],
          ['Address', 'm'],
          ['State', 'm'],
        ]}
        add={addOne}
        addLabel="Add a device"
        empty="Nobody yet. One row a device: a key for all is a key that nobody can take back."
      >
        {ids.map((id, index) => (
          <PersonRow
            key={id}
            index={index}
            groups={groups}
            open={open === id}
            toggle={() => setOpen(open === id ? '' : id)}
            remove={remove}
          />
        ))}
      </RowTable>
    </section>
  );
}

function PersonRow({
  index,
  groups,
  open,
  toggle,
  remove,
}: {
  index: number;
  groups: readonly (readonly [string, string])[];
  open: boolean;
  toggle: () => void;
  remove: (index: number) => void;
}) {
  const at = `/vpn/peers/${index}`;
  const peer = usePlanPiece((plan) => plan.vpn.peers[index]);
  const session = useSession();
  const focus = useFocus();
  // A finding on a field that is folded away opens the row.
  const wanted = useSignal(focus.place, (place) =>
    new RegExp(`^${at}/(?!person|name|group|address$)`).test(place),
  );
  if (!peer) return null;
  const opened = open || wanted;
  const name = [peer.person, peer.name].filter((part) => part !== '').join(', ') || 'this device';
  const today = new Date().toISOString().slice(0, 10);
  const state = peer.revoked
    ? `revoked ${peer.revoked}`
    : peer.expires !== '' && peer.expires < today
      ? `expired ${peer.expires}`
      : peer.publicKey.trim() === ''
        ? 'no key yet'
        : peer.expires
          ? `until ${peer.expires}`
          : 'in';
  return (
    <>
      <tr data-at={at} tabIndex={-1} className={peer.revoked ? 'revoked' : ''}>
        <td>
          <TextField bare wrap at={`${at}/person`} label="Person" />
        </td>
        <td>
          <TextField bare wrap at={`${at}/name`} label="Device" />
        </td>
        <td>
          <ChoiceField bare at={`${at}/group`} label="Group" choices={groups} />
        </td>
        <td>
          <TextField bare mono at={`${at}/address`} label="Address" />
        </td>
        <td className="cell-text">{state}</td>
        <td>
          <Button
            className="plain"
            variant="text"
            aria-expanded={open}
            onClick={toggle}
            aria-label={opened ? `Less of ${name}` : `Open ${name}`}
          >
            {opened ? 'less' : 'open'}
          </Button>
        </td>
      </tr>
      {opened && (
        <tr className="row-more">
          <td colSpan={6}>
            <div className="ledger">
              <ChoiceField at={`${at}/system`} label="Runs on" choices={systemChoices} />
              <TextField mono at={`${at}/address6`} label="IPv6 address" />
              <SwitchField at={`${at}/ownKey`} label="Key is made" on="by the person alone" off="here" />
              <TextField mono at={`${at}/expires`} label="Expires" placeholder="2027-03-01" />
              <TextField mono wrap at={`${at}/publicKey`} label="Public key" />
              {peer.ownKey ? (
                <TextField mono at={`${at}/secret`} label="Private key" placeholder="stays with the person" />
              ) : (
                <MakeKey
                  publicAt={`${at}/publicKey`}
                  secretAt={`${at}/secret`}
                  suggested={`tunnel-${peer.id}`}
                />
              )}
              <TextField
                mono
                at={`${at}/preshared`}
                label="Pre-shared key"
                placeholder="name in the vault, or none"
              />
              <TextField mono at={`${at}/revoked`} label="Revoked" placeholder="no" />
              <TextField mono at={`${at}/created`} label="Created" />
              <TextField mono at={`${at}/lastSeen`} label="Last seen" />
              <TextField mono wrap at={`${at}/oldKey`} label="Key before" />
              <TextField mono at={`${at}/oldKeyUntil`} label="good until" />
            </div>
            <div className="row-actions">
              {peer.revoked === '' && (
                <>
                  <Button
                    onClick={() => {
                      // The key that was in use goes on working until its people have the new profile.
                      session.edit(`${at}/oldKey`, peer.publicKey);
                      session.edit(
                        `${at}/oldKeyUntil`,
                        new Date(Date.now() + 14 * 86_400_000).toISOString().slice(0, 10),
                      );
                      session.settle();
                    }}
                    disabled={peer.publicKey.trim() === ''}
                  >
                    Begin a rotation
                  </Button>
                  <Button
                    onClick={() => {
                      session.edit(`${at}/revoked`, today);
                      session.settle();
                    }}
                  >
                    Lost or gone: revoke it
                  </Button>
                </>
              )}
              <RemoveButton what={name} onClick={() => remove(index)} />
            </div>
            {peer.revoked ? <Revoked name={name} /> : <ProfilePage index={index} />}
          </td>
        </tr>
      )}
    </>
  );
}

/** What a revocation needs: the entry on the router, and the proof. */
function Revoked({ name }: { name: string }) {
  return (
    <div className="note">
      <p>
        <strong>{name} is out.</strong> On the router: remove its key from the list of the tunnel, and apply.
        Then prove it: a handshake from that device, or from its profile on another one, stays without an
        answer. Its address is not given out again while the row stands here.
      </p>
    </div>
  );
}

/** The page for one person: steps, what is reached, the profile as text and as a picture to be scanned. */
function ProfilePage({ index }: { index: number }) {
  const site = useSiteNow();
  const session = useSession();
  const { state } = useVault();
  const openVault = useVaultDialog();
  const [secrets, setSecrets] = useState<Secrets>();
  const [problem, setProblem] = useState('');
  const [picture, setPicture] = useState('');
  const [passphrase, setPassphrase] = useState('');
  const peer = site.vpn.peers[index];
  const text = peer && profileText(site, peer, secrets);
  useEffect(() => {
    let current = true;
    if (secrets && text)
      void import('qrcode').then(async ({ toString }) => {
        const drawn = await toString(text, { type: 'svg', margin: 2, errorCorrectionLevel: 'L' });
        if (current) setPicture(drawn);
      });
    else setPicture('');
    return () => {
      current = false;
    };
  }, [secrets, text]);
  if (!peer || text === undefined) return null;
  const { plan } = peer;
  const show = async (): Promise<void> => {
    try {
      const names = [plan.ownKey ? '' : plan.secret, plan.preshared].filter((each) => each !== '');
      const found = await Promise.all(
        names.map(async (each) => [each, await reveal(session.id, each)] as const),
      );
      setSecrets(new Map(found));
      setProblem('');
    } catch (error) {
      setProblem(sentence(error));
    }
  };
  const reached = reachText(peer);
  const { routes, leaks } = routesOf(site, peer);
  return (
    <div className="profile-page">
      <div>
        <h4 className="sub">For {peer.name}</h4>
        <ol className="steps-plain">
          <li>Install the tunnel&apos;s app from the shop of the {plan.system}, or from the customer.</li>
          <li>
            {plan.ownKey
              ? 'Let the app make a key, and send its public half only.'
              : 'Scan the picture from this screen, or take the file from a stick. Never by mail.'}
          </li>
          <li>Switch Wi-Fi off, switch the tunnel on, and open: {reached.join(', ') || 'nothing yet'}.</li>
          <li>If nothing opens after a minute, say so; a device that is lost is reported the same day.</li>
        </ol>
        <p>
          <span className="quiet">Reaches exactly:</span> {reached.join('; ') || 'nothing'}.
        </p>
        <p>
          <span className="quiet">Into the tunnel:</span>{' '}
          <span className="mono">
            {routes.length > 12 ? `${routes.length} blocks` : routes.map(formatPrefix).join(', ')}
          </span>
        </p>
        {leaks && <p className="caution">IPv6 leaves beside this tunnel, in the open.</p>}
        <div className="row-actions">
          {secrets ? (
            <>
              <Button
                onClick={() => download(`${peer.name}.conf`.replace(/[^\w. -]/g, ''), [text], 'text/plain')}
              >
                Save the profile
              </Button>
              <Button onClick={() => setSecrets(undefined)}>Hide it</Button>
              <span className="seal">
                <input
                  type="password"
                  className="boxed mono"
                  aria-label="Passphrase for a sealed file"
                  placeholder="passphrase to seal it"
                  autoComplete="off"
                  maxLength={200}
                  value={passphrase}
                  onChange={({ target }) => setPassphrase(target.value)}
                />
                <Button
                  disabled={passphrase.length < 12}
                  title="At least twelve characters; told on the telephone, never with the file"
                  onClick={() =>
                    void sealText(text, passphrase).then((bytes) => {
                      download(
                        `${peer.name}.conf.age`.replace(/[^\w. -]/g, ''),
                        [bytes as BlobPart],
                        'application/octet-stream',
                      );
                      setPassphrase('');
                    })
                  }
                >
                  Save it sealed
                </Button>
              </span>
            </>
          ) : state === 'open' ? (
            <Button variant="contained" onClick={() => void show()}>
              Show it with its secrets
            </Button>
          ) : (
            <Button onClick={() => openVault(plan.secret)}>Open the vault for its secrets</Button>
          )}
        </div>
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
        <pre className="profile-text mono">{text}</pre>
      )}
    </div>
  );
}
