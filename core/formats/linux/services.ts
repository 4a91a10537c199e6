import { formatAddress } from '../../net/address.ts';
import { formatPrefix, maskText } from '../../net/prefix.ts';
import type { Site } from '../../site/model.ts';
import { slug } from '../../text.ts';
import type { Interfaces } from './interfaces.ts';

/** DHCP and names (dnsmasq(8)). */
export function dnsmasq(site: Site, names: Interfaces): string {
  const upstream = [...new Set(site.lines.flatMap(({ resolvers }) => resolvers.map(formatAddress)))];
  return [
    '# DHCP and DNS for the inside networks.',
    'bind-dynamic',
    'domain-needed',
    'bogus-priv',
    ...(upstream.length > 0
      ? ['no-resolv', ...upstream.map((host) => `server=${host}`)]
      : ['# DNS servers come from the provider: /etc/resolv.conf.']),
    ...site.networks.flatMap((network) => {
      const { prefix, dhcp, pool, resolvers, routerAddress } = network;
      if (!prefix) return [];
      const name = names.network(network);
      const given =
        pool && prefix.family === 4
          ? [
              `dhcp-range=set:${name},${formatAddress({ family: 4, value: pool.first })},${formatAddress({ family: 4, value: pool.last })},${maskText(prefix.length)},${dhcp.leaseMinutes}m`,
              ...(routerAddress
                ? [`dhcp-option=tag:${name},option:router,${formatAddress(routerAddress)}`]
                : []),
              ...(resolvers.length > 0
                ? [`dhcp-option=tag:${name},option:dns-server,${resolvers.map(formatAddress).join(',')}`]
                : []),
            ]
          : [];
      const reserved = site.devices.flatMap((device) =>
        device.network === network && device.addressing === 'reserved' && device.address && device.mac
          ? [`dhcp-host=${device.mac.text},${formatAddress(device.address)},${slug(device.name)}`]
          : [],
      );
      return ['', `# ${network.name}, ${formatPrefix(prefix)}`, `interface=${name}`, ...given, ...reserved];
    }),
    '',
  ].join('\n');
}

/** The tunnel of the remote users (wg(8)); keys that are secret stand in files beside it, by their name in the vault. */
export function clientsTunnel({ vpn }: Site): string {
  return [
    '[Interface]',
    `# Private key: the file secrets/${vpn.secret || 'tunnel-router'}, by: wg set wg0 private-key FILE`,
    `ListenPort = ${vpn.port}`,
    ...vpn.peers
      .filter(({ revoked, address, address6 }) => !revoked && (address || address6))
      .flatMap((peer) => [
        '',
        '[Peer]',
        `# ${peer.name}`,
        `PublicKey = ${peer.publicKey.trim() || '(not known yet)'}`,
        ...(peer.preshared === ''
          ? []
          : [
              `# Pre-shared key: the file secrets/${peer.preshared}, by: wg set wg0 peer KEY preshared-key FILE`,
            ]),
        `AllowedIPs = ${[peer.address, peer.address6].flatMap((host) => (host ? [`${formatAddress(host)}/${host.family === 4 ? 32 : 128}`] : [])).join(', ')}`,
      ]),
    '',
  ].join('\n');
}

/** The tunnel to one connected site. */
export function siteTunnel(site: Site, far: Site['vpn']['sites'][number], port: number): string {
  return [
    `# ${far.name}`,
    '[Interface]',
    `# Private key: the file secrets/${site.vpn.secret || 'tunnel-router'}`,
    `ListenPort = ${port}`,
    '',
    '[Peer]',
    `PublicKey = ${far.publicKey.trim() || '(not known yet)'}`,
    ...(far.endpoint ? [`Endpoint = ${far.endpoint}`] : []),
    `AllowedIPs = ${far.prefixes.map(formatPrefix).join(', ')}`,
    `PersistentKeepalive = ${site.vpn.keepAliveSeconds}`,
    '',
  ].join('\n');
}
