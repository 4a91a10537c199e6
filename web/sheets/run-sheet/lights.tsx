import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import { titleAt, type RunStep } from '../../../core/index.ts';
import { usePlanPiece } from '../../state/session.ts';

/** Steps in which somebody looks at lights. */
const looking =
  /^(?:laptop|first-login|reset|light|sync|modem|box|uplink|forget|old-session|power-cut|restore)/;

/** The legend of each box's card: what is seen says which stage is reached, and what to try. */
export function Lights({ step, note }: { step: RunStep; note: (text: string) => void }) {
  const kit = usePlanPiece((plan) => plan.kit);
  if (!looking.test(step.id)) return null;
  const boxes = kit.flatMap((item, index) =>
    item.card.lights.length > 0 ? [{ item, at: `/kit/${index}` }] : [],
  );
  if (boxes.length === 0) return null;
  return (
    <details className="lights">
      <summary>What do the lights show?</summary>
      {boxes.map(({ item, at }) => (
        <Table key={at} aria-label={`Lights of ${item.model || titleAt(`${at}/role`, item.role)}`}>
          <caption>
            {item.model || titleAt(`${at}/role`, item.role)}
            {item.card.source !== '' && <span className="quiet"> ({item.card.source})</span>}
          </caption>
          <TableBody>
            {item.card.lights.map((light, index) => (
              <TableRow key={light.id}>
                <TableCell component="th" scope="row">
                  <button
                    type="button"
                    className="timer-chip"
                    onClick={() => note(`${light.light}: ${light.shows}`)}
                    title="Put it into the note"
                  >
                    {light.light}: {light.shows}
                  </button>
                </TableCell>
                <TableCell>{titleAt(`${at}/card/lights/${index}/stage`, light.stage)}</TableCell>
                <TableCell>{light.tryThis}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      ))}
    </details>
  );
}
