import Button from '@mui/material/Button';
import { handoffModes, uplinkSchema, uplinkType, uplinkTypes, type UplinkPlan } from '../../core/index.ts';
import { newId } from '../app/api.ts';
import { usePlan, useSession } from '../app/session.ts';
import { ChoiceField, ListField, NumberField, SwitchField, TextField } from '../parts/field.tsx';
import { MoveButtons, RemoveButton, useRows } from '../parts/rows.tsx';
import { SheetHead } from '../parts/sheet-head.tsx';
import { LineChain } from './line-chain.tsx';

const handoffWords: Record<(typeof handoffModes)[number], string> = {
  none: 'nothing: the line ends at the router',
  bridged: 'a box that is bridged',
  routes: 'a box that routes',
};
const order = ['first in order', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh', 'eighth'];

export function Component() {
  const { rows, add, remove, move } = useRows<UplinkPlan>('/uplinks');
  return (
    <>
      <SheetHead
        title="Uplinks"
        says="What comes into the building, and what must be entered to bring it up."
      />
      {rows.map((uplink, index) => (
        <fieldset
          key={uplink.id}
          className="card"
          aria-label={uplink.name || 'unnamed uplink'}
          data-at={`/uplinks/${index}`}
          tabIndex={-1}
        >
          <div className="card-head">
            <h3>{uplink.name || 'Unnamed uplink'}</h3>
            <span className="quiet">
              {rows.length > 1 ? `${order[index]}, ` : ''}
              {uplinkType(uplink.type).title}
            </span>
            {rows.length > 1 && (
              <MoveButtons what={uplink.name || 'uplink'} index={index} count={rows.length} move={move} />
            )}
            <RemoveButton what={uplink.name || 'uplink'} onClick={() => remove(index)} />
          </div>
          <LineChain index={index} />
          <div className="ledger">
            <TextField at={`/uplinks/${index}/name`} label="Name" />
            <ChoiceField
              at={`/uplinks/${index}/type`}
              label="WAN type"
              hint={uplinkType(uplink.type).says}
              choices={uplinkTypes.map((type) => [type.name, type.title])}
            />
            <TypeFields index={index} uplink={uplink} />
            <NumberField
              at={`/uplinks/${index}/mtuBytes`}
              label="MTU"
              unit="bytes"
              highest={9216}
              placeholder="1500"
            />
            <SwitchField at={`/uplinks/${index}/sourceNat`} label="Source NAT" on="on" off="off" />
            <NumberField
              at={`/uplinks/${index}/rateDownMbps`}
              label="Rate down"
              unit="Mb/s"
              highest={400_000}
              decimals
            />
            <NumberField
              at={`/uplinks/${index}/rateUpMbps`}
              label="Rate up"
              unit="Mb/s"
              highest={400_000}
              decimals
            />
            <TextField at={`/uplinks/${index}/notes`} label="Notes" />
          </div>
          <Handoff index={index} uplink={uplink} />
        </fieldset>
      ))}
      {rows.length === 0 && (
        <p className="empty">
          No uplink yet. Take the provider&rsquo;s sheet: does it name an address, a mask and a gateway? Then
          it is a fixed address. Does it name nothing? Then the line gives the address by itself.
        </p>
      )}
      <div className="row-actions">
        <Button
          variant={rows.length === 0 ? 'contained' : 'outlined'}
          onClick={() =>
            add(
              uplinkSchema.parse({
                id: newId(),
                name: rows.length === 0 ? 'Line' : `Line ${rows.length + 1}`,
              }),
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
  const plan = usePlan();
  const forwards = plan.uplinks[index]?.handoff.forwards ?? [];
  const { mode } = uplink.handoff;
  return (
    <>
      <h4 className="sub">Hand-off</h4>
      <div className="ledger">
        <ChoiceField
          at={`${at}/mode`}
          label="In front"
          choices={handoffModes.map((each) => [each, handoffWords[each]])}
        />
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
                choices={[
                  ['tcp', 'tcp'],
                  ['udp', 'udp'],
                  ['both', 'both'],
                ]}
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
