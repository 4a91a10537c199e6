import type { At } from '../../plan/at.ts';
import { bitsOf } from '../../base/net/address.ts';
import {
  containsPrefix,
  firstOf,
  overlaps,
  prefixAround,
  samePrefix,
  type Prefix,
} from '../../base/net/prefix.ts';
import type { Site } from '../../site/model.ts';

/** A subnet on the map. */
export interface AddressPart {
  readonly at: At;
  readonly name: string;
  readonly role: 'network' | 'box' | 'tunnel' | 'far' | 'second';
  readonly prefix: Prefix;
  /** Where it lies in its row, 0 to 1. */
  readonly from: number;
  readonly to: number;
  /** Another subnet of the map has some of the same addresses. */
  readonly shared: boolean;
}

/** A block of addresses, drawn to scale, and what lies in it in the order of addresses. */
export interface AddressRow {
  readonly block: Prefix;
  readonly parts: readonly AddressPart[];
}

/** A row is a block of this length: sixteen subnets of the usual length 24 (RFC 4632 aggregates on any bit). */
const rowLength = 20;

/**
 * The IPv4 address space that the site takes up: its networks, the LANs of the boxes in front, the tunnel, and the
 * networks of joined sites. A row holds sixteen /24; a wider subnet has a row of its own, on its own scale.
 */
export function addressMap(site: Site): readonly AddressRow[] {
  const taken: Pick<AddressPart, 'at' | 'name' | 'role' | 'prefix'>[] = site.prefixes.flatMap(
    ({ at, name, role, prefix }) =>
      role === 'network' || role === 'box' || role === 'second' ? [{ at, name, role, prefix }] : [],
  );
  if (site.vpn.way !== 'none' && site.vpn.pool)
    taken.push({ at: '/vpn/pool', name: 'tunnel', role: 'tunnel', prefix: site.vpn.pool });
  // A subnet that both ends have is seen here under another one.
  for (const far of site.vpn.sites)
    for (const real of far.prefixes)
      taken.push({
        at: `${far.at}/prefixes`,
        name: far.name,
        role: 'far',
        prefix:
          far.translations.find((each) => each.of === 'there' && samePrefix(each.real, real))?.seen ?? real,
      });
  const of4 = taken
    .filter(({ prefix }) => prefix.family === 4 && prefix.length > 0)
    .sort((a, b) => Number(a.prefix.first - b.prefix.first) || a.prefix.length - b.prefix.length);
  const rows: { block: Prefix; parts: AddressPart[] }[] = [];
  // Wide ones come first at the same address, so that a row holds all that begins within it.
  for (const each of of4) {
    const block = prefixAround(firstOf(each.prefix), Math.min(rowLength, each.prefix.length));
    let row = rows.at(-1);
    if (!row || !containsPrefix(row.block, block)) rows.push((row = { block, parts: [] }));
    const size = 2 ** (bitsOf(4) - row.block.length);
    row.parts.push({
      ...each,
      from: Number(each.prefix.first - row.block.first) / size,
      to: Number(each.prefix.last + 1n - row.block.first) / size,
      shared: of4.some((other) => other !== each && overlaps(other.prefix, each.prefix)),
    });
  }
  return rows;
}
