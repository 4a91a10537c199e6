import { once } from '../base/once.ts';
import { addressKey, type Address } from '../base/net/address.ts';
import { hostsOf } from '../base/net/prefix.ts';
import { firstFreeBeside, rangeBetween, subtractRanges } from '../base/net/range.ts';
import type { Device, Network, RouteTarget, Site } from './model.ts';

/*
 * What is looked up again and again, collected once a site: a plan may have thousands of devices on hundreds of
 * networks, and going through all of them for each network would cost a product where a sum will do.
 */

interface Lookups {
  readonly byNetwork: ReadonlyMap<Network | undefined, readonly Device[]>;
  readonly held: ReadonlySet<bigint>;
}

const lookupsOf = once((site: Site): Lookups => {
  const byNetwork = new Map<Network | undefined, Device[]>();
  const held = new Set<bigint>();
  for (const device of site.devices) {
    const there = byNetwork.get(device.network);
    if (there) there.push(device);
    else byNetwork.set(device.network, [device]);
    if (device.address) held.add(addressKey(device.address));
  }
  for (const { address } of site.second) if (address) held.add(addressKey(address));
  return { byNetwork, held };
});

/** The devices of a network, in the order of the plan. */
export const devicesOn = (site: Site, network: Network): readonly Device[] =>
  lookupsOf(site).byNetwork.get(network) ?? [];

/** Addresses that devices and second routers hold, as `addressKey` has them. */
export const heldAddresses = (site: Site): ReadonlySet<bigint> => lookupsOf(site).held;

/** An address on the network that nobody holds and the pool does not give away. */
export function freeHost(site: Site, network: Network): Address | undefined {
  if (!network.prefix) return undefined;
  const hosts = hostsOf(network.prefix);
  const outsidePool = subtractRanges(
    [rangeBetween(hosts.first, hosts.last)],
    network.pool ? [network.pool] : [],
  );
  return firstFreeBeside(outsidePool, heldAddresses(site), network.routerAddress);
}

/** The inside network to which a route leads; undefined where it leads out or nowhere. */
export const insideOf = (target: RouteTarget): Network | undefined =>
  target.kind === 'network' || target.kind === 'via' ? target.network : undefined;
