import { seeded } from '../provider-sim/stand-in.ts';
import type { WatchTarget } from '../../site/failover.ts';
import type { Line, Site } from '../../site/model.ts';
import { faultKind, type ScriptedFault } from './faults.ts';
import { LineSim, type LineState } from './line-sim.ts';
import { FlowBook, makeFlows, type Flow, type FlowResult } from './flows.ts';
import { linesForKind } from './predict.ts';
import { Queue } from './queue.ts';
import { Track, type Segment } from './track.ts';
import { Watcher, type Probe, type WatchState } from './watcher.ts';

export interface Lane {
  readonly id: string;
  readonly kind: 'line' | 'watch' | 'active' | 'flow';
  readonly name: string;
  /** Id of the line or the network that it is about; empty for the whole site. */
  readonly of: string;
  readonly segments: readonly Segment[];
}

export interface PromiseResult {
  readonly id: string;
  readonly says: string;
  readonly withinSeconds: number;
  readonly longestGap: number;
  readonly kept: boolean;
}

export interface SimulationRun {
  readonly seed: number;
  readonly untilSeconds: number;
  readonly faults: readonly ScriptedFault[];
  readonly lanes: readonly Lane[];
  readonly flows: readonly FlowResult[];
  readonly promises: readonly PromiseResult[];
  readonly events: readonly { readonly at: number; readonly says: string }[];
  /** Data that went over other lines than the first, by line. */
  readonly backupGigabytes: number;
  readonly switches: number;
}

export interface Script {
  readonly faults: readonly ScriptedFault[];
  readonly untilSeconds: number;
  /** The same seed, the same run. */
  readonly seed: number;
  /** Hour of the day at which the run begins. */
  readonly startHour?: number;
}

/** Power is back before the router works again after so long (common practice, no source). */
const routerBootSeconds: readonly [number, number] = [60, 120];
/** Once decided, the routes of a line that is up change within so long (common practice, no source). */
const routeSeconds: readonly [number, number] = [1, 2];
/** A resolver that does not answer is given up after so long (common practice, no source). */
const resolverSeconds = 5;

const lineWords: Record<LineState, string> = {
  good: 'good',
  limping: 'limping',
  starting: 'coming up',
  dead: 'nothing passes',
};
const watchWords: Record<WatchState, string> = {
  up: 'counts as up',
  doubt: 'counts as up, but a probe was lost',
  down: 'counts as down',
  holding: 'answers again, and is held for a while',
};

/** Lets faults happen to a site and shows what its router and its people see. Nothing outside the arguments is used. */
export const simulate = (site: Site, script: Script): SimulationRun => new Simulation(site, script).run();

class Simulation {
  readonly #site: Site;
  readonly #script: Script;
  readonly #random: () => number;
  readonly #queue = new Queue();
  readonly #lines: readonly LineSim[];
  readonly #watchers: readonly Watcher[];
  readonly #flows: readonly Flow[];
  readonly #lineTracks: readonly Track[];
  readonly #watchTracks: readonly Track[];
  readonly #active: Track;
  readonly #events: { at: number; says: string }[] = [];
  readonly #book: FlowBook;
  /** Lines that traffic may use. */
  readonly #carrying = new Set<LineSim>();
  /** Until then routes change: what left its line waits, what still has one stays on it. */
  #settledAt = 0;
  #routerUp = true;
  #probing = 0;
  #activeName: string;
  /** What each network carries, and over which lines it may go. */
  readonly #loads: readonly { readonly mbps: number; readonly lines: readonly LineSim[] }[];
  #countedTo = 0;
  #backupGigabytes = 0;
  #switches = 0;

