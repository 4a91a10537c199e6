import { formatAddress } from '../../base/net/address.ts';
import { formatPorts } from '../../base/net/ports.ts';
import { formatPrefix } from '../../base/net/prefix.ts';
import type { Site } from '../../site/model.ts';
import type { Grant, Peer } from '../../site/vpn.ts';
import { methodOf } from './methods/index.ts';
import { together } from './methods/type.ts';
import { routesOf } from './routes.ts';

/** The page that one person gets: what to do, what opens then, and whom to call. It holds no secret. */
export interface PersonPage {
  readonly title: string;
  readonly steps: readonly string[];
  /** What opens, and under which address. */
  readonly opens: readonly { readonly what: string; readonly where: string }[];
  /** What to look at when nothing opens. */
  readonly ifNot: readonly string[];
  /** What everybody who holds the page should know. */
  readonly cautions: readonly string[];
  /** The same where the page carries the key as a picture; empty where it never does. */
  readonly keyCaution: string;
  /** What the device sends into the tunnel. */
  readonly routes: string;
  readonly facts: readonly { readonly label: string; readonly value: string }[];
}

const whereOf = ({ device, network, service, ports }: Grant): string => {
  const host = device?.address
    ? formatAddress(device.address)
    : device
      ? 'no fixed address yet'
      : network.prefix
        ? formatPrefix(network.prefix)
        : 'no subnet yet';
  return service && ports ? `${host}, ${service.protocol} ${formatPorts(ports)}` : host;
};

/** The page of one device of one person, in plain steps. */
export function pageOf(site: Site, peer: Peer): PersonPage {
  const { vpn } = site;
  const { routes, leaks } = routesOf(site, peer);
  const routesText = routes.length > 12 ? `${routes.length} prefixes` : routes.map(formatPrefix).join(', ');
  const opens = [
    ...(peer.group?.grants ?? []).map((grant) => ({ what: grant.says, where: whereOf(grant) })),
    ...(peer.group?.manages && vpn.routerAddress
      ? [{ what: 'the pages of the router', where: formatAddress(vpn.routerAddress) }]
      : []),
  ];
  const [first] = site.contacts.filter(({ phone }) => phone !== '');
  // Who lost the only telephone cannot be called on it, and the next in the list may be anybody's contractor.
  const call = first && first.name !== peer.person ? first : undefined;
  const addresses = [peer.address, peer.address6].flatMap((host) => (host ? [formatAddress(host)] : []));
  return {
    title: `${peer.person || peer.name}: remote access to ${site.about.name}`,
    steps: [
      ...(methodOf(vpn.way)?.install ?? together)(
        peer,
        vpn.endpoints[0]?.host || 'the name that the installer gives',
      ),
      ['telephone', 'tablet'].includes(peer.system)
        ? 'Switch Wi-Fi off, so that the device is on mobile data, and switch the tunnel on.'
        : `Put the ${peer.system} on a network that is not of this building, such as the hotspot of a phone, and switch the tunnel on.`,
      opens[0]
        ? `Open ${opens[0].what}: ${opens[0].where}.`
        : 'Nothing is granted yet; the installer will say when.',
      'Switch the tunnel off when the work is done.',
    ],
    opens,
    ifNot: [
      'Bytes are sent and none received: the network where you are blocks the tunnel. Try mobile data.',
      'Bytes are received and a page does not open: tell the installer which one; you may have no access to it.',
      'Small pages open and large ones do not: tell the installer; the packets of the tunnel are too large for that network.',
    ],
    cautions: [
      `Lost or sold? Say so the same day${call ? ` to ${call.name}, ${call.phone}, or to the installer` : ' to the installer'}. Access ends then, and only then.`,
      ...(leaks ? ['IPv6 traffic does not go through this tunnel.'] : []),
    ],
    keyCaution:
      peer.ownKey || vpn.way !== 'wireguard'
        ? ''
        : 'The QR code is the key. Anyone who scans it gets in as you: destroy the page once the tunnel works.',
    routes: routesText,
    facts: [
      { label: 'Device', value: peer.deviceName || peer.system },
      ...(addresses.length > 0 ? [{ label: 'Its address in the tunnel', value: addresses.join(', ') }] : []),
      {
        label: 'Connects to',
        value: vpn.endpoints[0]?.host
          ? `${vpn.endpoints[0].host}${vpn.way === 'wireguard' ? `, udp ${vpn.port}` : ''}`
          : 'no endpoint entered yet',
      },
      { label: 'Routed into the tunnel', value: routesText },
      { label: 'Given', value: peer.created || 'not noted' },
      { label: 'Ends', value: peer.expires || 'no day set' },
    ],
  };
}

/** The page as plain text, for a file beside the profile. */
export const pageText = ({ title, steps, opens, ifNot, cautions, facts }: PersonPage): string =>
  [
    title,
    '='.repeat(title.length),
    '',
    ...steps.map((each, index) => `${index + 1}. ${each}`),
    '',
    'What you can open',
    ...opens.map(({ what, where }) => `- ${what}: ${where}`),
    '',
    'When it does not work',
    ...ifNot.map((each) => `- ${each}`),
    '',
    ...cautions,
    '',
    ...facts.map(({ label, value }) => `${label}: ${value}`),
    '',
  ].join('\n');
