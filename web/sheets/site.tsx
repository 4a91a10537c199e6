import Button from '@mui/material/Button';
import { ModelCard } from './model-card.tsx';
import { contactSchema, kitSchema, routerServiceSchema, titleAt, type KitItem } from '../../core/index.ts';
import { Link } from 'react-router';
import { newId } from '../app/api.ts';
import { usePlanPiece } from '../app/session.ts';
import { Field } from '../parts/field.tsx';
import { PlanTable, RemoveButton, useRows } from '../parts/rows.tsx';
import { SheetHead } from '../parts/sheet-head.tsx';
import { countries, timeZones } from '../parts/places.ts';

export function Component() {
  return (
    <>
      <SheetHead title="Site" says="Where it is, who it is for, and what is in the box." />
      <section aria-labelledby="place">
        <h3 id="place">The place</h3>
        <div className="ledger">
          <Field at="/site/name" />
          <Field at="/site/customer" />
          <Field at="/site/street" />
          <Field at="/site/town" />
          <Field at="/site/postcode" />
          <Field at="/site/country" choices={countries} />
          <Field at="/site/timeZone" choices={timeZones} />
          <Field at="/demo" />
        </div>
      </section>
      <section aria-labelledby="limits">
        <h3 id="limits">Limits</h3>
        <div className="ledger">
          <Field at="/site/rented" />
          <Field at="/site/noDrilling" />
          <Field at="/site/cupboardCelsius" />
          <Field at="/site/notes" />
        </div>
      </section>
      <Visit />
      <Contacts />
      <Kit />
      <NewRouter />
    </>
  );
}

/** What is done there next, and in which hours. */
function Visit() {
  const replaces = usePlanPiece((plan) => plan.visit.kind === 'replacement');
  return (
    <section aria-labelledby="visit">
      <div className="section-head">
        <h3 id="visit">The next visit</h3>
        <Button component={Link} to="../found">
          What is here?
        </Button>
      </div>
      <div className="ledger">
        <Field at="/visit/kind" />
        <Field at="/visit/begins" />
        <Field at="/visit/ends" />
        <Field at="/visit/outsideUrl" />
        <Field at="/visit/throughputHost" />
        {replaces && <Field at="/visit/oldRouter" />}
        {replaces && <Field at="/visit/oldAddress" />}
      </div>
    </section>
  );
}

function Contacts() {
  return (
    <section aria-labelledby="people">
      <h3 id="people">People</h3>
      <PlanTable
        at="/contacts"
        columns={[
          ['name', 'm'],
          ['role', 'm'],
          ['phone', 'm'],
          ['email', 'l'],
        ]}
        row={() => contactSchema.parse({ id: newId() })}
        what="person"
        addLabel="Add a person"
        empty="Nobody yet: who opens the door, and who decides?"
      />
    </section>
  );
}

function Kit() {
  const { ids, add, remove } = useRows<KitItem>('/kit');
  const hasRouter = usePlanPiece((plan) => plan.kit.some((item) => item.role === 'router'));
  return (
    <section aria-labelledby="kit" data-at="/kit" tabIndex={-1}>
      <h3 id="kit">Equipment</h3>
      {ids.map((id, index) => (
        <KitCard key={id} index={index} remove={remove} />
      ))}
      {ids.length === 0 && (
        <p className="empty">
          No equipment yet. Copy serial and MAC from the labels: the run sheet compares them on site.
        </p>
      )}
      <div className="row-actions">
        <Button
          onClick={() => add(kitSchema.parse({ id: newId(), role: hasRouter ? 'other' : 'router' }), 'role')}
        >
          Add equipment
        </Button>
      </div>
    </section>
  );
}

function KitCard({ index, remove }: { index: number; remove: (index: number) => void }) {
  const item = usePlanPiece((plan) => plan.kit[index]);
  if (!item) return null;
  const at = `/kit/${index}`;
  const role = titleAt(`${at}/role`, item.role);
  const name = item.model || role;
  return (
    <fieldset className="card" aria-label={name}>
      <div className="card-head">
        <h4>{name}</h4>
        <span className="quiet">{role}</span>
        <RemoveButton what={name} onClick={() => remove(index)} />
      </div>
      <div className="ledger">
        <Field at={`${at}/role`} />
        <Field at={`${at}/model`} />
        <Field at={`${at}/serial`} />
        <Field at={`${at}/mac`} />
        <Field at={`${at}/adminAddress`} />
        <Field at={`${at}/firmware`} />
        <Field at={`${at}/powerVolts`} />
        <Field at={`${at}/powerAmps`} />
        <Field at={`${at}/notes`} />
      </div>
      <ModelCard index={index} />
    </fieldset>
  );
}

function NewRouter() {
  return (
    <section aria-labelledby="new-router">
      <h3 id="new-router">The new router, as it comes</h3>
      <div className="ledger">
        <Field at="/router/factoryAddress" />
        <Field at="/router/factoryDhcp" />
        <Field at="/router/adminNetwork" />
      </div>
      <RouterServices />
    </section>
  );
}

function RouterServices() {
  return (
    <PlanTable
      at="/router/services"
      columns={[
        ['name', 'l'],
        ['protocol', 's'],
        ['ports', 's'],
        ['inside', 'm'],
        ['outside', 's'],
      ]}
      row={() => routerServiceSchema.parse({ id: newId() })}
      what="service"
      addLabel="Add a service of the router"
      empty="No services noted: then nothing of the router itself can answer."
    />
  );
}
