import { addressKey, type Address } from '../base/net/address.ts';
import type { PortRange } from '../base/net/ports.ts';
import { contains, containsPrefix, type Prefix } from '../base/net/prefix.ts';
import type { PlanValues } from '../plan/schema.ts';
import type { Kit, Network, StaticRoute } from './parts.ts';

type SecondValues = PlanValues['second'][number];

/** A forward of a second router; only what can be read is one. */
export interface SecondForward {
  readonly at: `/second/${number}/forwards/${number}`;
  readonly name: string;
  readonly protocol: 'tcp' | 'udp' | 'both';
  readonly outside: PortRange;
  readonly address: Address;
  readonly inside: PortRange;
}

/** A box behind the router that could route itself. */
export interface Second extends Omit<SecondValues, 'box' | 'network' | 'forwards'> {
  readonly at: `/second/${number}`;
  readonly name: string;
  readonly box: Kit | undefined;
  readonly network: Network | undefined;
  readonly forwards: readonly SecondForward[];
}

/** A second router that routes. Where it translates, what stands behind it has its address towards the first. */
export interface ChainedRouter extends Second {
  readonly network: Network;
  readonly address: Address;
  readonly inside: { readonly host: Address; readonly prefix: Prefix };
}

/** Second routers and access points, resolved. */
export const compileSecond = (
  values: PlanValues['second'],
  kit: readonly Kit[],
  networks: readonly Network[],
): Second[] =>
  values.map((row, index) => {
    const box = kit.find(({ id }) => id === row.box);
    const at = `/second/${index}` as const;
    return {
      ...row,
      at,
      box,
      name: box?.model || (row.place.trim() === '' ? 'Second router' : `Second router, ${row.place.trim()}`),
      network:
        networks.find(({ id }) => id === row.network) ?? (row.network === '' ? networks[0] : undefined),
      forwards: row.forwards.flatMap((each, place): SecondForward[] =>
        each.outsidePorts && each.address
          ? [
              {
                at: `${at}/forwards/${place}`,
                name: each.purpose || 'unnamed forward',
                protocol: each.protocol,
                outside: each.outsidePorts,
                address: each.address,
                inside: each.insidePorts ?? each.outsidePorts,
              },
            ]
          : [],
      ),
    };
  });

/** Whether it routes, with everything that is needed for that. */
export const isChained = (second: Second): second is ChainedRouter =>
  second.way === 'chained' &&
  second.network !== undefined &&
  second.address !== undefined &&
  second.inside !== undefined;

/** The second router that has an address on a network. */
export const chainedAt = (
  seconds: readonly Second[],
  network: Network,
  host: Address,
): ChainedRouter | undefined =>
  seconds
    .filter(isChained)
    .find((each) => each.network === network && addressKey(each.address) === addressKey(host));

/** The second router behind which an address is, where a static route of the first leads there. */
export const chainedAround = (
  seconds: readonly Second[],
  network: Network,
  host: Address,
): ChainedRouter | undefined =>
  seconds.filter(isChained).find((each) => each.network === network && contains(each.inside.prefix, host));

/** Whether a static route of the router leads to its subnet, over its address. */
export const hasWayBack = (
  { staticRoutes }: { readonly staticRoutes: readonly StaticRoute[] },
  { inside, address }: Pick<Second, 'inside' | 'address'>,
): boolean =>
  staticRoutes.some(
    ({ prefix, via }) =>
      prefix !== undefined &&
      via !== undefined &&
      inside !== undefined &&
      address !== undefined &&
      containsPrefix(prefix, inside.prefix) &&
      addressKey(via) === addressKey(address),
  );
