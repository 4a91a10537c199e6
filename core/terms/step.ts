import { fieldAt, termAt } from '../plan/places.ts';
import type { RungId } from './rungs.ts';

/** A value to type into a box, and the words under which its pages may hide it. */
export interface Entry {
  readonly label: string;
  readonly value: string;
  readonly alsoCalled: readonly string[];
  /** Pointer into the plan of where the value comes from. */
  readonly at?: string;
  /** The value is a secret: the name under which the vault keeps it. */
  readonly secret?: string;
}

/** An entry; `at` is the pointer into the plan of where the value comes from. */
export const entry = (label: string, value: string, alsoCalled: readonly string[], at?: string): Entry => ({
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
  at?: string,
): Entry =>
  secret.trim() === ''
    ? entry(label, without, alsoCalled, at)
    : { ...entry(label, `in the vault: ${secret}`, alsoCalled, at), secret };

/** A field of the plan to be typed into a box: its term and the words under which boxes hide it are the catalogue's. */
export function fieldEntry(at: string, value: string, more: readonly string[] = []): Entry {
  const field = fieldAt(at);
  return entry(field?.term ?? termAt(at), value, [...(field?.alsoCalled ?? []), ...more], at);
}

/** The same of a secret, which the vault keeps under the name that stands in the field. */
export function secretFieldEntry(at: string, secret: string, without: string): Entry {
  const field = fieldAt(at);
  return secretEntry(field?.term ?? termAt(at), secret, without, field?.alsoCalled ?? [], at);
}

/** A thing that is done on site, in an order that never cuts the installer off. */
export interface RunStep {
  readonly id: string;
  readonly phase: 'prepare' | 'first contact' | 'inside' | 'uplink' | 'rules' | 'proof' | 'finish';
  readonly title: string;
  /** Ids of the steps that come before. */
  readonly needs: readonly string[];
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
  /** What to read off and write down; empty where a tick is enough. */
  readonly reading: string;
  /** The promises this step is evidence for. */
  readonly evidence: readonly { readonly promise: string; readonly rung: RungId }[];
}

/** How the laptop talks to the router: the address it opens, or none while there is no session. */
export type Session = { readonly kind: 'none' } | { readonly kind: 'router'; readonly address: string };

/** A step as its author writes it; what is left out is empty. */
export type StepDraft = Pick<RunStep, 'id' | 'phase' | 'title' | 'why' | 'proof' | 'ifNot'> &
  Partial<Omit<RunStep, 'session'>>;
