import Button from '@mui/material/Button';
import { useCallback } from 'react';
import {
  addressings,
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
} from '../../core/index.ts';
import { newId } from '../app/api.ts';
import { useSite } from '../app/analysis.ts';
import { usePlan, useSession } from '../app/session.ts';
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

export function Component() {
  const plan = usePlan();
  const site = useSite();
  const { rows, add, remove } = useRows<NetworkPlan>('/networks');
  const addNetwork = (): void => {
    const used = new Set(plan.networks.map((network) => network.vlan));
    let vlan = 10;
    while (used.has(vlan)) vlan += 10;
    const block = freeBlock(site, 24, vlan);
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
        {rows.map((network, index) => (
          <NetworkCard key={network.id} network={network} index={index} remove={() => remove(index)} />
        ))}
        {rows.length === 0 && (
          <p className="empty">
            No inside network yet. The first one gets a free private block; change what does not suit.
          </p>
        )}
        <div className="row-actions">
          <Button variant={rows.length === 0 ? 'contained' : 'outlined'} onClick={addNetwork}>
            Add a network
          </Button>
        </div>
      </div>
      <Devices />
    </>
  );
}

function NetworkCard({
  network,
  index,
  remove,
}: {
  network: NetworkPlan;
  index: number;
  remove: () => void;
}) {
  const at = `/networks/${index}`;
  const name = network.name || 'Unnamed network';
  return (
    <fieldset className="card" aria-label={name} data-at={at} tabIndex={-1}>
      <div className="card-head">
        <h3>{name}</h3>
        <span className="quiet">
          {purposeWords[network.purpose]}, {network.vlan === null ? 'untagged' : `VLAN ${network.vlan}`}
        </span>
        <RemoveButton what={name} onClick={remove} />
      </div>
      <BlockRule index={index} />
      <div className="ledger ledger-three">
        <TextField at={`${at}/name`} label="Name" />
        <ChoiceField
          at={`${at}/purpose`}
          label="Purpose"
          choices={purposes.map((purpose) => [purpose, purposeWords[purpose]])}
        />
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
}

function Devices() {
  const session = useSession();
  const plan = usePlan();
  const { rows, add, addAll, remove } = useRows<DevicePlan>('/devices');
  const paste = useCallback(
    (text: string): string[] => {
      const { rows: more, notes } = devicesFromRows(text, plan, newId);
      addAll(more);
      return [`${more.length} device${more.length === 1 ? '' : 's'} added.`, ...notes];
    },
    [plan, addAll],
  );
  const networks = plan.networks.map((network) => [network.id, network.name || 'unnamed network'] as const);
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
        add={() => add(deviceSchema.parse({ id: newId(), network: plan.networks[0]?.id ?? '' }), 'name')}
        addLabel="Add a device"
        paste={paste}
        pasteHint="Name, MAC, network and address of each device, one row each, in any order: copied from a spreadsheet, or with commas."
        empty="No devices yet. Only those matter that a forward, an allowance or a person must find again tomorrow."
      >
        {rows.flatMap((device, index) => {
          const at = `/devices/${index}`;
          return [
            <tr key={device.id} data-at={at} tabIndex={-1}>
              <td>
                <TextField bare at={`${at}/name`} label="Name" />
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
                  choices={addressings.map((each) => [each, addressingWords[each]])}
                />
              </td>
              <td>
                <TextField bare mono at={`${at}/address`} label="Address" />
              </td>
              <td>
                <RemoveButton what={device.name || 'device'} onClick={() => remove(index)} />
              </td>
            </tr>,
            <tr key={`${device.id}-services`} className="row-more">
              <td colSpan={6}>
                <div className="services">
                  {device.services.map((service, place) => (
                    <span key={service.id} className="service">
                      <TextField
                        bare
                        at={`${at}/services/${place}/name`}
                        label={`Service of ${device.name}`}
                        placeholder="service"
                      />
                      <ChoiceField
                        bare
                        mono
                        at={`${at}/services/${place}/protocol`}
                        label="Protocol"
                        choices={[
                          ['tcp', 'tcp'],
                          ['udp', 'udp'],
                          ['both', 'both'],
                        ]}
                      />
                      <TextField
                        bare
                        mono
                        at={`${at}/services/${place}/ports`}
                        label="Port"
                        placeholder="port"
                      />
                      <RemoveButton
                        what={service.name || 'service'}
                        onClick={() =>
                          session.edit(
                            `${at}/services`,
                            device.services.filter((each) => each.id !== service.id),
                          )
                        }
                      />
                    </span>
                  ))}
                  <Button
                    className="plain"
                    variant="text"
                    onClick={() =>
                      session.edit(`${at}/services`, [
                        ...device.services,
                        serviceSchema.parse({ id: newId() }),
                      ])
                    }
                  >
                    Add a service
                  </Button>
                </div>
              </td>
            </tr>,
          ];
        })}
      </RowTable>
    </section>
  );
}
