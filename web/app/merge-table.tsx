import type { Conflict } from '../../core/index.ts';
import { valueText } from '../parts/value-text.ts';
import { TableHead } from '../parts/table-head.tsx';
import './merge-table.css';

/** What was chosen for each value that differs; what is not chosen stays as it is here. */
export type MergeChoices = Record<string, 'mine' | 'theirs'>;

/** Values that were changed on both sides, each with a choice. */
export function MergeTable({
  conflicts,
  choices,
  choose,
}: {
  conflicts: readonly Conflict[];
  choices: MergeChoices;
  choose: (choices: MergeChoices) => void;
}) {
  if (conflicts.length === 0) return null;
  return (
    <table className="conflicts" aria-label="Changed on both sides">
      <TableHead columns={['Value', 'Before', 'Here', 'There']} />
      <tbody>
        {conflicts.map(({ path, label, base, mine, theirs }) => (
          <tr key={path}>
            <th scope="row">{label}</th>
            <td className="mono">{valueText(base)}</td>
            {(['mine', 'theirs'] as const).map((side) => (
              <td key={side}>
                <label>
                  <input
                    type="radio"
                    name={path}
                    checked={(choices[path] ?? 'mine') === side}
                    onChange={() => choose({ ...choices, [path]: side })}
                  />{' '}
                  <span className="mono">{valueText(side === 'mine' ? mine : theirs)}</span>
                </label>
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
