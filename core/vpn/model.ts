import type { Address } from '../net/address.ts';
import type { PortRange } from '../net/ports.ts';
import type { Prefix } from '../net/prefix.ts';
import type { Device, Line, Network, Service } from '../site/model.ts';
import type { FarSitePlan, GroupPlan, PeerPlan, VpnSettings } from './settings.ts';

/** What a group may reach: a network, a device of it, or one service. */
export interface Grant {
  readonly at: string;
  readonly network: Network;
  readonly device: Device | undefined;
  readonly service: Service | undefined;
  /** Undefined: all ports. */
  readonly ports: PortRange | undefined;
  readonly says: string;
}

export interface Group {
  readonly at: string;
  readonly plan: GroupPlan;
  readonly name: string;
  readonly grants: readonly Grant[];
}

export interface Peer {
  readonly at: string;
  readonly plan: PeerPlan;
  readonly id: string;
  /** "Maren Holt, telephone". */
  readonly name: string;
  readonly group: Group | undefined;
  readonly address: Address | undefined;
  readonly address6: Address | undefined;
  readonly revoked: boolean;
}

export interface Endpoint {
  readonly at: string;
  readonly line: Line | undefined;
  readonly host: string;
  /** Where the host is an address. */
  readonly address: Address | undefined;
}

export interface FarSite {
  readonly at: string;
  readonly plan: FarSitePlan;
  readonly name: string;
  readonly prefixes: readonly Prefix[];
  readonly address: Address | undefined;
  /** Networks of this site that are joined with it. */
  readonly networks: readonly Network[];
  readonly translations: readonly Translation[];
}

/** A network whose block is in use at the other end too, and the block under which the other end sees it. */
export interface Translation {
  readonly at: string;
  readonly of: 'here' | 'there';
  readonly network: string;
  readonly real: Prefix;
  readonly seen: Prefix;
}

/** Remote access as the plan has it, resolved. */
export interface Vpn {
  readonly plan: VpnSettings;
  readonly pool: Prefix | undefined;
  readonly pool6: Prefix | undefined;
  /** The router in the tunnel: first address of the pool. */
  readonly routerAddress: Address | undefined;
  readonly routerAddress6: Address | undefined;
  readonly port: number;
  readonly endpoints: readonly Endpoint[];
  readonly resolver: Address | undefined;
  readonly keepAliveSeconds: number;
  readonly groups: readonly Group[];
  readonly peers: readonly Peer[];
  readonly sites: readonly FarSite[];
}

/** The usual port of the tunnel (the protocol's paper has none; common practice, no source). */
export const usualPort = 51_820;
/** Under the two minutes that every NAT keeps a UDP mapping (RFC 4787 REQ-5), and under the 30 s of many that do not. */
export const usualKeepAliveSeconds = 25;
