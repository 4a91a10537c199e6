import * as z from 'zod';
import { parseAddress } from '../../base/net/address.ts';
import { parseEndpoint, parseServer } from '../../base/net/identifiers.ts';
import { parsePrefix } from '../../base/net/prefix.ts';
import { practice } from '../../base/worked/worked.ts';
import {
  choice,
  choices,
  cosmetic,
  day,
  formed,
  id,
  moment,
  notes,
  number,
  refersTo,
  refersToSome,
  repeated,
  rows,
  secret,
  short,
  switching,
  text,
  typed,
  typedList,
  usualNumber,
  usualWhole,
  usually,
  whole,
  yesNo,
} from '../field.ts';

/** Ways to come in from outside. */
export const wayTitles = {
  none: 'no remote access',
  wireguard: 'WireGuard (point-to-site VPN)',
  ikev2: 'IKEv2 with IPsec',
  tls: 'VPN over TLS with certificates',
  mesh: 'Mesh VPN with outside coordination',
  hub: 'Hub that both ends call',
  forward: 'Port forward',
  dated: 'PPTP or L2TP without IPsec',
} as const;

/** Ports at which the router answers for a method: IKEv2 by RFC 7296 section 2.23; without a number that of the plan. */
export const wayPorts: {
  readonly [Way in keyof typeof wayTitles]?: readonly (readonly [protocol: 'udp' | 'both', port?: number])[];
} = {
  wireguard: [['udp']],
  ikev2: [
    ['udp', 500],
    ['udp', 4500],
  ],
  tls: [['both', 443]],
};

/** The usual UDP port of the tunnel (its paper has none). */
const tunnelPort = usually(51_820, practice);

/** One door for a group: a whole network, a device, or one service of it. */
export const vpnGrantSchema = z.strictObject({
  id,
  network: refersTo('/networks', 'Network', 'The network that the group may reach.'),
  device: refersTo('/devices', 'Device', 'Only this device.', { emptyMeans: 'the whole network' }),
  service: refersTo('/devices/*/services', 'Service', 'Only this service of the device.', {
    emptyMeans: 'all services',
  }),
});

export const vpnGroupSchema = z.strictObject({
  id,
  name: cosmetic(
    text('Group', 'People who may reach the same things.', {
      tellsApart: true,
      lacking: 'the record and the list of access cannot say who is meant.',
    }),
  ),
  tunnel: choice(
    'Traffic in the tunnel',
    'What the client sends through the tunnel.',
    {
      split: 'only what is granted (split tunnel)',
      full: 'everything (full tunnel)',
      near: 'all but the local network',
    },
    'split',
    { alsoCalled: ['Split tunnel', 'Full tunnel', 'Allowed IPs'] },
  ),
  manages: yesNo('Manages the router', 'May open the pages of the router itself.', false),
  grants: rows('Grants', 'What the group may reach.', vpnGrantSchema, 200),
});

/** One device of one person: a key of its own, an address of its own. */
export const vpnPeerSchema = z.strictObject({
  id,
  name: cosmetic(text('Device', 'What it is: telephone, office laptop.')),
  person: cosmetic(
    text('Person', 'Whose device it is.', {
      lacking: 'when that person leaves, nobody knows which access to revoke.',
    }),
  ),
  group: refersTo('/vpn/groups', 'Group', 'What the device may reach.'),
  system: cosmetic(
    choice(
      'Kind of device',
      'What the client runs on.',
      {
        telephone: 'telephone',
        tablet: 'tablet',
        laptop: 'laptop',
        desktop: 'desktop',
        router: 'router',
        other: 'other',
      },
      'laptop',
    ),
  ),
  software: cosmetic(
    choice(
      'Software allowed',
      'What may be installed on the device.',
      { any: 'any app', 'built-in': 'only what it came with', browser: 'only a browser' },
      'any',
    ),
  ),
  address: typed('Tunnel address', "The client's address in the tunnel.", parseAddress, {
    alsoCalled: ['Client IP', 'Interface address', 'Allowed IPs'],
  }),
  address6: typed('Tunnel IPv6 address', "The client's IPv6 address in the tunnel.", parseAddress, {
    emptyMeans: 'none',
  }),
  publicKey: short('Public key', "The client's public key, in base64.", { longest: 100 }),
  ownKey: cosmetic(
    yesNo('Own key pair', 'The person made the key pair and keeps the private half.', false, {
      on: 'yes, the private key stays with the person',
      off: 'no, made here',
    }),
  ),
  secret: secret('Private key', 'Name of the private key in the vault.'),
  preshared: secret('Pre-shared key', 'A further secret that both ends hold.', {
    emptyMeans: 'none',
    alsoCalled: ['PSK', 'Preshared key'],
  }),
  created: cosmetic(day('Created', 'Day it was set up', 'happened')),
  expires: cosmetic(
    day('Expires', 'Last day of access', 'until', { after: ['created'], emptyMeans: 'no end' }),
  ),
  revoked: day('Revoked', 'Day on which access was ended', 'happened', {
    after: ['created'],
    emptyMeans: 'not revoked',
  }),
  lastSeen: cosmetic(
    day('Last handshake', 'Day on which the router last heard it', 'happened', {
      after: ['created'],
      emptyMeans: 'never',
      alsoCalled: ['Latest handshake', 'Last seen'],
    }),
  ),
  oldKey: cosmetic(
    short('Previous key', 'Public key before a rotation; it works until the overlap ends.', {
      longest: 100,
      emptyMeans: 'none',
    }),
  ),
  oldKeyUntil: cosmetic(
    day('Previous key until', 'Last day of the overlap', 'until', {
      after: ['created'],
      emptyMeans: 'no overlap',
    }),
  ),
});

