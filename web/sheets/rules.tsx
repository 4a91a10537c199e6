import { memo } from 'react';
import {
  forwardSchema,
  forwardsFromRows,
  reachSchema,
  routeSchema,
  type ForwardPlan,
  type Plan,
} from '../../core/index.ts';
import { newId } from '../app/api.ts';
import { usePlanPiece, useSession } from '../app/session.ts';
import {
  protocolChoices,
  useDeviceChoices,
  useNetworkChoices,
  useUplinkChoices,
  type Choices,
} from '../parts/choices.ts';
import { ChoiceField, ListField, SwitchField, TextField } from '../parts/field.tsx';
import { RemoveButton, RowTable, useRows } from '../parts/rows.tsx';
import { SheetHead } from '../parts/sheet-head.tsx';
import { ReachMatrix } from './reach-matrix.tsx';

type Reach = Plan['reach'][number];
type StaticRoute = Plan['routes'][number];

export function Component() {
  return (
    <>
      <SheetHead
        title="Rules"
        says="What may pass. Inside goes out; everything else is refused unless it stands here."
      />
      <Forwards />
      <section aria-labelledby="between" data-at="/reach" tabIndex={-1}>
        <h3 id="between">Between inside networks</h3>
        <ReachMatrix />
        <Allowances />
      </section>
      <OutboundNat />
      <Routes />
    </>
  );
}

function Forwards() {
  const session = useSession();
  const { ids, add, addAll, remove } = useRows<ForwardPlan>('/forwards');
  const uplinks = useUplinkChoices();
  const devices = useDeviceChoices();
  const paste = (text: string): string[] => {
    const { rows, notes } = forwardsFromRows(text, session.snapshot().plan, newId);
    addAll(rows);
    return [`${rows.length} forward${rows.length === 1 ? '' : 's'} added.`, ...notes];
  };
  return (
    <section aria-labelledby="forwards" data-at="/forwards" tabIndex={-1}>
      <h3 id="forwards">Let in from outside</h3>
      <RowTable
        label="Forwards"
        headings={[
          ['What for', 'l'],
          ['Uplink', 'xs'],
          ['Outside', 'xxs'],
          ['Device', 'm'],
          ['Service', 'm'],
          ['Allowed sources', 'ml'],
        ]}
        add={() => add(forwardSchema.parse({ id: newId(), uplink: uplinks[0]?.[0] ?? '' }), 'purpose')}
        addLabel="Add a forward"
        paste={paste}
        pasteHint="Outside port, protocol, device, inside port and what for, one row each: copied from a spreadsheet, or with commas."
        empty="Nothing is let in from outside. That is the safest rule there is."
      >
        {ids.map((id, index) => (
          <ForwardRow key={id} index={index} uplinks={uplinks} devices={devices} remove={remove} />
        ))}
      </RowTable>
    </section>
  );
}

interface ForwardRowProps {
  readonly index: number;
  readonly uplinks: Choices;
  readonly devices: Choices;
  readonly remove: (index: number) => void;
}

const ForwardRow = memo(function ForwardRow({ index, uplinks, devices, remove }: ForwardRowProps) {
  const at = `/forwards/${index}`;
  const forward = usePlanPiece((plan) => plan.forwards[index]);
  const services = usePlanPiece(
    (plan) => plan.devices.find((device) => device.id === plan.forwards[index]?.device)?.services,
  );
  if (!forward) return null;
  const chosen = services?.find((service) => service.id === forward.service);
  const inside = forward.service === '' ? forward.insidePorts : (chosen?.ports ?? '');
  return (
    <tr data-at={at} tabIndex={-1}>
      <td>
        <TextField bare wrap at={`${at}/purpose`} label="What for" />
      </td>
      <td>
        <ChoiceField bare at={`${at}/uplink`} label="Uplink" choices={uplinks} />
      </td>
      <td>
        <TextField
          bare
          mono
          at={`${at}/outsidePorts`}
          label="Outside port"
          hint="Empty: the same as inside"
          placeholder={inside || 'port'}
        />
      </td>
      <td>
        <ChoiceField bare at={`${at}/device`} label="Device" choices={devices} />
      </td>
      <td>
        {((services?.length ?? 0) > 0 || forward.service !== '') && (
          <ChoiceField
            bare
            at={`${at}/service`}
            label="Service"
            choices={[
              ...(services ?? []).map(
                (service) =>
                  [
                    service.id,
                    `${service.name || 'service'} · ${service.protocol} ${service.ports}`,
                  ] as const,
              ),
              ['', 'typed here'],
            ]}
          />
        )}
        {forward.service === '' && (
          <span className="typed-service">
            <ChoiceField bare mono at={`${at}/protocol`} label="Protocol" choices={protocolChoices} />
            <TextField bare mono at={`${at}/insidePorts`} label="Inside port" placeholder="port" />
          </span>
        )}
      </td>
      <td>
        <ListField bare at={`${at}/sources`} label="Allowed sources" placeholder="everybody" />
      </td>
      <td>
        <RemoveButton what={forward.purpose || 'forward'} onClick={() => remove(index)} />
      </td>
    </tr>
  );
});