  constructor(site: Site, script: Script) {
    this.#site = site;
    this.#script = script;
    this.#random = seeded(script.seed);
    this.#lines = site.lines.map(
      (line, index) => new LineSim(line, index, script.seed + index, this.#random),
    );
    this.#loads = site.failover.loads.map(({ network, mbps }) => ({
      mbps,
      lines: linesForKind(site, network, 'web').flatMap(
        (line) => this.#lines.find((each) => each.line === line) ?? [],
      ),
    }));
    this.#watchers = site.failover.watches.map((watch) => new Watcher(watch));
    this.#flows = makeFlows(site, this.#lines);
    this.#book = new FlowBook(this.#queue, this.#random, {
      lineOf: (flow) => this.#lineOf(flow),
      works: (flow, over) => this.#works(flow, over),
    });
    this.#lineTracks = this.#lines.map(({ state }) => new Track(state, lineWords[state]));
    this.#watchTracks = this.#watchers.map(({ state }) => new Track(state, watchWords[state]));
    for (const each of this.#lines) if (each.session) this.#carrying.add(each);
    this.#activeName = this.#first()?.line.name ?? '';
    this.#active = new Track(this.#activeName, this.#activeName || 'no line');
    for (const flow of this.#flows) {
      flow.last = this.#lineOf(flow);
      flow.bound = flow.kind.session ? flow.last : undefined;
      flow.aimed = flow.last;
    }
  }

  run(): SimulationRun {
    const { faults, untilSeconds, seed } = this.#script;
    for (const fault of faults) {
      this.#queue.plan(fault.atSeconds, () => this.#begin(fault));
      this.#queue.plan(fault.atSeconds + fault.forSeconds, () => this.#end(fault));
    }
    this.#startProbes();
    this.#evaluate();
    this.#queue.run(untilSeconds);
    this.#evaluate();
    for (const track of [
      ...this.#lineTracks,
      ...this.#watchTracks,
      this.#active,
      ...this.#flows.map((flow) => flow.track),
    ])
      track.close(untilSeconds);
    const flows = this.#flows.map((flow) => this.#book.resultOf(flow));
    return {
      seed,
      untilSeconds,
      faults,
      lanes: this.#lanes(),
      flows,
      promises: this.#flows.flatMap(({ promise }, index) =>
        promise
          ? [
              {
                id: promise.id,
                says: promise.says,
                withinSeconds: promise.withinSeconds,
                longestGap: flows[index]!.longestGap,
                kept: flows[index]!.longestGap <= promise.withinSeconds,
              },
            ]
          : [],
      ),
      events: this.#events,
      backupGigabytes: Math.round(this.#backupGigabytes * 1000) / 1000,
      switches: this.#switches,
    };
  }

  // Faults -----------------------------------------------------------------------------------------------------------

  #begin(fault: ScriptedFault): void {
    const { title } = faultKind(fault.kind);
    if (fault.kind === 'restart') {
      this.#note(`Power is off: ${title}.`);
      this.#routerUp = false;
      this.#carrying.clear();
      for (const each of this.#lines) each.add(fault);
      for (const each of this.#watchers) each.down();
      // What the router remembered of its sessions is gone with its power.
      for (const flow of this.#flows) if (flow.bound) this.#book.endSession(flow);
    } else {
      const each = this.#lines.find(({ line }) => line.id === fault.line);
      if (!each) return;
      this.#note(`${each.line.name}: ${title}.`);
      each.add(fault);
      if (fault.kind === 'flapping') this.#flap(each, fault);
      if (!each.carrier && this.#site.failover.watches[each.index]!.carrier) this.#carrierLost(each);
    }
    this.#evaluate();
  }

  #end(fault: ScriptedFault): void {
    if (fault.kind === 'restart') {
      this.#note('Power is back; everything starts at its own pace.');
      const boot = this.#between(routerBootSeconds);
      this.#queue.plan(this.#queue.now + boot, () => {
        this.#routerUp = true;
        this.#note('The router has started.');
        this.#startProbes();
        this.#evaluate();
      });
      for (const each of this.#lines) {
        const wait = each.remove(fault);
        // The session begins when both the line and the router are there.
        if (wait !== undefined && (each.index === 0 || each.line.standby === 'up'))
          this.#bring(each, Math.max(wait, boot + each.sessionSeconds()), true);
      }
    } else {
      const each = this.#lines.find(({ line }) => line.id === fault.line);
      if (!each) return;
      this.#note(`${each.line.name}: that is over (${faultKind(fault.kind).title}).`);
      const wait = each.remove(fault);
      if (wait !== undefined && (each.index === 0 || each.line.standby === 'up'))
        this.#bring(each, wait, false);
      else if (wait !== undefined && this.#wanted(each)) this.#bring(each, wait, false);
    }
    this.#evaluate();
  }

  #flap(each: LineSim, fault: ScriptedFault): void {
    const every = Math.max(1, fault.amount);
    const ends = fault.atSeconds + fault.forSeconds;
    each.turn();
    for (let at = fault.atSeconds + every; at < ends; at += every)
      this.#queue.plan(at, () => {
        each.turn();
        this.#evaluate();
      });
  }

  #carrierLost(each: LineSim): void {
    this.#queue.plan(this.#queue.now + 1, () => {
      const watcher = this.#watchers[each.index]!;
      if (each.carrier || !watcher.up) return;
      this.#note(`${each.line.name} has no link: the router counts it as down at once.`);
      watcher.down();
      this.#leave(each);
      this.#evaluate();
    });
  }

  /** The session of a line comes up after so long, unless something befalls it meanwhile. */
  #bring(each: LineSim, seconds: number, trusted: boolean): void {
    const at = this.#queue.now + seconds;
    each.readyAt = at;
    this.#queue.plan(at, () => {
      if (each.readyAt !== at || !each.startable) return;
      each.readyAt = undefined;
      each.session = true;
      this.#note(`${each.line.name} has a session.`);
      const watcher = this.#watchers[each.index]!;
      if (trusted) {
        watcher.set(true);
        this.#admit(each);
      } else if (this.#site.failover.watches[each.index]!.targets.length === 0 && !watcher.up) {
        // Nobody asks anything over this line: the router believes its session.
        watcher.set(true);
        this.#return(each);
      }
      this.#evaluate();
    });
    this.#evaluate();
  }

  // The router's watcher ---------------------------------------------------------------------------------------------

  #startProbes(): void {
    const started = (this.#probing += 1);
    for (const watch of this.#site.failover.watches) {
      if (watch.targets.length === 0) continue;
      const phase = this.#random() * watch.intervalSeconds;
      this.#queue.plan(this.#queue.now + phase, () => this.#probe(watch.line, started));
    }
  }

  #probe(line: Line, started: number): void {
    if (started !== this.#probing || !this.#routerUp) return;
    const index = this.#site.lines.indexOf(line);
    const watch = this.#site.failover.watches[index]!;
    const each = this.#lines[index]!;
    if (index > 0 && !each.session && line.standby === 'dialled') {
      this.#queue.plan(this.#queue.now + watch.intervalSeconds, () => this.#probe(line, started));
      return;
    }
    const probes = watch.targets.map((target) => this.#ask(each, target, watch.timeoutSeconds));
    const known = Math.max(
      ...probes.map(({ lost, delayMs }) => (lost ? watch.timeoutSeconds : delayMs / 1000)),
    );
    this.#queue.plan(this.#queue.now + known, () => {
      if (started !== this.#probing || !this.#routerUp) return;
      this.#heard(each, probes);
    });
    this.#queue.plan(this.#queue.now + watch.intervalSeconds, () => this.#probe(line, started));
  }

  /** One probe: over its own line, or over whichever is in use where nobody pinned it. */
  #ask(own: LineSim, target: WatchTarget, timeoutSeconds: number): Probe {
    const over = target.pinned ? own : (this.#first() ?? own);
    const { delayMs } = over;
    const answered =
      over.reaches(target.reach) &&
      (target.method !== 'name' || target.reach !== 'provider' || over.resolver) &&
      (target.reach === 'inside' || this.#random() >= over.lossShare) &&
      delayMs <= timeoutSeconds * 1000;
    return { lost: !answered, delayMs };
  }

  #heard(each: LineSim, probes: readonly Probe[]): void {
    const watcher = this.#watchers[each.index]!;
    const before = watcher.up;
    watcher.round(this.#queue.now, probes);
    this.#opinion(each, before);
    const { believedAt } = watcher;
    if (!watcher.up && believedAt !== undefined)
      this.#queue.plan(believedAt, () => {
        const held = watcher.up;
        watcher.settle(this.#queue.now);
        this.#opinion(each, held);
        this.#evaluate();
      });
    this.#evaluate();
  }

  #opinion(each: LineSim, before: boolean): void {
    const watcher = this.#watchers[each.index]!;
    if (before && !watcher.up) {
      this.#note(`${each.line.name} counts as down.`);
      this.#leave(each);
    } else if (!before && watcher.up) {
      this.#note(`${each.line.name} counts as up again.`);
      this.#return(each);
    }
  }

  // Changing over ----------------------------------------------------------------------------------------------------

  #leave(each: LineSim): void {
    this.#carrying.delete(each);
    this.#settle();
    if (this.#site.failover.sessions === 'end')
      for (const flow of this.#flows) if (flow.bound === each) this.#book.endSession(flow);
    for (const other of this.#lines)
      if (other !== each && this.#wanted(other) && this.#watchers[other.index]!.up) this.#admit(other);
    const next = this.#first();
    if (next) this.#nameFollows(next);
  }

  /** Routes change, which takes a moment. */
  #settle(): void {
    this.#settledAt = this.#queue.now + this.#between(routeSeconds);
    for (const at of [this.#settledAt, this.#settledAt + resolverSeconds])
      this.#queue.plan(at, () => this.#evaluate());
  }

  /** A line later in the order is wanted while nothing before it carries. */
  #wanted(each: LineSim): boolean {
    return !this.#lines.some((other) => other.index < each.index && this.#carrying.has(other));
  }

  #admit(each: LineSim): void {
    if (this.#carrying.has(each)) return;
    if (!each.session) {
      if (!each.startable || each.readyAt !== undefined) return;
      this.#note(`${each.line.name} is dialled.`);
      this.#bring(each, each.sessionSeconds(), true);
      return;
    }
    this.#carrying.add(each);
    this.#settle();
    if (this.#first() === each) this.#nameFollows(each);
  }

  #return(each: LineSim): void {
    const { back, backHoldSeconds, quietHour } = this.#site.failover;
    const alone = this.#carrying.size === 0;
    if (each.index > 0 && !alone) {
      // A backup that is good again only stands by.
      if (each.session) this.#carrying.add(each);
      return;
    }
    if (alone || back === 'at-once') {
      this.#admit(each);
      return;
    }
    if (back === 'by-hand') {
      this.#note(`${each.line.name} waits until it is switched back by hand.`);
      return;
    }
    const hour = 3600;
    const clock = ((this.#script.startHour ?? 12) * hour + this.#queue.now) % (24 * hour);
    const wait = back === 'hold' ? backHoldSeconds : (quietHour * hour - clock + 24 * hour) % (24 * hour);
    this.#queue.plan(this.#queue.now + wait, () => {
      if (!this.#watchers[each.index]!.up || this.#carrying.has(each)) return;
      this.#note(`Back to ${each.line.name}.`);
      this.#admit(each);
      this.#evaluate();
    });
  }

  /** The dynamic name is changed, and visitors' caches follow it. */
  #nameFollows(each: LineSim): void {
    const { dynamicName, updateSeconds, ttlSeconds } = this.#site.failover;
    if (dynamicName === '') return;
    for (const flow of this.#flows) {
      if (flow.kind.kind !== 'inbound' || !flow.lines.includes(each)) continue;
      const cached = ttlSeconds * this.#random();
      this.#queue.plan(this.#queue.now + updateSeconds + cached, () => {
        if (this.#first() === each) flow.aimed = each;
        this.#evaluate();
      });
    }
  }

  /** The first line of an order that carries now. */
  #first(lines: readonly LineSim[] = this.#lines): LineSim | undefined {
    return lines.find((each) => this.#carrying.has(each));
  }

  /** The line that new traffic of a flow takes now. */
  #lineOf(flow: Flow): LineSim | undefined {
    const chosen =
      (this.#site.failover.sharing === 'order' ? this.#first(flow.lines) : this.#byWeight(flow)) ??
      // What may use no other line does not wait for the way back.
      flow.lines.find((each) => each.session && this.#watchers[each.index]!.up);
    if (chosen === flow.last || this.#queue.now >= this.#settledAt) return chosen;
    return flow.last && this.#carrying.has(flow.last) ? flow.last : undefined;
  }

  #byWeight(flow: Flow): LineSim | undefined {
    const { sticky } = this.#site.failover;
    const carrying = flow.lines.filter((each) => this.#carrying.has(each));
    const total = carrying.reduce((sum, { line }) => sum + line.weight, 0);
    if (total <= 0) return carrying[0];
    // Where sessions stick, a flow always draws the same lot; else a new one each time.
    let lot = (sticky ? seeded(this.#script.seed + this.#flows.indexOf(flow))() : this.#random()) * total;
    return carrying.find(({ line }) => (lot -= line.weight) < 0) ?? carrying.at(-1);
  }

  // Flows ------------------------------------------------------------------------------------------------------------

  #works(flow: Flow, each: LineSim | undefined): 'works' | 'slow' | 'broken' {
    if (!this.#routerUp || !each) return 'broken';
    const carried = each.carries(flow.kind);
    if (carried === 'broken' || !flow.kind.names || flow.bound === each) return carried;
    if (this.#site.failover.resolvers === 'own') return carried;
    // Right after a change the router still asks the resolvers of the line that it left.
    const asksOld = flow.last !== each && this.#queue.now < this.#settledAt + resolverSeconds;
    return each.resolver && !asksOld ? carried : 'broken';
  }

  #evaluate(): void {
    const { now } = this.#queue;
    this.#count(now);
    for (const [index, each] of this.#lines.entries())
      this.#lineTracks[index]!.note(now, each.state, lineWords[each.state]);
    for (const [index, each] of this.#watchers.entries())
      this.#watchTracks[index]!.note(now, each.state, watchWords[each.state]);
    const name = this.#routerUp ? (this.#first()?.line.name ?? '') : '';
    if (name !== this.#activeName) {
      if (name !== '') {
        this.#switches += 1;
        this.#note(`Traffic leaves by ${name}.`);
      }
      this.#activeName = name;
      this.#active.note(now, name, name || 'no line');
    }
    for (const flow of this.#flows) this.#book.look(flow);
  }

  // Record -----------------------------------------------------------------------------------------------------------

  /** Data over the backup since the last look. */
  #count(now: number): void {
    const seconds = now - this.#countedTo;
    this.#countedTo = now;
    if (seconds <= 0 || !this.#routerUp) return;
    for (const { lines, mbps } of this.#loads) {
      const over = this.#first(lines);
      if (over && over.index > 0 && over.reaches('beyond'))
        this.#backupGigabytes += (seconds * mbps * over.rateShare) / 8000;
    }
  }

  #note(says: string): void {
    this.#events.push({ at: Math.round(this.#queue.now * 1000) / 1000, says });
  }

  #between([low, high]: readonly [number, number]): number {
    return low + (high - low) * this.#random();
  }

  #lanes(): Lane[] {
    return [
      ...this.#lines.flatMap(({ line }, index): Lane[] => [
        {
          id: `line-${line.id}`,
          kind: 'line',
          name: line.name,
          of: line.id,
          segments: this.#lineTracks[index]!.segments,
        },
        {
          id: `watch-${line.id}`,
          kind: 'watch',
          name: `the router on ${line.name}`,
          of: line.id,
          segments: this.#watchTracks[index]!.segments,
        },
      ]),
      { id: 'active', kind: 'active', name: 'Traffic leaves by', of: '', segments: this.#active.segments },
      ...this.#flows.map((flow): Lane => ({
        id: flow.id,
        kind: 'flow',
        name: flow.name,
        of: flow.network.id,
        segments: flow.track.segments,
      })),
    ];
  }
}
