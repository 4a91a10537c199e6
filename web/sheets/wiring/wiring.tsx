import Button from '@mui/material/Button';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { memo, useMemo, useState } from 'react';
import {
  type At,
  rateText,
  runSchema,
  runsFromRows,
  switchPortSchema,
  titleAt,
  transitSchema,
  wiringReport,
  type RunPlan,
  type RunReport,
  type SwitchPortPlan,
} from '../../../core/index.ts';
import { useSite } from '../../state/analysis.ts';
import { newId } from '../../state/api.ts';
import { useFocus } from '../../state/focus.ts';
import { usePlanPiece, useSession } from '../../state/session.ts';
import { useSignal } from '../../state/signal.ts';
import { Field } from '../../parts/field.tsx';
import { Figures } from '../../parts/figures.tsx';
import { MoreButton, PlanTable, RemoveButton, RowTable, useRows } from '../../parts/rows.tsx';
import { SheetHead } from '../../parts/sheet-head.tsx';
import { WiringWays } from './wiring-ways.tsx';
import './wiring.css';

/** Cables, ports and VLANs: what is entered, and what each of it carries. */
export function Component() {
  const site = useSite();
  const report = useMemo(() => wiringReport(site), [site]);
  return (
    <>
      <SheetHead title="Wiring" says="Cables from port to port, and the VLANs that pass on each." />
      {site.wiring.boxes.length > 0 && site.wiring.boxes.length + site.devices.length > 1 && (
        <WiringWays site={site} report={report} />
      )}
      <Runs reports={report.runs} />
      <Boxes />
      <Transits />
    </>
  );
}

function Runs({ reports }: { reports: readonly RunReport[] }) {
  const session = useSession();
  const { ids, add, addAll, remove } = useRows<RunPlan>('/wiring/runs');
  const paste = (text: string): string[] => {
    const { rows, notes } = runsFromRows(text, session.snapshot().plan, newId);
    addAll(rows);
    return [`${rows.length} run${rows.length === 1 ? '' : 's'} added.`, ...notes];
  };
  const rateOf = new Map(reports.map(({ run, rate }) => [run.id, rate.value]));
  return (
    <section aria-labelledby="runs" data-at="/wiring/runs" tabIndex={-1}>
      <Typography variant="h3" id="runs">
        Runs
      </Typography>
      <RowTable
        at="/wiring/runs"
        columns={[
          ['label', 'xs'],
          ['From', 'ml'],
          ['To', 'l'],
          ['Cable, length in m', 'm'],
          ['Rate', 'xs'],
        ]}
        add={() => add(runSchema.parse({ id: newId() }), 'label')}
        addLabel="Add a run"
        paste={paste}
        pasteHint="Label, box, port, box or device, port, category and length (12 m) of each run, one row each."
        empty="No run yet. Enter the cables that carry more than one VLAN, and those that must be found again later."
      >
        {ids.map((id, index) => (
          <RunRow key={id} index={index} mbps={rateOf.get(id)} remove={remove} />
        ))}
      </RowTable>
    </section>
  );
}

/** One end above the other field of it: names of boxes are read whole. */
const RunRow = memo(function RunRow({
  index,
  mbps,
  remove,
}: {
  index: number;
  mbps: number | null | undefined;
  remove: (index: number) => void;
}) {
  const at = `/wiring/runs/${index}` as const;
  const run = usePlanPiece((plan) => plan.wiring.runs[index]);
  const [open, setOpen] = useState(false);
  // A search for a field that is folded away opens the row.
  const wanted = useSignal(
    useFocus().place,
    (place) => place === `${at}/pairs` || place === `${at}/shielded`,
  );
  if (!run) return null;
  const used = run.pairs !== null || run.shielded || wanted;
  const more = open || used;
  const what = run.label || `run ${index + 1}`;
  return (
    <TableRow data-at={at} tabIndex={-1}>
      <TableCell>
        <Field bare at={`${at}/label`} />
      </TableCell>
      <TableCell>
        <Field bare at={`${at}/fromBox`} />
        <Field bare at={`${at}/fromPort`} placeholder="port" />
      </TableCell>
      <TableCell>
        <Field bare at={`${at}/toBox`} />
        {run.toBox === '' && <Field bare at={`${at}/toDevice`} />}
        <Field bare at={`${at}/toPort`} placeholder={run.toBox === '' ? 'outlet' : 'port'} />
      </TableCell>
      <TableCell>
        <Field bare at={`${at}/category`} />
        <Field bare at={`${at}/metres`} placeholder="length, m" />
        {more && (
          <>
            <Field bare at={`${at}/pairs`} placeholder="pairs, 4" />
            <Field bare at={`${at}/shielded`} />
          </>
        )}
      </TableCell>
      <TableCell className="cell-text">
        {mbps === undefined || mbps === null ? '' : mbps === 0 ? 'none assured' : rateText(mbps)}
      </TableCell>
      <TableCell>
        <RemoveButton what={what} onClick={() => remove(index)} />
        {!used && <MoreButton what={what} open={open} toggle={() => setOpen(!open)} />}
      </TableCell>
    </TableRow>
  );
});

