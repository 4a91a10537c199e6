import type { Site } from '../../../site/model.ts';
import type { FolderFormat } from '../type.ts';
import { hasTunnel, interfacesOf } from './interfaces.ts';
import { nftables } from './nftables.ts';
import { interfacesScript, portRows, portsFile } from './ports.ts';
import { readme } from './readme.ts';
import { addressesScript, routesScript, sysctl } from './routes.ts';
import { controlScript, hooks, lineScript } from './control.ts';
import { dnsmasq, hosts, tunnel, units } from './services.ts';

/** The plan for a general Linux router: iproute2, nftables, dnsmasq and wg. */
export const linux: FolderFormat = {
  says: 'Files for a general Linux router: addresses, routes, rules, DHCP, DNS and tunnels',
  write: ({ site }) => linuxFiles(site),
};

/** The files by their names. */
export function linuxFiles(site: Site): ReadonlyMap<string, string> {
  const names = interfacesOf(site);
  return new Map([
    ['README.md', readme(site, names).text],
    ['sysctl.conf', sysctl],
    ['netter.sh', controlScript(site, names).text],
    ['netter.nft', nftables(site, names).text],
    ['ports.conf', portsFile(portRows(site, names)).text],
    ['interfaces.sh', interfacesScript().text],
    ['addresses.sh', addressesScript(site, names).text],
    ['routes.sh', routesScript(site, names).text],
    ['line.sh', lineScript(site, names).text],
    ...[...hooks(site, names)].map(([name, script]) => [name, script.text] as const),
    ['dnsmasq.conf', dnsmasq(site, names).text],
    ['hosts', hosts(site).text],
    ...[...units(site)].map(([name, text]) => [name, text.text] as const),
    ...(hasTunnel(site) ? ([[`${names.tunnel}.conf`, tunnel(site).text]] as const) : []),
  ]);
}
