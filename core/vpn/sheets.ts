import { formatAddress } from '../net/address.ts';
import { formatPrefix } from '../net/prefix.ts';
import { entry, type Entry, fieldEntry, secretFieldEntry } from '../terms/step.ts';
import type { Site } from '../site/model.ts';
import { tunnelMtu } from './interface.ts';

/** A sheet of values to type into the router, for one way in. */
export function parameterSheet(site: Site): readonly Entry[] {
  const { vpn } = site;
  const pool = vpn.pool ? formatPrefix(vpn.pool) : 'no pool yet';
  const host = vpn.endpoints[0]?.host || '(not entered yet)';
  const inside = [...new Set(vpn.groups.flatMap(({ grants }) => grants.map(({ network }) => network)))]
    .flatMap(({ prefix }) => (prefix ? [formatPrefix(prefix)] : []))
    .join(', ');
  switch (vpn.way) {
    case 'wireguard':
      return [
        fieldEntry('/vpn/way', 'point-to-site tunnel, UDP', ['VPN server', 'Tunnel interface']),
        secretFieldEntry('/vpn/secret', vpn.secret, 'made on the router itself'),
        entry(
          'Address of the router',
          [vpn.routerAddress, vpn.routerAddress6]
            .flatMap((each, index) =>
              each ? [`${formatAddress(each)}/${(index === 0 ? vpn.pool : vpn.pool6)!.length}`] : [],
            )
            .join(', ') || 'no pool yet',
          ['Interface address', 'Tunnel address'],
          '/vpn/pool',
        ),
        fieldEntry('/vpn/port', `udp ${vpn.port}`),
        fieldEntry('/vpn/mtuBytes', String(tunnelMtu(site))),
        entry(
          'Let in on the lines',
          `udp ${vpn.port}, to the router itself`,
          ['Firewall rule', 'Input rule'],
          '/vpn/port',
        ),
      ];
    case 'ikev2':
      return [
        fieldEntry('/vpn/way', 'IKEv2, certificates on both ends', ['IPsec remote access']),
        entry(
          'Own identity',
          `the name ${host}, as in its certificate (subject alternative name)`,
          ['Local ID', 'FQDN'],
          '/vpn/endpoints',
        ),
        entry(
          'IKE encryption',
          'AES-GCM, 16-octet tag, 256 bits; AES-CBC 256 for old ends (RFC 8247 section 2.1)',
          ['Phase 1'],
        ),
        entry('IKE pseudo-random function', 'HMAC-SHA2-256 (RFC 8247 section 2.2)', ['PRF']),
        entry('IKE integrity, with AES-CBC only', 'HMAC-SHA2-256-128 (RFC 8247 section 2.3)', ['Hash']),
        entry(
          'Key exchange',
          'group 19 (256-bit curve) or 14 (2048 bits); never 1, 2, 5, 22 (RFC 8247 section 2.4)',
          ['DH group', 'PFS'],
        ),
        entry('ESP', 'AES-GCM, 16-octet tag (RFC 8221 section 5)', ['Phase 2', 'Child SA']),
        entry('Ports', 'udp 500 and udp 4500, for NAT on the way (RFC 7296 section 2.23)', ['NAT traversal']),
        fieldEntry('/vpn/pool', pool),
        entry(
          'Selectors',
          inside || 'what the groups are granted',
          ['Split tunnel', 'Local networks'],
          '/vpn/groups',
        ),
        entry('Lifetimes', 'IKE 8 h, ESP 1 h; rekey before the end, dead peers found by 30 s of silence', [
          'Lifetime',
          'DPD',
        ]),
      ];
    case 'tls':
      return [
        fieldEntry('/vpn/way', 'tunnel over TLS 1.3, certificates on both ends (RFC 8446)', ['SSL VPN']),
        fieldEntry('/vpn/port', 'udp 443 first, tcp 443 where a network lets nothing else out'),
        entry('Own name', `${host}, as in its certificate`, ['Server name'], '/vpn/endpoints'),
        entry('Ciphers', 'AES-256-GCM or ChaCha20-Poly1305; nothing older than TLS 1.2', ['Data ciphers']),
        entry('Client certificates', 'one a person, checked against the list of revoked ones', [
          'Mutual TLS',
          'CRL',
        ]),
        fieldEntry('/vpn/pool', pool),
        entry('Routes pushed', inside || 'what the groups are granted', ['Split tunnel'], '/vpn/groups'),
      ];
    default:
      return [];
  }
}
