interface Event {
  readonly at: number;
  readonly order: number;
  readonly act: () => void;
}

/** What happens, in the order of its time; things of one moment in the order in which they were planned. */
export class Queue {
  readonly #heap: Event[] = [];
  #order = 0;
  #now = 0;

  get now(): number {
    return this.#now;
  }

  /** Plans something; what lies in the past happens now. */
  plan(at: number, act: () => void): void {
    const event = { at: Math.max(at, this.#now), order: (this.#order += 1), act };
    const heap = this.#heap;
    let place = heap.push(event) - 1;
    while (place > 0) {
      const above = (place - 1) >> 1;
      if (!before(event, heap[above]!)) break;
      heap[place] = heap[above]!;
      place = above;
    }
    heap[place] = event;
  }

  /** Lets everything up to and including `until` happen. */
  run(until: number): void {
    for (let next = this.#heap[0]; next && next.at <= until; next = this.#heap[0]) {
      this.#take();
      this.#now = next.at;
      next.act();
    }
    this.#now = until;
  }

  #take(): void {
    const heap = this.#heap;
    const last = heap.pop()!;
    if (heap.length === 0) return;
    let place = 0;
    for (;;) {
      let child = 2 * place + 1;
      if (child >= heap.length) break;
      if (child + 1 < heap.length && before(heap[child + 1]!, heap[child]!)) child += 1;
      if (!before(heap[child]!, last)) break;
      heap[place] = heap[child]!;
      place = child;
    }
    heap[place] = last;
  }
}

const before = (a: Event, b: Event): boolean => a.at < b.at || (a.at === b.at && a.order < b.order);
