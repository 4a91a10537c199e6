import { step, worked } from '../worked/worked.ts';
import type { Check } from '../site/finding.ts';
import { valueAt } from '../plan/patch.ts';

/** Fields that cannot be read, and needed ones that are empty. */
export const form: Check = {
  name: 'form',
  run: ({ problems, plan }) =>
    problems.map((problem) => ({
      rule: problem.code === 'empty' ? 'missing' : problem.code,
      severity: problem.needed ? 'blocker' : 'warning',
      at: problem.at,
      says:
        problem.code === 'empty'
          ? `${problem.label}${owner(plan, problem.at)} is missing, so nothing that needs it can be computed or entered.`
          : `${problem.label}${owner(plan, problem.at)}: ${problem.says}`,
      why: worked(
        problem.label,
        null,
        '',
        [
          step('typed', typed(valueAt(plan, problem.at))),
          step('read as', problem.code === 'empty' ? 'nothing yet' : 'nothing that fits'),
        ],
        'form of the field',
      ),
      source: 'form of the field',
    })),
};

const typed = (value: unknown): string => {
  const text = Array.isArray(value) ? value.join(', ') : String(value ?? '');
  return text.trim() === '' ? '(empty)' : text;
};

/** " of Office": the name of the row that the field is in. */
function owner(plan: unknown, at: string): string {
  const row = /^\/[a-z]+\/\d+/.exec(at)?.[0];
  const named =
    row && (valueAt(plan, row) as { name?: string; purpose?: string; model?: string } | undefined);
  const name = named && (named.name || named.model);
  return name ? ` of ${name}` : '';
}
