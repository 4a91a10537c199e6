import { address, formatAddress } from '../base/net/address.ts';
import { formatPrefix, hostsOf } from '../base/net/prefix.ts';
import { usualAt } from '../plan/places.ts';
import { networkSchema, type NetworkPlan } from '../plan/schema.ts';
import type { Site } from './model.ts';
import { freeBlock } from './renumber.ts';

/** VLAN IDs of new networks, in steps that leave room between them (common practice, no source). */
const vlanStep = 10;
/** Where the DHCP pool of a new /24 begins and ends; below it is room for fixed addresses (common practice, no source). */
const poolOffsets = { first: 99n, last: 198n } as const;

/** A new network: a free VLAN ID, a free private /24, the router on its first address, and a DHCP pool. */
export function newNetwork(site: Site, id: string): NetworkPlan {
  const used = new Set(site.networks.map((network) => network.vlan));
  let vlan = vlanStep;
  while (used.has(vlan)) vlan += vlanStep;
  const prefix = freeBlock(site, 24, vlan);
  const first = prefix && hostsOf(prefix).first;
  const host = (offset: bigint): string =>
    first ? formatAddress(address(first.family, first.value + offset)) : '';
  return networkSchema.parse({
    id,
    vlan,
    prefix: prefix ? formatPrefix(prefix) : '',
    routerAddress: host(0n),
    dhcp: {
      from: host(poolOffsets.first),
      to: host(poolOffsets.last),
      leaseMinutes: usualAt('/networks/*/dhcp/leaseMinutes'),
    },
    resolvers: first ? [host(0n)] : [],
  });
}
