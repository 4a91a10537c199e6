import type { At } from '../../plan/at.ts';
import { fieldAt, termAt } from '../../plan/places.ts';
import type { Nature, StepNature } from './nature.ts';
import type { ReadingField } from './reading.ts';
import type { RungId } from './rungs.ts';

/** A value to type into a box, and the words under which its pages may hide it. */
export interface Entry {
  readonly label: string;
  readonly value: string;
  readonly alsoCalled: readonly string[];
  /** Pointer into the plan of where the value comes from. */
  readonly at?: At;
  /** The value is a secret: the name under which the vault keeps it. */
  readonly secret?: string;
}

/** An entry; `at` is the pointer into the plan of where the value comes from. */
export const entry = (label: string, value: string, alsoCalled: readonly string[], at?: At): Entry => ({
  label,
  value,
  alsoCalled,
  ...(at !== undefined && { at }),
});

/** An entry whose value the vault keeps under a name; `without` stands there while no name is given. */
export const secretEntry = (
  label: string,
  secret: string,
  without: string,
  alsoCalled: readonly string[],
  at?: At,
): Entry =>
  secret.trim() === ''
    ? entry(label, without, alsoCalled, at)
    : { ...entry(label, `in the vault: ${secret}`, alsoCalled, at), secret };

/** A field of the plan to be typed into a box: its term and the words under which boxes hide it are the catalogue's. */
export function fieldEntry(at: At, value: string, more: readonly string[] = []): Entry {
  const field = fieldAt(at);
  return entry(field?.term ?? termAt(at), value, [...(field?.alsoCalled ?? []), ...more], at);
}

/** The same of a secret, which the vault keeps under the name that stands in the field. */
export function secretFieldEntry(at: At, secret: string, without: string): Entry {
  const field = fieldAt(at);
  return secretEntry(field?.term ?? termAt(at), secret, without, field?.alsoCalled ?? [], at);
}

/** When a step begins and ends, in seconds from the first one; low and high. */
export interface StepTimes {
  readonly start: readonly [low: number, high: number];
  /** The hands are free for something else. */
  readonly free: readonly [low: number, high: number];
  readonly end: readonly [low: number, high: number];
  /** Without this step the whole would be over sooner. */
  readonly critical: boolean;
}

/** A thing that is done on site, in an order that never cuts the installer off. */
export interface RunStep extends Nature {
  readonly id: string;
  readonly phase: 'prepare' | 'first contact' | 'inside' | 'uplink' | 'rules' | 'proof' | 'finish';
  readonly title: string;
  /** Ids of the steps that come before. */
  readonly needs: readonly string[];
  /** Done only where the steps before it say so: nothing waits for it, and nothing is open without it. */
  readonly optional: boolean;
  readonly entries: readonly Entry[];
  readonly why: string;
  /** How long it takes as a rule. Zero where it is done in a moment. */
  readonly lowSeconds: number;
  readonly highSeconds: number;
  readonly proof: string;
  readonly ifNot: string;
  readonly cautions: readonly string[];
  /** Where the laptop can reach the router from while this step is done. */
  readonly session: Session;
  /** What to read off and write down; none where a tick is enough. */
  readonly fields: readonly ReadingField[];
  /** The promises this step is evidence for. */
  readonly evidence: readonly { readonly promise: string; readonly rung: RungId }[];
  readonly times: StepTimes;
  /** Earlier jobs on which its low and high rest; 0: the usual ones. */
  readonly learntFrom: number;
  /** How the laptop reaches what the step opens; why it does not, and what to do. */
  readonly reach: Reach;
}

/** Whether the page that a step opens can be reached from where the laptop is plugged in. */
export type Reach =
  | { readonly kind: 'none' }
  | {
      readonly kind: 'reached' | 'cut-off';
      readonly from: string;
      readonly to: string;
      readonly says: string;
    };

/** How the laptop talks to the router: the address it opens, or none while there is no session. */
export type Session = { readonly kind: 'none' } | { readonly kind: 'router'; readonly address: string };

/** A step as its author writes it; what is left out is empty. */
export type StepDraft = Pick<RunStep, 'id' | 'phase' | 'title' | 'why' | 'proof' | 'ifNot'> &
  Partial<Omit<RunStep, 'session' | 'times' | 'learntFrom' | 'reach' | keyof Nature>> & {
    readonly nature: StepNature;
  };
