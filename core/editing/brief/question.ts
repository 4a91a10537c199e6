import type { Facts, LineFacts } from '../../intake/letter/facts.ts';

/** One answer to choose, and what it changes. */
export interface BriefChoice {
  readonly value: string;
  readonly title: string;
  readonly changes: string;
}

/** A question that decides something. */
export interface BriefQuestion {
  readonly id: string;
  readonly asks: string;
  /** What depends on the answer. */
  readonly why: string;
  readonly choices: readonly BriefChoice[];
  /** The answer that stands until somebody gives another, and why it is the likely one. */
  readonly likely: string;
  readonly because: string;
  /** An answer may be typed as well: what it is, and an example. */
  readonly typed?: { readonly term: string; readonly example: string };
  /** Several answers may be given, separated by commas. */
  readonly several?: boolean;
  /** Only the provider knows: "ask" leaves it open, and it stands on the call sheet. */
  readonly provider?: boolean;
}

/** A question with what it does to the facts. */
export interface Asked extends BriefQuestion {
  /** Puts the answer into the facts; `from` says where it came from. Refuses what it cannot read, with a sentence. */
  readonly take: (facts: Facts, answer: string, from: string) => string | void;
}

/** What was chosen on earlier jobs, and is offered again. */
export interface Habits {
  /** Hosts that are probed at other sites, the most usual first. */
  readonly probes: readonly string[];
}

export type Answers = Readonly<Record<string, string>>;

/** The answer that leaves a question to the provider. */
export const askProvider = 'ask';

/** Asks what the facts leave open; what an answer puts into them goes along with the question. */
export type Kind = (facts: Facts, habits: Habits) => Asked[];

export const choice = (value: string, title: string, changes: string): BriefChoice => ({
  value,
  title,
  changes,
});

/** One question of each line that is not answered yet. */
export const eachLine =
  (
    ask: (line: LineFacts, facts: Facts) => Omit<Asked, 'take'> | undefined,
    take: (line: LineFacts, answer: string, from: string) => string | void,
  ): Kind =>
  (facts) =>
    facts.lines.flatMap((line) => {
      const question = ask(line, facts);
      return question
        ? [
            {
              ...question,
              id: `${question.id}:${line.key}`,
              take: (_, answer, from) => take(line, answer, from),
            } as Asked,
          ]
        : [];
    });

/** A question whose answer stands on the paper of the provider, and is typed from it. */
export const fromPaper = (
  ask: (line: LineFacts) => { readonly id: string; readonly asks: string; readonly why: string } | undefined,
  typed: NonNullable<BriefQuestion['typed']>,
  take: (line: LineFacts, answer: string, from: string) => string | void,
): Kind =>
  eachLine((line) => {
    const question = ask(line);
    return (
      question && {
        ...question,
        choices: [],
        likely: askProvider,
        because: 'It stands on the paper of the provider.',
        typed,
        provider: true,
      }
    );
  }, take);
