import { median } from '../../base/worked/line.ts';
import type { Watch } from '../../site/failover.ts';

/** What became of one probe. */
export interface Probe {
  readonly lost: boolean;
  readonly delayMs: number;
}

export type WatchState = 'up' | 'doubt' | 'down' | 'holding';

/**
 * The router's opinion of one line, as a state machine fed with rounds of probes. A round is lost when every target
 * of it is; any answer speaks for the line. Time comes in as an argument.
 */
export class Watcher {
  readonly #watch: Watch;
  #up: boolean;
  #lostInRow = 0;
  #goodInRow = 0;
  #goodAt: number | undefined;
  #window: Probe[] = [];

  constructor(watch: Watch, up = true) {
    this.#watch = watch;
    this.#up = up;
  }

  get up(): boolean {
    return this.#up;
  }

  get state(): WatchState {
    if (this.#up) return this.#lostInRow > 0 ? 'doubt' : 'up';
    return this.#goodAt === undefined ? 'down' : 'holding';
  }

  /** When the hold ends, if it stays good; undefined while nothing is held. */
  get believedAt(): number | undefined {
    return this.#goodAt === undefined ? undefined : this.#goodAt + this.#watch.holdSeconds;
  }

  /** Takes in a round. */
  round(now: number, probes: readonly Probe[]): void {
    if (probes.length === 0) return;
    const { window, downAfter, upAfter } = this.#watch;
    if (window) this.#window = [...this.#window, ...probes].slice(-window.probes);
    if (probes.every(({ lost }) => lost)) {
      this.#lostInRow += 1;
      this.#goodInRow = 0;
      this.#goodAt = undefined;
    } else {
      this.#goodInRow += 1;
      this.#lostInRow = 0;
      if (!this.#up && this.#goodInRow >= upAfter && !this.#limps()) this.#goodAt ??= now;
    }
    if (this.#up && (this.#lostInRow >= downAfter || this.#limps())) this.down();
    this.settle(now);
  }

  /** The line is believed again once the hold is over. */
  settle(now: number): void {
    const at = this.believedAt;
    if (this.#up || at === undefined || now < at) return;
    if (this.#limps()) {
      this.#goodAt = undefined;
      return;
    }
    this.set(true);
  }

  /** A cable without link counts at once. */
  down(): void {
    this.#up = false;
    this.#goodInRow = 0;
    this.#goodAt = undefined;
  }

  /** The state after a start of the router: nothing is remembered. */
  set(up: boolean): void {
    this.#up = up;
    this.#lostInRow = 0;
    this.#goodInRow = 0;
    this.#goodAt = undefined;
    this.#window = [];
  }

  /** Too many lost, or too late, among the last probes. */
  #limps(): boolean {
    const { window } = this.#watch;
    if (!window) return false;
    const { probes, lossPercent, delayMs } = window;
    if (lossPercent !== undefined) {
      const needed = Math.max(1, Math.ceil((probes * lossPercent) / 100));
      if (this.#window.filter(({ lost }) => lost).length >= needed) return true;
    }
    if (delayMs === undefined || this.#window.length < probes / 2) return false;
    const answered = this.#window.filter(({ lost }) => !lost).map((each) => each.delayMs);
    return answered.length > 0 && median(answered) >= delayMs;
  }
}
