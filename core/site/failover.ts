import type { Address } from '../base/net/address.ts';
import type { PortRange } from '../base/net/ports.ts';
import type { FailoverValues, UplinkValues } from '../plan/schema.ts';
import type { Line, Network } from './parts.ts';

/** How far along a line the thing stands that is probed. */
export type TargetReach = 'unset' | 'inside' | 'box' | 'first-hop' | 'provider' | 'beyond';

export interface WatchTarget {
  readonly at: `/uplinks/${number}/watch/targets/${number}`;
  readonly method: 'ping' | 'name' | 'tcp' | 'http';
  readonly name: string;
  readonly host: Address | undefined;
  readonly reach: TargetReach;
  readonly pinned: boolean;
}

type WatchFigures = Pick<
  UplinkValues['watch'],
  'intervalSeconds' | 'timeoutSeconds' | 'downAfter' | 'upAfter' | 'holdSeconds' | 'carrier'
>;

/** How a line is watched, with every figure filled in. */
export interface Watch extends WatchFigures {
  readonly at: `/uplinks/${number}/watch`;
  readonly line: Line;
  readonly targets: readonly WatchTarget[];
  readonly window:
    | {
        readonly probes: number;
        readonly lossPercent: number | undefined;
        readonly delayMs: number | undefined;
      }
    | undefined;
}

export interface FailoverRule {
  readonly at: `/failover/rules/${number}`;
  /** Undefined: all networks. */
  readonly network: Network | undefined;
  readonly protocol: 'any' | 'tcp' | 'udp' | 'both';
  /** Undefined: all ports. */
  readonly ports: PortRange | undefined;
  readonly lines: readonly Line[];
  readonly says: string;
}

export interface FailoverPromise {
  readonly at: `/failover/promises/${number}`;
  readonly id: string;
  readonly says: string;
  readonly network: Network;
  readonly kind: FailoverValues['promises'][number]['kind'];
  readonly withinSeconds: number;
}

type CauseValues = FailoverValues['causes'][number];

export interface SharedCause extends Pick<CauseValues, 'kind' | 'perYear' | 'repairHours'> {
  readonly at: `/failover/causes/${number}`;
  readonly name: string;
  readonly lines: readonly Line[];
  /** Both figures are the user's own, not usual ones. */
  readonly own: boolean;
}

type Resolved = 'rules' | 'promises' | 'causes' | 'loads' | 'fixedServices';

/** What the plan says about a second line, resolved. */
export interface Failover extends Omit<FailoverValues, Resolved> {
  readonly watches: readonly Watch[];
  readonly rules: readonly FailoverRule[];
  readonly promises: readonly FailoverPromise[];
  /** Promises without a number of seconds: nothing can be computed for them. */
  readonly unfigured: readonly { readonly at: `/failover/promises/${number}`; readonly says: string }[];
  readonly causes: readonly SharedCause[];
  /** Traffic on the backup, in Mb/s by network. */
  readonly loads: readonly {
    readonly at: `/failover/loads/${number}`;
    readonly network: Network;
    readonly mbps: number;
  }[];
  readonly fixed: readonly {
    readonly at: `/failover/fixedServices/${number}`;
    readonly name: string;
    readonly network: Network | undefined;
    readonly ports: PortRange | undefined;
  }[];
}
