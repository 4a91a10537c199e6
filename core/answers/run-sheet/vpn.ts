import { onceForEach } from '../../base/once.ts';
import { onPage, fromOutside } from '../../behaviour/domain-types/nature.ts';
import { peerPromiseId, refusedPromiseId } from '../../behaviour/domain-types/promise.ts';
import { formatAddress } from '../../base/net/address.ts';
import { formatPorts } from '../../base/net/ports.ts';
import type { Site } from '../../site/model.ts';
import { byCertificate, certificateOf } from '../../behaviour/remote-access/certificates.ts';
import type { Peer } from '../../site/vpn.ts';
import { peerVerdict, reachText } from '../../behaviour/remote-access/reach.ts';
import { methodOf } from '../../behaviour/remote-access/methods/index.ts';
import { joinedSiteSteps } from './site-to-site.ts';
import { entry, secretEntry, type Entry, type StepDraft } from '../../behaviour/domain-types/step.ts';
import { choiceReading, textReading } from '../../behaviour/domain-types/reading.ts';

/** The way in from outside: the router's side, its people, what each may reach, and the proof from another network. */
export function vpnSteps(site: Site): StepDraft[] {
  const { vpn } = site;
  const values = methodOf(site.vpn.way)?.entries(site) ?? [];
  if (values.length === 0) return [];
  const present = vpn.peers.filter(({ revoked }) => !revoked);
  return [
    {
      id: 'vpn-interface',
      nature: onPage,
      phase: 'rules',
      title: 'Set up the VPN server',
      needs: ['reach', ...site.lines.map(({ id }) => `uplink:${id}`)],
      entries: values,
      why: 'It comes before anything that was open until now is shut, so that nobody who works from outside is cut off.',
      lowSeconds: 120,
      highSeconds: 600,
      proof: 'Its page shows the interface as up, listening, with nobody connected yet.',
      ifNot:
        'Not listening: the port is taken by another service. No page for it: the firmware has no such tunnel.',
      fields: [textReading('key', 'Public key of the router, if it was made there', { optional: true })],
    },
    {
      id: 'vpn-people',
      nature: onPage,
      phase: 'rules',
      title: byCertificate(site)
        ? 'Load the CA and the revocation list'
        : 'Enter clients, one key per device',
      needs: ['vpn-interface'],
      entries: byCertificate(site)
        ? certificateEntries(site, present)
        : present.flatMap((peer) => peerEntries(peer)),
      why: 'One key for all is one key that nobody can take back.',
      lowSeconds: 60 * Math.max(1, present.length),
      highSeconds: 180 * Math.max(1, present.length),
      proof: byCertificate(site)
        ? 'The authority is trusted for clients, and the list of revoked ones is loaded with its date.'
        : 'Each is listed with a single address.',
      ifNot: byCertificate(site)
        ? 'No place for a list of revoked ones: then nobody can be taken out before the certificate ends. Give short ends.'
        : 'A whole subnet for one client lets it use the addresses of all others.',
    },
    {
      id: 'vpn-grants',
      nature: onPage,
      phase: 'rules',
      title: 'Grant each group what it needs, and refuse the rest',
      needs: ['vpn-people'],
      entries: vpn.groups.flatMap((group): Entry[] =>
        group.grants.map((grant) =>
          entry(
            group.name,
            grant.device?.address
              ? `${formatAddress(grant.device.address)}${grant.ports ? `, ${grant.service!.protocol} ${formatPorts(grant.ports)}` : ''} (${grant.says})`
              : grant.says,
            ['Allow rule', 'Access policy'],
            grant.at,
          ),
        ),
      ),
      why: 'A tunnel that leads to the whole inside is a cable to a stranger.',
      lowSeconds: 60,
      highSeconds: 300,
      proof: 'Rules from the tunnel end with a refusal of everything else.',
      ifNot: 'No rules for the tunnel there: put it into a zone of its own.',
    },
    ...joinedSiteSteps(site),
    ...present.map((peer) => testStep(site, peer)),
    ...vpn.peers.filter(({ revoked }) => revoked).map((peer) => refusalStep(site, peer)),
  ];
}

/** The authority, the list of revoked ones, and who comes with which certificate. */
const certificateEntries = (site: Site, present: readonly Peer[]): Entry[] => [
  entry(
    'Authority',
    site.vpn.authority.pem === '' ? 'not made yet' : 'the file of its certificate, from the sheet',
    ['CA certificate', 'Trusted issuer'],
    '/vpn/authority/pem',
  ),
  entry(
    'Revoked ones',
    'the file of the list, newest',
    ['CRL', 'Certificate revocation list'],
    '/vpn/certificates',
  ),
  ...present.map((peer) => {
    const certificate = certificateOf(site, peer);
    return entry(
      peer.name,
      certificate ? `serial ${certificate.serial}, until ${certificate.until}` : 'no certificate yet',
      ['Client certificate', 'Remote identity'],
      peer.at,
    );
  }),
];

