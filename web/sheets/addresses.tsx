import Button from '@mui/material/Button';
import { memo } from 'react';
import {
  addressings,
  compile,
  deviceSchema,
  devicesFromRows,
  formatAddress,
  formatPrefix,
  freeBlock,
  hostsOf,
  networkSchema,
  purposes,
  serviceSchema,
  type DevicePlan,
  type NetworkPlan,
  type ServicePlan,
} from '../../core/index.ts';
import { newId } from '../app/api.ts';
import { usePlanPiece, useSession } from '../app/session.ts';
import { protocolChoices, useNetworkChoices, type Choices } from '../parts/choices.ts';
import { ChoiceField, ListField, NumberField, SwitchField, TextField } from '../parts/field.tsx';
import { RemoveButton, RowTable, useRows } from '../parts/rows.tsx';
import { SheetHead } from '../parts/sheet-head.tsx';
import { BlockRule } from './block-rule.tsx';

export const purposeWords: Record<(typeof purposes)[number], string> = {
  staff: 'staff',
  guests: 'guests',
  payment: 'payment',
  plant: 'plant and machines',
  voice: 'telephones',
  management: 'management',
  other: 'other',
};
const addressingWords: Record<(typeof addressings)[number], string> = {
  automatic: 'automatic',
  reserved: 'reserved',
  fixed: 'set by hand',
};

const purposeChoices = purposes.map((purpose) => [purpose, purposeWords[purpose]] as const);
const addressingChoices = addressings.map((each) => [each, addressingWords[each]] as const);

export function Component() {
  const session = useSession();
  const { ids, add, remove } = useRows<NetworkPlan>('/networks');
  const addNetwork = (): void => {
    const { plan } = session.snapshot();
    const used = new Set(plan.networks.map((network) => network.vlan));
    let vlan = 10;
    while (used.has(vlan)) vlan += 10;
    const block = freeBlock(compile(plan), 24, vlan);
    const hosts = block && hostsOf(block);
    const host = (offset: bigint): string =>
      hosts ? formatAddress({ family: 4, value: hosts.first.value + offset }) : '';
    add(
      networkSchema.parse({
        id: newId(),
        vlan,
        prefix: block ? formatPrefix(block) : '',
        routerAddress: host(0n),
        dhcp: { from: host(99n), to: host(198n), leaseMinutes: 480 },
        resolvers: hosts ? [host(0n)] : [],
      }),
      'name',
    );
  };
  return (
    <>
      <SheetHead title="Addresses" says="The inside networks, and every device whose address matters." />
      <div data-at="/networks" tabIndex={-1}>
        {ids.map((id, index) => (
          <NetworkCard key={id} index={index} remove={remove} />
        ))}
        {ids.length === 0 && (
          <p className="empty">
            No inside network yet. The first one gets a free private block; change what does not suit.
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
  const at = `/networks/${index}`;
  const name = network.name || 'Unnamed network';
  return (
    <fieldset className="card" aria-label={name} data-at={at} tabIndex={-1}>
      <div className="card-head">
        <h3>{name}</h3>
        <span className="quiet">
          {purposeWords[network.purpose]}, {network.vlan === null ? 'untagged' : `VLAN ${network.vlan}`}
        </span>
        <RemoveButton what={name} onClick={() => remove(index)} />
      </div>
      <BlockRule index={index} />
      <div className="ledger ledger-three">
        <TextField at={`${at}/name`} label="Name" />
        <ChoiceField at={`${at}/purpose`} label="Purpose" choices={purposeChoices} />
        <NumberField
          at={`${at}/vlan`}
          label="VLAN"
          highest={99_999}
          hint="1 to 4094; empty means untagged"
          placeholder="untagged"
        />
        <TextField at={`${at}/prefix`} label="Block" mono placeholder="10.24.10.0/24" />
        <TextField at={`${at}/routerAddress`} label="Router" mono />
        <NumberField at={`${at}/expectedDevices`} label="Expected" unit="devices" highest={1_000_000} />
        <SwitchField at={`${at}/dhcp/enabled`} label="DHCP" on="gives addresses" off="off" />
        {network.dhcp.enabled && (
          <>
            <TextField at={`${at}/dhcp/from`} label="Pool from" mono />
            <TextField at={`${at}/dhcp/to`} label="Pool to" mono />
            <NumberField at={`${at}/dhcp/leaseMinutes`} label="Lease" unit="min" highest={525_600} />
          </>
        )}
        <ListField
          at={`${at}/resolvers`}
          label="Resolvers"
          hint="Handed out with the address; separated by commas"
        />
      </div>
    </fieldset>
  );
});

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
      <h3 id="devices">Devices</h3>
      <RowTable
        label="Devices"
        headings={[
          ['Name', 'l'],
          ['MAC', 'm'],
          ['Network', 'm'],
          ['Gets it', 'm'],
          ['Address', 'm'],
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
  const at = `/devices/${index}`;
  const name = usePlanPiece((plan) => plan.devices[index]?.name ?? '');
  return (
    <>
      <tr data-at={at} tabIndex={-1}>
        <td>
          <TextField bare wrap at={`${at}/name`} label="Name" />
        </td>
        <td>
          <TextField bare mono at={`${at}/mac`} label="MAC" />
        </td>
        <td>
          <ChoiceField bare at={`${at}/network`} label="Network" choices={networks} />
        </td>
        <td>
          <ChoiceField
            bare
            at={`${at}/addressing`}
            label="How it gets its address"
            choices={addressingChoices}
          />
        </td>
        <td>
          <TextField bare mono at={`${at}/address`} label="Address" />
        </td>
        <td>
          <RemoveButton what={name || 'device'} onClick={() => remove(index)} />
        </td>
      </tr>
      <tr className="row-more">
        <td colSpan={6}>
          <Services at={`${at}/services`} of={name} />
        </td>
      </tr>
    </>
  );
});

function Services({ at, of }: { at: string; of: string }) {
  const { ids, add, remove } = useRows<ServicePlan>(at);
  return (
    <div className="services">
      {ids.map((id, index) => (
        <span key={id} className="service">
          <TextField bare at={`${at}/${index}/name`} label={`Service of ${of}`} placeholder="service" />
          <ChoiceField bare mono at={`${at}/${index}/protocol`} label="Protocol" choices={protocolChoices} />
          <TextField bare mono at={`${at}/${index}/ports`} label="Port" placeholder="port" />
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
