import { useCallback } from 'react';
import {
  forwardSchema,
  forwardsFromRows,
  formatPorts,
  reachSchema,
  routeSchema,
  type ForwardPlan,
  type Plan,
} from '../../core/index.ts';
import { newId } from '../app/api.ts';
import { useSite } from '../app/analysis.ts';
import { usePlan } from '../app/session.ts';
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
        <NarrowReach />
      </section>
      <OutboundNat />
      <Routes />
    </>
  );
}

function Forwards() {
  const plan = usePlan();
  const { rows, add, addAll, remove } = useRows<ForwardPlan>('/forwards');
  const paste = useCallback(
    (text: string): string[] => {
      const { rows: more, notes } = forwardsFromRows(text, plan, newId);
      addAll(more);
      return [`${more.length} forward${more.length === 1 ? '' : 's'} added.`, ...notes];
    },
    [plan, addAll],
  );
  const uplinks = plan.uplinks.map((uplink) => [uplink.id, uplink.name || 'unnamed uplink'] as const);
  const devices = plan.devices.map((device) => [device.id, device.name || 'unnamed device'] as const);
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
        add={() => add(forwardSchema.parse({ id: newId(), uplink: plan.uplinks[0]?.id ?? '' }), 'purpose')}
        addLabel="Add a forward"
        paste={paste}
        pasteHint="Outside port, protocol, device, inside port and what for, one row each: copied from a spreadsheet, or with commas."
        empty="Nothing is let in from outside. That is the safest rule there is."
      >
        {rows.map((forward, index) => {
          const at = `/forwards/${index}`;
          return (
            <tr key={forward.id} data-at={at} tabIndex={-1}>
              <td>
                <TextField bare wrap at={`${at}/purpose`} label="What for" />
              </td>
              <td>
                <ChoiceField bare at={`${at}/uplink`} label="Uplink" choices={uplinks} />
              </td>
              <td>
                <OutsidePort index={index} />
              </td>
              <td>
                <ChoiceField bare at={`${at}/device`} label="Device" choices={devices} />
              </td>
              <td>
                <ServiceCell index={index} forward={forward} />
              </td>
              <td>
                <ListField bare at={`${at}/sources`} label="Allowed sources" placeholder="everybody" />
              </td>
              <td>
                <RemoveButton what={forward.purpose || 'forward'} onClick={() => remove(index)} />
              </td>
            </tr>
          );
        })}
      </RowTable>
    </section>
  );
}

/** The outside port; left empty it is the inside one, which is shown in its place. */
function OutsidePort({ index }: { index: number }) {
  const inside = useSite().forwards[index]?.inside;
  return (
    <TextField
      bare
      mono
      at={`/forwards/${index}/outsidePorts`}
      label="Outside port"
      placeholder={inside ? formatPorts(inside) : 'port'}
    />
  );
}

/** A service of the device, or a protocol and port typed here for a device that lists none. */
function ServiceCell({ index, forward }: { index: number; forward: ForwardPlan }) {
  const plan = usePlan();
  const at = `/forwards/${index}`;
  const services = plan.devices.find((device) => device.id === forward.device)?.services ?? [];
  return (
    <div className="service-cell">
      {(services.length > 0 || forward.service !== '') && (
        <ChoiceField
          bare
          at={`${at}/service`}
          label="Service"
          choices={[
            ...services.map(
              (service) =>
                [service.id, `${service.name || 'service'} · ${service.protocol} ${service.ports}`] as const,
            ),
            ['', 'typed here'],
          ]}
        />
      )}
      {forward.service === '' && (
        <span className="typed-service">
          <ChoiceField
            bare
            mono
            at={`${at}/protocol`}
            label="Protocol"
            choices={[
              ['tcp', 'tcp'],
              ['udp', 'udp'],
              ['both', 'both'],
            ]}
          />
          <TextField bare mono at={`${at}/insidePorts`} label="Inside port" placeholder="port" />
        </span>
      )}
    </div>
  );
}

/** Allowances that name one device or one of its services. */
function NarrowReach() {
  const plan = usePlan();
  const { rows, add, remove } = useRows<Reach>('/reach');
  const networks = plan.networks.map((network) => [network.id, network.name || 'unnamed network'] as const);
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
          reachSchema.parse({
            id: newId(),
            from: plan.networks[0]?.id ?? '',
            to: plan.networks[1]?.id ?? '',
          }),
          'from',
        )
      }
      addLabel="Add an allowance"
      empty="No allowances: the networks are apart."
    >
      {rows.map((row, index) => {
        const at = `/reach/${index}`;
        const devices = plan.devices.filter((device) => device.network === row.to);
        const services = plan.devices.find((device) => device.id === row.device)?.services ?? [];
        return (
          <tr key={row.id} data-at={at} tabIndex={-1}>
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
                    (service) =>
                      [service.id, `${service.name} · ${service.protocol} ${service.ports}`] as const,
                  ),
                ]}
              />
            </td>
            <td>
              <RemoveButton what="allowance" onClick={() => remove(index)} />
            </td>
          </tr>
        );
      })}
    </RowTable>
  );
}

function OutboundNat() {
  const plan = usePlan();
  return (
    <section aria-labelledby="outbound">
      <h3 id="outbound">On the way out</h3>
      {plan.uplinks.length === 0 && <p className="empty">No uplink yet.</p>}
      <div className="ledger">
        {plan.uplinks.map((uplink, index) => (
          <SwitchField
            key={uplink.id}
            at={`/uplinks/${index}/sourceNat`}
            label={`Source NAT on ${uplink.name || 'unnamed uplink'}`}
            on="on"
            off="off"
          />
        ))}
      </div>
    </section>
  );
}

function Routes() {
  const { rows, add, remove } = useRows<StaticRoute>('/routes');
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
        {rows.map((row, index) => (
          <tr key={row.id} data-at={`/routes/${index}`} tabIndex={-1}>
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
              <RemoveButton what="route" onClick={() => remove(index)} />
            </td>
          </tr>
        ))}
      </RowTable>
    </section>
  );
}
