import Button from '@mui/material/Button';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { lazy, memo, Suspense, useMemo, useState } from 'react';
import {
  accessOf,
  beginRotation,
  newPeer,
  renewAccess,
  revokeAccess,
  revokePerson,
  type PeerPlan,
} from '../../../core/index.ts';
import { siteOf } from '../../state/analysis.ts';
import { newId } from '../../state/api.ts';
import { useFocus } from '../../state/focus.ts';
import { usePlanPiece, useSession } from '../../state/session.ts';
import { useSignal } from '../../state/signal.ts';
import { Field } from '../../parts/field.tsx';
import { RemoveButton, RowTable, useRows } from '../../parts/rows.tsx';
import { today } from '../../state/time.ts';
import { MakeKey } from './make-key.tsx';

const PersonPanel = lazy(() => import('./person-panel.tsx'));

/** One row a device: whose it is, its key, its address, what it reaches, and its profile. */
export function People() {
  const session = useSession();
  const { ids, add, remove } = useRows<PeerPlan>('/vpn/peers');
  const list = usePlanPiece((plan) => plan.vpn.groups);
  const groups = useMemo(() => list.map(({ id, name }) => [id, name || 'unnamed group'] as const), [list]);
  const [open, setOpen] = useState('');
  const addOne = (): void => add(newPeer(siteOf(session.snapshot().plan), newId(), today()), 'person');
  return (
    <section aria-labelledby="people" data-at="/vpn/peers" tabIndex={-1}>
      <Typography variant="h3" id="people">
        Remote users, one row per device
      </Typography>
      <RowTable
        at="/vpn/peers"
        columns={[
          ['person', 'l'],
          ['name', 'm'],
          ['group', 'm'],
          ['address', 'm'],
          ['State', 'm'],
        ]}
        add={addOne}
        addLabel="Add a device"
        empty="Nobody yet. One row a device: a shared key cannot be revoked."
      >
        {ids.map((id, index) => (
          <PersonRow
            key={id}
            index={index}
            groups={groups}
            open={open === id}
            id={id}
            setOpen={setOpen}
            remove={remove}
          />
        ))}
      </RowTable>
    </section>
  );
}

/** Drawn anew when its own row changes: with hundreds of people a keystroke must not draw them all. */
const PersonRow = memo(function PersonRow({
  index,
  id,
  groups,
  open,
  setOpen,
  remove,
}: {
  index: number;
  id: string;
  groups: readonly (readonly [string, string])[];
  open: boolean;
  setOpen: (id: string) => void;
  remove: (index: number) => void;
}) {
  const at = `/vpn/peers/${index}` as const;
  const peer = usePlanPiece((plan) => plan.vpn.peers[index]);
  const keyed = usePlanPiece((plan) => plan.vpn.way === 'wireguard');
  const focus = useFocus();
  // A finding on a field that is folded away opens the row.
  const wanted = useSignal(focus.place, (place) =>
    new RegExp(`^${at}/(?!person|name|group|address$)`).test(place),
  );
  if (!peer) return null;
  const opened = open || wanted;
  const name = [peer.person, peer.name].filter((part) => part !== '').join(', ') || 'this device';
  return (
    <>
      <TableRow data-at={at} tabIndex={-1} className={peer.revoked ? 'revoked' : ''}>
        <TableCell>
          <Field bare at={`${at}/person`} />
        </TableCell>
        <TableCell>
          <Field bare at={`${at}/name`} />
        </TableCell>
        <TableCell>
          <Field bare at={`${at}/group`} choices={groups} />
        </TableCell>
        <TableCell>
          <Field bare at={`${at}/address`} />
        </TableCell>
        <TableCell className="cell-text">{accessOf(peer, today(), keyed).says}</TableCell>
        <TableCell>
          <Button
            className="plain"
            variant="text"
            aria-expanded={open}
            onClick={() => setOpen(open ? '' : id)}
            aria-label={opened ? `Less of ${name}` : `Open ${name}`}
          >
            {opened ? 'less' : 'open'}
          </Button>
        </TableCell>
      </TableRow>
      {opened && (
        <TableRow className="row-more">
          <TableCell colSpan={6}>
            <div className="ledger">
              <Field at={`${at}/system`} />
              <Field at={`${at}/software`} />
              <Field at={`${at}/address6`} />
              <Field at={`${at}/ownKey`} />
              <Field at={`${at}/expires`} />
              <Field at={`${at}/publicKey`} />
              {peer.ownKey ? (
                <Field at={`${at}/secret`} />
              ) : (
                <MakeKey
                  publicAt={`${at}/publicKey`}
                  secretAt={`${at}/secret`}
                  suggested={`tunnel-${peer.id}`}
                />
              )}
              <Field at={`${at}/preshared`} />
              <Field at={`${at}/revoked`} />
              <Field at={`${at}/created`} />
              <Field at={`${at}/lastSeen`} />
              <Field at={`${at}/oldKey`} />
              <Field at={`${at}/oldKeyUntil`} />
            </div>
            <PersonActions index={index} peer={peer} name={name} remove={remove} />
            {peer.revoked ? (
              <Revoked name={name} />
            ) : (
              <Suspense fallback={<p className="quiet">Opening …</p>}>
                <PersonPanel index={index} />
              </Suspense>
            )}
          </TableCell>
        </TableRow>
      )}
    </>
  );
});

/** What can be done with a device's access: renew its key or its time, end it, or that of its whole person. */
function PersonActions({
  index,
  peer,
  name,
  remove,
}: {
  index: number;
  peer: PeerPlan;
  name: string;
  remove: (index: number) => void;
}) {
  const session = useSession();
  const others = usePlanPiece(({ vpn: { peers } }) =>
    peers[index]?.person
      ? peers.filter(
          ({ person, revoked }, place) =>
            place !== index && person === peers[index]!.person && revoked === '',
        ).length
      : 0,
  );
  return (
    <div className="row-actions">
      {peer.revoked === '' && (
        <>
          <Button
            onClick={() => session.patch(beginRotation(peer, index, today()))}
            disabled={peer.publicKey.trim() === ''}
          >
            Begin a key rotation
          </Button>
          <Button onClick={() => session.patch(renewAccess(peer, index, today()))}>Renew for a year</Button>
          <Button onClick={() => session.patch(revokeAccess(index, today()))}>Revoke this device</Button>
          {others > 0 && (
            <Button
              onClick={() =>
                session.patch(revokePerson(session.snapshot().plan.vpn.peers, peer.person, today()))
              }
            >
              Revoke all access of {peer.person} ({others + 1})
            </Button>
          )}
        </>
      )}
      <RemoveButton what={name} onClick={() => remove(index)} />
    </div>
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
