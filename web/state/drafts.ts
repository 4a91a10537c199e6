import { parsePlan, type Plan } from '../../core/index.ts';

/**
 * What was typed and not saved yet, kept in the browser's own storage until the server has it: it survives a crash
 * of the browser and a laptop that runs out of power. A plan holds no secrets, so none are kept here.
 */
export interface Draft {
  /** Revision on which it was typed. */
  readonly revision: number;
  readonly plan: Plan;
  /** A save that was under way: where the server has exactly this, it came from the window that typed the draft. */
  readonly sent?: Plan;
}

/** A draft that a window left behind, and how to drop it once another window has it. */
export interface LeftDraft {
  readonly draft: Draft;
  drop(): void;
}

/** Whether two plans say the same, in the same order. */
export const same = (one: Plan, other: Plan): boolean =>
  one === other || JSON.stringify(one) === JSON.stringify(other);

/**
 * What of a draft is still to be taken up, and the plan on which it was typed. A save that was under way may have
 * arrived: then the draft goes on from it, or there is nothing left.
 * @param newest revision that the server has now
 * @param revisionAt the plan of a revision, where it can be had
 */
export async function leftToTake(
  draft: Draft,
  newest: number,
  revisionAt: (revision: number) => Promise<Plan | undefined>,
): Promise<{ readonly draft: Draft; readonly base: Plan | undefined } | undefined> {
  const { revision, plan, sent } = draft;
  if (revision === newest) return { draft, base: undefined };
  const next = sent && revision < newest ? await revisionAt(revision + 1) : undefined;
  if (!next || !sent || !same(next, sent)) return { draft, base: await revisionAt(revision) };
  return same(plan, sent) ? undefined : { draft: { revision: revision + 1, plan }, base: next };
}

const keyOf = (siteId: string, window: string): string => `netter-draft ${siteId} ${window}`;

/** Where drafts are kept; a browser may refuse to keep any. */
export type DraftStorage = Pick<Storage, 'getItem' | 'setItem' | 'removeItem' | 'key' | 'length'>;

export class Drafts {
  readonly #siteId: string;
  readonly #window: string;
  readonly #storage: DraftStorage | undefined;

  /** `window` tells this window from others that have the same site open. */
  constructor(siteId: string, window: string, storage: DraftStorage | undefined) {
    this.#siteId = siteId;
    this.#window = window;
    this.#storage = storage;
  }

  keep(draft: Draft): void {
    try {
      this.#storage?.setItem(keyOf(this.#siteId, this.#window), JSON.stringify(draft));
    } catch {
      // No room in the browser's storage: saving goes on all the same.
    }
  }

  drop(): void {
    this.#storage?.removeItem(keyOf(this.#siteId, this.#window));
  }

  /**
   * Drafts of this site that a window left behind, other than those of windows that live. Each stays where it is
   * until it is dropped; what cannot be read is dropped at once.
   */
  async left(alive: () => Promise<ReadonlySet<string>>): Promise<LeftDraft[]> {
    const storage = this.#storage;
    if (!storage) return [];
    const prefix = keyOf(this.#siteId, '');
    const keys = Array.from({ length: storage.length }, (_, index) => storage.key(index) ?? '').filter(
      (key) => key.startsWith(prefix),
    );
    if (keys.length === 0) return [];
    const living = await alive();
    return keys.flatMap((key) => {
      const window = key.slice(prefix.length);
      if (window !== this.#window && living.has(window)) return [];
      const draft = read(storage.getItem(key));
      const drop = (): void => storage.removeItem(key);
      if (!draft) drop();
      return draft ? [{ draft, drop }] : [];
    });
  }
}

function read(text: string | null): Draft | undefined {
  try {
    const { revision, plan, sent } = JSON.parse(text ?? '') as Record<string, unknown>;
    const parsed = parsePlan(plan);
    const parsedSent = parsePlan(sent);
    if (!parsed.ok || typeof revision !== 'number') return undefined;
    return { revision, plan: parsed.value, ...(parsedSent.ok ? { sent: parsedSent.value } : {}) };
  } catch {
    return undefined;
  }
}

const lockPrefix = 'netter-window ';

/** A name for this window, held for as long as it lives. */
export function holdWindow(): string {
  const name = crypto.randomUUID();
  void navigator.locks.request(lockPrefix + name, () => new Promise<void>(() => {}));
  return name;
}

/** The windows that live, of this browser. */
export async function livingWindows(): Promise<ReadonlySet<string>> {
  const { held = [] } = await navigator.locks.query();
  return new Set(
    held.flatMap(({ name = '' }) => (name.startsWith(lockPrefix) ? [name.slice(lockPrefix.length)] : [])),
  );
}
