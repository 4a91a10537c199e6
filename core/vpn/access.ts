import { daysBetween, isDay } from '../days.ts';
import { writeTable } from '../formats/encode.ts';
import { formatAddress } from '../net/address.ts';
import type { Site } from '../site/model.ts';
import { byCertificate, certificateOf } from './certificates.ts';
import type { Peer } from './model.ts';
import { reachText } from './reach.ts';
import type { PeerPlan } from './settings.ts';

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
    if (!byCertificate(site) || peer.revoked) return { peer, ...accessOf(peer.plan, today) };
    const certificate = certificateOf(site, peer);
    if (!certificate) return { peer, state: 'no-key', says: 'no certificate yet' };
    // What ends first ends the access.
    const expires = [peer.plan.expires, certificate.until].filter(isDay).sort()[0] ?? '';
    return { peer, ...accessOf({ ...peer.plan, expires }, today, false) };
  });

/** The same for one device, from its row of the plan alone; `keyed` where a key of its own lets it in. */
export function accessOf(plan: PeerPlan, today: string, keyed = true): Pick<Access, 'state' | 'says'> {
  if (plan.revoked.trim() !== '') return { state: 'revoked', says: `revoked ${plan.revoked}` };
  if (keyed && plan.publicKey.trim() === '') return { state: 'no-key', says: 'no key yet' };
  if (isDay(plan.expires) && isDay(today)) {
    const left = daysBetween(today, plan.expires);
    if (left < 0) return { state: 'ended', says: `ended ${plan.expires}` };
    if (left <= soonDays) return { state: 'ends-soon', says: `ends ${plan.expires}` };
  }
  if (isDay(plan.lastSeen) && isDay(today)) {
    const silent = daysBetween(plan.lastSeen, today);
    if (silent > silentDays) return { state: 'silent', says: `silent since ${plan.lastSeen}` };
  }
  return { state: 'in', says: plan.expires ? `until ${plan.expires}` : 'in, without an end' };
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
    ...site.vpn.peers.flatMap(({ name, plan, revoked }) => [
      { day: plan.created, who: name, what: 'access given' },
      { day: plan.lastSeen, who: name, what: 'last seen' },
      { day: plan.revoked, who: name, what: 'revoked' },
      { day: revoked ? '' : plan.oldKeyUntil, who: name, what: 'the key before the rotation ends' },
      { day: revoked ? '' : plan.expires, who: name, what: 'access ends' },
    ]),
    ...site.vpn.plan.certificates.flatMap(({ person, from, until, revoked }) => [
      { day: from.slice(0, 10), who: person, what: 'certificate issued' },
      { day: revoked, who: person, what: 'certificate revoked' },
      { day: revoked ? '' : until.slice(0, 10), who: person, what: 'certificate ends' },
    ]),
  ]
    .filter(({ day }) => isDay(day))
    .sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : 0));

/** The list as rows for a spreadsheet (RFC 4180): who, since when, until when, and to what. No key is in it. */
export const accessCsv = (site: Site, today: string): string =>
  writeTable(
    ['Person', 'Device', 'Group', 'Addresses', 'State', 'Given', 'Ends', 'Revoked', 'Last seen', 'Reaches'],
    accessList(site, today).map(({ peer, says }) => [
      peer.plan.person,
      peer.plan.name,
      peer.group?.name ?? '',
      [peer.address, peer.address6].flatMap((host) => (host ? [formatAddress(host)] : [])).join(' '),
      says,
      peer.plan.created,
      peer.plan.expires,
      peer.plan.revoked,
      peer.plan.lastSeen,
      reachText(peer).join('; '),
    ]),
  );
