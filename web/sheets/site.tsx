import Button from '@mui/material/Button';
import { contactSchema, kitRoles, kitSchema, routerServiceSchema, type KitItem } from '../../core/index.ts';
import { newId } from '../app/api.ts';
import { usePlanPiece } from '../app/session.ts';
import { protocolChoices, useNetworkChoices } from '../parts/choices.ts';
import { ChoiceField, NumberField, SwitchField, TextField } from '../parts/field.tsx';
import { RemoveButton, RowTable, useRows } from '../parts/rows.tsx';
import { SheetHead } from '../parts/sheet-head.tsx';
import { countries, timeZones } from '../parts/places.ts';

export const roleWords: Record<KitItem['role'], string> = {
  router: 'router',
  modem: 'modem',
  ont: 'fibre terminal',
  switch: 'switch',
  'access-point': 'access point',
  power: 'power, battery',
  other: 'other',
};

export function Component() {
  return (
    <>
      <SheetHead title="Site" says="Where it is, who it is for, and what is in the box." />
      <section aria-labelledby="place">
        <h3 id="place">The place</h3>
        <div className="ledger">
          <TextField at="/site/name" label="Site name" />
          <TextField at="/site/customer" label="Customer" />
          <TextField at="/site/street" label="Street" />
          <TextField at="/site/town" label="Town" />
          <TextField at="/site/postcode" label="Postcode" mono />
          <ChoiceField at="/site/country" label="Country" choices={countries} />
          <ChoiceField at="/site/timeZone" label="Time zone" choices={timeZones} />
          <SwitchField
            at="/demo"
            label="Invented site"
            hint="Documentation addresses are in order on an invented site"
          />
        </div>
      </section>
      <section aria-labelledby="limits">
        <h3 id="limits">Limits</h3>
        <div className="ledger">
          <SwitchField at="/site/rented" label="Rented" />
          <SwitchField at="/site/noDrilling" label="No drilling" />
          <NumberField
            at="/site/cupboardCelsius"
            label="Cupboard"
            unit="°C at its warmest"
            lowest={-50}
            highest={100}
            decimals
          />
          <TextField at="/site/notes" label="Notes" multiline maxLength={10_000} />
        </div>
      </section>
      <Contacts />
      <Kit />
      <NewRouter />
    </>
  );
}

function Contacts() {
  const { ids, add, remove } = useRows<{ id: string }>('/contacts');
  return (
    <section aria-labelledby="people">
      <h3 id="people">People</h3>
      <RowTable
        label="People"
        headings={[
          ['Name', 'm'],
          ['Role', 'm'],
          ['Telephone', 'm'],
          ['Mail', 'l'],
        ]}
        add={() => add(contactSchema.parse({ id: newId() }), 'name')}
        addLabel="Add a person"
        empty="Nobody yet: who opens the door, and who decides?"
      >
        {ids.map((id, index) => (
          <tr key={id}>
            <td>
              <TextField bare at={`/contacts/${index}/name`} label="Name" />
            </td>
            <td>
              <TextField bare at={`/contacts/${index}/role`} label="Role" />
            </td>
            <td>
              <TextField bare mono at={`/contacts/${index}/phone`} label="Telephone" />
            </td>
            <td>
              <TextField bare at={`/contacts/${index}/email`} label="Mail" />
            </td>
            <td>
              <RemoveButton what={`person ${index + 1}`} onClick={() => remove(index)} />
            </td>
          </tr>
        ))}
      </RowTable>
    </section>
  );
}

function Kit() {
  const { ids, add, remove } = useRows<KitItem>('/kit');
  const hasRouter = usePlanPiece((plan) => plan.kit.some((item) => item.role === 'router'));
  return (
    <section aria-labelledby="kit" data-at="/kit" tabIndex={-1}>
      <h3 id="kit">Kit</h3>
      {ids.map((id, index) => (
        <KitCard key={id} index={index} remove={remove} />
      ))}
      {ids.length === 0 && (
        <p className="empty">
          No kit yet. Copy serial and MAC from the labels: the run sheet compares them on site.
        </p>
      )}
      <div className="row-actions">
        <Button
          onClick={() => add(kitSchema.parse({ id: newId(), role: hasRouter ? 'other' : 'router' }), 'role')}
        >
          Add kit
        </Button>
      </div>
    </section>
  );
}

const roleChoices = kitRoles.map((role) => [role, roleWords[role]] as const);

function KitCard({ index, remove }: { index: number; remove: (index: number) => void }) {
  const item = usePlanPiece((plan) => plan.kit[index]);
  if (!item) return null;
  const at = `/kit/${index}`;
  const name = item.model || roleWords[item.role];
  return (
    <fieldset className="card" aria-label={name}>
      <div className="card-head">
        <h4>{name}</h4>
        <span className="quiet">{roleWords[item.role]}</span>
        <RemoveButton what={name} onClick={() => remove(index)} />
      </div>
      <div className="ledger ledger-three">
        <ChoiceField at={`${at}/role`} label="Role" choices={roleChoices} />
        <TextField at={`${at}/model`} label="Model" wrap />
        <TextField at={`${at}/serial`} label="Serial" mono />
        <TextField at={`${at}/mac`} label="MAC" mono />
        <TextField at={`${at}/adminAddress`} label="Admin at" mono />
        <TextField at={`${at}/firmware`} label="Firmware" mono />
        <NumberField at={`${at}/powerVolts`} label="Supply" unit="V" highest={1000} decimals />
        <NumberField at={`${at}/powerAmps`} label="Supply" unit="A" highest={100} decimals />
        <TextField at={`${at}/notes`} label="Notes" wrap />
      </div>
    </fieldset>
  );
}

function NewRouter() {
  const networks = useNetworkChoices();
  return (
    <section aria-labelledby="new-router">
      <h3 id="new-router">The router, as it comes</h3>
      <div className="ledger">
        <TextField
          at="/router/factoryAddress"
          label="Address when new"
          mono
          hint="On its label or first page, with the length: 192.168.1.1/24"
          placeholder="192.168.1.1/24"
        />
        <SwitchField
          at="/router/factoryDhcp"
          label="Gives addresses"
          on="yes, to a laptop on it"
          off="no, the laptop needs a fixed one"
        />
        <ChoiceField at="/router/adminNetwork" label="Managed from" choices={networks} />
      </div>
      <RouterServices />
    </section>
  );
}

function RouterServices() {
  const at = '/router/services';
  const { ids, add, remove } = useRows<{ id: string }>(at);
  return (
    <RowTable
      label="Services of the router itself"
      headings={[
        ['Service of the router itself', 'l'],
        ['Protocol', 's'],
        ['Port', 's'],
        ['Outside too', 's'],
      ]}
      add={() => add(routerServiceSchema.parse({ id: newId() }), 'name')}
      addLabel="Add a service"
      empty="No services noted: then nothing of the router itself can answer."
    >
      {ids.map((id, index) => (
        <tr key={id}>
          <td>
            <TextField bare at={`${at}/${index}/name`} label="Service" />
          </td>
          <td>
            <ChoiceField
              bare
              mono
              at={`${at}/${index}/protocol`}
              label="Protocol"
              choices={protocolChoices}
            />
          </td>
          <td>
            <TextField bare mono at={`${at}/${index}/ports`} label="Port" />
          </td>
          <td>
            <SwitchField bare at={`${at}/${index}/outside`} label="Answers outside too" />
          </td>
          <td>
            <RemoveButton what={`service ${index + 1}`} onClick={() => remove(index)} />
          </td>
        </tr>
      ))}
    </RowTable>
  );
}
