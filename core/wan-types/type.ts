import type { Finding } from '../behaviour/domain-types/finding.ts';
import type { Entry, StepDraft } from '../behaviour/domain-types/step.ts';
import type { Code } from '../base/encode/index.ts';
import type { Link } from '../base/worked/stack.ts';
import type { Worked } from '../base/worked/worked.ts';
import type { MediumName } from '../plan/schema.ts';
import type { Line } from '../site/model.ts';
import type { WanTypeName } from './names.ts';
import type { LineFact } from './profile.ts';

/** The pointer of the settings of a WAN type. */
export type SettingsAt<Name extends WanTypeName> = `/uplinks/${number}/settings/${Name}`;

/** Something that the paperwork of a line can hold. */
export type Paper = Line['papers'][number];

/** What is known of a line before its WAN type is. */
export interface Signs {
  readonly medium: MediumName;
  readonly papers: ReadonlySet<Paper>;
  readonly boxRoutes: boolean;
}

/** What speaks for a WAN type, or against it (common practice, no source). */
export interface Clue {
  /** How much it counts; negative speaks against. */
  readonly weight: number;
  readonly holds: (signs: Signs) => boolean;
  readonly says: string;
}

export const has =
  (...papers: Paper[]) =>
  (signs: Signs): boolean =>
    papers.every((paper) => signs.papers.has(paper));
export const madeOf =
  (...media: MediumName[]) =>
  ({ medium }: Signs): boolean =>
    media.includes(medium);

/** A WAN type: everything Netter knows about one way of getting a line, beyond its profile. One folder each. */
export interface WanType<Name extends WanTypeName = WanTypeName> {
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
  /** The line ends in the router itself: there is no port, no cable and no link to wait for. */
  readonly inRouter?: true;
  /** Wrappings of each packet above the frame, outermost first, by their names in core/base/worked/stack.ts. */
  readonly stack: readonly string[];
  /** The Ethernet below, where it is not the usual one. */
  readonly link?: (line: Line) => Link;
  /** Where the next hop comes from: what is entered, what the line tells, or a session with one far end. */
  readonly nextHop: 'entered' | 'offered' | 'session';
  /** How a general-purpose system makes the interface of a session on a port. */
  readonly sessionHint?: (port: string, name: string) => Code<'markdown'>;
  /** The paperwork that such a line makes use of. */
  readonly uses: (line: Line) => readonly Paper[];
  /** What speaks for it and against it. */
  readonly clues: readonly Clue[];
  /** The words that name it in a letter, and as the choice on a router's page. */
  readonly inText?: RegExp;
  readonly onPage?: RegExp;
  /** Settings that follow from facts being stated. */
  readonly implied?: (stated: ReadonlySet<LineFact>) => Readonly<Record<string, unknown>>;
}
