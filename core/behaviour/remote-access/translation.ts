import { address, formatAddress, type Address } from '../../base/net/address.ts';
import type { Prefix } from '../../base/net/prefix.ts';
import type { Network, Site } from '../../site/model.ts';
import type { FarSite } from '../../site/vpn.ts';

/** The same host under the other block: one-to-one translation keeps the host part (RFC 3022 section 2.1). */
export function translated(host: Address, from: Prefix, to: Prefix): Address | undefined {
  if (host.family !== from.family || from.length !== to.length || from.family !== to.family) return undefined;
  const offset = host.value - from.first;
  return offset < 0n || host.value > from.last ? undefined : address(to.family, to.first + offset);
}

/** A device of a network that is seen under another block, and what the other sites call it. */
export interface CalledOtherwise {
  readonly name: string;
  readonly own: string;
  readonly elsewhere: string;
}

/** The table people need: what each device of a translated network is called at the other sites. */
export const translationTable = (site: Site, network: Network, seen: Prefix): CalledOtherwise[] =>
  site.devices.flatMap((device) => {
    const elsewhere =
      device.network === network && device.address && network.prefix
        ? translated(device.address, network.prefix, seen)
        : undefined;
    return elsewhere
      ? [{ name: device.name, own: formatAddress(device.address!), elsewhere: formatAddress(elsewhere) }]
      : [];
  });

/** The address with which the router itself calls another site: that on the first network that is connected with it. */
export const ownAddressTowards = (site: Site, far: FarSite): Address | undefined =>
  [...far.networks, ...site.networks].flatMap(({ routerAddress }) => routerAddress ?? [])[0];
