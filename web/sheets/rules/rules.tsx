import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { memo, useState } from 'react';
import {
  forwardSchema,
  forwardsFromRows,
  routeSchema,
  type ForwardPlan,
  type Plan,
} from '../../../core/index.ts';
import { newId } from '../../state/api.ts';
import { usePlanPiece, useSession } from '../../state/session.ts';
import { useDeviceChoices, useUplinkChoices, type Choices } from '../../parts/choices.ts';
import { Field } from '../../parts/field.tsx';
import { MoreButton, RemoveButton, RowTable, useRows } from '../../parts/rows.tsx';
import { SheetHead } from '../../parts/sheet-head.tsx';
import { Exposure } from './exposure.tsx';
import { Expectations } from './expectations.tsx';
import { ReachMatrix } from './reach-matrix.tsx';
import { ForwardCallList } from './forward-calls.tsx';
import { ReachRules } from './reach-rules.tsx';
import './rules.css';
import '../../parts/services.css';

type StaticRoute = Plan['routes'][number];

export function Component() {
  return (
    <>
      <SheetHead
        title="Rules"
        says="What may pass. Connections from inside to the internet are allowed, everything else is refused, unless a rule here says otherwise."
      />
      <Forwards />
      <section aria-labelledby="between" data-at="/reach" tabIndex={-1}>
        <Typography variant="h3" id="between">
          Between networks and outward
        </Typography>
        <ReachMatrix />
        <ReachRules />
      </section>
      <Exposure />
      <Expectations />
      <OutboundNat />
      <RouterHabits />
      <Routes />
    </>
  );
}

function Forwards() {
  const session = useSession();
  const { ids, add, addAll, remove } = useRows<ForwardPlan>('/forwards');
  const uplinks = useUplinkChoices();
  const devices = useDeviceChoices();
  const paste = (text: string): string[] => {
    const { rows, notes } = forwardsFromRows(text, session.snapshot().plan, newId);
    addAll(rows);
    return [`${rows.length} forward${rows.length === 1 ? '' : 's'} added.`, ...notes];
  };
  return (
    <section aria-labelledby="forwards" data-at="/forwards" tabIndex={-1}>
      <Typography variant="h3" id="forwards">
        Port forwarding
      </Typography>
      <RowTable
        at="/forwards"
        columns={[
          ['purpose', 'ml'],
          ['uplink', 's'],
          ['outsidePorts', 'xxs'],
          // One above the other: names of both are read whole.
          ['Device and service', 'l'],
          ['sources', 'm'],
        ]}
        add={() => add(forwardSchema.parse({ id: newId(), uplink: uplinks[0]?.[0] ?? '' }), 'purpose')}
        addLabel="Add a forward"
        paste={paste}
        pasteHint="Outside port, protocol, device, inside port and what for, one row each: copied from a spreadsheet, or with commas."
        empty="No port is forwarded: nothing can be opened from outside."
      >
        {ids.map((id, index) => (
          <ForwardRow key={id} index={index} uplinks={uplinks} devices={devices} remove={remove} />
        ))}
      </RowTable>
      <ForwardCallList />
    </section>
  );
}

interface ForwardRowProps {
  readonly index: number;
  readonly uplinks: Choices;
  readonly devices: Choices;
  readonly remove: (index: number) => void;
}

