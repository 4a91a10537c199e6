import { address, formatAddress, type Address } from '../base/net/address.ts';
import {
  contains,
  formatPrefix,
  overlaps,
  parsePrefix,
  prefixAround,
  type Prefix,
} from '../base/net/prefix.ts';
import { firstFreeBlock } from '../base/net/range.ts';
import type { Patch } from '../plan/patch.ts';
import { devicesOn } from './lookups.ts';
import type { Network, Site } from './model.ts';

/** Where free inside blocks are looked for, in order: RFC 1918, away from the blocks that new boxes come with. */
const searchSpaces = ['10.24.0.0/16', '10.0.0.0/8', '172.16.0.0/12', '192.168.0.0/16'].flatMap((text) => {
  const parsed = parsePrefix(text);
  return parsed.ok ? [parsed.value] : [];
});

/** A private block of that length which nothing on the site uses; where it can, with the VLAN id as its third part. */
export function freeBlock(site: Site, length: number, vlan: number | null): Prefix | undefined {
  const taken = site.prefixes.map((each) => each.prefix);
  if (site.router.factory) taken.push(site.router.factory.prefix);
  const third = BigInt(vlan !== null && vlan > 0 && vlan < 255 ? Math.ceil(vlan) : 10);
  const wanted = prefixAround(address(4, searchSpaces[0]!.first + (third << 8n)), length);
  if (length >= 24 && !taken.some((prefix) => overlaps(prefix, wanted))) return wanted;
  for (const space of searchSpaces) {
    if (space.length > length) continue;
    const found = firstFreeBlock(space, length, taken);
    if (found) return found;
  }
  return undefined;
}

/** Moves a network to another block of the same length: every address on it keeps its host part. */
export function renumber(site: Site, network: Network, to: Prefix): Patch {
  const from = network.prefix;
  if (!from) return [{ op: 'replace', path: `${network.at}/prefix`, value: formatPrefix(to) }];
  const moved = (host: Address | undefined): string | undefined =>
    host && contains(from, host)
      ? formatAddress(address(to.family, to.first + (host.value - from.first)))
      : undefined;
  const set = (path: string, value: string | undefined): Patch =>
    value === undefined ? [] : [{ op: 'replace', path, value }];
  const pool = network.pool;
  return [
    ...set(`${network.at}/prefix`, formatPrefix(to)),
    ...set(`${network.at}/routerAddress`, moved(network.routerAddress)),
    ...set(`${network.at}/dhcp/from`, moved(pool && address(pool.family, pool.first))),
    ...set(`${network.at}/dhcp/to`, moved(pool && address(pool.family, pool.last))),
    ...(network.resolvers.some((each) => moved(each) !== undefined)
      ? [
          {
            op: 'replace' as const,
            path: `${network.at}/resolvers`,
            value: network.resolvers.map((each) => moved(each) ?? formatAddress(each)),
          },
        ]
      : []),
    ...devicesOn(site, network).flatMap((device) => set(`${device.at}/address`, moved(device.address))),
  ];
}
