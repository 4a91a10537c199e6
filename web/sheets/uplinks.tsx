import Button from '@mui/material/Button';
import { lazy, Suspense, useState } from 'react';
import {
  activations,
  handoffModes,
  media,
  medium,
  portRoles,
  portSchema,
  uplinkSchema,
  uplinkType,
  uplinkTypes,
  type PortPlan,
  type UplinkPlan,
} from '../../core/index.ts';
import { newId } from '../app/api.ts';
import { useSite } from '../app/analysis.ts';
import { usePlanPiece, useSession } from '../app/session.ts';
import { protocolChoices, useNetworkChoices, useUplinkChoices, type Choices } from '../parts/choices.ts';
import { ChoiceField, NumberField, SwitchField, TextField } from '../parts/field.tsx';
import { MoveButtons, RemoveButton, RowTable, useRows } from '../parts/rows.tsx';
import { SheetHead } from '../parts/sheet-head.tsx';
import { LineChain } from './line-chain.tsx';
import { OpticalWindow } from './optical-window.tsx';
import { RateRuns } from './rate-runs.tsx';
import { SettingFields } from './setting-fields.tsx';
import { FromTemplate, KeepTemplate } from './templates.tsx';
import { CallSheet, WhichType } from './uplink-type.tsx';

/** With its charts it weighs as much as all sheets together, so it comes when a line is cellular. */
const SurveySection = lazy(() => import('./survey.tsx'));

