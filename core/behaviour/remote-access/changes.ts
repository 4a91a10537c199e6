import { dayAfter, isDay } from '../../base/days.ts';
import { formatAddress } from '../../base/net/address.ts';
import type { Patch } from '../../plan/patch.ts';
import { vpnPeerSchema, type PeerPlan } from '../../plan/schema.ts';
import type { Site } from '../../site/model.ts';
import { freePeerAddress } from './interface.ts';

/*
 * Changes of access that belong together: each is one patch, so that it is one edit and one step of undo. Days are
 * ISO 8601 and come in as arguments.
 */

/** Both keys of a rotation work for so long: time enough to meet everybody (common practice, no source). */
const overlapDays = 14;
const renewalDays = 365;

const replace = (index: number, field: keyof PeerPlan, value: string): Patch[number] => ({
  op: 'replace',
  path: `/vpn/peers/${index}/${field}`,
  value,
});

/** Begins a rotation: the key in use becomes the previous one, and works until everybody has the new profile. */
export const beginRotation = (peer: PeerPlan, index: number, today: string): Patch => [
  replace(index, 'oldKey', peer.publicKey),
  replace(index, 'oldKeyUntil', dayAfter(today, overlapDays)),
];

/** Another year of access, from its end where that is still to come. */
export const renewAccess = (peer: PeerPlan, index: number, today: string): Patch => [
  replace(
    index,
    'expires',
    dayAfter(isDay(peer.expires) && peer.expires > today ? peer.expires : today, renewalDays),
  ),
];

/** Ends the access of one client. */
export const revokeAccess = (index: number, today: string): Patch => [replace(index, 'revoked', today)];

/** Ends the access of every client of a person. */
export const revokePerson = (peers: readonly PeerPlan[], person: string, today: string): Patch =>
  peers.flatMap((peer, index) =>
    peer.person === person && peer.revoked === '' ? revokeAccess(index, today) : [],
  );

/** Notes when the router last heard clients, by the place of each in the list. */
export const noteHandshakes = (seen: readonly { readonly index: number; readonly day: string }[]): Patch =>
  seen.map(({ index, day }) => replace(index, 'lastSeen', day));

/** A new client with a free address of each family, in the first group. */
export function newPeer(site: Site, id: string, today: string): PeerPlan {
  const text = (family: 4 | 6): string => {
    const free = freePeerAddress(site, family);
    return free ? formatAddress(free) : '';
  };
  return vpnPeerSchema.parse({
    id,
    group: site.vpn.groups[0]?.id ?? '',
    address: text(4),
    address6: text(6),
    created: today,
  });
}
