import type { At } from '../plan/at.ts';
import type { Address } from '../base/net/address.ts';
import type { AddressClass } from '../base/net/classify.ts';
import type { PortRange, Protocol } from '../base/net/ports.ts';
import type { Prefix } from '../base/net/prefix.ts';
import type { AddressRange } from '../base/net/range.ts';
import type { PlanValues, UplinkValues } from '../plan/schema.ts';
import type { FieldProblem } from '../plan/values.ts';

/** A field of the plan that cannot be used as it stands, and whose it is: "Office". */
export interface FormProblem extends Omit<FieldProblem, 'at'> {
  readonly at: At;
  readonly owner: string;
}

type NetworkValues = PlanValues['networks'][number];
type DeviceValues = PlanValues['devices'][number];
type KitValues = PlanValues['kit'][number];

/** What stands between the router and the internet and translates addresses, nearest first. */
export type Translator = 'box' | 'carrier';

/** How far a packet from outside comes on its own. */
export type Inbound = 'direct' | 'by-box' | 'impossible' | 'unknown';

/** A line: the values of its uplink, and what follows from them. */
export interface Line extends Omit<UplinkValues, 'name' | 'mtuBytes'> {
  readonly at: `/uplinks/${number}`;
  readonly name: string;
  /** No name was typed: `name` is a stand-in. */
  readonly unnamed: boolean;
  /** Address of the router's WAN port. A stand-in where `addressKnown` is false. */
  readonly address: Address;
  readonly addressKnown: boolean;
  /** Where in the plan the address stands. */
  readonly addressAt: At;
  readonly prefix: Prefix | undefined;
  readonly gateway: Address | undefined;
  /** False where the gateway can be no other host: the router's own address, or that of the network or broadcast. */
  readonly gatewayUsable: boolean;
  readonly resolvers: readonly Address[];
  /** Resolvers come from the provider by themselves. */
  readonly resolversOffered: boolean;
  /** Ports of the line's address that are this site's, where several subscribers share it; all where undefined. */
  readonly ownPorts: readonly PortRange[] | undefined;
  /** The router takes its default route. */
  readonly defaultRoute: boolean;
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
  /** A prefix that the provider sends to the address of the line, for the site to use. */
  readonly routedBlock: Prefix | undefined;
  readonly lineClass: AddressClass | 'unknown';
  readonly translators: readonly Translator[];
  readonly inbound: Inbound;
  /** Address the outside sees. A stand-in where the carrier translates or nothing is known. */
  readonly publicAddress: Address;
  readonly publicAddressKnown: boolean;
  readonly mtuBytes: number;
  /** Largest packet that a line of this WAN type carries. */
  readonly largestBytes: number;
  /** Bytes that tag, session or tunnel put around each packet on the wire. */
  readonly wrappingBytes: number;
}

export interface Network extends Omit<NetworkValues, 'name'> {
  readonly at: `/networks/${number}`;
  readonly name: string;
  /** No name was typed: `name` is a stand-in. */
  readonly unnamed: boolean;
  readonly pool: AddressRange | undefined;
}

export interface Service {
  readonly id: string;
  readonly at: `/devices/${number}/services/${number}`;
  readonly name: string;
  readonly protocol: 'tcp' | 'udp' | 'both';
  readonly ports: PortRange | undefined;
}

export interface Device extends Omit<DeviceValues, 'name' | 'network' | 'address' | 'services'> {
  readonly at: `/devices/${number}`;
  readonly name: string;
  /** No name was typed: `name` is a stand-in. */
  readonly unnamed: boolean;
  readonly network: Network | undefined;
  /** Only where it is reserved or fixed: an automatic address may be another tomorrow. */
  readonly address: Address | undefined;
  /** What was typed as its address, whether or not it is in use. */
  readonly typedAddress: Address | undefined;
  readonly services: readonly Service[];
}

export interface Forward {
  readonly at: `/forwards/${number}`;
  readonly id: string;
  readonly name: string;
  readonly line: Line | undefined;
  readonly device: Device | undefined;
  /** A device is named, whether or not it is still there. */
  readonly deviceNamed: boolean;
  readonly service: Service | undefined;
  /** A service is named, whether or not it is still there. */
  readonly serviceNamed: boolean;
  readonly protocol: 'tcp' | 'udp' | 'both';
  readonly inside: PortRange | undefined;
  readonly outside: PortRange | undefined;
  readonly allowed: AllowedSources;
  /** ISO 8601 date; empty where it has no end. */
  readonly until: string;
  readonly acceptedBy: string;
}

