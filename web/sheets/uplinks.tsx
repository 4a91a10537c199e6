import Button from '@mui/material/Button';
import { lazy, Suspense, useState } from 'react';
import {
  boxForwardSchema,
  fieldsBelow,
  portSchema,
  titleAt,
  uplinkSchema,
  type UplinkPlan,
} from '../../core/index.ts';
import { newId } from '../app/api.ts';
import { useSite } from '../app/analysis.ts';
import { usePlanPiece } from '../app/session.ts';
import { Field } from '../parts/field.tsx';
import { MoveButtons, PlanTable, RemoveButton, useRows } from '../parts/rows.tsx';
import { SheetHead } from '../parts/sheet-head.tsx';
import { LineChain } from './line-chain.tsx';
import { OpticalWindow } from './optical-window.tsx';
import { RateRuns } from './rate-runs.tsx';
import { SettingFields } from './setting-fields.tsx';
import { FromTemplate, KeepTemplate } from './templates.tsx';
import { CallSheet, WhichType } from './uplink-type.tsx';

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
  const uplink = usePlanPiece((plan) => plan.uplinks[index]);
  const [asking, setAsking] = useState(false);
  const largest = useSite().lines[index]?.largestBytes;
  if (!uplink) return null;
  const at = `/uplinks/${index}`;
  const medium = titleAt(`${at}/medium`, uplink.medium);
  const ofMedium = `${at}/media/${uplink.medium}`;
  const what = uplink.name || 'unnamed uplink';
  return (
    <fieldset className="card" aria-label={what} data-at={at} tabIndex={-1}>
      <div className="card-head">
        <h3>{what}</h3>
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
        <SettingFields at={`${at}/settings/${uplink.type}`} />
        <Field at={`${at}/vlan`} />
        {uplink.vlan !== null && <Field at={`${at}/vlanPriority`} />}
        <Field at={`${at}/mtuBytes`} placeholder={String(largest ?? '')} />
        <Field at={`${at}/sourceNat`} />
        <Field at={`${at}/rateDownMbps`} />
        <Field at={`${at}/rateUpMbps`} />
        <Field at={`${at}/shapeDownMbps`} />
        <Field at={`${at}/shapeUpMbps`} />
        <Field at={`${at}/notes`} />
      </div>
      {fieldsBelow(ofMedium).length > 0 && (
        <>
          <h4 className="sub">{medium}</h4>
          <div className="ledger">
            <SettingFields at={ofMedium} />
          </div>
          {uplink.medium === 'fibre' && <OpticalWindow index={index} />}
          {uplink.medium === 'cellular' && (
            <Suspense fallback={<p className="quiet">Opening the logbook …</p>}>
              <SurveySection index={index} />
            </Suspense>
          )}
        </>
      )}
      <RateRuns index={index} />
      <CallSheet index={index} uplink={uplink} />
      <Handoff index={index} uplink={uplink} />
      <KeepTemplate uplink={uplink} />
    </fieldset>
  );
}

function Handoff({ index, uplink }: { index: number; uplink: UplinkPlan }) {
  const at = `/uplinks/${index}/handoff`;
  const { mode, name } = uplink.handoff;
  return (
    <>
      <h4 className="sub">Hand-off</h4>
      <div className="ledger">
        <Field at={`${at}/mode`} />
        {mode !== 'none' && <Field at={`${at}/name`} />}
        {mode === 'routes' && (
          <>
            <Field at={`${at}/insidePrefix`} />
            <Field at={`${at}/insideAddress`} />
            <Field at={`${at}/outsideAddress`} />
            <Field at={`${at}/canBridge`} />
            <Field at={`${at}/bothProtocols`} />
          </>
        )}
      </div>
      {mode === 'routes' && (
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
    </>
  );
}

/** The ports of the router: each has one use. */
function Ports() {
  return (
    <section aria-labelledby="ports" data-at="/router/ports" tabIndex={-1}>
      <h3 id="ports">Ports of the router</h3>
      <PlanTable
        at="/router/ports"
        columns={[
          ['name', 'm'],
          ['role', 'm'],
          ['uplink', 'm'],
          ['network', 'l'],
          ['rateMbps', 's'],
        ]}
        row={() => portSchema.parse({ id: newId() })}
        what="port"
        addLabel="Add a port"
        empty="Not entered. List them where the wrong one can be picked: a line in a LAN port reaches the inside without passing the router."
      />
    </section>
  );
}
