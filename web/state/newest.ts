/**
 * One task at a time, and after it the newest that was asked for meanwhile: those in between are never begun. So
 * keystrokes coalesce, however long a task takes.
 */
export class Newest<Wanted> {
  #running = false;
  #next: Wanted | undefined;
  readonly #run: (wanted: Wanted, isNewest: () => boolean) => Promise<void>;

  /** `isNewest` says, once a task is done, whether its result is still wanted. */
  constructor(run: (wanted: Wanted, isNewest: () => boolean) => Promise<void>) {
    this.#run = run;
  }

  ask(wanted: Wanted): void {
    this.#next = wanted;
    if (!this.#running) void this.#work();
  }

  /** What waits is not begun. */
  clear(): void {
    this.#next = undefined;
  }

  async #work(): Promise<void> {
    this.#running = true;
    while (this.#next !== undefined) {
      const wanted = this.#next;
      this.#next = undefined;
      await this.#run(wanted, () => this.#next === undefined).catch(() => {});
    }
    this.#running = false;
  }
}
