import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import { applyPatch, labelAt, valueAt, valueText, type Patch } from '../../core/index.ts';
import { useMemo } from 'react';
import { usePlan } from '../state/session.ts';
import { ReachChanges } from '../parts/reach-changes.tsx';

/** What a fix changes, value by value, and what it opens and closes, before it is applied. */
export function PatchPreview({ patch }: { patch: Patch }) {
  const plan = usePlan();
  const after = useMemo(() => {
    const applied = applyPatch(plan, patch);
    return applied.ok ? applied.value : undefined;
  }, [plan, patch]);
  return (
    <>
      <Table className="patch">
        <TableBody>
          {patch.map((operation) => (
            <TableRow key={operation.path}>
              <TableCell component="th" scope="row">
                {labelAt(plan, operation.path.replace(/\/-$/, ''))}
              </TableCell>
              <TableCell>
                {operation.op !== 'add' && (
                  <del>{valueText(plan, operation.path, valueAt(plan, operation.path))}</del>
                )}{' '}
                {operation.op === 'remove' ? (
                  'removed'
                ) : (
                  <ins>
                    {valueText(
                      after ?? plan,
                      operation.path,
                      'value' in operation ? operation.value : undefined,
                    )}
                  </ins>
                )}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      {after && <ReachChanges before={plan} after={after} />}
    </>
  );
}
