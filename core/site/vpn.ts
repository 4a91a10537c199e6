import type { Address } from '../base/net/address.ts';
import type { PortRange } from '../base/net/ports.ts';
import type { Prefix } from '../base/net/prefix.ts';
import type { VpnValues } from '../plan/schema.ts';
import type { Device, Line, Network, Service } from './parts.ts';

type GroupValues = VpnValues['groups'][number];
type PeerValues = VpnValues['peers'][number];
type FarSiteValues = VpnValues['sites'][number];

/** What a group may reach: a network, a device of it, or one service. */
export interface Grant {
  readonly at: `/vpn/groups/${number}/grants/${number}`;
  readonly network: Network;
  readonly device: Device | undefined;
  readonly service: Service | undefined;
  /** Undefined: all ports. */
  readonly ports: PortRange | undefined;
  readonly says: string;
}

export interface Group extends Omit<GroupValues, 'grants'> {
  readonly at: `/vpn/groups/${number}`;
  readonly grants: readonly Grant[];
  /** Grants that name what is gone: they grant nothing. */
  readonly brokenGrants: readonly string[];
}

export interface Peer extends Omit<PeerValues, 'group' | 'name' | 'revoked'> {
  readonly at: `/vpn/peers/${number}`;
  /** "Maren Holt, telephone". */
  readonly name: string;
  /** "telephone". */
  readonly deviceName: string;
  readonly group: Group | undefined;
  readonly revoked: boolean;
  /** The day, where it was revoked. */
  readonly revokedOn: string;
}

export interface Endpoint {
  readonly at: `/vpn/endpoints/${number}`;
  readonly line: Line | undefined;
  readonly host: string;
  /** Where the host is an address. */
  readonly address: Address | undefined;
}

export interface FarSite extends Omit<FarSiteValues, 'networks' | 'translations'> {
  readonly at: `/vpn/sites/${number}`;
  /** Networks of this site that are connected with it. */
  readonly networks: readonly Network[];
  readonly translations: readonly Translation[];
}

/** A network whose subnet is in use at the other end too, and the subnet under which the other end sees it. */
export interface Translation {
  readonly at: `/vpn/sites/${number}/translations/${number}`;
  readonly of: 'here' | 'there';
  readonly network: string;
  readonly real: Prefix;
  readonly seen: Prefix;
}

/** Remote access as the plan has it, resolved. */
export interface Vpn extends Omit<VpnValues, 'groups' | 'peers' | 'sites' | 'endpoints'> {
  /** The router in the tunnel: first address of the tunnel subnet. */
  readonly routerAddress: Address | undefined;
  readonly routerAddress6: Address | undefined;
  readonly endpoints: readonly Endpoint[];
  readonly groups: readonly Group[];
  readonly peers: readonly Peer[];
  readonly sites: readonly FarSite[];
}
