import Button from '@mui/material/Button';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { memo } from 'react';
import {
  type At,
  deviceSchema,
  devicesFromRows,
  newNetwork,
  serviceSchema,
  titleAt,
  usualAt,
  type DevicePlan,
  type NetworkPlan,
  type ServicePlan,
} from '../../../core/index.ts';
import { siteOf } from '../../state/analysis.ts';
import { newId } from '../../state/api.ts';
import { usePlanPiece, useSession } from '../../state/session.ts';
import { useNetworkChoices, type Choices } from '../../parts/choices.ts';
import { Field } from '../../parts/field.tsx';
import { Figures } from '../../parts/figures.tsx';
import { RemoveButton, RowTable, useRows } from '../../parts/rows.tsx';
import { SheetHead } from '../../parts/sheet-head.tsx';
import { AddressMap } from './address-map.tsx';
import { BlockRule } from './block-rule.tsx';
import '../../parts/services.css';

export function Component() {
  const session = useSession();
  const { ids, add, remove } = useRows<NetworkPlan>('/networks');
  const addNetwork = (): void => add(newNetwork(siteOf(session.snapshot().plan), newId()), 'name');
  return (
    <>
      <SheetHead title="Addresses" says="The inside networks, and every device whose address matters." />
      <AddressMap />
      <div data-at="/networks" tabIndex={-1}>
        {ids.map((id, index) => (
          <NetworkCard key={id} index={index} remove={remove} />
        ))}
        {ids.length === 0 && (
          <p className="empty">
            No inside network yet. The first one gets a free private subnet; change what does not suit.
          </p>
        )}
        <div className="row-actions">
          <Button variant={ids.length === 0 ? 'contained' : 'outlined'} onClick={addNetwork}>
            Add a network
          </Button>
        </div>
      </div>
      <Devices />
    </>
  );
}

const NetworkCard = memo(function NetworkCard({
  index,
  remove,
}: {
  index: number;
  remove: (index: number) => void;
}) {
  const network = usePlanPiece((plan) => plan.networks[index]);
  if (!network) return null;
  const at = `/networks/${index}` as const;
  const name = network.name || 'Unnamed network';
  const figures = (
    [
      'dhcp/enabled',
      ...(network.dhcp.enabled ? (['dhcp/from', 'dhcp/to', 'dhcp/leaseMinutes'] as const) : []),
      'stayMinutes',
      'resolvers',
      'limitDownMbps',
      'limitUpMbps',
    ] as const
  ).map((key): At => `${at}/${key}`);
  return (
    <fieldset className="card" aria-label={name} data-at={at} tabIndex={-1}>
      <div className="card-head">
        <Typography variant="h3">{name}</Typography>
        <span className="quiet">
          {titleAt(`${at}/purpose`, network.purpose)},{' '}
          {network.vlan === null ? 'untagged' : `VLAN ${network.vlan}`}
        </span>
        <RemoveButton what={name} onClick={() => remove(index)} />
      </div>
      <BlockRule index={index} />
      <div className="ledger">
        <Field at={`${at}/name`} />
        <Field at={`${at}/purpose`} />
        <Field at={`${at}/vlan`} />
        <Field at={`${at}/prefix`} />
        <Field at={`${at}/routerAddress`} />
        <Field at={`${at}/expectedDevices`} />
      </div>
      <Figures title="DHCP, DNS and limits" of={name} at={figures} says={leaseText(network)}>
        <div className="ledger">
          {figures.map((place) => (
            <Field
              key={place}
              at={place}
              {...(place.endsWith('/stayMinutes') && {
                placeholder: network.purpose === 'guests' ? '120' : 'longer than a lease',
              })}
            />
          ))}
        </div>
      </Figures>
    </fieldset>
  );
});

