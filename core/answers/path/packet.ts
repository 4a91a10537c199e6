import type { At } from '../../plan/at.ts';
import type { Header } from '../../base/net/packet.ts';
import type { Line, Network } from '../../site/model.ts';
import type { ChainedRouter } from '../../site/second.ts';
import type { FarSite, Peer } from '../../site/vpn.ts';
import type { WifiNetwork } from '../../site/wifi.ts';

export type Outcome = 'delivered' | 'hairpin' | 'refused' | 'dropped' | 'no-route' | 'impossible';

export type NodeKind = 'host' | 'router' | 'box' | 'carrier' | 'internet';

/** One look at the packet. The sentences are made only when somebody reads them. */
export interface Hop {
  readonly kind: NodeKind;
  readonly node: string;
  readonly stage: string;
  /** Pointer of the plan's row or field that decided, where there is one. */
  readonly at: At | undefined;
  readonly looked: () => string;
  readonly decided: () => string;
  readonly before: Header;
  readonly after: Header;
  readonly stops: boolean;
}

/** Where a packet starts. */
export type Origin =
  | {
      readonly kind: 'inside';
      readonly network: Network;
      readonly name: string;
      /** The Wi-Fi name that keeps its devices apart, where the sender has joined by one. */
      readonly apart?: WifiNetwork | undefined;
    }
  | {
      readonly kind: 'outside';
      readonly name: string;
      /** The line it is aimed at, where a name says so. */ readonly line: Line | undefined;
    }
  /** A neighbour between the router and what is in front of it, or on the subnet of the line. */
  | { readonly kind: 'in-front'; readonly line: Line; readonly name: string }
  /** Somebody behind a second router, which translates. */
  | { readonly kind: 'behind'; readonly second: ChainedRouter; readonly name: string }
  /** The router of another site sends it through the tunnel. */
  | { readonly kind: 'site'; readonly far: FarSite; readonly name: string }
  /** A client of the remote access sends it through its tunnel. */
  | { readonly kind: 'client'; readonly peer: Peer; readonly name: string }
  | { readonly kind: 'router' };

export interface Flow {
  readonly origin: Origin;
  readonly header: Header;
  /** Ids of lines that are down. */
  readonly down: ReadonlySet<string>;
}

/** Where a packet arrived. */
export type Reached =
  | { readonly kind: 'network'; readonly network: Network }
  | { readonly kind: 'router' }
  | { readonly kind: 'site'; readonly far: FarSite }
  /** Somebody on the internet, or between the router and the device in front. */
  | { readonly kind: 'internet' | 'in-front'; readonly line: Line };

export interface Trace {
  readonly outcome: Outcome;
  /** Where it arrived; undefined where it did not. */
  readonly reached: Reached | undefined;
  /** The last word: what happened, in one sentence. */
  readonly says: () => string;
  readonly hops: readonly Hop[];
  readonly reply: readonly Hop[];
  /** Header with which the packet arrived, where it did. */
  readonly arrived: Header | undefined;
  /** Header of the reply as the sender sees it, where it came back. */
  readonly answered: Header | undefined;
}
