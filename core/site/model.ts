import type { Failover } from '../failover/model.ts';
import type { Address } from '../net/address.ts';
import type { AddressClass } from '../net/classify.ts';
import type { MacAddress } from '../net/mac.ts';
import type { PortRange } from '../net/ports.ts';
import type { Prefix } from '../net/prefix.ts';
import type { AddressRange } from '../net/range.ts';
import type { DevicePlan, ForwardPlan, KitItem, NetworkPlan, Plan, UplinkPlan } from '../plan/schema.ts';
import type { Problem } from '../result.ts';
import type { Vpn } from '../vpn/model.ts';

/** A field of the plan whose text could not be read, and what that means. */
export interface FormProblem extends Problem {
  readonly at: string;
  readonly label: string;
  /** The job cannot be done without this value: an empty field counts too. */
  readonly needed: boolean;
}

/** What stands between the router and the internet and translates addresses, nearest first. */
export type Translator = 'box' | 'carrier';

/** How far a packet from outside comes on its own. */
export type Inbound = 'direct' | 'by-box' | 'impossible' | 'unknown';

export interface Line {
  readonly at: string;
  readonly plan: UplinkPlan;
  readonly id: string;
  readonly name: string;
  /** Address of the router's WAN port. A stand-in where `addressKnown` is false. */
  readonly address: Address;
  readonly addressKnown: boolean;
  /** Where in the plan the address stands. */
  readonly addressAt: string;
  readonly prefix: Prefix | undefined;
  readonly gateway: Address | undefined;
  readonly resolvers: readonly Address[];
  /** Resolvers come from the provider by themselves. */
  readonly resolversOffered: boolean;
  readonly box:
    | {
        readonly routes: boolean;
        readonly name: string;
        readonly prefix: Prefix | undefined;
        readonly address: Address | undefined;
        readonly outsideAddress: Address | undefined;
        readonly forwards: readonly {
          readonly protocol: 'tcp' | 'udp' | 'both';
          readonly ports: PortRange;
        }[];
      }
    | undefined;
  /** Address with which the site meets the provider: the box's outside one where the box routes. */
  readonly lineAddress: Address;
  readonly lineAddressKnown: boolean;
  readonly lineClass: AddressClass | 'unknown';
  readonly translators: readonly Translator[];
  readonly inbound: Inbound;
  /** Address the outside sees. A stand-in where the carrier translates or nothing is known. */
  readonly publicAddress: Address;
  readonly publicAddressKnown: boolean;
  readonly sourceNat: boolean;
  readonly mtuBytes: number;
  /** Largest packet that a line of this WAN type carries. */
  readonly largestBytes: number;
  /** Bytes that tag, session or tunnel put around each packet on the wire. */
  readonly wrappingBytes: number;
}

export interface Network {
  readonly at: string;
  readonly plan: NetworkPlan;
  readonly id: string;
  readonly name: string;
  readonly prefix: Prefix | undefined;
  readonly routerAddress: Address | undefined;
  readonly pool: AddressRange | undefined;
  readonly resolvers: readonly Address[];
}

export interface Service {
  readonly id: string;
  readonly at: string;
  readonly name: string;
  readonly protocol: 'tcp' | 'udp' | 'both';
  readonly ports: PortRange | undefined;
}

export interface Device {
  readonly at: string;
  readonly plan: DevicePlan;
  readonly id: string;
  readonly name: string;
  readonly mac: MacAddress | undefined;
  readonly network: Network | undefined;
  /** Only where it is reserved or fixed: an automatic address may be another tomorrow. */
  readonly address: Address | undefined;
  readonly services: readonly Service[];
}

export interface Forward {
  readonly at: string;
  readonly plan: ForwardPlan;
  readonly id: string;
  readonly name: string;
  readonly line: Line | undefined;
  readonly device: Device | undefined;
  readonly protocol: 'tcp' | 'udp' | 'both';
  readonly inside: PortRange | undefined;
  readonly outside: PortRange | undefined;
  /** Empty: everybody. */
  readonly sources: readonly Prefix[];
  /** A typed source could not be read: until it is mended the rule lets nobody in rather than everybody. */
  readonly sourcesUnclear: boolean;
}

export interface RouterService {
  readonly at: string;
  /** Where its port stands in the plan. */
  readonly portsAt: string;
  readonly name: string;
  readonly protocol: 'tcp' | 'udp' | 'both';
  readonly ports: PortRange;
  readonly outside: boolean;
}

/** One allowance between inside networks; everything else between them is refused. */
export interface Reach {
  readonly at: string;
  readonly from: Network;
  readonly to: Network;
  readonly device: Device | undefined;
  readonly service: Service | undefined;
  readonly says: string;
}

export type RouteTarget =
  | { readonly kind: 'network'; readonly network: Network }
  | { readonly kind: 'line'; readonly line: Line; readonly onLink: boolean }
  | { readonly kind: 'via'; readonly via: Address; readonly network: Network };

/** One row of the router's table. The table is sorted so that the first match is the longest (RFC 1812 5.2.4.3). */
export interface Route {
  readonly at: string;
  readonly prefix: Prefix;
  readonly target: RouteTarget;
  readonly says: string;
}

/** A block and the role it plays, for everything that compares blocks. */
export interface NamedPrefix {
  readonly at: string;
  readonly role: 'network' | 'line' | 'box' | 'route';
  readonly name: string;
  readonly prefix: Prefix;
  /** The owner, so that a block is not compared with another view of itself. */
  readonly owner: string;
}

/** Everything the plan says, resolved once. Nothing downstream reads the plan for what stands here. */
export interface Site {
  readonly plan: Plan;
  readonly lines: readonly Line[];
  readonly networks: readonly Network[];
  readonly devices: readonly Device[];
  readonly forwards: readonly Forward[];
  /** Devices by the key of the address that stays theirs; of two with one address the last. */
  readonly deviceAt: ReadonlyMap<bigint, Device>;
  readonly services: readonly RouterService[];
  readonly reach: readonly Reach[];
  readonly routes: readonly Route[];
  readonly prefixes: readonly NamedPrefix[];
  readonly failover: Failover;
  readonly vpn: Vpn;
  readonly problems: readonly FormProblem[];
  readonly router: {
    readonly kit: KitItem | undefined;
    readonly kitAt: string;
    /** Address and block the box has when new. */
    readonly factory: { readonly host: Address; readonly prefix: Prefix } | undefined;
    readonly adminNetwork: Network | undefined;
  };
  /** Stands for anybody on the internet: a documentation address that is in none of the site's blocks. */
  readonly outsider: Address;
}