function Boxes() {
  const joined = usePlanPiece((plan) =>
    plan.kit.flatMap(({ role }, index) => (role === 'power' ? [] : [index])).join(' '),
  );
  const indexes = joined === '' ? [] : joined.split(' ').map(Number);
  return (
    <section aria-labelledby="switch-ports">
      <Typography variant="h3" id="switch-ports">
        Switch ports
      </Typography>
      <p className="quiet">
        Ports of the router stand on the sheet Uplinks; boxes are added on the sheet Site.
      </p>
      {indexes.map((index) => (
        <BoxCard key={index} index={index} />
      ))}
      {indexes.length === 0 && (
        <p className="empty">No switch, access point or modem is on the sheet Site yet.</p>
      )}
    </section>
  );
}

function BoxCard({ index }: { index: number }) {
  const at = `/kit/${index}` as const;
  const item = usePlanPiece((plan) => plan.kit[index]);
  if (!item) return null;
  const name = item.model || titleAt(`${at}/role`, item.role);
  const places = (['vlanSupport', 'spanningTree', 'poeWatts'] as const).map((key): At => `${at}/${key}`);
  const count = item.ports.length;
  return (
    <Figures
      title={name}
      at={[...places, `${at}/ports`]}
      says={
        item.role === 'router'
          ? 'ports on the sheet Uplinks'
          : count === 0
            ? 'no ports entered'
            : `${count} ${count === 1 ? 'port' : 'ports'} · ${titleAt(`${at}/vlanSupport`, item.vlanSupport)} · spanning tree ${item.spanningTree ? 'on' : 'off'}`
      }
    >
      <div className="ledger">
        {places.map((place) => (
          <Field key={place} at={place} />
        ))}
      </div>
      <div data-at={`${at}/ports`} tabIndex={-1}>
        {item.role === 'router' ? (
          <p className="quiet">The ports of the router and their networks stand on the sheet Uplinks.</p>
        ) : (
          <SwitchPorts at={`${at}/ports`} of={name} />
        )}
      </div>
    </Figures>
  );
}

function SwitchPorts({ at, of }: { at: `/kit/${number}/ports`; of: string }) {
  const { ids, addAll } = useRows<SwitchPortPlan>(at);
  const made = (place: number): SwitchPortPlan =>
    switchPortSchema.parse({ id: newId(), name: String(ids.length + place), rateMbps: 1000 });
  return (
    <>
      <PlanTable
        at={at}
        of={of}
        columns={[
          ['name', 's'],
          ['rateMbps', 'sm'],
          ['untagged', 'sm'],
          ['tagged', 'l'],
          ['poe', 'm'],
          ['poeClass', 's'],
        ]}
        row={() => made(1)}
        what="port"
        addLabel="Add a port"
        empty="None yet. Ports that a run names are there all the same, without a VLAN of their own."
      />
      <div className="row-actions">
        <Button onClick={() => addAll(Array.from({ length: 8 }, (_, place) => made(place + 1)))}>
          Add eight ports
        </Button>
      </div>
    </>
  );
}

function Transits() {
  return (
    <section aria-labelledby="transits" data-at="/wiring/transits" tabIndex={-1}>
      <Typography variant="h3" id="transits">
        Lines carried over the cabling
      </Typography>
      <PlanTable
        at="/wiring/transits"
        columns={[
          ['uplink', 'm'],
          ['vlan', 'm'],
        ]}
        row={() => transitSchema.parse({ id: newId() })}
        what="carried line"
        addLabel="Add a carried line"
        empty="None: every line's box is plugged into the router itself."
      />
    </section>
  );
}
