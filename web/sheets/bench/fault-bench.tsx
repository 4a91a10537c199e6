import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import {
  faultKinds,
  faultText,
  type FaultKind,
  type ScriptedFault,
  type SimulationRun,
} from '../../../core/index.ts';
import { analysisWorker, useAnalysis, useSite } from '../../state/analysis.ts';
import { newId } from '../../state/api.ts';
import { RemoveButton } from '../../parts/rows.tsx';
import { BenchPicture } from '../../picture/bench-picture.tsx';
import { Moment, Timeline } from './timeline.tsx';
import { Input, Select } from '../../parts/inputs.tsx';

/** One fault as it is chosen, before it is run. */
interface Chosen extends ScriptedFault {
  readonly id: string;
}

const amountOf = (kind: FaultKind): { says: string; unit: string; usual: number } | undefined => {
  const found = faultKinds.find((each) => each.kind === kind);
  return found && 'amount' in found ? found.amount : undefined;
};

/** Lets lines fail on a simulated site, and shows what the router and the people see, second by second. */
export function FaultBench() {
  const site = useSite();
  const ready = useAnalysis() !== undefined;
  const [faults, setFaults] = useState<Chosen[]>(() => [
    { id: newId(), kind: 'beyond', line: site.lines[0]?.id ?? '', atSeconds: 60, forSeconds: 600, amount: 0 },
  ]);
  const [minutes, setMinutes] = useState(25);
  const [run, setRun] = useState<SimulationRun>();
  const [kept, setKept] = useState<SimulationRun>();
  const [at, setAt] = useState(0);
  if (site.lines.length === 0) return <p className="empty">No line yet: add one on the Uplinks sheet.</p>;
  const change = (id: string, part: Partial<ScriptedFault>): void =>
    setFaults(faults.map((each) => (each.id === id ? { ...each, ...part } : each)));
  const start = async (seed: number): Promise<void> => {
    const result = await analysisWorker().simulate({
      faults: faults.map(({ kind, line, atSeconds, forSeconds, amount }) => ({
        kind,
        line: kind === 'restart' ? '' : line,
        atSeconds,
        forSeconds,
        amount,
      })),
      untilSeconds: minutes * 60,
      seed,
    });
    if (!result) return;
    setRun(result);
    setAt(result.events.find(({ says }) => says.startsWith('Traffic leaves by'))?.at ?? 0);
  };
  return (
    <section aria-labelledby="fault-bench">
      <Typography variant="h3" id="fault-bench">
        Simulate a line failure
      </Typography>
      <form
        className="fault-form"
        onSubmit={(event) => {
          event.preventDefault();
          void start(run?.seed ?? 1);
        }}
      >
        {faults.map((fault, index) => (
          <FaultRow
            key={fault.id}
            fault={fault}
            index={index}
            lines={site.lines.map(({ id, name }) => [id, name] as const)}
            change={(part) => change(fault.id, part)}
            remove={faults.length > 1 ? () => setFaults(faults.filter((each) => each !== fault)) : undefined}
          />
        ))}
        <div className="row-actions">
          <Button
            onClick={() =>
              setFaults([
                ...faults,
                {
                  id: newId(),
                  kind: 'loss',
                  line: site.lines[0]!.id,
                  atSeconds: 60,
                  forSeconds: 300,
                  amount: 40,
                },
              ])
            }
          >
            Add a fault
          </Button>
          <label>
            Watch for{' '}
            <Input
              className="boxed mono short"
              inputMode="numeric"
              value={minutes}
              onChange={({ target }) => setMinutes(Math.min(1440, Math.max(1, Number(target.value) || 1)))}
            />{' '}
            minutes
          </label>
          <Button type="submit" variant="contained" disabled={!ready}>
            Run the failure
          </Button>
          {run && (
            <Button onClick={() => void start(run.seed + 1)}>Run again with other random values</Button>
          )}
        </div>
      </form>
      {run && (
        <>
          <Verdict run={run} kept={kept} keep={() => setKept(kept === run ? undefined : run)} />
          <p className="quiet">
            {run.faults.map((fault) => faultText(site, fault)).join('; ')}. Run {run.seed}.
          </p>
          <BenchPicture run={run} at={at} moveTo={setAt} />
          <Timeline key={`${run.seed} ${run.untilSeconds}`} run={run} at={at} moveTo={setAt} />
          <Moment run={run} at={at} />
          {kept && kept !== run && (
            <>
              <Typography variant="h4" className="sub">
                Saved run
              </Typography>
              <Timeline run={kept} at={at} moveTo={setAt} />
            </>
          )}
        </>
      )}
    </section>
  );
}

