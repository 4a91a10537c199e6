import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { lazy, Suspense, useState } from 'react';
import {
  asAt,
  type At,
  boxForwardSchema,
  fieldsBelow,
  figuresText,
  portSchema,
  titleAt,
  uplinkSchema,
  type UplinkPlan,
} from '../../../core/index.ts';
import { newId } from '../../state/api.ts';
import { useSite } from '../../state/analysis.ts';
import { usePlan, usePlanPiece } from '../../state/session.ts';
import { Field } from '../../parts/field.tsx';
import { Figures } from '../../parts/figures.tsx';
import { MoveButtons, PlanTable, RemoveButton, useRows } from '../../parts/rows.tsx';
import { SheetHead } from '../../parts/sheet-head.tsx';
import { LineChain } from './line-chain.tsx';
import { OpticalWindow } from './optical-window.tsx';
import { RateRuns } from './rate-runs.tsx';
import { SettingFields } from './setting-fields.tsx';
import { FromTemplate, KeepTemplate } from './templates.tsx';
import { CallSheet, WhichType } from './uplink-type.tsx';
import './uplinks.css';

/** With its charts it weighs as much as all sheets together, so it comes when a line is cellular. */
const SurveySection = lazy(() => import('./survey.tsx'));

const order = ['first in order', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh', 'eighth'];

export function Component() {
  const { ids, add, remove, move } = useRows<UplinkPlan>('/uplinks');
  return (
    <>
      <SheetHead
        title="Uplinks"
        says="What comes into the building, and what must be entered to bring it up."
      />
      {ids.map((id, index) => (
        <UplinkCard key={id} index={index} count={ids.length} remove={remove} move={move} />
      ))}
      {ids.length === 0 && (
        <p className="empty">
          No uplink yet. Add one, say what comes into the building and what the paperwork has: the likely
          types are ranked, and the call sheet has the questions for the provider.
        </p>
      )}
      <div className="row-actions">
        <Button
          variant={ids.length === 0 ? 'contained' : 'outlined'}
          disabled={ids.length >= order.length}
          onClick={() =>
            add(
              uplinkSchema.parse({
                id: newId(),
                name: ids.length === 0 ? 'Line 1' : `Line ${ids.length + 1}`,
                type: 'unknown',
              }),
              'name',
            )
          }
        >
          Add an uplink
        </Button>
        <FromTemplate disabled={ids.length >= order.length} add={(uplink) => add(uplink, 'name')} />
      </div>
      <Ports />
    </>
  );
}

interface CardProps {
  readonly index: number;
  readonly count: number;
  readonly remove: (index: number) => void;
  readonly move: (index: number, by: -1 | 1) => void;
}

function UplinkCard({ index, count, remove, move }: CardProps) {
  const plan = usePlan();
  const uplink = plan.uplinks[index];
  const [asking, setAsking] = useState(false);
  const largest = useSite().lines[index]?.largestBytes;
  if (!uplink) return null;
  const at = `/uplinks/${index}` as const;
  const medium = titleAt(`${at}/medium`, uplink.medium);
  const ofMedium = `${at}/media/${uplink.medium}` as const;
  const belowMedium = fieldsBelow(ofMedium)
    .filter(({ field }) => field.kind !== 'rows')
    .map((each) => asAt(`${ofMedium}/${each.at.split('/').at(-1)}`));
  const ofType = `${at}/settings/${uplink.type}` as const;
  const decided = decidedOf(ofType);
  const routes = uplink.handoff.mode === 'routes';
  const settings: At[] = [
    ...fieldsBelow(ofType)
      .map((each) => asAt(`${ofType}/${each.at.split('/').at(-1)}`))
      .filter((place) => !decided.includes(place)),
    ...(uplink.vlan === null ? [] : [`${at}/vlanPriority` as const]),
    `${at}/mtuBytes`,
    `${at}/sourceNat`,
    `${at}/notes`,
  ];
  const what = uplink.name || 'unnamed uplink';
  return (
    <fieldset className="card" aria-label={what} data-at={at} tabIndex={-1}>
      <div className="card-head">
        <Typography variant="h3">{what}</Typography>
        <span className="quiet">
          {count > 1 ? `${order[index]}, ` : ''}
          {titleAt(`${at}/type`, uplink.type)}
        </span>
        {uplink.type !== 'unknown' && (
          <Button onClick={() => setAsking(!asking)} aria-expanded={asking}>
            Which type?
          </Button>
        )}
        {count > 1 && <MoveButtons what={what} index={index} count={count} move={move} />}
        <RemoveButton what={what} onClick={() => remove(index)} />
      </div>
      <LineChain index={index} />
      <div className="ledger">
        <Field at={`${at}/name`} />
        <Field at={`${at}/medium`} />
        <Field at={`${at}/type`} />
        <Field at={`${at}/activation`} />
      </div>
      {(uplink.type === 'unknown' || asking) && <WhichType index={index} uplink={uplink} />}
      <div className="ledger">
        {decided.map((place) => (
          <Field key={place} at={place} />
        ))}
        <Field at={`${at}/vlan`} />
        <Field at={`${at}/handoff/mode`} />
        {routes && <Field at={`${at}/handoff/insidePrefix`} />}
      </div>
      <CallSheet index={index} uplink={uplink} />
      <Figures title="Rates" of={what} at={rates.map((key): At => `${at}/${key}`)} says={ratesText(uplink)}>
        <div className="ledger">
          {rates.map((key) => (
            <Field key={key} at={`${at}/${key}`} />
          ))}
        </div>
        <RateRuns index={index} />
      </Figures>
      <Figures title="Settings" of={what} at={settings}>
        <div className="ledger">
          {settings.map((place) => (
            <Field
              key={place}
              at={place}
              {...(place.endsWith('/mtuBytes') && { placeholder: String(largest ?? '') })}
            />
          ))}
        </div>
      </Figures>
      {fieldsBelow(ofMedium).length > 0 && (
        <Figures title={medium} of={what} at={[ofMedium]} says={figuresText(plan, belowMedium)}>
          <div className="ledger">
            <SettingFields at={ofMedium} />
          </div>
          {uplink.medium === 'fibre' && <OpticalWindow index={index} />}
          {uplink.medium === 'cellular' && (
            <Suspense fallback={<p className="quiet">Opening the logbook …</p>}>
              <SurveySection index={index} />
            </Suspense>
          )}
        </Figures>
      )}
      {uplink.handoff.mode !== 'none' && <Handoff index={index} uplink={uplink} of={what} />}
      <KeepTemplate uplink={uplink} />
    </fieldset>
  );
}

/** What is sold, and what the router lets in and sends. */
const rates = ['rateDownMbps', 'rateUpMbps', 'shapeDownMbps', 'shapeUpMbps'] as const;

/** Both directions of the contract and of the shaper, in a line. */
function ratesText({ rateDownMbps, rateUpMbps, shapeDownMbps, shapeUpMbps, runs }: UplinkPlan): string {
  const pair = (down: number | null, up: number | null): string =>
    [down === null ? '' : `${down} Mb/s down`, up === null ? '' : `${up} Mb/s up`]
      .filter((each) => each !== '')
      .join(', ');
  const contract = pair(rateDownMbps, rateUpMbps);
  const shaped = pair(shapeDownMbps, shapeUpMbps);
  return [
    contract === '' ? 'contract rate not known' : `contract ${contract}`,
    shaped === '' ? 'not shaped' : `shaped to ${shaped}`,
    runs.length === 0 ? 'not measured yet' : `${runs.length} measured`,
  ].join(' · ');
}

/** Of the settings of a WAN type only the paperwork knows these; the others have usual values. */
function decidedOf(at: string): At[] {
  return fieldsBelow(at)
    .filter(
      ({ field }) =>
        field.kind === 'secret' ||
        ('needed' in field && field.needed !== false) ||
        field.term === 'DNS servers',
    )
    .map((each) => asAt(`${at}/${each.at.split('/').at(-1)}`));
}

/** The box in front of the router, as far as it matters to what passes it. */
function Handoff({ index, uplink, of }: { index: number; uplink: UplinkPlan; of: string }) {
  const at = `/uplinks/${index}/handoff` as const;
  const { mode, name } = uplink.handoff;
  const routes = mode === 'routes';
  const keys = routes
    ? (['name', 'insideAddress', 'outsideAddress', 'canBridge', 'bothProtocols'] as const)
    : (['name'] as const);
  return (
    <Figures title="Hand-off" of={of} at={[...keys, 'forwards' as const].map((key): At => `${at}/${key}`)}>
      <div className="ledger">
        {keys.map((key) => (
          <Field key={key} at={`${at}/${key}`} />
        ))}
      </div>
      {routes && (
        <div data-at={`${at}/forwards`} tabIndex={-1}>
          <PlanTable
            at={`${at}/forwards`}
            of={name || 'the device'}
            columns={[
              ['ports', 'm'],
              ['protocol', 'l'],
            ]}
            row={() => boxForwardSchema.parse({ id: newId() })}
            what="forward"
            addLabel="Add a forward of the box"
            empty="The box forwards nothing from outside to the router."
          />
        </div>
      )}
    </Figures>
  );
}

/** The ports of the router: each has one use. */
function Ports() {
  const says = usePlanPiece(({ router, uplinks, networks }) =>
    router.ports.length === 0
      ? 'not entered: list them where the wrong one can be picked'
      : router.ports
          .map(({ name, role, uplink, network }) => {
            const taken =
              role === 'wan'
                ? uplinks.find(({ id }) => id === uplink)
                : networks.find(({ id }) => id === network);
            return `${name} ${role === 'off' ? 'not used' : (taken?.name ?? role.toUpperCase())}`;
          })
          .join(', '),
  );
  return (
    <section aria-labelledby="ports" data-at="/router/ports" tabIndex={-1}>
      <Typography variant="h3" id="ports">
        Router
      </Typography>
      <Figures title="Ports of the router" at={['/router/ports']} says={says}>
        <PlanTable
          at="/router/ports"
          columns={[
            ['name', 's'],
            ['built', 'm'],
            ['role', 'm'],
            ['uplink', 'm'],
            ['network', 'm'],
            ['rateMbps', 's'],
          ]}
          row={() => portSchema.parse({ id: newId() })}
          what="port"
          addLabel="Add a port"
          empty="Not entered. List them where the wrong one can be picked: a line in a LAN port reaches the inside without passing the router."
        />
      </Figures>
    </section>
  );
}
