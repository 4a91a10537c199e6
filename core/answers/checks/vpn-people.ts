import { once } from '../../base/once.ts';
import type { Peer } from '../../site/vpn.ts';
import { formatAddress } from '../../base/net/address.ts';
import { contains, formatPrefix } from '../../base/net/prefix.ts';
import { replacing, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { byCertificate, certificateOf, leftOver } from '../../behaviour/remote-access/certificates.ts';
import { freePeerAddress } from '../../behaviour/remote-access/interface.ts';
import { parseKey } from '../../behaviour/remote-access/keys.ts';
import { note, said } from './note.ts';

/** What keeps the right people out, or lets them too far in. */
export const vpnPeople: Check = {
  name: 'people of the tunnel',
  run: (site) => {
    const { way } = site.vpn;
    if (way === 'none') return [];
    return [
      ...(way === 'wireguard' ? peers(site) : []),
      ...(byCertificate(site) ? certificates(site) : []),
      ...groups(site),
    ];
  },
};

function certificates(site: Site): Finding[] {
  return site.vpn.peers.flatMap((peer): Finding[] => {
    const { at, name } = peer;
    if (!peer.revoked && !certificateOf(site, peer))
      return [
        note(
          'vpn-no-certificate',
          'blocker',
          at,
          `${name} has no certificate yet: issue one in that name, with an end.`,
          said('Certificate', 'none'),
        ),
      ];
    return leftOver(site, peer).map((left) =>
      note(
        'vpn-certificate-left',
        'blocker',
        `/vpn/certificates/${site.vpn.certificates.indexOf(left)}`,
        `${name} is revoked, and its certificate is not: it still gets in. Revoke it, and put the new list on the router.`,
        said('Serial', left.serial.slice(0, 8)),
      ),
    );
  });
}

/** Decoding hundreds of keys is not free, and a row's key changes with the row only. */
const hasReadableKey = once(({ publicKey }: Peer): boolean => parseKey(publicKey).ok);

function peers(site: Site): Finding[] {
  const { vpn: access } = site;
  const found: Finding[] = [];
  for (const peer of access.peers) {
    if (peer.revoked) continue;
    const { at, name } = peer;
    if (!peer.group)
      found.push(
        note(
          'vpn-no-group',
          'warning',
          `${at}/group`,
          `${name} is in no group, so it connects but reaches nothing.`,
          said('Group', 'none'),
        ),
      );
    if (peer.publicKey.trim() === '')
      found.push(
        note(
          'vpn-no-key',
          'blocker',
          `${at}/publicKey`,
          `${name} has no key yet: make one, or ask for the public half.`,
          said('Key', 'none'),
        ),
      );
    else if (!hasReadableKey(peer))
      found.push(
        note(
          'vpn-key-form',
          'blocker',
          `${at}/publicKey`,
          `The key of ${name} is not valid: a WireGuard key is 43 letters and digits, then "=".`,
          said('Length', String(peer.publicKey.trim().length)),
        ),
      );
    // Looked for only where it is needed: with hundreds of people it is not free.
    const give = (): Finding['fix'] => {
      const free = freePeerAddress(site, 4);
      return free && replacing(`Give it ${formatAddress(free)}`, `${at}/address`, formatAddress(free));
    };
    if (!peer.address) {
      if (!site.problems.some((each) => each.at === `${at}/address`))
        found.push(
          note(
            'vpn-no-address',
            'blocker',
            `${at}/address`,
            `${name} has no address in the tunnel yet.`,
            said('Address', 'none'),
            give(),
          ),
        );
    } else if (access.pool && !contains(access.pool, peer.address))
      found.push(
        note(
          'vpn-address-outside',
          'blocker',
          `${at}/address`,
          `${formatAddress(peer.address)} of ${name} is outside the pool ${formatPrefix(access.pool)}.`,
          said('Pool', formatPrefix(access.pool)),
          give(),
        ),
      );
    if (peer.ownKey && peer.secret.trim() !== '')
      found.push(
        note(
          'vpn-own-key-kept',
          'warning',
          `${at}/secret`,
          `${name} makes the key alone, and yet a private key is named in the vault: one of the two is wrong.`,
          said('In the vault', peer.secret),
        ),
      );
  }
  return found;
}

function groups(site: Site): Finding[] {
  return site.vpn.groups.flatMap((group): Finding[] => {
    const whole = group.grants.filter(({ device }) => !device);
    const found: Finding[] = [];
    if (group.brokenGrants.length > 0)
      found.push(
        note(
          'vpn-grant-gone',
          'warning',
          `${group.at}/grants`,
          `A grant of ${group.name} leads to something that is no longer there: it grants nothing.`,
          said(
            'Grants',
            `${group.grants.length} of ${group.grants.length + group.brokenGrants.length} still lead somewhere`,
          ),
        ),
      );
    if (
      site.networks.length > 1 &&
      new Set(whole.map(({ network }) => network)).size === site.networks.length
    )
      found.push(
        note(
          'vpn-everything',
          'warning',
          `${group.at}/grants`,
          `${group.name} reaches every inside network as a whole. Grant the devices and services that are needed.`,
          said('Networks granted', String(whole.length)),
        ),
      );
    for (const grant of group.grants)
      if (grant.device && !grant.device.address)
        found.push(
          note(
            'vpn-grant-unstable',
            'warning',
            grant.at,
            `${grant.device.name} has no fixed address, so the grant of ${group.name} may lead to another device after the next lease. Reserve an address.`,
            said('Address', 'automatic'),
          ),
        );
    return found;
  });
}
