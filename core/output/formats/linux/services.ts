import {
  dnsmasqConf,
  dnsmasqRemark,
  hostsFile,
  ini,
  iniRemark,
  iniRow,
  type Code,
} from '../../../base/encode/index.ts';
import { formatAddress } from '../../../base/net/address.ts';
import { parseEndpoint } from '../../../base/net/identifiers.ts';
import { single } from '../../../base/net/packet-set.ts';
import { formatPrefix, maskText } from '../../../base/net/prefix.ts';
import { prefixesOf, type AddressRange } from '../../../base/net/range.ts';
import { valueOf } from '../../../base/result.ts';
import type { Site } from '../../../site/model.ts';
import { slug } from '../../../base/text.ts';
import type { Interfaces } from './interfaces.ts';
import { sourcesBehindSite } from './nftables.ts';

/** DHCP, router advertisements and names (dnsmasq(8)). */
export function dnsmasq(site: Site, names: Interfaces): Code<'dnsmasq'> {
  const conf = dnsmasqConf;
  const upstream = [...new Set(site.lines.flatMap(({ resolvers }) => resolvers.map(formatAddress)))];
  const six = site.networks.some(({ prefix }) => prefix?.family === 6);
  return conf.lines(
    dnsmasqRemark('DHCP and DNS for the inside networks.'),
    conf`bind-dynamic`,
    conf`domain-needed`,
    conf`bogus-priv`,
    // Names of devices stand in a file of their own: there a name is a name, whatever word it is.
    conf`no-hosts`,
    conf`addn-hosts=/etc/netter/hosts`,
    six ? [conf`enable-ra`] : [],
    upstream.length > 0
      ? [conf`no-resolv`, ...upstream.map((host) => conf`server=${host}`)]
      : [dnsmasqRemark('DNS servers come from the provider: /etc/resolv.conf.')],
    // Remote users ask the router by the tunnel.
    site.vpn.way === 'none' ? [] : [conf``, dnsmasqRemark('Remote users'), conf`interface=${names.clients}`],
    site.networks.flatMap((network) => {
      const { prefix, dhcp, pool, resolvers, routerAddress } = network;
      if (!prefix) return [];
      const name = names.network(network);
      const given =
        pool && prefix.family === 4
          ? [
              conf`dhcp-range=set:${name},${formatAddress({ family: 4, value: pool.first })},${formatAddress({ family: 4, value: pool.last })},${maskText(prefix.length)},${dhcp.leaseMinutes}m`,
              ...(routerAddress
                ? [conf`dhcp-option=tag:${name},option:router,${formatAddress(routerAddress)}`]
                : []),
              ...(resolvers.length > 0
                ? [
                    conf`dhcp-option=tag:${name},option:dns-server,${conf.joined(resolvers.map(formatAddress), ',')}`,
                  ]
                : []),
            ]
          : prefix.family === 6 && prefix.length === 64
            ? [
                conf`dhcp-range=set:${name},${formatAddress({ family: 6, value: prefix.first })},ra-stateless,64`,
              ]
            : [];
      const reserved = site.devices.flatMap((device) =>
        device.network === network && device.addressing === 'reserved' && device.address && device.mac
          ? [conf`dhcp-host=${device.mac.text},${formatAddress(device.address)}`]
          : [],
      );
      return [
        conf``,
        dnsmasqRemark(`${network.name}, ${formatPrefix(prefix)}`),
        conf`interface=${name}`,
        ...given,
        ...reserved,
      ];
    }),
    conf``,
  );
}

/** Names of devices with an address that stays (hosts(5)), each once. */
export function hosts(site: Site): Code<'hosts'> {
  const seen = new Set<string>();
  return hostsFile.lines(
    site.devices.flatMap(({ address, name }) => {
      const plain = slug(name)
        .normalize('NFKD')
        .replace(/[^a-z0-9-]/g, '')
        .replace(/^-|-$/g, '')
        .slice(0, 63);
      if (!address || plain === '' || seen.has(plain)) return [];
      seen.add(plain);
      return [hostsFile`${formatAddress(address)} ${plain}`];
    }),
    hostsFile``,
  );
}

