export interface Segment {
  readonly from: number;
  readonly to: number;
  readonly state: string;
  readonly says: string;
}

/** Writes down a state over time: a new segment whenever it changes. */
export class Track {
  readonly segments: Segment[] = [];
  #from = 0;
  #state: string;
  #says: string;

  constructor(state: string, says: string) {
    this.#state = state;
    this.#says = says;
  }

  note(now: number, state: string, says: string): void {
    if (state === this.#state && says === this.#says) return;
    this.close(now);
    this.#from = now;
    this.#state = state;
    this.#says = says;
  }

  close(now: number): void {
    if (now > this.#from)
      this.segments.push({ from: this.#from, to: now, state: this.#state, says: this.#says });
  }
}