/** What one network may reach of another: all of it, one device, or one of its services. */
function Allowances() {
  const { ids, add, remove } = useRows<Reach>('/reach');
  const networks = useNetworkChoices();
  return (
    <RowTable
      label="Allowances between networks"
      headings={[
        ['From', 'm'],
        ['To', 'm'],
        ['Only this device', 'm'],
        ['Only this service', 'l'],
      ]}
      add={() =>
        add(
          reachSchema.parse({ id: newId(), from: networks[0]?.[0] ?? '', to: networks[1]?.[0] ?? '' }),
          'from',
        )
      }
      addLabel="Add an allowance"
      empty="No allowances: the networks are apart."
    >
      {ids.map((id, index) => (
        <AllowanceRow key={id} index={index} networks={networks} remove={remove} />
      ))}
    </RowTable>
  );
}

const AllowanceRow = memo(function AllowanceRow({
  index,
  networks,
  remove,
}: {
  index: number;
  networks: Choices;
  remove: (index: number) => void;
}) {
  const at = `/reach/${index}`;
  const row = usePlanPiece((plan) => plan.reach[index]);
  const all = usePlanPiece((plan) => plan.devices);
  if (!row) return null;
  const devices = all.filter((device) => device.network === row.to);
  const services = all.find((device) => device.id === row.device)?.services ?? [];
  return (
    <tr data-at={at} tabIndex={-1}>
      <td>
        <ChoiceField bare at={`${at}/from`} label="From" choices={networks} />
      </td>
      <td>
        <ChoiceField bare at={`${at}/to`} label="To" choices={networks} />
      </td>
      <td>
        <ChoiceField
          bare
          at={`${at}/device`}
          label="Only this device"
          choices={[
            ['', 'all of it'],
            ...devices.map((device) => [device.id, device.name || 'unnamed device'] as const),
          ]}
        />
      </td>
      <td>
        <ChoiceField
          bare
          at={`${at}/service`}
          label="Only this service"
          choices={[
            ['', 'all'],
            ...services.map(
              (service) => [service.id, `${service.name} · ${service.protocol} ${service.ports}`] as const,
            ),
          ]}
        />
      </td>
      <td>
        <RemoveButton what={`allowance ${index + 1}`} onClick={() => remove(index)} />
      </td>
    </tr>
  );
});

function OutboundNat() {
  const uplinks = useUplinkChoices();
  return (
    <section aria-labelledby="outbound">
      <h3 id="outbound">On the way out</h3>
      {uplinks.length === 0 && <p className="empty">No uplink yet.</p>}
      <div className="ledger">
        {uplinks.map(([id, name], index) => (
          <SwitchField
            key={id}
            at={`/uplinks/${index}/sourceNat`}
            label={`Source NAT on ${name}`}
            on="on"
            off="off"
          />
        ))}
      </div>
    </section>
  );
}

function Routes() {
  const { ids, add, remove } = useRows<StaticRoute>('/routes');
  return (
    <section aria-labelledby="routes" data-at="/routes" tabIndex={-1}>
      <h3 id="routes">Static routes</h3>
      <RowTable
        label="Static routes"
        headings={[
          ['Block', 'm'],
          ['Next hop', 'm'],
          ['Notes', 'l'],
        ]}
        add={() => add(routeSchema.parse({ id: newId() }), 'prefix')}
        addLabel="Add a route"
        empty="None: every block is directly connected, and the rest goes out by the first uplink that is up."
      >
        {ids.map((id, index) => (
          <tr key={id} data-at={`/routes/${index}`} tabIndex={-1}>
            <td>
              <TextField bare mono at={`/routes/${index}/prefix`} label="Block" />
            </td>
            <td>
              <TextField bare mono at={`/routes/${index}/via`} label="Next hop" />
            </td>
            <td>
              <TextField bare at={`/routes/${index}/notes`} label="Notes" />
            </td>
            <td>
              <RemoveButton what={`route ${index + 1}`} onClick={() => remove(index)} />
            </td>
          </tr>
        ))}
      </RowTable>
    </section>
  );
}
