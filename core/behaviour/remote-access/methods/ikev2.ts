import { entry, fieldEntry } from '../../domain-types/step.ts';
import { certificateFile, endpointHost, grantedSubnets, ownServerFit, poolText } from './own-server.ts';
import type { Method } from './type.ts';

export const ikev2: Method = {
  name: 'ikev2',
  client: 'built-in',
  listens: true,
  ownServer: true,
  fit: (situation) =>
    ownServerFit(
      situation,
      'ikev2',
      4,
      'Phones and desktops have it built in; needs UDP 500 and 4500 and, best, certificates (RFC 7296, RFC 3948).',
    ),
  entries: (site) => [
    fieldEntry('/vpn/way', 'IKEv2, certificates on both ends', ['IPsec remote access']),
    entry(
      'Own identity',
      `the name ${endpointHost(site)}, as in its certificate (subject alternative name)`,
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
    fieldEntry('/vpn/pool', poolText(site)),
    entry('Selectors', grantedSubnets(site), ['Split tunnel', 'Local networks'], '/vpn/groups'),
    entry('Lifetimes', 'IKE 8 h, ESP 1 h; rekey before the end, dead peers found by 30 s of silence', [
      'Lifetime',
      'DPD',
    ]),
  ],
  install: ({ system }, host) => [
    certificateFile,
    `In the settings of the ${system}, add a VPN of the type IKEv2: server and remote identity ${host}, signed in by that certificate.`,
  ],
};
