import type { Line, Network, Site } from '../../site/model.ts';
import type { LineSim } from './line-sim.ts';
import type { FailoverPromise } from '../../site/failover.ts';
import { linesForKind } from './predict.ts';
import type { Queue } from './queue.ts';
import type { TrafficKind } from '../../plan/schema.ts';
import { Track } from './track.ts';
import { traffic, type Traffic } from './traffic.ts';

export interface FlowResult {
  readonly id: string;
  readonly name: string;
  readonly kind: TrafficKind;
  readonly secondsLost: number;
  readonly longestGap: number;
  readonly sessionsLost: number;
  /** It was still broken when the run ended. */
  readonly stillBroken: boolean;
}

/** Somebody on a network who uses the internet in one way. */
export interface Flow {
  readonly id: string;
  readonly name: string;
  readonly kind: Traffic;
  readonly network: Network;
  readonly lines: readonly LineSim[];
  readonly promise: FailoverPromise | undefined;
  readonly track: Track;
  /** Line that the session hangs on. */
  bound: LineSim | undefined;
  /** Line over which it worked last. */
  last: LineSim | undefined;
  /** Line to which a visitor's name leads, for traffic that comes in. */
  aimed: LineSim | undefined;
  brokenSince: number | undefined;
  secondsLost: number;
  longestGap: number;
  sessionsLost: number;
  /** Whether an attempt is planned already. */
  trying: boolean;
}

/** The flows of a run: what is promised, and beside it one of each kind that the site has. */
export function makeFlows(site: Site, lines: readonly LineSim[]): Flow[] {
  const flow = (
    id: string,
    network: Network,
    kind: TrafficKind,
    promise: FailoverPromise | undefined,
  ): Flow => ({
    id,
    name: kind === 'inbound' ? traffic[kind].title : `${traffic[kind].title}, ${network.name}`,
    kind: traffic[kind],
    network,
    lines:
      kind === 'inbound'
        ? lines.filter(({ line }) => line.inbound === 'direct' || line.inbound === 'by-box')
        : linesForKind(site, network, kind).flatMap(
            (line: Line) => lines.find((each) => each.line === line) ?? [],
          ),
    promise,
    track: new Track('works', traffic[kind].says.works),
    bound: undefined,
    last: undefined,
    aimed: undefined,
    brokenSince: undefined,
    secondsLost: 0,
    longestGap: 0,
    sessionsLost: 0,
    trying: false,
  });
  const made = site.failover.promises.map((promise) =>
    flow(promise.id, promise.network, promise.kind, promise),
  );
  const add = (network: Network | undefined, kind: TrafficKind): void => {
    if (network && !made.some((each) => each.kind.kind === kind && each.network === network))
      made.push(flow(`${kind}-${network.id}`, network, kind, undefined));
  };
  const { networks, router, forwards } = site;
  const admin = router.adminNetwork;
  for (const [purpose, kind] of [
    ['payment', 'card'],
    ['guests', 'web'],
  ] as const)
    add(
      networks.find((each) => each.purpose === purpose),
      kind,
    );
  for (const kind of ['web', 'transfer', 'call', 'tunnel'] as const) add(admin, kind);
  if (forwards.length > 0) add(forwards[0]!.device?.network ?? admin, 'inbound');
  return made;
}

/** What the router decides for a flow at this moment. */
export interface Decisions {
  /** Line that new traffic of the flow takes. */
  readonly lineOf: (flow: Flow) => LineSim | undefined;
  readonly works: (flow: Flow, over: LineSim | undefined) => 'works' | 'slow' | 'broken';
}

/** Keeps the books of the flows: when each broke, when it came back, what was lost. */
export class FlowBook {
  readonly #queue: Queue;
  readonly #random: () => number;
  readonly #decisions: Decisions;

  constructor(queue: Queue, random: () => number, decisions: Decisions) {
    this.#queue = queue;
    this.#random = random;
    this.#decisions = decisions;
  }

  #over(flow: Flow): LineSim | undefined {
    if (flow.kind.kind === 'inbound') return flow.aimed;
    return flow.bound ?? this.#decisions.lineOf(flow);
  }

  /** Looks whether a flow still works; what is broken comes back by an attempt of its own only. */
  look(flow: Flow): void {
    if (flow.brokenSince !== undefined) return;
    const over = this.#over(flow);
    const state = this.#decisions.works(flow, over);
    if (state === 'broken') this.broke(flow);
    else this.#working(flow, over, state);
  }

  broke(flow: Flow): void {
    if (flow.brokenSince !== undefined) return;
    flow.brokenSince = this.#queue.now;
    flow.track.note(this.#queue.now, 'broken', flow.kind.says.broken);
    this.#retry(flow, flow.kind.retrySeconds * this.#random());
  }

  /** The session on a line is gone. */
  endSession(flow: Flow): void {
    flow.bound = undefined;
    flow.sessionsLost += 1;
    this.broke(flow);
  }

  resultOf(flow: Flow): FlowResult {
    const stillBroken = flow.brokenSince !== undefined;
    if (flow.brokenSince !== undefined) this.#mended(flow, flow.brokenSince);
    const tenth = (value: number): number => Math.round(value * 10) / 10;
    return {
      id: flow.id,
      name: flow.name,
      kind: flow.kind.kind,
      secondsLost: tenth(flow.secondsLost),
      longestGap: tenth(flow.longestGap),
      sessionsLost: flow.sessionsLost,
      stillBroken,
    };
  }

  #working(flow: Flow, over: LineSim | undefined, state: 'works' | 'slow'): void {
    flow.last = over;
    if (flow.kind.session) flow.bound = over;
    flow.track.note(this.#queue.now, state, flow.kind.says[state]);
  }

  #retry(flow: Flow, seconds: number): void {
    if (flow.trying) return;
    flow.trying = true;
    this.#queue.plan(this.#queue.now + seconds, () => {
      flow.trying = false;
      this.#attempt(flow);
    });
  }

  #attempt(flow: Flow): void {
    const since = flow.brokenSince;
    if (since === undefined) return;
    if (flow.bound && this.#queue.now - since >= flow.kind.givesUpSeconds) {
      flow.bound = undefined;
      flow.sessionsLost += 1;
    }
    const over = this.#over(flow);
    const state = this.#decisions.works(flow, over);
    if (state === 'broken') {
      this.#retry(flow, flow.kind.retrySeconds);
      return;
    }
    this.#mended(flow, since);
    this.#working(flow, over, state);
  }

  #mended(flow: Flow, since: number): void {
    const gap = this.#queue.now - since;
    flow.secondsLost += gap;
    flow.longestGap = Math.max(flow.longestGap, gap);
    flow.brokenSince = undefined;
  }
}
