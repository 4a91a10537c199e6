import { step, worked } from '../../base/worked/worked.ts';
import { fieldAt } from '../../plan/places.ts';
import { replacing, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { FormProblem } from '../../site/model.ts';

/** Fields that cannot be read, and needed ones that are empty. */
export const form: Check = {
  name: 'form',
  run: ({ problems }) =>
    problems.map((problem): Finding => ({
      rule: problem.code === 'empty' ? 'missing' : problem.code,
      severity: problem.needed ? 'blocker' : 'warning',
      at: problem.at,
      says:
        problem.code === 'empty'
          ? `${problem.term}${of(problem)} is missing, so nothing that needs it can be computed or entered.`
          : `${problem.term}${of(problem)}: ${problem.says}`,
      why: worked(
        problem.term,
        null,
        '',
        [
          step('typed', problem.typed.trim() === '' ? '(empty)' : problem.typed),
          step('read as', problem.code === 'empty' ? 'nothing yet' : 'nothing that fits'),
        ],
        'form of the field',
      ),
      source: 'form of the field',
      ...(problem.code === 'out-of-bounds' && usualFix(problem)),
    })),
};

/** " of Office": the name of the row that the field is in. */
const of = ({ owner }: FormProblem): string => (owner === '' ? '' : ` of ${owner}`);

/** A figure that cannot be can always give way to the usual one, where there is one. */
function usualFix({ at }: FormProblem): Pick<Finding, 'fix'> {
  const field = fieldAt(at);
  return field?.kind === 'number' && field.usual
    ? {
        fix: replacing(
          `Use the usual value, ${field.usual.value}${field.unit && ` ${field.unit}`}`,
          at,
          null,
        ),
      }
    : {};
}
