import type { Finding } from '../behaviour/domain-types/finding.ts';
import type { Line } from '../site/model.ts';
import type { Entry, StepDraft } from '../behaviour/domain-types/step.ts';
import type { Worked } from '../base/worked/worked.ts';
import type { UplinkTypeName } from '../plan/schema.ts';

/** The pointer of the settings of a WAN type. */
export type SettingsAt<Name extends UplinkTypeName> = `/uplinks/${number}/settings/${Name}`;

/** A WAN type: everything Netter knows about one way of getting a line. One folder each. */
export interface UplinkType<Name extends UplinkTypeName = UplinkTypeName> {
  readonly name: Name;
  /** When this is the type, in one sentence. */
  readonly says: string;
  /** What is wrong with this line, beyond fields that cannot be read. `at` is the pointer of the settings. */
  readonly check: (line: Line, at: SettingsAt<Name>) => Finding[];
  /** The arithmetic behind a field. */
  readonly workings: (line: Line, key: string) => Worked[];
  /** What to enter on the router, and what to look at afterwards. */
  readonly entries: (line: Line) => Entry[];
  /** Steps before the line is brought up; `uplink:…` waits for them. */
  readonly steps?: (line: Line) => StepDraft[];
  readonly bringUp: (
    line: Line,
  ) => Pick<StepDraft, 'proof' | 'ifNot' | 'lowSeconds' | 'highSeconds' | 'cautions'>;
}
