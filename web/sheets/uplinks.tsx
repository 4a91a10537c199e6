import Button from '@mui/material/Button';
import { handoffModes, uplinkSchema, uplinkType, uplinkTypes, type UplinkPlan } from '../../core/index.ts';
import { newId } from '../app/api.ts';
import { usePlanPiece, useSession } from '../app/session.ts';
import { protocolChoices } from '../parts/choices.ts';
import { ChoiceField, ListField, NumberField, SwitchField, TextField } from '../parts/field.tsx';
import { MoveButtons, RemoveButton, useRows } from '../parts/rows.tsx';
import { SheetHead } from '../parts/sheet-head.tsx';
import { LineChain } from './line-chain.tsx';

const handoffWords: Record<(typeof handoffModes)[number], string> = {
  none: 'nothing: the line ends at the router',
  bridged: 'a box that is bridged',
  routes: 'a box that routes',
};
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
          No uplink yet. Take the provider&rsquo;s sheet: does it name an address, a mask and a gateway? Then
          it is a fixed address. Does it name nothing? Then the line gives the address by itself.
        </p>
      )}
      <div className="row-actions">
        <Button
          variant={ids.length === 0 ? 'contained' : 'outlined'}
          disabled={ids.length >= order.length}
          onClick={() =>
            add(
              uplinkSchema.parse({ id: newId(), name: ids.length === 0 ? 'Line' : `Line ${ids.length + 1}` }),
              'name',
            )
          }
        >
          Add an uplink
        </Button>
      </div>
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
  if (!uplink) return null;
  const at = `/uplinks/${index}`;
  const type = uplinkType(uplink.type);
  const what = uplink.name || 'unnamed uplink';
  return (
    <fieldset className="card" aria-label={what} data-at={at} tabIndex={-1}>
      <div className="card-head">
        <h3>{what}</h3>
        <span className="quiet">
          {count > 1 ? `${order[index]}, ` : ''}
          {type.title}
        </span>
        {count > 1 && <MoveButtons what={what} index={index} count={count} move={move} />}
        <RemoveButton what={what} onClick={() => remove(index)} />
      </div>
      <LineChain index={index} />
      <div className="ledger">
        <TextField at={`${at}/name`} label="Name" />
        <ChoiceField at={`${at}/type`} label="WAN type" hint={type.says} choices={typeChoices} />
        <TypeFields index={index} uplink={uplink} />
        <NumberField at={`${at}/mtuBytes`} label="MTU" unit="bytes" highest={9216} placeholder="1500" />
        <SwitchField at={`${at}/sourceNat`} label="Source NAT" on="on" off="off" />
        <NumberField at={`${at}/rateDownMbps`} label="Rate down" unit="Mb/s" highest={400_000} decimals />
        <NumberField at={`${at}/rateUpMbps`} label="Rate up" unit="Mb/s" highest={400_000} decimals />
        <TextField at={`${at}/notes`} label="Notes" wrap />
      </div>
      <Handoff index={index} uplink={uplink} />
    </fieldset>
  );
}

/** The fields that only this WAN type has, from its registry entry. */
function TypeFields({ index, uplink }: { index: number; uplink: UplinkPlan }) {
  return uplinkType(uplink.type).fields.map(({ key, label, kind, hint }) => {
    const at = `/uplinks/${index}/settings/${uplink.type}/${key}`;
    if (kind === 'switch') return <SwitchField key={at} at={at} label={label} hint={hint} />;
    if (kind === 'list') return <ListField key={at} at={at} label={label} hint={hint} />;
    return <TextField key={at} at={at} label={label} hint={hint} mono />;
  });
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
