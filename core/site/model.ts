import type { At } from '../plan/at.ts';
import type { Address } from '../base/net/address.ts';
import type { Prefix } from '../base/net/prefix.ts';
import type { PlanValues } from '../plan/schema.ts';
import type { Failover } from './failover.ts';
import type {
  Device,
  Exception,
  FormProblem,
  Forward,
  Kit,
  Line,
  NamedPrefix,
  Network,
  Reach,
  Route,
  RouterPort,
  RouterService,
  StaticRoute,
} from './parts.ts';
import type { Second } from './second.ts';
import type { Vpn } from './vpn.ts';
import type { Wifi } from './wifi.ts';
import type { Wiring } from './wiring.ts';

export type * from './parts.ts';

/** A row whose words say two things: a service, and a protocol or ports that are not the service's. */
export interface Contradiction {
  readonly at: `/reach/${number}` | `/forwards/${number}`;
  /** Fields of the row that say the other thing, and the value by which each says nothing. */
  readonly own: readonly (readonly [field: At, nothing: string])[];
  /** Name of the service. */
  readonly with: string;
}

/** Everything the plan says, resolved once. Nothing downstream reads the plan. */
export interface Site {
  /** An invented site, on which documentation addresses are in order. */
  readonly demo: boolean;
  readonly about: PlanValues['site'];
  readonly contacts: PlanValues['contacts'];
  readonly visit: PlanValues['visit'];
  readonly kit: readonly Kit[];
  readonly lines: readonly Line[];
  readonly networks: readonly Network[];
  readonly devices: readonly Device[];
  readonly forwards: readonly Forward[];
  /** Devices by the key of the address that stays theirs; of two with one address the last. */
  readonly deviceAt: ReadonlyMap<bigint, Device>;
  readonly services: readonly RouterService[];
  readonly reach: readonly Reach[];
  /** Pointers of rules that name what is gone or cannot be read: they allow nothing and refuse nothing. */
  readonly brokenReach: readonly `/reach/${number}`[];
  /** Rows that name a service and, beside it, something that the service is not. */
  readonly contradictions: readonly Contradiction[];
  /** Ids of all rules, those among them that do nothing too: a new one needs another. */
  readonly reachIds: ReadonlySet<string>;
  readonly exceptions: readonly Exception[];
  /** Where the pages of what stands between router and internet answer: subnets and addresses. */
  readonly equipment: readonly Prefix[];
  readonly staticRoutes: readonly StaticRoute[];
  readonly routes: readonly Route[];
  readonly prefixes: readonly NamedPrefix[];
  readonly failover: Failover;
  readonly vpn: Vpn;
  readonly wiring: Wiring;
  readonly wifi: Wifi;
  /** Boxes behind the router that could route themselves. */
  readonly second: readonly Second[];
  readonly problems: readonly FormProblem[];
  /** Every value as it was read, row by row: what evidence is compared with, and nothing else. */
  readonly entered: PlanValues;
  readonly router: {
    readonly kit: Kit | undefined;
    /** Address and subnet the router has when it is new. */
    readonly factory: { readonly host: Address; readonly prefix: Prefix } | undefined;
    readonly factoryDhcp: boolean;
    readonly adminNetwork: Network | undefined;
    readonly ports: readonly RouterPort[];
    /** Requests from inside to an outside address reach the device of a forward; taken for true until it was tried. */
    readonly hairpin: boolean;
    readonly facts: Pick<
      PlanValues['router'],
      'hairpin' | 'portControl' | 'sipHelper' | 'pingOutside' | 'bothProtocols'
    >;
    readonly limits: PlanValues['router']['limits'];
  };
  /** Stands for anybody on the internet: a documentation address that is in none of the site's subnets. */
  readonly outsider: Address;
}
