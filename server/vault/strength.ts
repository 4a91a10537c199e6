import { ZxcvbnFactory } from '@zxcvbn-ts/core';
import * as common from '@zxcvbn-ts/language-common';

const judge = new ZxcvbnFactory({ dictionary: common.dictionary, graphs: common.adjacencyGraphs });

/** Words that boxes come with, and what people make of them (common practice, no source). */
const factory =
  /^(admin|password|default|changeme|router|root|user|guest|1234(5(6(7(8(90?)?)?)?)?)?)+[!.]?\d{0,4}$/i;

export interface Strength {
  /** 0 to 4. */
  readonly score: number;
  readonly fit: boolean;
  readonly says: string;
}

/** How hard a secret is to guess. `around` holds words that anyone would try here: the site, the customer. */
export function strengthOf(secret: string, around: readonly string[] = []): Strength {
  if (factory.test(secret))
    return { score: 0, fit: false, says: 'Boxes come with this one, so everybody tries it first.' };
  const { score, feedback } = judge.check(secret.slice(0, 200), [...around]);
  const said = [feedback.warning, ...feedback.suggestions]
    .filter((each) => typeof each === 'string' && / /.test(each))
    .join(' ');
  return score >= 3
    ? { score, fit: true, says: 'Hard to guess.' }
    : {
        score,
        fit: false,
        says:
          said ||
          'Too easy to guess: four or five words that do not belong together are better than one with numbers.',
      };
}