const handoffWords: Record<(typeof handoffModes)[number], string> = {
  none: 'nothing: the line ends at the router',
  bridged: 'a box that is bridged',
  routes: 'a box that routes',
};
const activationWords: Record<(typeof activations)[number], string> = {
  unknown: 'not asked yet',
  'not-yet': 'not yet',
  active: 'yes',
};
const roleWords: Record<(typeof portRoles)[number], string> = {
  wan: 'WAN: a line',
  lan: 'LAN: the inside',
  off: 'off',
};
const activationChoices = activations.map((each) => [each, activationWords[each]] as const);
const roleChoices = portRoles.map((each) => [each, roleWords[each]] as const);
const mediumChoices = media.map(({ name, title }) => [name, title] as const);
const typeChoices = uplinkTypes.map((type) => [type.name, type.title] as const);
const handoffChoices = handoffModes.map((mode) => [mode, handoffWords[mode]] as const);
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
                name: ids.length === 0 ? 'Line' : `Line ${ids.length + 1}`,
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
  const type = uplinkType(uplink.type);
  const made = medium(uplink.medium);
  const what = uplink.name || 'unnamed uplink';
  return (
    <fieldset className="card" aria-label={what} data-at={at} tabIndex={-1}>
      <div className="card-head">
        <h3>{what}</h3>
        <span className="quiet">
          {count > 1 ? `${order[index]}, ` : ''}
          {type.title}
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
        <TextField at={`${at}/name`} label="Name" />
        <ChoiceField at={`${at}/medium`} label="Medium" choices={mediumChoices} />
        <ChoiceField at={`${at}/type`} label="WAN type" hint={type.says} choices={typeChoices} />
        <ChoiceField at={`${at}/activation`} label="Activated" choices={activationChoices} />
      </div>
      {(uplink.type === 'unknown' || asking) && <WhichType index={index} uplink={uplink} />}
      <div className="ledger">
        <SettingFields at={`${at}/settings/${uplink.type}`} fields={type.fields} />
        <NumberField at={`${at}/vlan`} label="VLAN tag" highest={99_999} placeholder="untagged" />
        {uplink.vlan !== null && <NumberField at={`${at}/vlanPriority`} label="Priority" highest={7} />}
        <NumberField
          at={`${at}/mtuBytes`}
          label="MTU"
          unit="bytes"
          highest={9216}
          placeholder={String(largest ?? '')}
        />
        <SwitchField at={`${at}/sourceNat`} label="Source NAT" on="on" off="off" />
        <NumberField at={`${at}/rateDownMbps`} label="Rate down" unit="Mb/s" highest={400_000} decimals />
        <NumberField at={`${at}/rateUpMbps`} label="Rate up" unit="Mb/s" highest={400_000} decimals />
        <TextField at={`${at}/notes`} label="Notes" wrap />
      </div>
      {made.fields.length > 0 && (
        <>
          <h4 className="sub">{made.title}</h4>
          <div className="ledger">
            <SettingFields at={`${at}/media/${uplink.medium}`} fields={made.fields} />
          </div>
          {uplink.medium === 'fibre' && <OpticalWindow settings={uplink.media.fibre} />}
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
  const session = useSession();
  const { mode, forwards } = uplink.handoff;
  return (
    <>
      <h4 className="sub">Hand-off</h4>
      <div className="ledger">
        <ChoiceField at={`${at}/mode`} label="In front" choices={handoffChoices} />
        {mode !== 'none' && <TextField at={`${at}/name`} label="Its name" />}
        {mode === 'routes' && (
          <>
            <TextField
              at={`${at}/insidePrefix`}
              label="Inside block"
              mono
              hint="The block between it and the router"
              placeholder="192.168.8.0/24"
            />
            <TextField at={`${at}/insideAddress`} label="Its inside address" mono placeholder="192.168.8.1" />
            <TextField
              at={`${at}/outsideAddress`}
              label="Its outside address"
              mono
              hint="The WAN address on its own status page"
            />
          </>
        )}
      </div>
      {mode === 'routes' && (
        <div data-at={`${at}/forwards`} tabIndex={-1} className="box-forwards">
          <span className="field-label">It hands on</span>
          {forwards.length === 0 && <span className="quiet">nothing from outside</span>}
          {forwards.map((forward, place) => (
            <span key={forward.id} className="box-forward">
              <ChoiceField
                bare
                mono
                at={`${at}/forwards/${place}/protocol`}
                label="Protocol"
                choices={protocolChoices}
              />
              <TextField bare mono at={`${at}/forwards/${place}/ports`} label="Port" />
              <RemoveButton
                what={`port ${forward.ports}`}
                onClick={() =>
                  session.edit(
                    `${at}/forwards`,
                    forwards.filter((_, each) => each !== place),
                  )
                }
              />
            </span>
          ))}
          <Button
            onClick={() =>
              session.edit(`${at}/forwards`, [...forwards, { id: newId(), protocol: 'tcp', ports: '' }])
            }
          >
            Add a port
          </Button>
        </div>
      )}
    </>
  );
}

/** The sockets of the router: each has one job. */
function Ports() {
  const { ids, add, remove } = useRows<PortPlan>('/router/ports');
  const uplinks = useUplinkChoices();
  const networks = useNetworkChoices();
  return (
    <section aria-labelledby="ports" data-at="/router/ports" tabIndex={-1}>
      <h3 id="ports">Sockets of the router</h3>
      <RowTable
        label="Sockets of the router"
        headings={[
          ['As printed', 'm'],
          ['Job', 'm'],
          ['Line', 'm'],
          ['Network, untagged', 'l'],
        ]}
        add={() => add(portSchema.parse({ id: newId() }), 'name')}
        addLabel="Add a socket"
        empty="Not written down. List them where the wrong one can be picked: a line in a LAN port meets the inside without the router between."
      >
        {ids.map((id, index) => (
          <PortRow key={id} index={index} uplinks={uplinks} networks={networks} remove={remove} />
        ))}
      </RowTable>
    </section>
  );
}

function PortRow({
  index,
  uplinks,
  networks,
  remove,
}: {
  index: number;
  uplinks: Choices;
  networks: Choices;
  remove: (index: number) => void;
}) {
  const at = `/router/ports/${index}`;
  const name = usePlanPiece((plan) => plan.router.ports[index]?.name ?? '');
  return (
    <tr data-at={at} tabIndex={-1}>
      <td>
        <TextField bare mono at={`${at}/name`} label="As printed" />
      </td>
      <td>
        <ChoiceField bare at={`${at}/role`} label="Job" choices={roleChoices} />
      </td>
      <td>
        <ChoiceField bare at={`${at}/uplink`} label="Line" choices={[['', 'none'], ...uplinks]} />
      </td>
      <td>
        <ChoiceField
          bare
          at={`${at}/network`}
          label="Network, untagged"
          choices={[['', 'none'], ...networks]}
        />
      </td>
      <td>
        <RemoveButton what={name || 'socket'} onClick={() => remove(index)} />
      </td>
    </tr>
  );
}
