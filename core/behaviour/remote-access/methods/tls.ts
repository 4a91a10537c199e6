import { entry, fieldEntry } from '../../domain-types/step.ts';
import { certificateFile, endpointHost, grantedSubnets, ownServerFit, poolText } from './own-server.ts';
import type { Method } from './type.ts';

export const tls: Method = {
  name: 'tls',
  client: 'app',
  listens: true,
  ownServer: true,
  fit: (situation) =>
    ownServerFit(
      situation,
      'tls',
      2,
      'Works on networks that allow web pages only; slower, TCP inside TCP where UDP is refused.',
    ),
  entries: (site) => [
    fieldEntry('/vpn/way', 'tunnel over TLS 1.3, certificates on both ends (RFC 8446)', ['SSL VPN']),
    fieldEntry('/vpn/port', 'udp 443 first, tcp 443 where a network lets nothing else out'),
    entry('Own name', `${endpointHost(site)}, as in its certificate`, ['Server name'], '/vpn/endpoints'),
    entry('Ciphers', 'AES-256-GCM or ChaCha20-Poly1305; nothing older than TLS 1.2', ['Data ciphers']),
    entry('Client certificates', 'one a person, checked against the list of revoked ones', [
      'Mutual TLS',
      'CRL',
    ]),
    fieldEntry('/vpn/pool', poolText(site)),
    entry('Routes pushed', grantedSubnets(site), ['Split tunnel'], '/vpn/groups'),
  ],
  install: ({ system }, host) => [
    `Install the app for the VPN over TLS on the ${system}, from the person who manages it.`,
    certificateFile,
    `In the app, add ${host} as the server, signed in by that certificate.`,
  ],
};