/** A unit that starts at every boot (systemd.service(5)). */
const unit = (says: string, type: 'oneshot' | 'simple', command: string): Code<'ini'> =>
  ini.lines(
    ini`[Unit]`,
    iniRow('Description', says, '='),
    ini`After=network-pre.target`,
    ini`Wants=network-pre.target`,
    ini``,
    ini`[Service]`,
    iniRow('Type', type, '='),
    type === 'oneshot' ? [ini`RemainAfterExit=yes`] : [ini`Restart=on-failure`],
    iniRow('ExecStart', command, '='),
    ini``,
    ini`[Install]`,
    ini`WantedBy=multi-user.target`,
    ini``,
  );

/** What starts at every boot. */
export const units = ({ lines }: Site): ReadonlyMap<string, Code<'ini'>> =>
  new Map([
    [
      'netter.service',
      unit(
        'Site router: interfaces, rules, addresses, routes',
        'oneshot',
        '/bin/sh /etc/netter/netter.sh apply',
      ),
    ],
    [
      'netter-dnsmasq.service',
      unit(
        'Site router: DHCP and DNS',
        'simple',
        '/usr/sbin/dnsmasq --keep-in-foreground --conf-file=/etc/netter/dnsmasq.conf',
      ),
    ],
    ...(lines.length === 0
      ? []
      : ([
          [
            'netter-watch.service',
            unit('Site router: lines that lose their link', 'simple', '/bin/sh /etc/netter/netter.sh watch'),
          ],
        ] as const)),
  ]);

/** A block that a tunnel lets a peer have; each block has one peer (cryptokey routing). */
const allowed = (ranges: readonly AddressRange[]): Code<'ini'>[] => {
  const blocks = ranges.flatMap(prefixesOf).map(formatPrefix);
  return blocks.length === 0 ? [] : [iniRow('AllowedIPs', blocks.join(', '))];
};

/**
 * The tunnel of remote users and other sites (wg(8)): one interface, one port, one key. Keys that are secret stand in
 * files beside it, by their name in the vault.
 */
export function tunnel(site: Site): Code<'ini'> {
  const { vpn } = site;
  const users = vpn.way === 'wireguard' ? vpn.peers : [];
  return ini.lines(
    ini`[Interface]`,
    iniRemark(`Private key "${vpn.secret || 'tunnel-router'}": put it into secrets/wg0.key`),
    ini`ListenPort = ${vpn.port}`,
    users
      .filter(({ revoked, address, address6 }) => !revoked && (address || address6))
      .flatMap((peer) => [
        ini``,
        ini`[Peer]`,
        iniRemark(peer.name),
        keyRow(peer.publicKey),
        ...(peer.preshared === ''
          ? []
          : [iniRemark(`Pre-shared key "${peer.preshared}": put it into secrets/${peer.preshared}.psk`)]),
        ...allowed([peer.address, peer.address6].flatMap((each) => (each ? [single(each)] : []))),
      ]),
    vpn.sites.flatMap((far) => {
      const endpoint = valueOf(parseEndpoint(far.endpoint));
      const host = endpoint && (endpoint.host.includes(':') ? `[${endpoint.host}]` : endpoint.host);
      return [
        ini``,
        ini`[Peer]`,
        iniRemark(far.name),
        keyRow(far.publicKey),
        host === undefined ? [] : [iniRow('Endpoint', `${host}:${endpoint!.port ?? far.port}`)],
        ...allowed(sourcesBehindSite(site, far)),
        ini`PersistentKeepalive = ${vpn.keepAliveSeconds}`,
      ].flat();
    }),
    ini``,
  );
}

const keyRow = (key: string): Code<'ini'> =>
  key.trim() === '' ? iniRemark('PublicKey is not known yet.') : iniRow('PublicKey', key.trim());