/** What the router hands out in a network, and what the network may take of the lines. */
function leaseText({ dhcp, resolvers, limitDownMbps, limitUpMbps }: NetworkPlan): string {
  const limit = [
    limitDownMbps === null ? '' : `${limitDownMbps} Mb/s down`,
    limitUpMbps === null ? '' : `${limitUpMbps} Mb/s up`,
  ].filter((each) => each !== '');
  return [
    dhcp.enabled
      ? `DHCP ${dhcp.from} to ${dhcp.to}, lease ${dhcp.leaseMinutes ?? usualAt('/networks/*/dhcp/leaseMinutes')} min`
      : 'no DHCP server',
    resolvers.length === 0 ? 'no DNS server' : `DNS ${resolvers.join(', ')}`,
    limit.length === 0 ? 'no rate limit' : `limited to ${limit.join(', ')}`,
  ].join(' · ');
}

function Devices() {
  const session = useSession();
  const { ids, add, addAll, remove } = useRows<DevicePlan>('/devices');
  const networks = useNetworkChoices();
  const paste = (text: string): string[] => {
    const { rows, notes } = devicesFromRows(text, session.snapshot().plan, newId);
    addAll(rows);
    return [`${rows.length} device${rows.length === 1 ? '' : 's'} added.`, ...notes];
  };
  return (
    <section aria-labelledby="devices" data-at="/devices" tabIndex={-1}>
      <Typography variant="h3" id="devices">
        Devices
      </Typography>
      <RowTable
        at="/devices"
        columns={[
          ['name', 'l'],
          ['mac', 'ml'],
          ['network', 'sm'],
          ['addressing', 'm'],
          ['address', 'm'],
        ]}
        add={() => add(deviceSchema.parse({ id: newId(), network: networks[0]?.[0] ?? '' }), 'name')}
        addLabel="Add a device"
        paste={paste}
        pasteHint="Name, MAC, network and address of each device, one row each, in any order: copied from a spreadsheet, or with commas."
        empty="No devices yet. Only those matter that a forward, an allowance or a person must find again tomorrow."
      >
        {ids.map((id, index) => (
          <DeviceRows key={id} index={index} networks={networks} remove={remove} />
        ))}
      </RowTable>
    </section>
  );
}

/** A device and, below it, its services. */
const DeviceRows = memo(function DeviceRows({
  index,
  networks,
  remove,
}: {
  index: number;
  networks: Choices;
  remove: (index: number) => void;
}) {
  const at = `/devices/${index}` as const;
  const name = usePlanPiece((plan) => plan.devices[index]?.name ?? '');
  return (
    <>
      <TableRow data-at={at} tabIndex={-1}>
        <TableCell>
          <Field bare at={`${at}/name`} />
        </TableCell>
        <TableCell>
          <Field bare at={`${at}/mac`} />
        </TableCell>
        <TableCell>
          <Field bare at={`${at}/network`} choices={networks} />
        </TableCell>
        <TableCell>
          <Field bare at={`${at}/addressing`} />
        </TableCell>
        <TableCell>
          <Field bare at={`${at}/address`} />
        </TableCell>
        <TableCell>
          <RemoveButton what={name || 'device'} onClick={() => remove(index)} />
        </TableCell>
      </TableRow>
      <TableRow className="row-more">
        <TableCell colSpan={6}>
          <Services at={`${at}/services`} of={name} />
        </TableCell>
      </TableRow>
    </>
  );
});

function Services({ at, of }: { at: `/devices/${number}/services`; of: string }) {
  const { ids, add, remove } = useRows<ServicePlan>(at);
  return (
    <div className="services">
      {ids.map((id, index) => (
        <span key={id} className="service">
          <Field bare at={`${at}/${index}/name`} of={of} />
          <Field bare at={`${at}/${index}/protocol`} />
          <Field bare at={`${at}/${index}/ports`} />
          <RemoveButton what={`service ${index + 1} of ${of}`} onClick={() => remove(index)} />
        </span>
      ))}
      <Button
        className="plain"
        variant="text"
        onClick={() => add(serviceSchema.parse({ id: newId() }), 'name')}
      >
        Add a service
      </Button>
    </div>
  );
}
