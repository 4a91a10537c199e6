import type { At } from '../../plan/at.ts';
import { formatAddress, sameAddress } from '../../base/net/address.ts';
import type { Site } from '../../site/model.ts';
import { noHost } from '../../site/no-host.ts';
import { type Flow, type Hop, type NodeKind, type Outcome, type Reached, type Trace } from './packet.ts';
import { reversed, type Header } from '../../base/net/packet.ts';
import type { Router } from '../../behaviour/router/router.ts';

/** What a translator remembers of a flow, so that the reply can be put back (RFC 3022 section 4.1). */
export interface Memory {
  readonly kind: NodeKind;
  readonly node: string;
  readonly before: Header;
  readonly after: Header;
}

/** One run of a packet and its reply over a site. */
export interface Run {
  readonly site: Site;
  readonly flow: Flow;
  readonly router: Router;
  readonly hops: Hop[];
  readonly memories: Memory[];
}

/** Takes down one look at the packet. */
export function hop(
  run: Run,
  kind: NodeKind,
  node: string,
  stage: string,
  before: Header,
  after: Header,
  looked: () => string,
  decided: () => string,
  at?: At,
  stops = false,
): void {
  run.hops.push({ kind, node, stage, at, looked, decided, before, after, stops });
}

export function end(
  run: Run,
  outcome: Outcome,
  says: () => string,
  arrived?: Header,
  reply: { hops: Hop[]; header: Header } | undefined = undefined,
  reached: Reached | undefined = undefined,
): Trace {
  return {
    outcome,
    reached,
    says,
    hops: run.hops,
    reply: reply?.hops ?? [],
    arrived,
    answered: reply?.header,
  };
}

/** The sentence of the hop that stopped the packet. */
export function stopped(run: Run, outcome: Outcome): Trace {
  const last = run.hops.at(-1)!;
  return end(
    run,
    outcome,
    () =>
      `${last.node === 'router' ? 'The router' : last.node} stopped it at "${last.stage}": ${last.decided()}.`,
  );
}

/** Ends a packet to an address that no host of its subnet can have, wherever that subnet is. */
export function atNoHost(run: Run, header: Header): Trace | undefined {
  const { destination } = header;
  const none = noHost(run.site, destination);
  if (!none) return undefined;
  hop(
    run,
    'host',
    formatAddress(destination),
    'arrival',
    header,
    header,
    () => formatAddress(destination),
    () => none.says,
    none.at,
    true,
  );
  return stopped(run, 'dropped');
}

/**
 * The reply: source and destination change places, and every translator that touched the packet puts its part back,
 * last one first. It leaves by the line the packet came in on, whatever the table says now.
 */
export function back(run: Run, arrived: Header, replier: string): { hops: Hop[]; header: Header } {
  let current = reversed(arrived);
  const hops: Hop[] = [];
  hops.push({
    kind: 'host',
    node: replier,
    stage: 'reply',
    at: undefined,
    looked: () => 'the flow it belongs to',
    decided: () => 'source and destination change places',
    before: arrived,
    after: current,
    stops: false,
  });
  for (const memory of [...run.memories].reverse()) {
    const before = current;
    const after = { ...reversed(memory.before), sizeBytes: before.sizeBytes };
    const changed =
      !sameAddress(before.source, after.source) ||
      !sameAddress(before.destination, after.destination) ||
      before.sourcePort !== after.sourcePort ||
      before.destinationPort !== after.destinationPort;
    hops.push({
      kind: memory.kind,
      node: memory.node,
      stage: 'known flow',
      at: undefined,
      looked: () => 'the table of open flows',
      decided: () =>
        changed
          ? 'a reply to a flow it remembers: translated back'
          : 'a reply to a flow it remembers: let through',
      before,
      after,
      stops: false,
    });
    current = after;
  }
  return { hops, header: current };
}
