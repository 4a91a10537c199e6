import type { RecordInput } from '../../core/index.ts';
import { ApiError } from './api.ts';

/** A record that was made while nobody answered. */
export type WaitingRecord = RecordInput & { readonly at: string };

type Kept = Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>;

/** Records of one site that wait on this machine until the server answers: none is lost, and each goes in once. */
export class WaitingRecords {
  readonly #key: string;
  readonly #kept: Kept;
  constructor(siteId: string, kept: Kept) {
    this.#key = `netter-waiting-${siteId}`;
    this.#kept = kept;
  }

  all(): readonly WaitingRecord[] {
    try {
      const kept: unknown = JSON.parse(this.#kept.getItem(this.#key) ?? '[]');
      return Array.isArray(kept) ? (kept as WaitingRecord[]) : [];
    } catch {
      return [];
    }
  }

  add(record: WaitingRecord): void {
    this.#keep([...this.all(), record]);
  }

  /** Sends what waits, in its order, up to the first that nobody answers; one that can never be read is put aside. */
  async send(send: (record: WaitingRecord) => Promise<unknown>): Promise<number> {
    let sent = 0;
    for (const record of this.all()) {
      try {
        await send(record);
        sent += 1;
      } catch (error) {
        // Signed out, or the site is not there just now: it goes on waiting.
        if (!(error instanceof ApiError) || error.status !== 400) break;
      }
      const key = JSON.stringify(record);
      this.#keep(this.all().filter((each) => JSON.stringify(each) !== key));
    }
    return sent;
  }

  #keep(records: readonly WaitingRecord[]): void {
    if (records.length === 0) this.#kept.removeItem(this.#key);
    else this.#kept.setItem(this.#key, JSON.stringify(records));
  }
}
