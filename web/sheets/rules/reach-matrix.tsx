import Table from '@mui/material/Table';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import { reachSchema, type Plan } from '../../../core/index.ts';
import { newId } from '../../state/api.ts';
import { usePlanPiece, useSession } from '../../state/session.ts';
import { MatrixHead } from '../../parts/matrix-head.tsx';
import { Rows } from '../../parts/rows-in-sight.tsx';

/** A rule that lets everything pass. */
const opensAll = (row: Plan['reach'][number]): boolean =>
  row.action === 'allow' && row.device === '' && row.protocol === 'any' && row.ports === '';

/** Who may reach whom at a glance: rows send, columns receive. A cell toggles the allowance for the whole network. */
export function ReachMatrix() {
  const session = useSession();
  const networks = usePlanPiece((plan) => plan.networks);
  const reach = usePlanPiece((plan) => plan.reach);
  if (networks.length < 2)
    return <p className="empty">With one inside network there is nothing to keep apart.</p>;
  const toggle = (from: string, to: string, on: boolean): void => {
    session.edit(
      '/reach',
      on
        ? [...reach, reachSchema.parse({ id: newId(), from, to })]
        : reach.filter((row) => !(row.from === from && row.to === to && opensAll(row))),
    );
    session.settle();
  };
  return (
    <div className="matrix-scroll">
      <Table className="matrix" aria-label="Which network may reach which">
        <MatrixHead columns={networks.map(({ id, name }) => [id, name] as const)} />
        <Rows>
          {networks.map((from) => (
            <TableRow key={from.id}>
              <TableCell component="th" scope="row">
                {from.name}
              </TableCell>
              {networks.map((to) => {
                if (from.id === to.id)
                  return (
                    <TableCell key={to.id} className="matrix-self">
                      itself
                    </TableCell>
                  );
                const rows = reach.filter(
                  (row) => row.from === from.id && row.destination === 'network' && row.to === to.id,
                );
                // A rule that refuses some of it first leaves the rest.
                const all = rows[0] !== undefined && opensAll(rows[0]);
                const word = all ? 'all' : rows.some(({ action }) => action === 'allow') ? 'some' : 'nothing';
                return (
                  <TableCell key={to.id}>
                    <button
                      type="button"
                      className={`matrix-cell matrix-${word}`}
                      aria-pressed={all}
                      aria-label={`${from.name} may reach ${word} of ${to.name}`}
                      onClick={() => toggle(from.id, to.id, !all)}
                    >
                      {word}
                    </button>
                  </TableCell>
                );
              })}
            </TableRow>
          ))}
        </Rows>
      </Table>
    </div>
  );
}
