import type { At } from '../../plan/at.ts';
import { formatAddress } from '../../base/net/address.ts';
import { ok, type Result } from '../../base/result.ts';
import type { Site } from '../../site/model.ts';
import { follow } from './follow.ts';
import type { Hop, NodeKind, Outcome } from './packet.ts';
import { headerText, type Header } from '../../base/net/packet.ts';
import { flowOf, parseQuery, type Query } from './query.ts';

/** A hop in plain data, for people, files and threads. */
export interface HopText {
  readonly kind: NodeKind;
  readonly node: string;
  readonly stage: string;
  readonly at?: At;
  readonly looked: string;
  readonly decided: string;
  readonly before: string;
  readonly after: string;
  readonly changed: boolean;
  readonly stops: boolean;
}

export interface Answer {
  readonly asked: Query;
  readonly packet: string;
  readonly outcome: Outcome;
  readonly says: string;
  readonly hops: readonly HopText[];
  readonly reply: readonly HopText[];
  /** The source address the other end sees, where the packet arrived. */
  readonly seenFrom: string | null;
}

const hopText = (hop: Hop): HopText => {
  const before = headerText(hop.before);
  const after = headerText(hop.after);
  return {
    kind: hop.kind,
    node: hop.node,
    stage: hop.stage,
    ...(hop.at !== undefined && { at: hop.at }),
    looked: hop.looked(),
    decided: hop.decided(),
    before,
    after,
    changed: before !== after,
    stops: hop.stops,
  };
};

/** Answers a question about one packet: where it goes, what decided at each hop, and how the reply comes back. */
export function ask(site: Site, question: string | Query): Result<Answer> {
  const parsed = typeof question === 'string' ? parseQuery(question) : ok(question);
  if (!parsed.ok) return parsed;
  const flow = flowOf(site, parsed.value);
  if (!flow.ok) return flow;
  const trace = follow(site, flow.value);
  const arrived: Header | undefined = trace.arrived;
  return ok({
    asked: parsed.value,
    packet: headerText(flow.value.header),
    outcome: trace.outcome,
    says: trace.says(),
    hops: trace.hops.map(hopText),
    reply: trace.reply.map(hopText),
    seenFrom: arrived ? formatAddress(arrived.source) : null,
  });
}
