import { Worker } from 'node:worker_threads';
import type { Plan, SiteRecord } from '../../core/index.ts';
import { uncounted, type Counts } from './counts.ts';

/** A plan whose checks take longer is not counted: the list says so, and everything else goes on. */
const longestMs = 20_000;

/**
 * Counts findings in a thread of its own, so that a heavy plan holds up nobody. The thread begins with the first
 * plan; one that does not answer in time is ended, and the next plan gets a new one.
 */
export class Counter {
  #worker: Worker | undefined;
  #chain: Promise<unknown> = Promise.resolve();

  count = (plan: Plan, records: readonly SiteRecord[]): Promise<Counts> => {
    const counted = this.#chain.then(() => this.#countOne(plan, records));
    this.#chain = counted.catch(() => {});
    return counted;
  };

  async end(): Promise<void> {
    await this.#worker?.terminate();
    this.#worker = undefined;
  }

  #countOne(plan: Plan, records: readonly SiteRecord[]): Promise<Counts> {
    const worker = (this.#worker ??= this.#begin());
    return new Promise((resolve) => {
      const answer = (counts: Counts): void => {
        clearTimeout(timer);
        worker.off('message', answer);
        worker.off('exit', gone);
        resolve(counts);
      };
      const gone = (): void => answer(uncounted);
      const timer = setTimeout(() => {
        this.#worker = undefined;
        void worker.terminate();
        answer(uncounted);
      }, longestMs);
      worker.once('message', answer);
      worker.once('exit', gone);
      worker.postMessage({ plan, records });
    });
  }

  #begin(): Worker {
    // Beside this file: as source where the source runs, built where the built server does.
    const ending = import.meta.url.endsWith('.ts') ? 'ts' : 'mjs';
    const worker = new Worker(new URL(`./counts.worker.${ending}`, import.meta.url));
    worker.unref();
    worker.once('error', () => {});
    worker.once('exit', () => {
      if (this.#worker === worker) this.#worker = undefined;
    });
    return worker;
  }
}
