import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { ModelCard } from './model-card.tsx';
import {
  type At,
  batteryTime,
  bindingLimit,
  contactSchema,
  kitSchema,
  routerServiceSchema,
  titleAt,
  type KitItem,
} from '../../../core/index.ts';
import { Link } from 'react-router';
import { newId } from '../../state/api.ts';
import { useSite } from '../../state/analysis.ts';
import { usePlanPiece } from '../../state/session.ts';
import { Field } from '../../parts/field.tsx';
import { Figures } from '../../parts/figures.tsx';
import { PlanTable, RemoveButton, useRows } from '../../parts/rows.tsx';
import { SheetHead } from '../../parts/sheet-head.tsx';
import { countries, timeZones } from '../../parts/places.ts';

export function Component() {
  return (
    <>
      <SheetHead title="Site" says="Where it is, who it is for, and what is in the box." />
      <section aria-labelledby="place">
        <Typography variant="h3" id="place">
          The place
        </Typography>
        <div className="ledger">
          <Field at="/site/name" />
          <Field at="/site/customer" />
          <Field at="/site/street" />
          <Field at="/site/town" />
        </div>
        <div className="ledger">
          <Field at="/site/notes" />
        </div>
        <Figures title="Country and building" at={place}>
          <div className="ledger">
            <Field at="/site/postcode" />
            <Field at="/site/country" choices={countries} />
            <Field at="/site/timeZone" choices={timeZones} />
            <Field at="/site/rented" />
            <Field at="/site/noDrilling" />
            <Field at="/site/cupboardCelsius" />
            <Field at="/demo" />
          </div>
        </Figures>
      </section>
      <Visit />
      <Contacts />
      <Kit />
    </>
  );
}

const place = (['postcode', 'country', 'timeZone', 'rented', 'noDrilling', 'cupboardCelsius'] as const)
  .map((key): At => `/site/${key}`)
  .concat('/demo');

const visitFigures = (['begins', 'ends', 'outsideUrl', 'throughputHost'] as const).map(
  (key): At => `/visit/${key}`,
);

/** What is done there next, and in which hours. */
function Visit() {
  const replaces = usePlanPiece((plan) => plan.visit.kind === 'replacement');
  return (
    <section aria-labelledby="visit">
      <div className="section-head">
        <Typography variant="h3" id="visit">
          The next visit
        </Typography>
        <Button component={Link} to="../found">
          What is here?
        </Button>
      </div>
      <div className="ledger">
        <Field at="/visit/kind" />
        {replaces && <Field at="/visit/oldRouter" />}
        {replaces && <Field at="/visit/oldAddress" />}
      </div>
      <Figures title="Hours and hosts" at={visitFigures}>
        <div className="ledger">
          {visitFigures.map((each) => (
            <Field key={each} at={each} />
          ))}
        </div>
      </Figures>
    </section>
  );
}

function Contacts() {
  return (
    <section aria-labelledby="people">
      <Typography variant="h3" id="people">
        People
      </Typography>
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
      <Typography variant="h3" id="kit">
        Equipment
      </Typography>
      {ids.map((id, index) => (
        <KitCard key={id} index={index} remove={remove} />
      ))}
      {ids.length === 0 && (
        <p className="empty">
          No equipment yet. Copy serial and MAC from the labels: the run sheet compares them on site.
        </p>
      )}
      <NewRouter />
      <Limits />
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

const kitKeys = ['role', 'model', 'serial', 'mac', 'adminAddress', 'firmware', 'notes'] as const;
const powerKeys = [
  'needVolts',
  'needAmps',
  'needPlug',
  'powerVolts',
  'powerAmps',
  'powerPlug',
  'warmestCelsius',
  'wattHours',
] as const;

function KitCard({ index, remove }: { index: number; remove: (index: number) => void }) {
  const item = usePlanPiece((plan) => plan.kit[index]);
  if (!item) return null;
  const at = `/kit/${index}` as const;
  const role = titleAt(`${at}/role`, item.role);
  const name = item.model || role;
  const label = [
    item.serial === '' ? '' : `serial ${item.serial}`,
    item.mac === '' ? '' : `MAC ${item.mac}`,
    item.firmware === '' ? '' : `firmware ${item.firmware}`,
    item.notes,
  ].filter((each) => each !== '');
  return (
    <Figures
      title={name}
      at={[at]}
      says={[
        ...(item.model === '' ? [] : [role]),
        ...(label.length === 0 ? ['label not read yet'] : label),
      ].join(', ')}
    >
      <div className="ledger">
        {kitKeys.map((key) => (
          <Field key={key} at={`${at}/${key}`} />
        ))}
      </div>
      <Figures title="Power and heat" of={name} at={powerKeys.map((key): At => `${at}/${key}`)}>
        <div className="ledger">
          {powerKeys.map((key) => (
            <Field key={key} at={`${at}/${key}`} />
          ))}
        </div>
      </Figures>
      <ModelCard index={index} />
      <div className="row-actions">
        <RemoveButton what={name} onClick={() => remove(index)} />
      </div>
    </Figures>
  );
}

const newRouter = (['factoryAddress', 'factoryDhcp', 'adminNetwork'] as const).map(
  (key): At => `/router/${key}`,
);

function NewRouter() {
  return (
    <Figures title="The new router, factory settings" at={[...newRouter, '/router/services']}>
      <div className="ledger">
        {newRouter.map((each) => (
          <Field key={each} at={each} />
        ))}
      </div>
      <RouterServices />
    </Figures>
  );
}

const limitKeys = (
  [
    'routedMbps',
    'natMbps',
    'connections',
    'forwards',
    'rules',
    'devices',
    'vlans',
    'scopes',
    'tunnels',
  ] as const
).map((key): At => `/router/limits/${key}`);

/** What the router can take at most, and what of it is used up first; how long the battery lasts. */
function Limits() {
  const site = useSite();
  const battery = batteryTime(site);
  return (
    <>
      <Figures
        title="What the router can take at most"
        at={limitKeys}
        says={bindingLimit(site) ?? 'data sheet not entered'}
      >
        <div className="ledger">
          {limitKeys.map((each) => (
            <Field key={each} at={each} />
          ))}
        </div>
      </Figures>
      {battery && (
        <p className="note">
          On the battery everything runs for about {Math.round(battery.value)} minutes, each box at the most
          that its label asks for. Test it once with the load on.
        </p>
      )}
    </>
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
