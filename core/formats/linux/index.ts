import type { Site } from '../../site/model.ts';
import type { FolderFormat } from '../type.ts';
import { interfacesOf } from './interfaces.ts';
import { nftables } from './nftables.ts';
import { readme } from './readme.ts';
import { addressesScript, routesScript, sysctl } from './routes.ts';
import { clientsTunnel, dnsmasq, siteTunnel } from './services.ts';

/** The plan for a general Linux router: iproute2, nftables, dnsmasq and wg. */
export const linux: FolderFormat = {
  says: 'Files for a general Linux router: addresses, routes, rules, DHCP, DNS and tunnels',
  write: ({ site }) => linuxFiles(site),
};

/** The files by their names. */
export function linuxFiles(site: Site): ReadonlyMap<string, string> {
  const names = interfacesOf(site);
  return new Map([
    ['README.md', readme(site, names)],
    ['sysctl.conf', sysctl],
    ['netter.nft', nftables(site, names)],
    ['addresses.sh', addressesScript(site, names)],
    ['routes.sh', routesScript(site, names)],
    ['dnsmasq.conf', dnsmasq(site, names)],
    ...(site.vpn.way === 'wireguard' ? ([['wg0.conf', clientsTunnel(site)]] as const) : []),
    ...site.vpn.sites.map(
      (far, index) => [`${names.site(far)}.conf`, siteTunnel(site, far, site.vpn.port + 1 + index)] as const,
    ),
  ]);
}
