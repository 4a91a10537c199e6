import { once } from '../../base/once.ts';
import type { Peer } from '../../site/vpn.ts';
import { daysBetween, isDay } from '../../base/days.ts';
import { replacing, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { accessList, silentDays, soonDays } from '../../behaviour/remote-access/access.ts';
import { practice, step, worked } from '../../base/worked/worked.ts';
import { note, said } from './note.ts';

/** Access that ends, ended, or has no readable end. */
export const accessDates: Check = {
  name: 'access dates',
  run: (site, today) =>
    site.vpn.way === 'none'
      ? []
      : [
          ...site.vpn.peers.flatMap((peer) => endless(peer)),
          ...(isDay(today) ? [...devices(site, today), ...certificates(site, today)] : []),
        ],
};

const daysWorked = (from: string, to: string) =>
  worked(
    'Days between',
    daysBetween(from, to),
    'days',
    [step('from', from), step('to', to), step('days', daysBetween(from, to))],
    practice,
  );

/** Access without an end is access that nobody asks about again. */
const endless = once(({ at, name, revoked, expires, publicKey }: Peer): readonly Finding[] =>
  revoked || expires.trim() !== '' || publicKey.trim() === ''
    ? []
    : [
        note(
          'vpn-no-end',
          'advice',
          `${at}/expires`,
          `The access of ${name} never expires. Set an expiry date, and renew it then.`,
          said('Ends', 'no day'),
        ),
      ],
);

function devices(site: Site, today: string): Finding[] {
  const found: Finding[] = [];
  for (const { peer, state } of accessList(site, today)) {
    const { at, name } = peer;
    if (state === 'ended')
      found.push(
        note(
          'vpn-ended',
          'warning',
          `${at}/expires`,
          `The access of ${name} ended ${peer.expires}, and a router of this tunnel knows no dates: the key goes on until it is removed there. Revoke it, or give it a later end.`,
          daysWorked(peer.expires, today),
          replacing('Revoke it today', `${at}/revoked`, today),
        ),
      );
    if (state === 'ends-soon')
      found.push(
        note(
          'vpn-ends-soon',
          'advice',
          `${at}/expires`,
          `The access of ${name} ends in ${daysBetween(today, peer.expires)} days. Ask whether it is still needed.`,
          worked(
            'Days left',
            daysBetween(today, peer.expires),
            'days',
            [step('today', today), step('ends', peer.expires), step('said from', `${soonDays} days before`)],
            practice,
          ),
        ),
      );
    if (state === 'silent')
      found.push(
        note(
          'vpn-silent',
          'advice',
          `${at}/lastSeen`,
          `${name} was last seen ${peer.lastSeen}, more than ${silentDays} days ago: is the access still needed?`,
          daysWorked(peer.lastSeen, today),
        ),
      );
    if (
      state !== 'revoked' &&
      peer.oldKey.trim() !== '' &&
      isDay(peer.oldKeyUntil) &&
      daysBetween(today, peer.oldKeyUntil) < 0
    )
      found.push(
        note(
          'vpn-overlap-over',
          'warning',
          `${at}/oldKey`,
          `The previous key of ${name} was to be removed by ${peer.oldKeyUntil}: remove it on the router, and here.`,
          daysWorked(peer.oldKeyUntil, today),
          replacing('It is removed there: forget it', `${at}/oldKey`, ''),
        ),
      );
  }
  return found;
}

function certificates(site: Site, today: string): Finding[] {
  return site.vpn.certificates.flatMap(({ person, until, revoked, use }, index): Finding[] => {
    const day = until.slice(0, 10);
    if (revoked !== '' || !isDay(day)) return [];
    const left = daysBetween(today, day);
    if (left > soonDays) return [];
    const whose =
      use === 'server'
        ? 'The certificate of the router'
        : `The certificate of ${person || 'an unnamed person'}`;
    return [
      note(
        left < 0 ? 'certificate-ended' : 'certificate-ends-soon',
        left < 0 ? (use === 'server' ? 'blocker' : 'warning') : 'advice',
        `/vpn/certificates/${index}`,
        left < 0
          ? `${whose} ended ${day}: ${use === 'server' ? 'nobody gets in' : 'its device is refused'}. Issue a new one.`
          : `${whose} ends in ${left} days. Issue the new one before; both work until then.`,
        daysWorked(today, day),
      ),
    ];
  });
}
