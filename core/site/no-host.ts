import { once } from '../base/once.ts';
import type { At } from '../plan/at.ts';
import { addressKey, type Address } from '../base/net/address.ts';
import { contains, roleIn, type Prefix } from '../base/net/prefix.ts';
import type { Site } from './model.ts';

/** A subnet that this site knows of, wherever it lies. */
interface Block {
  readonly name: string;
  readonly at: At;
  readonly prefix: Prefix;
}

/** An address that no host of its subnet can have. */
export interface NoHost {
  readonly role: 'network' | 'broadcast';
  /** Whose subnet it is. */
  readonly name: string;
  readonly at: At;
  /** "that is the broadcast address of Office: no host has it". */
  readonly says: string;
}

interface Blocks {
  /** The longest first. */
  readonly all: readonly Block[];
  /** First and last addresses: most addresses are none, and need no search. */
  readonly edges: ReadonlySet<bigint>;
}

/** Every subnet of the site, of its lines, its tunnels and what is behind other routers. */
const blocksOf = once((site: Site): Blocks => {
  const { vpn } = site;
  const all: Block[] = [
    ...site.prefixes.map(({ name, at, prefix }) => ({ name, at, prefix })),
    ...vpn.sites.flatMap(({ name, at, prefixes }) =>
      prefixes.map((prefix) => ({ name, at: `${at}/prefixes` as const, prefix })),
    ),
    ...(vpn.way === 'none' ? [] : [vpn.pool, vpn.pool6]).flatMap((prefix) =>
      prefix ? [{ name: 'remote access', at: '/vpn/pool' as const, prefix }] : [],
    ),
  ].sort((a, b) => b.prefix.length - a.prefix.length);
  const edges = all.flatMap(({ prefix: { family, first, last } }) =>
    [first, last].map((value) => addressKey({ family, value })),
  );
  return { all, edges: new Set(edges) };
});

/**
 * Whether an address is the network or the broadcast address of the subnet that it lies in (RFC 919, RFC 1122 section
 * 3.2.1.3; IPv6: the subnet-router anycast address, RFC 4291 section 2.6.1). Of several subnets the longest counts.
 */
export function noHost(site: Site, address: Address): NoHost | undefined {
  const { all, edges } = blocksOf(site);
  if (!edges.has(addressKey(address))) return undefined;
  const block = all.find(({ prefix }) => contains(prefix, address));
  const role = block && roleIn(block.prefix, address);
  if (!block || (role !== 'network' && role !== 'broadcast')) return undefined;
  const { name, at } = block;
  return { role, name, at, says: `that is the ${role} address of ${name}: no host has it` };
}

/** The addresses that are looked at: first and last of every subnet. */
export const subnetEdges = (site: Site): ReadonlySet<bigint> => blocksOf(site).edges;
