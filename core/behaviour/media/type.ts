import type { Finding } from '../domain-types/finding.ts';
import type { Line } from '../../site/model.ts';
import type { StepDraft } from '../domain-types/step.ts';
import type { Worked } from '../../base/worked/worked.ts';
import type { MediaSettings, MediumName } from '../../plan/schema.ts';

/** The pointer of the settings of a medium. */
export type MediaAt<Name extends MediumName> = `/uplinks/${number}/media/${Name}`;

/** A medium: what a line is made of, whatever WAN type runs over it. One file each. */
export interface Medium<Name extends MediumName = MediumName> {
  readonly name: Name;
  /** What the lowest rung of evidence is on this medium: the light, and what it says at most. */
  readonly light: string;
  /** What is wrong, beyond fields that cannot be read. `at` is the pointer of the settings. */
  readonly check: (settings: MediaSettings[Name], line: Line, at: MediaAt<Name>) => Finding[];
  /** The arithmetic behind a field. */
  readonly workings: (settings: MediaSettings[Name], line: Line, key: string) => Worked[];
  /** What is measured on the medium before the line is brought up. */
  readonly steps: (settings: MediaSettings[Name], line: Line) => StepDraft[];
}
