import type { Facts } from '../../intake/letter/facts.ts';
import { askProvider, type Answers, type BriefQuestion, type Habits } from './question.ts';
import { questionKinds } from './questions.ts';

export interface Interview {
  readonly questions: readonly (BriefQuestion & {
    readonly answer: string | undefined;
    /** Why a typed answer was not taken. */
    readonly problem: string | undefined;
  })[];
  /** The facts with all answers in them; an open question stands as its likely answer. */
  readonly facts: Facts;
}

/**
 * What is still to be asked, in order, and the facts as far as they go. A question without an answer counts as its
 * likely one, so that there is a whole plan at every moment; an empty answer is a question that was skipped.
 */
export function interview(read: Facts, answers: Answers, habits: Habits = { probes: [] }): Interview {
  const facts = structuredClone(read);
  const questions: Interview['questions'][number][] = [];
  for (const kind of questionKinds)
    for (const { take, ...question } of kind(facts, habits)) {
      const answer = answers[question.id];
      const given = answer === undefined || answer === '' ? question.likely : answer;
      const title = question.choices.find(({ value }) => value === given)?.title ?? given;
      const from =
        given === answer
          ? `Answered: ${question.asks} ${title}.`
          : `Usual value: ${title}. ${question.because}`;
      const problem = given === askProvider ? undefined : (take(facts, given, from) ?? undefined);
      if (problem !== undefined && question.likely !== askProvider) take(facts, question.likely, from);
      questions.push({ ...question, answer, problem });
    }
  return { questions, facts };
}
