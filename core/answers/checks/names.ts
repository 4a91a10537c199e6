import { slug } from '../../base/text.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import { step, worked } from '../../base/worked/worked.ts';

const keep = ['internet', 'outside', 'anywhere', 'router'];

/** Names tell things apart on labels, in questions and in the record. */
export const names: Check = {
  name: 'names',
  run: ({ networks, devices, lines }) => {
    const found: Finding[] = [];
    for (const each of [...lines, ...networks, ...devices]) {
      const at = `${each.at}/name` as const;
      const name = each.unnamed ? '' : each.name.trim();
      const base = { at, source: 'the plan itself' } as const;
      const why = worked(
        'Name as used in questions',
        slug(name),
        '',
        [step('typed', name || '(empty)'), step('used as', slug(name) || '(nothing)')],
        'the plan itself',
      );
      if (name === '') {
        found.push({
          ...base,
          rule: 'unnamed',
          severity: 'warning',
          says: 'It has no name, so labels, questions and the record cannot speak of it.',
          why,
        });
        continue;
      }
      if (keep.includes(slug(name)))
        found.push({
          ...base,
          rule: 'kept-name',
          severity: 'warning',
          says: `"${name}" has a meaning of its own in questions; choose another name.`,
          why,
        });
    }
    return found;
  },
};