export const vpnEndpointSchema = z.strictObject({
  id,
  uplink: refersTo('/uplinks', 'Uplink', 'The line to which the name or address leads.', {
    lacking: 'nobody can say which line must be up for it.',
  }),
  host: formed('Endpoint', 'Name or address that clients call.', parseServer, {
    mono: true,
    alsoCalled: ['Server address', 'Remote gateway', 'Host name'],
  }),
});

export const vpnRunSchema = cosmetic(
  z.strictObject({
    id,
    direction: choice(
      'Direction',
      'Seen from the client.',
      { down: 'to the client', up: 'from the client' },
      'down',
    ),
    mbps: number('Measured rate', 'As the throughput test says.', {
      unit: 'Mb/s',
      seldomOutside: [0.1, 40000],
      most: 400_000,
    }),
  }),
);

/** A network whose subnet is in use at the other end too, and the subnet under which the other end sees it. */
export const translationSchema = z.strictObject({
  id,
  of: choice(
    'Site',
    'The end that has the network.',
    { here: 'this site', there: 'the other site' },
    'there',
  ),
  network: cosmetic(text('Network', 'Its name.')),
  real: typed('Real subnet', 'The subnet that the devices have.', parsePrefix, { needed: true }),
  seen: typed('Translated subnet', 'The subnet under which the other end sees it.', parsePrefix, {
    needed: true,
    alsoCalled: ['1:1 NAT', 'NETMAP', 'Bidirectional NAT'],
  }),
});

/** Another site of the same customer, connected by a site-to-site tunnel. */
export const farSiteSchema = z.strictObject({
  id,
  name: cosmetic(
    text('Site', 'Name of the other site.', {
      lacking: 'questions, labels and the record cannot say which site is meant.',
    }),
  ),
  prefixes: typedList(
    'Remote subnets',
    'Subnets that are routed to the other site, separated by commas.',
    parsePrefix,
    200,
    { alsoCalled: ['Allowed IPs', 'Remote networks'] },
  ),
  endpoint: formed('Endpoint', 'Name or address at which it is reached.', parseEndpoint, {
    longest: 200,
    mono: true,
    emptyMeans: 'connects outward only',
    alsoCalled: ['Remote gateway', 'Peer address'],
  }),
  failsOver: switching(yesNo('Second line there', 'The other site has a second line.', false)),
  backupEndpoint: switching(
    formed('Endpoint on its second line', 'Name or address over its second line.', parseEndpoint, {
      longest: 200,
      mono: true,
      emptyMeans: 'not reached over it',
    }),
  ),
  backSeconds: switching(
    number('Failover time there', 'Until its second line carries, at worst.', {
      unit: 's',
      seldomOutside: [1, 900],
      most: 86_400,
    }),
  ),
  nameSeconds: switching(
    usualNumber('DNS change there', 'Until its name leads to the second line.', {
      unit: 's',
      seldomOutside: [5, 172800],
      most: 691_200,
      usual: usually(3600, practice),
    }),
  ),
  port: usualWhole('UDP port', 'Port at which it listens.', {
    least: 1,
    most: 65_535,
    usual: tunnelPort,
    alsoCalled: ['Listen port'],
  }),
  publicKey: short('Public key', 'Public key of the other site, in base64.', {
    longest: 100,
    alsoCalled: ['Public key of the peer'],
  }),
  address: typed('Tunnel address', 'Its address in the tunnel.', parseAddress),
  networks: refersToSome('/networks', 'Local networks', 'Networks of this site that are connected.', 50, {
    emptyMeans: 'all but guests and payment',
    alsoCalled: ['Local subnets'],
  }),
  translations: rows(
    'Translated subnets',
    'Subnets that are in use at both ends, translated one to one.',
    translationSchema,
    200,
  ),
});

