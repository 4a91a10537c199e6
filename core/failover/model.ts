import type { Address } from '../net/address.ts';
import type { PortRange } from '../net/ports.ts';
import type { Line, Network } from '../site/model.ts';
import type { FailoverSettings, TrafficKind } from './settings.ts';

/** How far along a line the thing stands that is asked. */
export type TargetReach = 'unset' | 'inside' | 'box' | 'first-hop' | 'provider' | 'beyond';

export interface WatchTarget {
  readonly at: string;
  readonly method: 'ping' | 'name' | 'tcp' | 'http';
  readonly name: string;
  readonly host: Address | undefined;
  readonly reach: TargetReach;
  readonly pinned: boolean;
}

/** How a line is watched, with every figure filled in. */
export interface Watch {
  readonly at: string;
  readonly line: Line;
  readonly targets: readonly WatchTarget[];
  readonly intervalSeconds: number;
  readonly timeoutSeconds: number;
  readonly downAfter: number;
  readonly upAfter: number;
  readonly holdSeconds: number;
  readonly window:
    | {
        readonly probes: number;
        readonly lossPercent: number | undefined;
        readonly delayMs: number | undefined;
      }
    | undefined;
  readonly carrier: boolean;
}

export interface FailoverRule {
  readonly at: string;
  /** Undefined: all networks. */
  readonly network: Network | undefined;
  readonly protocol: 'any' | 'tcp' | 'udp' | 'both';
  /** Undefined: all ports. */
  readonly ports: PortRange | undefined;
  readonly lines: readonly Line[];
  readonly says: string;
}

export interface FailoverPromise {
  readonly at: string;
  readonly id: string;
  readonly says: string;
  readonly network: Network;
  readonly kind: TrafficKind;
  readonly withinSeconds: number;
}

export interface SharedCause {
  readonly at: string;
  readonly name: string;
  readonly kind: FailoverSettings['causes'][number]['kind'];
  readonly lines: readonly Line[];
  readonly perYear: number | undefined;
  readonly repairHours: number | undefined;
}

/** What the plan says about a second line, resolved. */
export interface Failover {
  readonly plan: FailoverSettings;
  readonly watches: readonly Watch[];
  readonly rules: readonly FailoverRule[];
  readonly promises: readonly FailoverPromise[];
  readonly causes: readonly SharedCause[];
  /** Traffic on the backup, in Mb/s by network. */
  readonly loads: readonly { readonly at: string; readonly network: Network; readonly mbps: number }[];
  readonly fixed: readonly {
    readonly at: string;
    readonly name: string;
    readonly network: Network | undefined;
    readonly ports: PortRange | undefined;
  }[];
  readonly ownResolvers: readonly Address[];
}

/** Figures that stand in where nobody set them (common practice, no source). */
export const usualWatch = {
  intervalSeconds: 10,
  timeoutSeconds: 2,
  downAfter: 3,
  upAfter: 5,
  holdSeconds: 30,
} as const;
export const usualBackHoldSeconds = 300;
