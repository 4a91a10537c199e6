import { formatAddress } from '../../../base/net/address.ts';
import { entry, fieldEntry, secretFieldEntry } from '../../domain-types/step.ts';
import { tunnelMtu } from '../interface.ts';
import { ownServerFit } from './own-server.ts';
import type { Method } from './type.ts';

export const wireguard: Method = {
  name: 'wireguard',
  client: 'app',
  listens: true,
  ownServer: true,
  fit: (situation) =>
    ownServerFit(
      situation,
      'wireguard',
      6,
      'One key per device, no login, and it reconnects when a phone changes networks.',
    ),
  entries: (site) => [
    fieldEntry('/vpn/way', 'point-to-site tunnel, UDP', ['Tunnel interface']),
    secretFieldEntry('/vpn/secret', site.vpn.secret, 'made on the router itself'),
    entry(
      'Address of the router',
      [site.vpn.routerAddress, site.vpn.routerAddress6]
        .flatMap((each, index) =>
          each ? [`${formatAddress(each)}/${(index === 0 ? site.vpn.pool : site.vpn.pool6)!.length}`] : [],
        )
        .join(', ') || 'no pool yet',
      ['Interface address', 'Tunnel address'],
      '/vpn/pool',
    ),
    fieldEntry('/vpn/port', `udp ${site.vpn.port}`),
    fieldEntry('/vpn/mtuBytes', String(tunnelMtu(site))),
    entry(
      'Allow on the lines',
      `udp ${site.vpn.port}, to the router itself`,
      ['Firewall rule', 'Input rule'],
      '/vpn/port',
    ),
  ],
  install: ({ system, ownKey }) => [
    `Install the tunnel's app (WireGuard) on the ${system}, from the shop of its system or from the person who manages it.`,
    ownKey
      ? 'In the app, make a new empty tunnel: it makes its own key. Give only the public half to the installer; the private half never leaves the device.'
      : 'In the app, add a tunnel by scanning the QR code that goes with this page, or from the file on the USB stick. Never by mail or messenger.',
  ],
};
