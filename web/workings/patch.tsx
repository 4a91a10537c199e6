import { applyPatch, labelAt, valueAt, type Patch } from '../../core/index.ts';
import { useMemo } from 'react';
import { usePlan } from '../app/session.ts';
import { ReachChanges } from '../parts/reach-changes.tsx';
import { valueText } from '../parts/value-text.ts';

/** What a fix changes, value by value, and what it opens and closes, before it is applied. */
export function PatchPreview({ patch }: { patch: Patch }) {
  const plan = usePlan();
  const after = useMemo(() => {
    const applied = applyPatch(plan, patch);
    return applied.ok ? applied.value : undefined;
  }, [plan, patch]);
  return (
    <>
      <table className="patch">
        <tbody>
          {patch.map((operation) => (
            <tr key={operation.path}>
              <th scope="row">{labelAt(plan, operation.path.replace(/\/-$/, ''))}</th>
              <td>
                {operation.op !== 'add' && <del>{valueText(valueAt(plan, operation.path))}</del>}{' '}
                {operation.op === 'remove' ? (
                  'removed'
                ) : (
                  <ins>{valueText('value' in operation ? operation.value : undefined)}</ins>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {after && <ReachChanges before={plan} after={after} />}
    </>
  );
}
