import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { wayTitles } from '../../plan/catalogue/vpn.ts';
import { methodOf } from '../../behaviour/remote-access/methods/index.ts';
import { reachable } from '../../behaviour/remote-access/reachable.ts';
import { unableTo } from '../../behaviour/remote-access/which.ts';
import { counted } from '../../base/text.ts';
import { step, worked } from '../../base/worked/worked.ts';
import { note, said } from './note.ts';

/** A way in that nobody can use here, or that lets too many in. */
export const vpnWay: Check = {
  name: 'way in',
  run: (site) => (site.vpn.way === 'none' ? switchedOff(site) : wayItself(site)),
};

/** Remote users are entered, and no kind of VPN is chosen: each was promised a way in that does not exist. */
function switchedOff({ vpn: { peers } }: Site): Finding[] {
  const inUse = peers.filter(({ revoked }) => !revoked);
  if (inUse.length === 0) return [];
  return [
    note(
      'vpn-off',
      'warning',
      '/vpn/way',
      `${counted(inUse.length, 'client is', 'clients are')} entered, ${inUse[0]!.name || 'one without a name'} among them, and no kind of remote access is chosen: none of them gets in. Choose one, or revoke the clients.`,
      worked(
        'Clients without a way in',
        inUse.length,
        '',
        [step('not revoked', inUse.length)],
        'the plan itself',
      ),
    ),
  ];
}

function wayItself(site: Site): Finding[] {
  const { way, protocols, outsideService } = site.vpn;
  const found: Finding[] = [];
  if (way === 'dated')
    found.push(
      note(
        'vpn-dated',
        'blocker',
        '/vpn/way',
        'PPTP and L2TP without IPsec are not safe: the encryption of PPTP is broken within a day from a recording, and L2TP alone encrypts nothing.',
        worked(
          'Protection',
          'none',
          '',
          [step('PPTP, MS-CHAPv2', 'broken'), step('L2TP alone', 'none')],
          'RFC 2661 section 9',
        ),
      ),
    );
  const method = methodOf(way);
  // A branch that only calls other sites needs nobody to come in.
  const callsOnly = site.vpn.sites.length > 0 && site.vpn.peers.every(({ revoked }) => revoked);
  const waits = method?.listens === true && !callsOnly;
  const doubtful = site.lines.filter(({ inbound }) => inbound === 'unknown');
  if (waits && !reachable(site, new Set()) && doubtful.length > 0)
    found.push(
      note(
        'vpn-reach-unknown',
        'warning',
        '/vpn/way',
        `${wayTitles[way]} needs connections from outside, and whether this site accepts any is not known yet: note the address that ${doubtful[0]!.name} gets, or ask the provider for a public one.`,
        said('Address from the provider', 'not noted'),
      ),
    );
  else if (waits && !reachable(site, new Set()))
    found.push(
      note(
        'vpn-unreachable',
        'blocker',
        '/vpn/way',
        `${wayTitles[way]} needs connections from outside, and no line of this site accepts any. Use a method in which both ends connect outward, or get a public address.`,
        said('Lines that accept connections from outside', 'none'),
      ),
    );
  else if (
    method?.ownServer &&
    site.lines[0] &&
    site.lines.length > 1 &&
    !reachable(site, new Set([site.lines[0].id]))
  )
    found.push(
      note(
        'vpn-not-on-backup',
        'advice',
        '/vpn/way',
        `While ${site.lines[0].name} is down there is no remote access: over ${site.lines[1]!.name} no connection can be opened from outside. If that matters, get a public address there, or use a hub or mesh as well.`,
        said(`Inbound over ${site.lines[1]!.name}`, site.lines[1]!.inbound),
      ),
    );
  if (
    protocols.length > 0 &&
    (['wireguard', 'ikev2', 'tls'] as const).some((each) => each === way && !protocols.includes(each))
  )
    found.push(
      note(
        'vpn-not-spoken',
        'blocker',
        '/vpn/way',
        `By its data sheet as entered, the router does not support this protocol.`,
        said('Spoken', protocols.join(', ')),
      ),
    );
  if (way === 'mesh' && outsideService === 'refused')
    found.push(
      note(
        'vpn-outside-refused',
        'blocker',
        '/vpn/way',
        'A mesh needs an outside service, and this customer allows none.',
        said('Outside service', 'refused'),
      ),
    );
  if (site.vpn.peers.length > 0 && !site.vpn.groups.some(({ manages }) => manages))
    found.push(
      note(
        'vpn-nobody-manages',
        'advice',
        '/vpn/groups',
        'No group may manage the router: nobody can repair anything remotely. Give one small group that right, and keep the management pages closed everywhere else outside.',
        said('Groups that may manage the router', 'none'),
      ),
    );
  for (const { at, name, software } of unableTo(site, way))
    found.push(
      note(
        'vpn-device-cannot',
        'warning',
        `${at}/software`,
        `${name} allows ${software === 'browser' ? 'a browser only' : 'no app'}, and this VPN needs an app: use another device, or another method.`,
        said('Software allowed', software === 'browser' ? 'a browser only' : 'what it has built in'),
      ),
    );
  return found;
}
