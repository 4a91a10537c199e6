/**
 * Work that is done after a request was answered: counting, thinning, tidying. One piece at a time; a piece that
 * fails harms nobody, and is tried again when its time comes round.
 */
export class Later {
  #chain: Promise<void> = Promise.resolve();
  readonly #waiting = new Map<string, () => Promise<void>>();
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

  /** When all that was added so far is done. */
  settled(): Promise<void> {
    return this.#chain;
  }

  /** Begins nothing more, and waits for what is under way. */
  async end(): Promise<void> {
    this.#ended = true;
    await this.#chain;
  }
}
