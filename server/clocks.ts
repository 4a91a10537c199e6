export interface Clocks {
  /** The wall clock, for what people read. It may be set back or forward at any time. */
  readonly now: () => Date;
  /** Milliseconds that only ever grow, for waits. */
  readonly monotonic: () => number;
}

export const systemClocks: Clocks = { now: () => new Date(), monotonic: () => performance.now() };
