import { bringUp } from '../provider-sim/bench.ts';
import type { Line } from '../../site/model.ts';
import type { ScriptedFault } from './faults.ts';
import type { TargetReach } from '../../site/failover.ts';
import type { Traffic } from './traffic.ts';
import { delayOf } from './usual.ts';

/** A link is there again so soon after the cable is in; a box so soon after its power (common practice, no source). */
const linkSeconds = 3;
const bootSeconds: readonly [number, number] = [30, 60];
/** A session that died without a goodbye is open at the far end for so long (common practice, no source). */
const lingerSeconds: readonly [number, number] = [60, 180];

/** Faults that take the line's session away; it has to come up again afterwards. */
const ending = new Set<ScriptedFault['kind']>(['pull', 'reboot', 'session', 'restart', 'attach-refused']);
/** Faults that take the link away too. */
const unplugging = new Set<ScriptedFault['kind']>(['pull', 'reboot', 'session', 'restart']);

export type LineState = 'good' | 'limping' | 'starting' | 'dead';

/** One line over time: what befalls it, and whether packets pass. */
export class LineSim {
  readonly line: Line;
  readonly index: number;
  readonly #faults = new Set<ScriptedFault>();
  readonly #random: () => number;
  readonly #session: number;
  readonly #medium: number;
  #turn = true;
  /** The far end and the router agree on a session. */
  session: boolean;
  /** When the session that is being made will be there; undefined while none is. */
  readyAt: number | undefined;

  constructor(line: Line, index: number, seed: number, random: () => number) {
    this.line = line;
    this.index = index;
    this.#random = random;
    const start = bringUp(line, '', seed);
    this.#medium = start?.messages[0]?.at ?? 0;
    this.#session = (start?.endsAt ?? 10) - this.#medium;
    this.session = line.standby === 'up' || index === 0;
  }

  add(fault: ScriptedFault): void {
    this.#faults.add(fault);
    if (!ending.has(fault.kind)) return;
    this.session = false;
    this.readyAt = undefined;
  }

  /**
   * Ends a fault.
   * @returns seconds until the session is there again, or undefined where none was lost or another fault still holds
   */
  remove(fault: ScriptedFault): number | undefined {
    this.#faults.delete(fault);
    this.#turn = true;
    if (!ending.has(fault.kind) || this.#has(ending)) return undefined;
    switch (fault.kind) {
      case 'pull':
        return linkSeconds + this.sessionSeconds();
      case 'session':
        return (
          this.#between(bootSeconds) + this.#medium + this.#between(lingerSeconds) + this.sessionSeconds()
        );
      case 'reboot':
      case 'restart':
        return this.#between(bootSeconds) + this.#medium + this.sessionSeconds();
      default:
        return this.sessionSeconds();
    }
  }

  /** How long the session takes once the medium is ready, by the stand-in of its WAN type. */
  sessionSeconds(): number {
    const slow = this.#amount('attach-slow');
    return slow > 0 ? slow : this.#session;
  }

  turn(): void {
    this.#turn = !this.#turn;
  }

  get carrier(): boolean {
    return !this.#has(unplugging);
  }

  get startable(): boolean {
    return !this.#has(ending);
  }

  get resolver(): boolean {
    return !this.#is('resolver');
  }

  /** Packets come as far as this. */
  reaches(reach: TargetReach): boolean {
    if (reach === 'inside') return true;
    if (reach === 'unset' || !this.carrier) return false;
    if (reach === 'box') return true;
    if (!this.session || (this.#is('flapping') && !this.#turn)) return false;
    return reach === 'beyond' ? !this.#is('beyond') : true;
  }

  get lossShare(): number {
    const measured = (this.line.failures.measuredLossPercent ?? 0) / 100;
    return Math.min(1, 1 - (1 - measured) * (1 - this.#amount('loss') / 100));
  }

  get delayMs(): number {
    return delayOf(this.line) + this.#amount('delay');
  }

  get rateShare(): number {
    if (this.#is('cap')) return 0.01;
    const slow = this.#amount('slow');
    return slow > 0 ? slow / 100 : 1;
  }

  /** Whether a kind of traffic works over this line now. */
  carries(kind: Traffic): 'works' | 'slow' | 'broken' {
    if (!this.reaches('beyond') || !this.line.sourceNat) return 'broken';
    if (this.lossShare * 100 >= kind.lossLimitPercent || this.delayMs >= kind.delayLimitMs) return 'broken';
    if (this.rateShare < 0.05 && !['card', 'call'].includes(kind.kind)) return 'broken';
    return this.rateShare < 0.5 || this.lossShare >= 0.05 || this.delayMs >= 400 ? 'slow' : 'works';
  }

  get state(): LineState {
    if (this.readyAt !== undefined) return 'starting';
    if (!this.reaches('beyond')) return 'dead';
    return this.lossShare >= 0.03 || this.delayMs >= 400 || this.rateShare < 0.5 || !this.resolver
      ? 'limping'
      : 'good';
  }

  #between([low, high]: readonly [number, number]): number {
    return low + (high - low) * this.#random();
  }

  #has(kinds: ReadonlySet<ScriptedFault['kind']>): boolean {
    for (const { kind } of this.#faults) if (kinds.has(kind)) return true;
    return false;
  }

  #is(kind: ScriptedFault['kind']): boolean {
    for (const fault of this.#faults) if (fault.kind === kind) return true;
    return false;
  }

  #amount(kind: ScriptedFault['kind']): number {
    let most = 0;
    for (const fault of this.#faults) if (fault.kind === kind) most = Math.max(most, fault.amount);
    return most;
  }
}
