import { once } from '../../base/once.ts';
import type { At } from '../../plan/at.ts';
import { addressKey, sameAddress, type Address } from '../../base/net/address.ts';
import { hasPort, protocolsMeet, type Protocol } from '../../base/net/ports.ts';
import type { Header } from '../../base/net/packet.ts';
import { contains } from '../../base/net/prefix.ts';
import type { Site } from '../../site/model.ts';
import type { Peer } from '../../site/vpn.ts';

export interface Aim {
  readonly destination: Address;
  readonly protocol: Protocol;
  /** 0 for ICMP. */
  readonly port: number;
}

export interface PeerVerdict {
  readonly allowed: boolean;
  readonly at: At;
  readonly says: string;
}

export const aimOf = ({ destination, protocol, destinationPort }: Header): Aim => ({
  destination,
  protocol,
  port: destinationPort,
});

const inside = (site: Site, host: Address): boolean =>
  site.networks.some(({ prefix }) => prefix !== undefined && contains(prefix, host));

/** Every address of the router itself, collected once a site. */
const routerAddresses = once(
  (site: Site): ReadonlySet<bigint> =>
    new Set(
      [
        site.vpn.routerAddress,
        site.vpn.routerAddress6,
        ...site.networks.map(({ routerAddress }) => routerAddress),
        ...site.lines.map(({ address }) => address),
      ].flatMap((each) => (each ? [addressKey(each)] : [])),
    ),
);

/**
 * Whether a peer's packet gets to its destination: what its group grants, names at the resolver, the router's own pages
 * only for groups that manage it, the internet only where everything goes through the tunnel. All else is refused.
 */
export function peerVerdict(site: Site, peer: Peer, aim: Aim): PeerVerdict {
  const no = (at: At, says: string): PeerVerdict => ({ allowed: false, at, says });
  const yes = (at: At, says: string): PeerVerdict => ({ allowed: true, at, says });
  const { destination, protocol, port } = aim;
  if (peer.revoked)
    return no(`${peer.at}/revoked`, `${peer.name} is revoked: the router no longer knows its key`);
  if (!peer.group) return no(`${peer.at}/group`, `${peer.name} is in no group, so nothing is granted`);
  const { group } = peer;
  const { vpn } = site;
  const isRouter = routerAddresses(site).has(addressKey(destination));
  const isResolver = vpn.resolver !== undefined && sameAddress(vpn.resolver, destination);
  if ((isRouter || isResolver) && port === 53 && protocol !== 'icmp')
    return yes('/vpn/resolver', 'names are looked up inside');
  if (isRouter)
    return group.manages
      ? yes(`${group.at}/manages`, `${group.name} may manage the router`)
      : no(`${group.at}/manages`, `${group.name} may not open the pages of the router`);
  const grant = group.grants.find(
    ({ network, device, service, ports }) =>
      (device
        ? device.address !== undefined && sameAddress(device.address, destination)
        : network.prefix !== undefined && contains(network.prefix, destination)) &&
      (!service ||
        (protocol !== 'icmp' &&
          ports !== undefined &&
          hasPort(ports, port) &&
          protocolsMeet(service.protocol, protocol))),
  );
  if (grant) return yes(grant.at, `${group.name} is granted ${grant.says}`);
  if (inside(site, destination)) return no(`${group.at}/grants`, `nothing grants ${group.name} this`);
  return group.tunnel === 'split'
    ? no(`${group.at}/tunnel`, 'only what is granted goes through the tunnel; the rest bypasses it')
    : yes(`${group.at}/tunnel`, 'everything goes through the tunnel and out by the line of the site');
}

/** What a peer reaches, in words; exactly this and nothing else inside. */
export const reachText = (peer: Peer): string[] =>
  peer.revoked || !peer.group
    ? []
    : [
        ...peer.group.grants.map(({ says }) => says),
        ...(peer.group.manages ? ['the pages of the router'] : []),
      ];