/** Who may use a forward. A source that cannot be read never means that everybody may. */
export type AllowedSources =
  | { readonly kind: 'everybody'; readonly says: string }
  /** What was typed cannot be read: until it is corrected the rule admits nobody. */
  | { readonly kind: 'nobody'; readonly says: string }
  | {
      readonly kind: 'some';
      readonly prefixes: readonly Prefix[];
      /** Some of what was typed cannot be read and is left out. */
      readonly incomplete: boolean;
      readonly says: string;
    };

/** Which networks a service of the router answers to. */
export type AnswersInside = 'all' | 'managed';

export interface RouterService {
  readonly at: `/router/services/${number}` | '/vpn/port';
  /** Where its port stands in the plan. */
  readonly portsAt: At;
  readonly name: string;
  readonly protocol: 'tcp' | 'udp' | 'both';
  readonly ports: PortRange;
  readonly outside: boolean;
  readonly inside: AnswersInside;
  /** Names, addresses and time are common; the tunnel has its own keys; everything else manages the router. */
  readonly role: 'common' | 'tunnel' | 'management';
}

/** Where the packets of a rule go. */
export type ReachTarget =
  | { readonly kind: 'network'; readonly network: Network; readonly device: Device | undefined }
  /** Prefixes of the internet; none: all of it. */
  | { readonly kind: 'internet'; readonly prefixes: readonly Prefix[] }
  | { readonly kind: 'equipment' };

/**
 * One rule about what a network may begin; the first that fits decides. Where none fits, what goes to another network
 * is refused, and what goes out is allowed.
 */
export interface Reach {
  readonly at: `/reach/${number}`;
  readonly id: string;
  readonly action: 'allow' | 'refuse';
  readonly from: Network;
  readonly to: ReachTarget;
  /** Undefined: every protocol. */
  readonly protocols: readonly Protocol[] | undefined;
  /** Undefined: every port. */
  readonly ports: PortRange | undefined;
  readonly limitMbps: number | null;
  readonly says: string;
}

/** Who let something be that a network is not for, and until when. */
export interface Exception {
  readonly at: `/exceptions/${number}`;
  readonly id: string;
  /** "internet", or the id of a network, a group or a joined site. */
  readonly from: string;
  /** "router", "internet", "equipment", or the id of a network or a joined site. */
  readonly to: string;
  readonly acceptedBy: string;
  readonly reason: string;
  readonly until: string;
}

/** A static route as it was typed; only a complete one whose next hop is known is in the table. */
export interface StaticRoute {
  readonly at: `/routes/${number}`;
  readonly prefix: Prefix | undefined;
  readonly via: Address | undefined;
}

/** A port of the router and its one use. */
export interface RouterPort {
  readonly at: `/router/ports/${number}`;
  readonly id: string;
  readonly name: string;
  readonly role: PlanValues['router']['ports'][number]['role'];
  readonly built: PlanValues['router']['ports'][number]['built'];
  readonly line: Line | undefined;
  readonly network: Network | undefined;
  readonly rateMbps: number | null;
}

export interface Kit extends KitValues {
  readonly at: `/kit/${number}`;
}

export type RouteTarget =
  | { readonly kind: 'network'; readonly network: Network }
  | { readonly kind: 'line'; readonly line: Line; readonly onLink: boolean }
  | { readonly kind: 'via'; readonly via: Address; readonly network: Network }
  /** A prefix that the provider sends here and nobody here has: it must not go back out (RFC 7084, WPD-5). */
  | { readonly kind: 'unused'; readonly line: Line };

/** One row of the router's table. The table is sorted so that the first match is the longest (RFC 1812 5.2.4.3). */
export interface Route {
  readonly at: At;
  readonly prefix: Prefix;
  readonly target: RouteTarget;
  readonly says: string;
}

/** A block and the role it plays, for everything that compares blocks. */
export interface NamedPrefix {
  readonly at: At;
  readonly role: 'network' | 'line' | 'box' | 'route' | 'second';
  readonly name: string;
  readonly prefix: Prefix;
  /** The owner, so that a block is not compared with another view of itself. */
  readonly owner: string;
}