const ForwardRow = memo(function ForwardRow({ index, uplinks, devices, remove }: ForwardRowProps) {
  const at = `/forwards/${index}` as const;
  const forward = usePlanPiece((plan) => plan.forwards[index]);
  const services = usePlanPiece(
    (plan) => plan.devices.find((device) => device.id === plan.forwards[index]?.device)?.services,
  );
  const [open, setOpen] = useState(false);
  if (!forward) return null;
  const what = forward.purpose || 'forward';
  const used = forward.until !== '' || forward.acceptedBy !== '';
  const more = open || used;
  const chosen = services?.find((service) => service.id === forward.service);
  const inside = forward.service === '' ? forward.insidePorts : (chosen?.ports ?? '');
  return (
    <TableRow data-at={at} tabIndex={-1}>
      <TableCell>
        <Field bare at={`${at}/purpose`} />
      </TableCell>
      <TableCell>
        <Field bare at={`${at}/uplink`} choices={uplinks} />
      </TableCell>
      <TableCell>
        <Field bare at={`${at}/outsidePorts`} placeholder={inside || 'port'} />
      </TableCell>
      <TableCell>
        <Field bare at={`${at}/device`} choices={devices} />
        {((services?.length ?? 0) > 0 || forward.service !== '') && (
          <Field
            bare
            at={`${at}/service`}
            choices={(services ?? []).map(
              (service) =>
                [service.id, `${service.name || 'service'} · ${service.protocol} ${service.ports}`] as const,
            )}
          />
        )}
        {forward.service === '' && (
          <span className="typed-service">
            <Field bare at={`${at}/protocol`} />
            <Field bare at={`${at}/insidePorts`} />
          </span>
        )}
      </TableCell>
      <TableCell>
        <Field bare at={`${at}/sources`} />
        {more && (
          <>
            <Field bare at={`${at}/until`} placeholder="until: no end" />
            <Field bare at={`${at}/acceptedBy`} placeholder="accepted by" />
          </>
        )}
      </TableCell>
      <TableCell>
        <RemoveButton what={what} onClick={() => remove(index)} />
        {!used && <MoreButton what={what} open={open} toggle={() => setOpen(!open)} />}
      </TableCell>
    </TableRow>
  );
});

function OutboundNat() {
  const uplinks = useUplinkChoices();
  return (
    <section aria-labelledby="outbound">
      <Typography variant="h3" id="outbound">
        Source NAT and outbound
      </Typography>
      {uplinks.length === 0 && <p className="empty">No uplink yet.</p>}
      <div className="ledger">
        {uplinks.map(([id, name], index) => (
          <Field key={id} at={`/uplinks/${index}/sourceNat`} of={name} />
        ))}
      </div>
    </section>
  );
}

/** What the router does without being asked, as it was found or tried. */
function RouterHabits() {
  return (
    <section aria-labelledby="habits">
      <Typography variant="h3" id="habits">
        Automatic functions of the router
      </Typography>
      <div className="ledger">
        <Field at="/router/hairpin" />
        <Field at="/router/portControl" />
        <Field at="/router/sipHelper" />
        <Field at="/router/pingOutside" />
        <Field at="/router/bothProtocols" />
      </div>
    </section>
  );
}

function Routes() {
  const { ids, add, remove } = useRows<StaticRoute>('/routes');
  return (
    <section aria-labelledby="routes" data-at="/routes" tabIndex={-1}>
      <Typography variant="h3" id="routes">
        Static routes
      </Typography>
      <RowTable
        at="/routes"
        columns={[
          ['prefix', 'm'],
          ['via', 'm'],
          ['notes', 'l'],
        ]}
        add={() => add(routeSchema.parse({ id: newId() }), 'prefix')}
        addLabel="Add a route"
        empty="None: every subnet is directly connected, and everything else leaves by the first uplink that is up."
      >
        {ids.map((id, index) => (
          <TableRow key={id} data-at={`/routes/${index}`} tabIndex={-1}>
            <TableCell>
              <Field bare at={`/routes/${index}/prefix`} />
            </TableCell>
            <TableCell>
              <Field bare at={`/routes/${index}/via`} />
            </TableCell>
            <TableCell>
              <Field bare at={`/routes/${index}/notes`} />
            </TableCell>
            <TableCell>
              <RemoveButton what={`route ${index + 1}`} onClick={() => remove(index)} />
            </TableCell>
          </TableRow>
        ))}
      </RowTable>
    </section>
  );
}
