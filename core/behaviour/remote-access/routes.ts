import type { Family } from '../../base/net/address.ts';
import { formatPrefix, parsePrefix, type Prefix } from '../../base/net/prefix.ts';
import { joinRanges, prefixesOf, rangeOf, subtractRanges, type AddressRange } from '../../base/net/range.ts';
import { valueOf } from '../../base/result.ts';
import type { Site } from '../../site/model.ts';
import { step, type Worked, worked } from '../../base/worked/worked.ts';
import type { Peer } from '../../site/vpn.ts';

const block = (text: string): Prefix => valueOf(parsePrefix(text))!;
const everything: Readonly<Record<Family, Prefix>> = { 4: block('0.0.0.0/0'), 6: block('::/0') };

/** What stays near the client in "all but what is near me": the blocks that homes and hotels use, link and group addresses. */
export const nearBlocks: readonly Prefix[] = [
  '10.0.0.0/8',
  '172.16.0.0/12',
  '192.168.0.0/16',
  '169.254.0.0/16',
  '224.0.0.0/4',
  '255.255.255.255/32',
  'fc00::/7',
  'fe80::/10',
  'ff00::/8',
].map(block);

/** The fewest blocks that hold exactly these ranges (RFC 4632 section 5.1). */
export const fewest = (ranges: readonly AddressRange[]): Prefix[] => joinRanges(ranges).flatMap(prefixesOf);

/** The fewest blocks that hold everything of a family but some blocks. */
export const allBut = (family: Family, holes: readonly Prefix[]): AddressRange[] =>
  subtractRanges([rangeOf(everything[family])], holes.filter((hole) => hole.family === family).map(rangeOf));

/** Routes of a peer: which destinations its device sends into the tunnel, for both families. */
export interface PeerRoutes {
  readonly routes: readonly Prefix[];
  /** Traffic of this family leaves beside the tunnel although everything was to go through it. */
  readonly leaks: boolean;
  readonly worked: Worked;
}

/**
 * The allowed routes of a peer, as few as possible: what its group reaches (split), everything (full), or everything
 * but what is near it; the inside networks of the group always go through the tunnel.
 */
export function routesOf(site: Site, peer: Pick<Peer, 'group'> & { readonly name?: string }): PeerRoutes {
  const { vpn } = site;
  const kind = peer.group?.tunnel ?? 'split';
  const wanted: AddressRange[] = (peer.group?.grants ?? []).flatMap(({ network, device }) =>
    device?.address
      ? [{ family: device.address.family, first: device.address.value, last: device.address.value }]
      : network.prefix
        ? [rangeOf(network.prefix)]
        : [],
  );
  // The resolver and the router's own end are part of the way in.
  const ends = [vpn.routerAddress, vpn.routerAddress6, vpn.resolver].flatMap((host): AddressRange[] =>
    host ? [{ family: host.family, first: host.value, last: host.value }] : [],
  );
  const families: readonly Family[] = vpn.pool6 ? [4, 6] : [4];
  const whole =
    kind === 'split'
      ? []
      : families.flatMap((family) =>
          kind === 'full' ? [rangeOf(everything[family])] : allBut(family, nearBlocks),
        );
  const routes = fewest([...wanted, ...ends, ...whole]);
  const leaks = kind !== 'split' && !vpn.pool6;
  return {
    routes,
    leaks,
    worked: worked(
      `Routes of ${peer.name ?? 'a client'} into the tunnel`,
      routes.length,
      'blocks',
      [
        ...(peer.group?.grants ?? []).map((grant) =>
          step(
            grant.says,
            grant.device?.address
              ? `${formatPrefix({ ...rangeOfHost(grant.device.address), length: grant.device.address.family === 4 ? 32 : 128 })}`
              : grant.network.prefix
                ? formatPrefix(grant.network.prefix)
                : 'no subnet yet',
          ),
        ),
        ...(kind === 'full'
          ? [step('everything', families.map((family) => formatPrefix(everything[family])).join(', '))]
          : []),
        ...(kind === 'near'
          ? [
              step(
                'everything but what is near',
                nearBlocks
                  .filter(({ family }) => families.includes(family))
                  .map(formatPrefix)
                  .join(', '),
              ),
            ]
          : []),
        step(
          'fewest prefixes',
          routes.length > 8 ? `${routes.length} prefixes` : routes.map(formatPrefix).join(', '),
        ),
      ],
      'RFC 4632 section 5.1',
      leaks
        ? 'IPv6 bypasses the tunnel: the device shows its own address to every server that uses IPv6. Give the tunnel an IPv6 pool, or switch IPv6 off on the device.'
        : undefined,
    ),
  };
}

const rangeOfHost = (host: { family: Family; value: bigint }): Omit<Prefix, 'length'> => ({
  family: host.family,
  first: host.value,
  last: host.value,
});