function FaultRow({
  fault,
  index,
  lines,
  change,
  remove,
}: {
  fault: Chosen;
  index: number;
  lines: readonly (readonly [string, string])[];
  change: (part: Partial<ScriptedFault>) => void;
  remove: (() => void) | undefined;
}) {
  const amount = amountOf(fault.kind);
  const number = (label: string, key: 'atSeconds' | 'forSeconds' | 'amount', unit: string) => (
    <label>
      {label}
      <span>
        <Input
          className="boxed mono short"
          inputMode="numeric"
          aria-label={`${label}, fault ${index + 1}`}
          value={fault[key]}
          onChange={({ target }) =>
            change({ [key]: Math.min(86_400, Math.max(0, Number(target.value) || 0)) })
          }
        />{' '}
        <span className="quiet">{unit}</span>
      </span>
    </label>
  );
  return (
    <div className="fault-row">
      <label>
        What fails
        <Select
          className="boxed"
          aria-label={`What fails, fault ${index + 1}`}
          value={fault.kind}
          onChange={({ target }) => {
            const kind = target.value as FaultKind;
            change({ kind, amount: amountOf(kind)?.usual ?? 0 });
          }}
        >
          {faultKinds.map(({ kind, title }) => (
            <option key={kind} value={kind}>
              {title}
            </option>
          ))}
        </Select>
      </label>
      {fault.kind !== 'restart' && (
        <label>
          On
          <Select
            className="boxed"
            aria-label={`On which line, fault ${index + 1}`}
            value={fault.line}
            onChange={({ target }) => change({ line: target.value })}
          >
            {lines.map(([id, name]) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Select>
        </label>
      )}
      {number('At', 'atSeconds', 's')}
      {number('For', 'forSeconds', 's')}
      {amount && number(amount.says, 'amount', amount.unit)}
      {remove && <RemoveButton what={`fault ${index + 1}`} onClick={remove} />}
    </div>
  );
}

/** Traffic lost, flow by flow, beside the run that was kept. */
function Verdict({
  run,
  kept,
  keep,
}: {
  run: SimulationRun;
  kept: SimulationRun | undefined;
  keep: () => void;
}) {
  const broken = run.promises.filter((each) => !each.kept);
  const other = kept && kept !== run ? kept : undefined;
  const gap = (flow: SimulationRun['flows'][number] | undefined): string =>
    !flow
      ? ''
      : flow.longestGap === 0
        ? 'none'
        : `${flow.longestGap} s${flow.stillBroken ? ', still out' : ''}`;
  return (
    <>
      <p className={broken.length > 0 ? 'bench-says bench-failed' : 'bench-says'} role="status">
        {run.promises.length === 0
          ? 'Nothing is promised for a line failure; this is what would happen.'
          : broken.length === 0
            ? `Kept: ${run.promises.map((each) => `${each.says} (longest gap ${each.longestGap} s)`).join('; ')}.`
            : `Not kept: ${broken.map((each) => `${each.says} (out for ${each.longestGap} s)`).join('; ')}.`}{' '}
        {run.switches === 0
          ? 'Traffic never switched.'
          : `Traffic switched ${run.switches} ${run.switches === 1 ? 'time' : 'times'}.`}{' '}
        {run.backupGigabytes > 0 && `${run.backupGigabytes} GB went over the backup.`}
      </p>
      <Table className="losses" aria-label="Traffic lost">
        <TableHead>
          <TableRow>
            <TableCell>Traffic</TableCell>
            <TableCell>Longest gap</TableCell>
            <TableCell>Lost in total</TableCell>
            <TableCell>Sessions lost</TableCell>
            {other && <TableCell>Longest gap, saved run</TableCell>}
          </TableRow>
        </TableHead>
        <TableBody>
          {run.flows.map((flow) => (
            <TableRow key={flow.id}>
              <TableCell component="th" scope="row">
                {flow.name}
              </TableCell>
              <TableCell className="mono">{gap(flow)}</TableCell>
              <TableCell className="mono">{flow.secondsLost} s</TableCell>
              <TableCell className="mono">{flow.sessionsLost}</TableCell>
              {other && (
                <TableCell className="mono">{gap(other.flows.find(({ id }) => id === flow.id))}</TableCell>
              )}
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <div className="row-actions">
        <Button onClick={keep}>{kept === run ? 'Discard the saved run' : 'Save this run to compare'}</Button>
        {kept === run && (
          <span className="quiet">
            Change the plan or the faults, let it happen again, and both stand side by side.
          </span>
        )}
      </div>
    </>
  );
}
