import Sequencer from '@jest/test-sequencer';

/** Suites that start programs, click pages or open databases take longest, however few lines they have. */
const weights = [/\/server\/main\.test|\.page\.test\.tsx$/, /\/server\//, /\/(?:kernel|web\/sheets)\//];
const weightOf = ({ path }) => {
  const found = weights.findIndex((each) => each.test(path));
  return found < 0 ? weights.length : found;
};

/** On a fresh clone nothing is known of earlier runs: a long suite that began last would hold up the end. */
export default class LongestFirst extends Sequencer {
  sort(tests) {
    return super.sort(tests).sort((a, b) => weightOf(a) - weightOf(b));
  }
}
