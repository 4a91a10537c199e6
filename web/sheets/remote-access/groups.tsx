import Button from '@mui/material/Button';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { vpnGrantSchema, vpnGroupSchema, type GroupPlan } from '../../../core/index.ts';
import { newId } from '../../state/api.ts';
import { usePlanPiece } from '../../state/session.ts';
import { useDeviceChoices, useNetworkChoices } from '../../parts/choices.ts';
import { Field } from '../../parts/field.tsx';
import { RemoveButton, RowTable, useRows } from '../../parts/rows.tsx';

type Grant = GroupPlan['grants'][number];

/** Groups of people, and the least that each needs. */
export function Groups() {
  const { ids, add, remove } = useRows<GroupPlan>('/vpn/groups');
  return (
    <section aria-labelledby="groups" data-at="/vpn/groups" tabIndex={-1}>
      <Typography variant="h3" id="groups">
        Groups and what each may reach
      </Typography>
      {ids.map((id, index) => (
        <GroupCard key={id} index={index} remove={remove} />
      ))}
      {ids.length === 0 && (
        <p className="empty">
          No group yet. Begin with the least: one service of one device for one kind of person.
        </p>
      )}
      <div className="row-actions">
        <Button onClick={() => add(vpnGroupSchema.parse({ id: newId() }), 'name')}>Add a group</Button>
      </div>
    </section>
  );
}

function GroupCard({ index, remove }: { index: number; remove: (index: number) => void }) {
  const at = `/vpn/groups/${index}` as const;
  const name = usePlanPiece((plan) => plan.vpn.groups[index]?.name ?? '');
  const { ids, add, remove: removeGrant } = useRows<Grant>(`${at}/grants`);
  const networks = useNetworkChoices();
  const devices = useDeviceChoices();
  const grants = usePlanPiece((plan) => plan.vpn.groups[index]?.grants);
  const all = usePlanPiece((plan) => plan.devices);
  const servicesOf = (device: string | undefined) =>
    (all.find(({ id }) => id === device)?.services ?? []).map(
      (service) => [service.id, service.name || service.ports] as const,
    );
  return (
    <fieldset className="card" aria-label={name || 'unnamed group'} data-at={at} tabIndex={-1}>
      <div className="ledger">
        <Field at={`${at}/name`} />
        <Field at={`${at}/tunnel`} />
        <span className="secret-field">
          <Field at={`${at}/manages`} />
          <RemoveButton what={name || 'group'} onClick={() => remove(index)} />
        </span>
      </div>
      <div data-at={`${at}/grants`} tabIndex={-1}>
        <RowTable
          at={`${at}/grants`}
          of={name || 'the group'}
          columns={[
            ['network', 'm'],
            ['device', 'l'],
            ['service', 'm'],
          ]}
          add={() => add(vpnGrantSchema.parse({ id: newId() }), 'device')}
          addLabel="Add a grant"
          empty="Reaches nothing yet."
        >
          {ids.map((id, row) => (
            <TableRow key={id} data-at={`${at}/grants/${row}`} tabIndex={-1}>
              <TableCell>
                {grants?.[row]?.device ? (
                  <span className="quiet cell-text">that of the device</span>
                ) : (
                  <Field bare at={`${at}/grants/${row}/network`} choices={networks} />
                )}
              </TableCell>
              <TableCell>
                <Field bare at={`${at}/grants/${row}/device`} choices={devices} />
              </TableCell>
              <TableCell>
                <Field bare at={`${at}/grants/${row}/service`} choices={servicesOf(grants?.[row]?.device)} />
              </TableCell>
              <TableCell>
                <RemoveButton what={`grant ${row + 1}`} onClick={() => removeGrant(row)} />
              </TableCell>
            </TableRow>
          ))}
        </RowTable>
      </div>
    </fieldset>
  );
}
