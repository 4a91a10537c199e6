import { daysBetween, isDay } from '../../base/days.ts';
import type { Site } from '../../site/model.ts';
import { byCertificate, certificateOf } from './certificates.ts';
import type { Peer } from '../../site/vpn.ts';
import type { PeerPlan } from '../../plan/schema.ts';

/** Days before an end on which it is said (common practice, no source). */
export const soonDays = 30;
/** Days of silence after which somebody asks whether the access is still needed (common practice, no source). */
export const silentDays = 90;

export type AccessState = 'in' | 'ends-soon' | 'ended' | 'silent' | 'no-key' | 'revoked';

/** One device that may come in, or might until lately. */
export interface Access {
  readonly peer: Peer;
  readonly state: AccessState;
  readonly says: string;
}

/** Who may come in on a day, and in what state the access is. A router of this tunnel knows no dates: an ended key goes on. */
export const accessList = (site: Site, today: string): Access[] =>
  site.vpn.peers.map((peer) => {
    if (!byCertificate(site) || peer.revoked) return { peer, ...accessOf(rowOf(peer), today) };
    const certificate = certificateOf(site, peer);
    if (!certificate) return { peer, state: 'no-key', says: 'no certificate yet' };
    // What ends first ends the access.
    const expires = [peer.expires, certificate.until].filter(isDay).sort()[0] ?? '';
    return { peer, ...accessOf({ ...rowOf(peer), expires }, today, false) };
  });

type AccessRow = Pick<PeerPlan, 'revoked' | 'publicKey' | 'expires' | 'lastSeen'>;
const rowOf = ({ revokedOn, publicKey, expires, lastSeen }: Peer): AccessRow => ({
  revoked: revokedOn,
  publicKey,
  expires,
  lastSeen,
});

/** The same for one device, from its row of the plan alone; `keyed` where a key of its own lets it in. */
export function accessOf(row: AccessRow, today: string, keyed = true): Pick<Access, 'state' | 'says'> {
  if (row.revoked.trim() !== '') return { state: 'revoked', says: `revoked ${row.revoked}` };
  if (keyed && row.publicKey.trim() === '') return { state: 'no-key', says: 'no key yet' };
  if (isDay(row.expires) && isDay(today)) {
    const left = daysBetween(today, row.expires);
    if (left < 0) return { state: 'ended', says: `ended ${row.expires}` };
    if (left <= soonDays) return { state: 'ends-soon', says: `ends ${row.expires}` };
  }
  if (isDay(row.lastSeen) && isDay(today)) {
    const silent = daysBetween(row.lastSeen, today);
    if (silent > silentDays) return { state: 'silent', says: `silent since ${row.lastSeen}` };
  }
  return { state: 'in', says: row.expires ? `until ${row.expires}` : 'active, no expiry' };
}

/** Something that happened, or will, to somebody's access. */
export interface AccessEvent {
  readonly day: string;
  readonly who: string;
  readonly what: string;
}

/** The history of access and what is to come, oldest first: given, revoked, renewed, ending; devices and certificates. */
export const accessEvents = (site: Site): AccessEvent[] =>
  [
    ...site.vpn.peers.flatMap(({ name, created, lastSeen, revoked, revokedOn, oldKeyUntil, expires }) => [
      { day: created, who: name, what: 'access given' },
      { day: lastSeen, who: name, what: 'last seen' },
      { day: revokedOn, who: name, what: 'revoked' },
      { day: revoked ? '' : oldKeyUntil, who: name, what: 'the key before the rotation ends' },
      { day: revoked ? '' : expires, who: name, what: 'access ends' },
    ]),
    ...site.vpn.certificates.flatMap(({ person, from, until, revoked }) => [
      { day: from.slice(0, 10), who: person, what: 'certificate issued' },
      { day: revoked, who: person, what: 'certificate revoked' },
      { day: revoked ? '' : until.slice(0, 10), who: person, what: 'certificate ends' },
    ]),
  ]
    .filter(({ day }) => isDay(day))
    .sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : 0));