function peerEntries(peer: Peer): Entry[] {
  const addresses = [peer.address, peer.address6].flatMap((host) =>
    host ? [`${formatAddress(host)}/${host.family === 4 ? 32 : 128}`] : [],
  );
  return [
    entry(
      `${peer.name}: key`,
      peer.publicKey.trim() || 'not made yet',
      ['Public key of the peer'],
      `${peer.at}/publicKey`,
    ),
    entry(
      `${peer.name}: address`,
      addresses.join(', ') || 'none yet',
      ['Allowed IPs', 'Allowed address'],
      `${peer.at}/address`,
    ),
    ...(peer.oldKey.trim() === ''
      ? []
      : [
          entry(
            `${peer.name}: old key, until ${peer.oldKeyUntil || 'the overlap ends'}`,
            peer.oldKey.trim(),
            ['A second peer with another address in between', 'Rotation'],
            `${peer.at}/oldKey`,
          ),
        ]),
    ...(peer.preshared
      ? [secretEntry(`${peer.name}: pre-shared key`, peer.preshared, '', ['PSK'], `${peer.at}/preshared`)]
      : []),
  ];
}

/** What is tried and must not open, at most. */
const mostRefused = 4;

/**
 * Devices of the site that this peer must not reach, a few of them: one of each network that is not granted. The
 * same for all of one group, so it is looked up once a group.
 */
const refusedOnes = onceForEach(
  ({ group }: Peer) => group,
  (site: Site, peer: Peer): readonly string[] => {
    const found: string[] = [];
    const seen = new Set<unknown>();
    for (const { network, address: host, name } of site.devices) {
      if (found.length === mostRefused) break;
      if (!host || seen.has(network)) continue;
      if (peerVerdict(site, peer, { destination: host, protocol: 'tcp', port: 443 }).allowed) continue;
      seen.add(network);
      found.push(`${name}, ${formatAddress(host)}`);
    }
    return found;
  },
);

/** A lost device is out when somebody has tried it, not when a row was deleted. */
const refusalStep = (site: Site, peer: Peer): StepDraft => ({
  id: `vpn-out:${peer.id}`,
  nature: fromOutside,
  phase: 'proof',
  title: `Test that ${peer.name} is refused`,
  needs: ['save', 'vpn-people'],
  entries: [
    byCertificate(site)
      ? entry('On the router', 'the newest list of revoked certificates', ['CRL'], '/vpn/certificates')
      : entry(
          'Not on the router',
          peer.publicKey.trim() || 'its key was never made',
          ['Public key of the peer'],
          `${peer.at}/publicKey`,
        ),
    entry('Try', 'its profile on any device, from an external network', ['Handshake']),
  ],
  why: 'A router of this tunnel knows no dates and says nothing to strangers: silence is the only sign.',
  lowSeconds: 60,
  highSeconds: 300,
  proof: 'Ninety seconds of handshakes without an answer; bytes are sent, none received.',
  ifNot: 'An answer: the key is still in the list of the router, or its change was not applied.',
  fields: [choiceReading('answer', 'The tunnel', 'did not answer', 'answered')],
  evidence: [{ promise: refusedPromiseId(peer), rung: 'outside-session' }],
});

function testStep(site: Site, peer: Peer): StepDraft {
  const { vpn } = site;
  return {
    id: `vpn-test:${peer.id}`,
    nature: fromOutside,
    phase: 'proof',
    title: `Let ${peer.name} in from an external network`,
    needs: ['save', 'vpn-grants'],
    entries: [
      ...reachText(peer).map((says) => entry('Must open', says, ['Allowed'])),
      ...refusedOnes(site, peer).map((says) => entry('Must not open', says, ['Refused'])),
      ...(vpn.routerAddress ? [entry('First hop', formatAddress(vpn.routerAddress), ['Traceroute'])] : []),
      ...(vpn.resolver
        ? [entry('A name of the site', `is answered by ${formatAddress(vpn.resolver)}`, ['DNS'])]
        : []),
      entry(
        'The outside sees',
        peer.group && peer.group.tunnel !== 'split'
          ? `the address of ${site.lines[0]?.name ?? 'the line'}`
          : 'the address of the other network, as before',
        ['What is my address'],
      ),
    ],
    why: 'From inside the building the tunnel turns round at the router and proves nothing.',
    lowSeconds: 120,
    highSeconds: 600,
    proof: 'Each that must open opens, none of the others does, and the handshake is minutes old at most.',
    ifNot:
      'No handshake: endpoint, port, key. Handshake and nothing opens: routes, or the subnet of that network. Some opens and some does not: grants.',
    fields: [
      ...reachText(peer).map((says, index) =>
        choiceReading(`open${index + 1}`, says, 'opened', 'did not open'),
      ),
      ...refusedOnes(site, peer).map((says, index) =>
        choiceReading(`shut${index + 1}`, says, 'did not answer', 'answered'),
      ),
      textReading('other', 'Which device, and what else was seen', { optional: true }),
    ],
    evidence: [{ promise: peerPromiseId(peer), rung: 'outside-session' }],
  };
}
