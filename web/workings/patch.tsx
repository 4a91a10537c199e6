import { labelAt, valueAt, type Patch } from '../../core/index.ts';
import { usePlan } from '../app/session.ts';

const text = (value: unknown): string => {
  if (value === undefined || value === '' || value === null) return 'empty';
  if (Array.isArray(value)) return value.join(', ') || 'empty';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'object')
    return Object.entries(value)
      .filter(([key, inner]) => key !== 'id' && inner !== '')
      .map(([, inner]) => String(inner))
      .join(', ');
  return String(value);
};

/** What a fix changes, value by value, before it is applied. */
export function PatchPreview({ patch }: { patch: Patch }) {
  const plan = usePlan();
  return (
    <table className="patch">
      <tbody>
        {patch.map((operation) => (
          <tr key={operation.path}>
            <th scope="row">{labelAt(plan, operation.path.replace(/\/-$/, ''))}</th>
            <td>
              {operation.op !== 'add' && <del>{text(valueAt(plan, operation.path))}</del>}{' '}
              {operation.op === 'remove' ? (
                'removed'
              ) : (
                <ins>{text('value' in operation ? operation.value : undefined)}</ins>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
