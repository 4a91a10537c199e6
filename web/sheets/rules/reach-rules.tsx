import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import { memo, useState } from 'react';
import { reachSchema, type Plan } from '../../../core/index.ts';
import { newId } from '../../state/api.ts';
import { usePlanPiece } from '../../state/session.ts';
import { useNetworkChoices, type Choices } from '../../parts/choices.ts';
import { Field } from '../../parts/field.tsx';
import { MoreButton, MoveButtons, RemoveButton, RowTable, useRows } from '../../parts/rows.tsx';
import '../../parts/services.css';

type Reach = Plan['reach'][number];

/** What one network may begin with another, and may not begin outward, row by row: the first that fits decides. */
export function ReachRules() {
  const { ids, add, remove, move } = useRows<Reach>('/reach');
  const networks = useNetworkChoices();
  return (
    <RowTable
      at="/reach"
      columns={[
        ['action', 's'],
        ['from', 'm'],
        ['destination', 'ml'],
        ['Limited to', 'l'],
        ['Order', 's'],
      ]}
      add={() =>
        add(
          reachSchema.parse({ id: newId(), from: networks[0]?.[0] ?? '', to: networks[1]?.[0] ?? '' }),
          'action',
        )
      }
      addLabel="Add a rule"
      empty="No rules: the networks are separate, and everything may go out."
    >
      {ids.map((id, index) => (
        <ReachRow key={id} index={index} count={ids.length} networks={networks} remove={remove} move={move} />
      ))}
    </RowTable>
  );
}

interface RowProps {
  readonly index: number;
  readonly count: number;
  readonly networks: Choices;
  readonly remove: (index: number) => void;
  readonly move: (index: number, by: -1 | 1) => void;
}

const ReachRow = memo(function ReachRow({ index, count, networks, remove, move }: RowProps) {
  const at = `/reach/${index}` as const;
  const row = usePlanPiece((plan) => plan.reach[index]);
  const [open, setOpen] = useState(false);
  if (!row) return null;
  const what = `rule ${index + 1}`;
  return (
    <TableRow data-at={at} tabIndex={-1}>
      <TableCell>
        <Field bare at={`${at}/action`} />
      </TableCell>
      <TableCell>
        <Field bare at={`${at}/from`} choices={networks} />
      </TableCell>
      <TableCell>
        <Field bare at={`${at}/destination`} />
        {row.destination === 'network' && <Field bare at={`${at}/to`} choices={networks} />}
      </TableCell>
      <TableCell>
        <Limits at={at} row={row} more={row.limitMbps !== null || open} />
      </TableCell>
      <TableCell className="order">
        <MoveButtons what={what} index={index} count={count} move={move} />
      </TableCell>
      <TableCell>
        <RemoveButton what={what} onClick={() => remove(index)} />
        {row.action === 'allow' && row.limitMbps === null && (
          <MoreButton what={what} open={open} toggle={() => setOpen(!open)} />
        )}
      </TableCell>
    </TableRow>
  );
});

/** To what of its destination a rule is limited: a device and its service, or addresses, protocol and port. */
function Limits({ at, row, more }: { at: `/reach/${number}`; row: Reach; more: boolean }) {
  const all = usePlanPiece((plan) => plan.devices);
  const inside = row.destination === 'network';
  const devices = inside ? all.filter((device) => device.network === row.to) : [];
  const services = (inside && all.find((device) => device.id === row.device)?.services) || [];
  return (
    <>
      {inside && (devices.length > 0 || row.device !== '') && (
        <Field
          bare
          at={`${at}/device`}
          choices={devices.map((device) => [device.id, device.name || 'unnamed device'] as const)}
        />
      )}
      {inside && (services.length > 0 || row.service !== '') && (
        <Field
          bare
          at={`${at}/service`}
          choices={services.map(
            (service) => [service.id, `${service.name} · ${service.protocol} ${service.ports}`] as const,
          )}
        />
      )}
      {row.destination === 'internet' && <Field bare at={`${at}/prefixes`} />}
      {(!inside || row.service === '') && (
        <span className="typed-service typed-inline">
          <Field bare at={`${at}/protocol`} />
          {((row.protocol !== 'icmp' && row.protocol !== 'any') || row.ports !== '') && (
            <Field bare at={`${at}/ports`} />
          )}
        </span>
      )}
      {more && <Field bare at={`${at}/limitMbps`} placeholder="Mb/s: no limit" />}
    </>
  );
}
