import { createContext, useContext } from 'react';
import { applyPatch, withCleanLines, type Patch, type Plan } from '../../core/index.ts';
import { ApiError, saveSite, sentence, type SiteDocument } from './api.ts';
import { same, type Draft, type Drafts } from './drafts.ts';
import { setAt } from './edit.ts';
import { Signal, useSignal } from './signal.ts';

export type SaveState =
  | { readonly kind: 'saved' }
  | { readonly kind: 'unsaved' }
  | { readonly kind: 'saving' }
  | { readonly kind: 'failed'; readonly says: string }
  | { readonly kind: 'conflict'; readonly theirs: SiteDocument };

export interface Snapshot {
  readonly plan: Plan;
  readonly revision: number;
  readonly savedAt: string;
  readonly save: SaveState;
  readonly canUndo: boolean;
  readonly canRedo: boolean;
}

const saveAfterMs = 600;
const retryAfterMs = 4000;

/**
 * One open site: the plan as it is typed, undo and redo, and autosave. Each save names the revision it is based on;
 * a stale one stops the autosave until a person has chosen.
 */
export class SiteSession {
  readonly id: string;
  #plan: Plan;
  /** The plan as the server has it at `revision`. */
  #base: Plan;
  #revision: number;
  #savedAt: string;
  /** What was sent last and is not known to have arrived. */
  #sent: Plan | undefined;
  #save: SaveState = { kind: 'saved' };
  #past: Plan[] = [];
  #future: Plan[] = [];
  #lastEdit: string | undefined;
  #timer: ReturnType<typeof setTimeout> | undefined;
  readonly #drafts: Drafts | undefined;
  /** What components follow. */
  readonly state: Signal<Snapshot>;

