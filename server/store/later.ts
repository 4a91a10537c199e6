/**
 * Work that is done after a request was answered: counting, thinning, tidying. One piece at a time; a piece that
 * fails harms nobody, and is tried again when its time comes round.
 */
export class Later {
  #chain: Promise<void> = Promise.resolve();
  readonly #waiting = new Map<string, () => Promise<void>>();
  readonly #putOff = new Map<
    string,
    { readonly timer: NodeJS.Timeout; readonly work: () => Promise<void> }
  >();
  #ended = false;

  /** Adds a piece of work; one of the same name that has not begun gives way to it. */
  add(name: string, work: () => Promise<void>): void {
    if (this.#ended) return;
    const known = this.#waiting.has(name);
    this.#waiting.set(name, work);
    if (known) return;
    this.#chain = this.#chain.then(async () => {
      // Whatever asked for it is answered first.
      await new Promise((resolve) => setImmediate(resolve));
      const latest = this.#waiting.get(name);
      this.#waiting.delete(name);
      if (this.#ended || !latest) return;
      try {
        await latest();
      } catch (error) {
        console.error(`Work in the background failed (${name.split(' ')[0]}): ${(error as Error).name}`);
      }
    });
  }

  /**
   * Adds a piece of work that begins when none of its name was put off for so many milliseconds, or at once when the
   * result is wanted: what comes again every few seconds is done once, after the last.
   */
  putOff(name: string, milliseconds: number, work: () => Promise<void>): void {
    if (this.#ended) return;
    clearTimeout(this.#putOff.get(name)?.timer);
    const timer = setTimeout(() => this.#begin(name), milliseconds);
    timer.unref();
    this.#putOff.set(name, { timer, work });
  }

  /** Begins what was put off: somebody wants to see it. */
  wanted(): void {
    for (const name of [...this.#putOff.keys()]) this.#begin(name);
  }

  #begin(name: string): void {
    const { timer, work } = this.#putOff.get(name)!;
    clearTimeout(timer);
    this.#putOff.delete(name);
    this.add(name, work);
  }

  /** When all that was added so far is done; what was put off begins. */
  settled(): Promise<void> {
    this.wanted();
    return this.#chain;
  }

  /** Begins nothing more, and waits for what is under way. */
  async end(): Promise<void> {
    this.#ended = true;
    for (const { timer } of this.#putOff.values()) clearTimeout(timer);
    await this.#chain;
  }
}
