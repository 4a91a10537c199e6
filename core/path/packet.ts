import type { Header } from '../net/packet.ts';
import type { Line, Network } from '../site/model.ts';

export type Outcome = 'delivered' | 'hairpin' | 'refused' | 'dropped' | 'no-route' | 'impossible';

export type NodeKind = 'host' | 'router' | 'box' | 'carrier' | 'internet';

/** One look at the packet. The sentences are made only when somebody reads them. */
export interface Hop {
  readonly kind: NodeKind;
  readonly node: string;
  readonly stage: string;
  /** Pointer of the plan's row or field that decided, where there is one. */
  readonly at: string | undefined;
  readonly looked: () => string;
  readonly decided: () => string;
  readonly before: Header;
  readonly after: Header;
  readonly stops: boolean;
}

/** Where a packet starts. */
export type Origin =
  | { readonly kind: 'inside'; readonly network: Network; readonly name: string }
  | {
      readonly kind: 'outside';
      readonly name: string;
      /** The line it is aimed at, where a name says so. */ readonly line: Line | undefined;
    }
  | { readonly kind: 'router' };

export interface Flow {
  readonly origin: Origin;
  readonly header: Header;
  /** Ids of lines that are down. */
  readonly down: ReadonlySet<string>;
}

export interface Trace {
  readonly outcome: Outcome;
  /** The last word: what happened, in one sentence. */
  readonly says: () => string;
  readonly hops: readonly Hop[];
  readonly reply: readonly Hop[];
  /** Header with which the packet arrived, where it did. */
  readonly arrived: Header | undefined;
  /** Header of the reply as the sender sees it, where it came back. */
  readonly answered: Header | undefined;
}
