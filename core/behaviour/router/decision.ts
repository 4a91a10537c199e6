import type { At } from '../../plan/at.ts';
import type { Header } from '../../base/net/packet.ts';
import type { FailoverRule } from '../../site/failover.ts';
import type { Forward, Line, Network, Reach, Route, RouterService } from '../../site/model.ts';
import type { FarSite, Peer, Translation } from '../../site/vpn.ts';
import type { AddressClass } from '../../base/net/classify.ts';
import type { PacketRow } from '../../base/net/packet-set.ts';
import type { Prefix } from '../../base/net/prefix.ts';

/** The side of the router a packet comes in on or leaves by: a network, a line, the tunnel to another site or to a client. */
export type Side =
  | { readonly kind: 'network'; readonly network: Network }
  | { readonly kind: 'line'; readonly line: Line }
  | { readonly kind: 'tunnel'; readonly far: FarSite }
  | { readonly kind: 'client'; readonly peer: Peer | undefined };

export const sideName = (side: Side): string =>
  side.kind === 'network'
    ? side.network.name
    : side.kind === 'line'
      ? side.line.name
      : side.kind === 'tunnel'
        ? `the tunnel to ${side.far.name}`
        : (side.peer?.name ?? 'remote access');

/** What the stages so far have made of a packet. */
export interface Passage {
  readonly ingress: Side;
  readonly header: Header;
  /** The forward that destination NAT found. */
  readonly forward: Forward | undefined;
  /** The line at whose address a packet from inside was aimed, so that it turns round. */
  readonly hairpin: Line | undefined;
  readonly route: Route | undefined;
  readonly egress: Side | undefined;
}

/** The stages in their order. */
export const stageNames = [
  'source check',
  'destination NAT',
  'router itself',
  'route',
  'failover',
  'policy',
  'source NAT',
  'size',
] as const;
export type StageName = (typeof stageNames)[number];

/** How a packet ends at a stage that stops it. */
export type Stop = 'refused' | 'dropped' | 'no-route' | 'answered';

/** Why a stage decided as it did, with the row of its table that decided. */
export type Reason =
  | { readonly kind: 'source-inside'; readonly back: Route }
  | { readonly kind: 'source-there'; readonly far: FarSite; readonly prefix: Prefix }
  | { readonly kind: 'source-elsewhere'; readonly back: Route | undefined }
  | { readonly kind: 'source-outside' }
  | { readonly kind: 'source-is-inside'; readonly network: Network; readonly back: Route | undefined }
  | { readonly kind: 'source-not-public'; readonly class: AddressClass }
  | { readonly kind: 'next-hop-inside'; readonly line: Line; readonly network: Network }
  | { readonly kind: 'next-hop-unusable'; readonly line: Line }
  | { readonly kind: 'no-outside-address' }
  | { readonly kind: 'translated-here'; readonly far: FarSite; readonly row: Translation }
  | { readonly kind: 'no-hairpin'; readonly line: Line }
  | { readonly kind: 'no-forward'; readonly line: Line; readonly count: number }
  | { readonly kind: 'forwarded'; readonly rule: Forward; readonly line: Line; readonly count: number }
  | { readonly kind: 'source-refused'; readonly rule: Forward; readonly line: Line; readonly count: number }
  | { readonly kind: 'forward-lost'; readonly rule: Forward; readonly line: Line; readonly count: number }
  | { readonly kind: 'service-answers'; readonly service: RouterService }
  | { readonly kind: 'ping-answered' }
  | { readonly kind: 'service-inside-only'; readonly service: RouterService }
  | { readonly kind: 'service-managed'; readonly service: RouterService; readonly from: Network | undefined }
  | { readonly kind: 'nothing-outside' }
  | { readonly kind: 'no-service' }
  | { readonly kind: 'routed'; readonly route: Route; readonly count: number }
  | { readonly kind: 'unused-prefix'; readonly route: Route; readonly count: number }
  | { readonly kind: 'no-route'; readonly count: number }
  | { readonly kind: 'far-site'; readonly far: FarSite; readonly prefix: Prefix }
  | { readonly kind: 'line-chosen'; readonly rule: FailoverRule; readonly line: Line }
  | { readonly kind: 'line-shared'; readonly lines: readonly Line[] }
  | { readonly kind: 'no-line'; readonly rule: FailoverRule }
  | { readonly kind: 'between-lines' }
  | { readonly kind: 'by-forward'; readonly rule: Forward }
  | { readonly kind: 'inbound-default' }
  | { readonly kind: 'outbound' }
  | { readonly kind: 'refused-by'; readonly rule: Reach }
  | { readonly kind: 'same-network'; readonly network: Network }
  | { readonly kind: 'allowed'; readonly rule: Reach }
  | { readonly kind: 'inside-default'; readonly from: Network; readonly to: Network }
  | { readonly kind: 'connected'; readonly far: FarSite }
  | { readonly kind: 'not-connected'; readonly far: FarSite }
  | { readonly kind: 'through-hub' }
  | { readonly kind: 'granted' | 'not-granted'; readonly peer: Peer; readonly says: string }
  | { readonly kind: 'to-client' }
  | { readonly kind: 'tunnel-subnet'; readonly pool: Prefix }
  | { readonly kind: 'source-client'; readonly peer: Peer }
  | { readonly kind: 'masked'; readonly line: Line }
  | { readonly kind: 'unmasked'; readonly line: Line }
  | { readonly kind: 'turned-round'; readonly line: Line; readonly rule: Forward }
  | { readonly kind: 'translated'; readonly far: FarSite; readonly row: Translation }
  | { readonly kind: 'untranslated' }
  | { readonly kind: 'fits'; readonly mtuBytes: number }
  | { readonly kind: 'too-large'; readonly mtuBytes: number };

/** What a stage made of a packet: plain data, put into words by `explain`. */
export interface Decision {
  readonly stage: StageName;
  /** Pointer of the plan's row or field that decided, where there is one. */
  readonly at: At | undefined;
  readonly reason: Reason;
  readonly before: Passage;
  readonly after: Passage;
  /** Undefined: the packet goes on. */
  readonly stop: Stop | undefined;
}

/**
 * One stage of the router: its table, and the decision on a packet. Undefined: the stage has nothing to say of it. A
 * stage looks at nothing but its table and the passage, so it can be asked about any packet in any order.
 */
export interface Stage<Table> {
  readonly name: StageName;
  readonly table: Table;
  readonly decide: (table: Table, passage: Passage) => Decision | undefined;
  /** The rows of the table as sets of packets, for those that come in on this side. */
  readonly rows: (table: Table, ingress: Side) => readonly PacketRow[];
}

/** A stage whose table is bound, for the list that a packet goes through. */
export interface BoundStage {
  readonly name: StageName;
  readonly table: unknown;
  readonly decide: (passage: Passage) => Decision | undefined;
  readonly rows: (ingress: Side) => readonly PacketRow[];
}

export const bound = <Table>(stage: Stage<Table>): BoundStage => ({
  name: stage.name,
  table: stage.table,
  decide: (passage) => stage.decide(stage.table, passage),
  rows: (ingress) => stage.rows(stage.table, ingress),
});

/** The decision of a stage that lets the packet go on. */
export const goesOn = (
  stage: StageName,
  before: Passage,
  reason: Reason,
  at: At | undefined,
  after: Passage = before,
): Decision => ({ stage, at, reason, before, after, stop: undefined });

/** The decision of a stage at which the packet ends. */
export const stops = (
  stage: StageName,
  before: Passage,
  reason: Reason,
  at: At | undefined,
  stop: Stop,
): Decision => ({ stage, at, reason, before, after: before, stop });