/** A certificate of the site's own authority. Its private key is in the vault. */
export const certificateSchema = z.strictObject({
  id,
  person: text('Issued to', 'The person and device, or the name of the router.', {
    alsoCalled: ['Common name', 'Subject'],
  }),
  use: choice('Use', 'Whom it proves.', { client: 'client', server: 'server' }, 'client', {
    alsoCalled: ['Extended key usage'],
  }),
  serial: short('Serial number', 'As in the certificate (RFC 5280 section 4.1.2.2).'),
  from: cosmetic(moment('Valid from', 'First day', 'from', { alsoCalled: ['Not before'] })),
  until: cosmetic(moment('Valid until', 'Last day', 'until', { after: ['from'], alsoCalled: ['Not after'] })),
  revoked: day('Revoked', 'Day on which it was revoked', 'happened', {
    after: ['from'],
    emptyMeans: 'not revoked',
  }),
  secret: secret('Private key', 'Name of its private key in the vault.'),
  pem: notes('Certificate', 'PEM (RFC 7468).', 8000),
});

export const vpnSettings = z.strictObject({
  way: choice('Remote access', 'The kind of VPN that remote users use.', wayTitles, 'none', {
    alsoCalled: ['VPN type', 'VPN server'],
  }),
  outsideService: choice(
    'Outside coordination service',
    'Whether a service of another party may arrange the connections.',
    { unknown: 'not asked yet', allowed: 'allowed', refused: 'not allowed' },
    'unknown',
  ),
  encryptionMbps: cosmetic(
    number('Encryption throughput', 'What the router encrypts, by its data sheet.', {
      unit: 'Mb/s',
      seldomOutside: [5, 40000],
      most: 400_000,
      alsoCalled: ['VPN throughput'],
    }),
  ),
  protocols: cosmetic(
    choices('VPN protocols of the router', 'What the router can speak.', {
      wireguard: 'WireGuard',
      ikev2: 'IKEv2',
      tls: 'TLS',
    }),
  ),
  pool: typed('Tunnel subnet', 'Addresses that clients get in the tunnel.', parsePrefix, {
    needed: (vpn) => vpn.way === 'wireguard',
    example: '10.24.60.0/24',
    alsoCalled: ['Virtual IP pool', 'Tunnel network', 'Client address pool'],
  }),
  pool6: typed('Tunnel IPv6 prefix', 'IPv6 addresses that clients get in the tunnel.', parsePrefix, {
    emptyMeans: 'none',
  }),
  port: usualWhole('UDP port', 'Port at which the router listens.', {
    unit: 'udp',
    least: 1,
    most: 65_535,
    usual: tunnelPort,
    alsoCalled: ['Listen port'],
  }),
  endpoints: rows('Endpoints', 'Names and addresses that clients call.', vpnEndpointSchema, 8),
  publicKey: short('Public key', "The router's public key, in base64.", { longest: 100 }),
  secret: secret('Private key', "Name of the router's private key in the vault.", {
    alsoCalled: ['Interface private key'],
  }),
  resolver: typed('DNS server in the tunnel', 'DNS server inside, for names of the site.', parseAddress, {
    emptyMeans: 'none',
  }),
  keepAliveSeconds: usualWhole(
    'Persistent keepalive',
    'Interval of packets that keep the NAT mapping of the client open; 0 for none.',
    {
      unit: 's',
      most: 65_535,
      usual: usually(25, 'RFC 4787 REQ-5 keeps a mapping two minutes, many NATs 30 s: practice'),
      alsoCalled: ['Keepalive', 'Persistent keep-alive'],
    },
  ),
  mtuBytes: whole('Tunnel MTU', 'Largest packet inside the tunnel.', {
    unit: 'bytes',
    least: 576,
    most: 9216,
    emptyMeans: 'what the line leaves',
  }),
  groups: rows('Groups', 'Groups of remote users, and what each may reach.', vpnGroupSchema, 50),
  peers: rows('Clients', 'One row for each device of a remote user.', vpnPeerSchema, 1000),
  clientDownMbps: cosmetic(
    number("Remote user's download rate", 'What the line of a remote user gives.', {
      unit: 'Mb/s',
      seldomOutside: [0.5, 10000],
      most: 400_000,
    }),
  ),
  roundTripMs: cosmetic(
    number('Round-trip time', 'Between remote user and site.', {
      unit: 'ms',
      seldomOutside: [0.5, 1500],
      most: 60_000,
    }),
  ),
  runs: repeated(rows('Measured through the tunnel', 'Runs of a throughput test.', vpnRunSchema, 200)),
  sites: rows('Site-to-site', 'Other sites, connected by tunnels.', farSiteSchema, 50, 'site'),
  hub: yesNo('Hub', 'The other sites reach one another through this one.', false, {
    on: 'forwards between the other sites',
    off: 'forwards nothing between them',
    alsoCalled: ['Spoke to spoke', 'Hub and spoke'],
  }),
  authority: cosmetic(
    z
      .strictObject({
        pem: notes('Certificate of the authority', 'PEM (RFC 7468).', 8000),
        secret: secret('Private key of the authority', 'Name of its private key in the vault.'),
      })
      .prefault({}),
  ),
  certificates: rows('Certificates', 'Certificates that the authority issued.', certificateSchema, 1000),
});
