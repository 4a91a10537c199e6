import type { At } from '../../plan/at.ts';
import type { Finding } from '../domain-types/finding.ts';
import type { Line } from '../../site/model.ts';
import type { StepDraft } from '../domain-types/step.ts';
import type { Worked } from '../../base/worked/worked.ts';
import type { MediaSettings, MediumName } from '../../plan/schema.ts';

/** The pointer of the settings of a medium. */
export type MediaAt<Name extends MediumName> = `/uplinks/${number}/media/${Name}`;

/** How a link fails to come up, and what somebody in front of it sees. */
export interface LinkFault {
  readonly name: string;
  readonly title: string;
  readonly light: string;
  readonly says: string;
}

/** What a medium does before the first packet can pass (common practice, no source). */
export interface Start {
  readonly seconds: readonly [lowest: number, highest: number];
  readonly searching: string;
  readonly ready: string;
  readonly fault: LinkFault;
  /** The link comes up and is lost again and again. */
  readonly unsteady?: LinkFault;
}

/** What the medium itself carries, whatever the contract says. */
export interface RateLimit {
  readonly by: string;
  readonly downMbps: number | null;
  readonly upMbps: number | null;
  readonly at: At;
  readonly means: string;
  readonly source: string;
  readonly why?: Worked;
}

/** What stands in front of the router. */
export type BoxMode = Line['handoff']['mode'];

/** A medium: what a line is made of, whatever WAN type runs over it. One file each. */
export interface Medium<Name extends MediumName = MediumName> {
  readonly name: Name;
  /** What the lowest rung of evidence is on this medium: the light, and what it says at most. */
  readonly light: string;
  /** What is wrong, beyond fields that cannot be read. `at` is the pointer of the settings. */
  readonly check: (settings: MediaSettings[Name], line: Line, at: MediaAt<Name>) => Finding[];
  /** The arithmetic behind a field. */
  readonly workings: (settings: MediaSettings[Name], line: Line, key: string) => Worked[];
  /** What happens before the router can speak, where it is more than a cable that is plugged in. */
  readonly start?: Start;
  /** How often such a line fails and how long that lasts, where nobody kept a record (common practice, no source). */
  readonly usualFailures: readonly [perYear: number, repairHours: number];
  /** There and back, as far as it was measured on the medium, in milliseconds. */
  readonly roundTripMs?: (settings: MediaSettings[Name]) => number | null;
  /** The rate that the medium carries at most. */
  readonly rateLimit?: (
    settings: MediaSettings[Name],
    line: Line,
    at: MediaAt<Name>,
  ) => RateLimit | undefined;
  /** Its antenna or socket stands outside: a cable has to come in (common practice, no source). */
  readonly outdoors?: true;
  /** What is said before somebody unplugs the line where it enters the building. */
  readonly unplugCautions?: readonly string[];
  /** How it is offered to somebody who is asked what the line is made of, and what it changes. */
  readonly offered?: readonly [title: string, changes: string];
  /** What mostly stands in front of the router (common practice, no source). */
  readonly inFront: BoxMode;
  /** The words that name it in a letter. */
  readonly inText?: readonly RegExp[];
  /** What is measured on the medium before the line is brought up. */
  readonly steps: (settings: MediaSettings[Name], line: Line) => StepDraft[];
}
