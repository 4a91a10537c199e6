import { backUpDaily, whyNotMade } from './keeping/daily.ts';
import { lookThrough, type Integrity } from './store/integrity.ts';
import type { Store } from './store/store.ts';

/** How long the look through the data folder after the start may take. */
const longestLookMs = 10_000;
/** The first look whether the day's backup is there: the start is over by then. */
const firstBackupMs = 30_000;
const hourMs = 3_600_000;

/** What the server does by itself: tidying, a look through what is kept, the daily backup. */
export class Upkeep {
  readonly #store: Store;
  readonly #backups: string;
  readonly #program: string;
  /** What the look after the start found; undefined until it is done. */
  integrity: Integrity | undefined = undefined;
  /** Why the last backup was not made; empty once one was. It is said on every page. */
  problem = '';

  /** `backups` is the folder of backups, `program` the version that makes them. */
  constructor(store: Store, backups: string, program: string) {
    this.#store = store;
    this.#backups = backups;
    this.#program = program;
  }

  /** `rebuilt`: what was damaged when the folder was opened, and could be built anew. */
  async begin(rebuilt: readonly string[] = []): Promise<void> {
    this.#store.tidyLater();
    setTimeout(() => void this.#backUp(), firstBackupMs).unref();
    setInterval(() => void this.#backUp(), hourMs).unref();
    this.integrity = await lookThrough(this.#store, longestLookMs, rebuilt).catch(() => undefined);
    for (const { name, id, revision } of this.integrity?.damaged ?? [])
      console.error(`The site ${name || id} cannot be read as it was last saved (revision ${revision}).`);
    for (const table of this.integrity?.tables ?? [])
      console.error(`The table "${table}" is damaged. The rest works; see the page "Data".`);
  }

  async #backUp(): Promise<void> {
    try {
      if (await backUpDaily(this.#store, this.#backups, this.#program, new Date())) this.problem = '';
    } catch (error) {
      this.failed(error, this.#backups);
    }
  }

  /** Notes that a backup was not made, and why. */
  failed(error: unknown, path: string): void {
    this.problem = `No backup was made. ${whyNotMade(error, path)}`;
    console.error(this.problem);
  }
}
