import type { At } from '../../plan/at.ts';
import type { RungId } from './rungs.ts';

/** What a rung of the ladder means on this very line. */
export interface LadderRung {
  readonly rung: RungId;
  readonly says: string;
}

/** Something the customer was promised, and the evidence that proves it: all of it, and not the strongest. */
export interface SitePromise {
  readonly id: string;
  readonly kind: 'line' | 'internet' | 'apart' | 'forward' | 'failover' | 'peer' | 'site' | 'wifi' | 'second';
  readonly at: At;
  readonly says: string;
  /** Each of these must have been seen, and count. */
  readonly needs: readonly RungId[];
  /** Only a test from outside proves it. */
  readonly outside: boolean;
  /** Longest gap that keeps it, for a promise about time. */
  readonly withinSeconds?: number;
  /** What the rungs mean for this promise, where it has its own words for them. */
  readonly ladder?: readonly LadderRung[];
  /** What the plan computes: kept or not, and why. */
  readonly paper: {
    readonly kept: boolean;
    readonly says: string;
    /** The packet to ask about; empty where it is not about one. */
    readonly question: string;
  };
  /** What the simulated site shows; left out where it has nothing to add to the paper. */
  readonly bench?: { readonly kept: boolean; readonly says: string };
}

/** Names of the promises, by which steps say what they are evidence for. */
interface Named {
  readonly id: string;
}
export const linePromiseId = (line: Named): string => `line:${line.id}`;
export const internetPromiseId = (network: Named): string => `internet:${network.id}`;
export const apartPromiseId = (network: Named): string => `apart:${network.id}`;
export const forwardPromiseId = (forward: Named): string => `forward:${forward.id}`;
export const failoverPromiseId = (promise: Named): string => `failover:${promise.id}`;
export const sitePromiseId = (far: Named): string => `site:${far.id}`;
export const refusedPromiseId = (peer: Named): string => `refused:${peer.id}`;
export const peerPromiseId = (peer: Named): string => `peer:${peer.id}`;
export const wifiPromiseId = (room: Named): string => `wifi:${room.id}`;
export const secondPromiseId = (second: Named): string => `second:${second.id}`;