  constructor(document: SiteDocument, drafts?: Drafts) {
    this.#drafts = drafts;
    this.id = document.id;
    this.#plan = document.plan;
    this.#base = document.plan;
    this.#revision = document.revision;
    this.#savedAt = document.savedAt;
    this.state = new Signal(this.#makeSnapshot());
  }

  snapshot = (): Snapshot => this.state.get();
  /** What the server had when this window last agreed with it. */
  base = (): Plan => this.#base;

  /** Sets one value. Typing on in one field is one step of undo. */
  edit = (at: string, value: unknown): void => {
    const next = setAt(this.#plan, at, value);
    if (next === this.#plan) return;
    if (this.#lastEdit !== at) this.#remember();
    this.#lastEdit = at;
    this.#change(next);
  };

  /** Sets several values that belong together: one edit, one step of undo. */
  editAll = (values: Readonly<Record<string, unknown>>): void => {
    const next = Object.entries(values).reduce((plan, [at, value]) => setAt(plan, at, value), this.#plan);
    if (next === this.#plan) return;
    this.#remember();
    this.#lastEdit = undefined;
    this.#change(next);
  };

  /** Leaving a field ends its step of undo. */
  settle = (): void => {
    this.#lastEdit = undefined;
  };

  /** Applies a fix; undefined, or the sentence why it does not fit. */
  patch = (patch: Patch): string | undefined => {
    const result = applyPatch(this.#plan, patch);
    if (!result.ok) return result.problem.says;
    this.replace(result.value);
    return undefined;
  };

  /** Takes another plan as it is (a restored revision, a merge, an import): one step of undo. */
  replace = (plan: Plan): void => {
    this.#remember();
    this.#lastEdit = undefined;
    this.#change(plan);
  };

  /**
   * Takes up what a window typed and could not save any more. Where the site was saved since, both are shown and a
   * person chooses, as with two windows. `base` is the revision on which it was typed, where that is known.
   */
  takeUp = (draft: Draft, base?: Plan): void => {
    if (same(draft.plan, this.#plan)) return;
    if (draft.revision !== this.#revision) {
      this.#base = base ?? this.#base;
      this.#save = {
        kind: 'conflict',
        theirs: { id: this.id, revision: this.#revision, savedAt: this.#savedAt, plan: this.#plan },
      };
    }
    this.replace(draft.plan);
    this.#keepDraft();
  };

  /**
   * Takes over what the server has by now, saved by another window, where nothing typed here is on its way. Typing
   * that is on its way meets it at its own save.
   */
  follow = (document: SiteDocument): void => {
    if (document.revision <= this.#revision || this.#save.kind !== 'saved' || this.#plan !== this.#base)
      return;
    this.#base = document.plan;
    this.#revision = document.revision;
    this.#savedAt = document.savedAt;
    this.replace(document.plan);
  };

  undo = (): void => this.#step(this.#past, this.#future);
  redo = (): void => this.#step(this.#future, this.#past);

  /** After a conflict: go on from what the server has now, with the plan a person chose. */
  settleConflict = (chosen: Plan, theirs: SiteDocument): void => {
    this.#base = theirs.plan;
    this.#revision = theirs.revision;
    this.#savedAt = theirs.savedAt;
    this.#save = { kind: 'saved' };
    this.replace(chosen);
  };

  /** Saves what is not saved yet, at once. */
  flush = async (): Promise<void> => {
    clearTimeout(this.#timer);
    if (this.#save.kind === 'saving' || this.#save.kind === 'conflict' || this.#plan === this.#base) return;
    const plan = this.#plan;
    this.#setSave({ kind: 'saving' });
    const sentBefore = this.#sent;
    this.#sent = plan;
    this.#keepDraft();
    try {
      const { revision, savedAt } = await saveSite(this.id, this.#revision, plan);
      this.#sent = undefined;
      this.#base = plan;
      this.#revision = revision;
      this.#savedAt = savedAt;
      this.#setSave({ kind: this.#plan === plan ? 'saved' : 'unsaved' });
      this.#keepDraft();
      if (this.#plan !== plan) this.#saveSoon(saveAfterMs);
    } catch (error) {
      const current = error instanceof ApiError && error.status === 409 ? error.body.current : undefined;
      if (current && [plan, sentBefore].some((sent) => sent && same(sent, current.plan))) {
        // An earlier save arrived and its answer did not: it is no other person's.
        this.#base = same(this.#plan, current.plan) ? this.#plan : current.plan;
        this.#revision = current.revision;
        this.#savedAt = current.savedAt;
        this.#sent = undefined;
        this.#setSave({ kind: this.#plan === this.#base ? 'saved' : 'unsaved' });
        this.#keepDraft();
        this.#saveSoon(0);
      } else if (current) {
        this.#sent = undefined;
        this.#setSave({ kind: 'conflict', theirs: { ...current, id: this.id } });
      } else {
        this.#setSave({ kind: 'failed', says: sentence(error) });
        // A refusal of what was typed stays one; a server that does not answer, or has no room, may come back.
        if (!(error instanceof ApiError) || error.status >= 500 || error.status === 401)
          this.#saveSoon(retryAfterMs);
      }
    }
  };

  #step(from: Plan[], to: Plan[]): void {
    const plan = from.pop();
    if (!plan) return;
    to.push(this.#plan);
    this.#lastEdit = undefined;
    this.#change(plan);
  }

  #remember(): void {
    this.#past.push(this.#plan);
    this.#future = [];
  }

  #change(typed: Plan): void {
    // What was pasted may hold what a line of a plan may not: the plan must stay one that can be saved.
    const plan = withCleanLines(typed);
    this.#plan = plan;
    if (this.#save.kind !== 'conflict' && this.#save.kind !== 'saving')
      this.#save = { kind: plan === this.#base ? 'saved' : 'unsaved' };
    this.#emit();
    this.#keepDraft();
    if (this.#save.kind === 'unsaved') this.#saveSoon(saveAfterMs);
  }

  /** Keeps what is not saved in the browser; what the server has is not kept twice. */
  #keepDraft = (): void => {
    if (this.#plan === this.#base) this.#drafts?.drop();
    else
      this.#drafts?.keep({
        revision: this.#revision,
        plan: this.#plan,
        ...(this.#sent ? { sent: this.#sent } : {}),
      });
  };

  #saveSoon(delay: number): void {
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => void this.flush(), delay);
  }

  #setSave(save: SaveState): void {
    this.#save = save;
    this.#emit();
  }

  #emit(): void {
    this.state.set(this.#makeSnapshot());
  }

  #makeSnapshot(): Snapshot {
    return {
      plan: this.#plan,
      revision: this.#revision,
      savedAt: this.#savedAt,
      save: this.#save,
      canUndo: this.#past.length > 0,
      canRedo: this.#future.length > 0,
    };
  }
}

export const SessionContext = createContext<SiteSession | undefined>(undefined);

export function useSession(): SiteSession {
  const session = useContext(SessionContext);
  if (!session) throw new Error('No site is open here.');
  return session;
}

/** The open site's plan and state of saving; the component follows every change. */
export const useSnapshot = (): Snapshot => useSignal(useSession().state, (snapshot) => snapshot);

/** The whole plan; the component follows every change of it. */
export const usePlan = (): Plan => useSignal(useSession().state, ({ plan }) => plan);

/** A piece of the plan; the component follows that piece only. */
export const usePlanPiece = <Piece>(piece: (plan: Plan) => Piece): Piece =>
  useSignal(useSession().state, ({ plan }) => piece(plan));
