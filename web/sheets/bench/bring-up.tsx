import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { faultsOf, titleAt, type Exchange } from '../../../core/index.ts';
import { analysisWorker, useAnalysis, useSite } from '../../state/analysis.ts';
import { usePlan } from '../../state/session.ts';
import { download } from '../../parts/download.ts';
import { Select } from '../../parts/inputs.tsx';
import '../../parts/panel.css';

/** One run, and what it was made with. */
interface Run {
  readonly line: string;
  readonly fault: string;
  readonly seed: number;
  readonly exchange: Exchange;
}

/** Brings one line up against its stand-in, with a fault or without. */
export default function BringUp() {
  const site = useSite();
  const ready = useAnalysis() !== undefined;
  const plan = usePlan();
  const [chosen, setChosen] = useState(0);
  const [fault, setFault] = useState('');
  const [run, setRun] = useState<Run>();
  const line = site.lines[chosen] ?? site.lines[0];
  const faults = line ? faultsOf(line) : [];
  const known = faults.some(({ name }) => name === fault) ? fault : '';
  const rehearse = async (seed: number): Promise<void> => {
    if (!line) return;
    const exchange = await analysisWorker().rehearse(site.lines.indexOf(line), known, seed);
    if (exchange) setRun({ line: line.name, fault: known, seed, exchange });
  };
  return (
    <>
      <section aria-labelledby="bring-up">
        <Typography variant="h3" id="bring-up">
          Bring a line up
        </Typography>
        {line === undefined ? (
          <p className="empty">There is no uplink to bring up yet.</p>
        ) : faults.length === 0 ? (
          <p className="empty">
            Nobody knows yet what kind of line {line.name} is. Settle its WAN type on the Uplinks sheet first.
          </p>
        ) : (
          <form
            className="bench-form"
            onSubmit={(event) => {
              event.preventDefault();
              void rehearse(run === undefined ? 1 : run.seed + 1);
            }}
          >
            <label>
              Line
              <Select
                className="boxed"
                value={chosen}
                onChange={({ target }) => setChosen(Number(target.value))}
              >
                {site.lines.map((each, index) => (
                  <option key={each.id} value={index}>
                    {each.name}, {titleAt('/uplinks/*/type', each.type)}
                  </option>
                ))}
              </Select>
            </label>
            <label>
              Fault
              <Select className="boxed" value={known} onChange={({ target }) => setFault(target.value)}>
                <option value="">no fault</option>
                {faults.map(({ name, title }) => (
                  <option key={name} value={name}>
                    {title}
                  </option>
                ))}
              </Select>
            </label>
            <Button type="submit" variant="contained" disabled={!ready}>
              Bring it up
            </Button>
          </form>
        )}
        {run && <ExchangeLadder run={run} siteName={plan.site.name} />}
      </section>
    </>
  );
}

/** What went over the line and what was to be seen, in the order of time. */
function ExchangeLadder({ run, siteName }: { run: Run; siteName: string }) {
  const { exchange } = run;
  const rows = [
    ...exchange.messages.map((message) => ({ kind: 'message' as const, order: message.order, message })),
    ...exchange.sights.map((sight) => ({ kind: 'sight' as const, order: sight.order, sight })),
  ].sort((a, b) => a.order - b.order);
  const frames = exchange.messages.filter(({ frame }) => frame !== undefined).length;
  const save = async (): Promise<void> => {
    const bytes = await analysisWorker().capture(exchange, Math.floor(Date.now() / 1000));
    download(
      `${siteName} ${run.line} ${run.fault || 'sound'}.pcapng`,
      [bytes as BlobPart],
      'application/x-pcapng',
    );
  };
  return (
    <section aria-label="The exchange">
      <p className={exchange.up ? 'bench-says' : 'bench-says bench-failed'} role="status">
        <strong>{exchange.up ? 'Up' : 'Not up'}</strong> after{' '}
        <span className="mono">{exchange.endsAt.toFixed(1)} s</span>. {exchange.says}
      </p>
      <ol className="exchange">
        <li className="exchange-head" aria-hidden>
          <span>Time</span>
          <span>Router</span>
          <span className="exchange-far">Line</span>
          <span className="exchange-bytes">Bytes</span>
        </li>
        {rows.map((row, index) =>
          row.kind === 'message' ? (
            <li key={index} className={`went-${row.message.from}`}>
              <span className="mono exchange-at">{row.message.at.toFixed(3)}</span>
              <span className="exchange-arrow">
                <span className="hidden">
                  {row.message.from === 'router' ? 'From the router:' : 'From the line:'}
                </span>
                <strong className="mono">{row.message.name}</strong> {row.message.says}
              </span>
              <span className="mono exchange-bytes">{row.message.frame?.length ?? ''}</span>
            </li>
          ) : (
            <li key={index} className="exchange-sight">
              <span className="mono exchange-at">{row.sight.at.toFixed(3)}</span>
              <span>
                <span className="quiet">You see:</span> {row.sight.light}; <strong>{row.sight.status}</strong>{' '}
                <span className="quiet mono">log: {row.sight.log}</span>
              </span>
            </li>
          ),
        )}
      </ol>
      <div className="row-actions">
        {frames > 0 ? (
          <Button onClick={() => void save()}>Save the {frames} frames as a capture</Button>
        ) : (
          <span className="quiet">
            No Ethernet frame went over this line, so there is no capture to save.
          </span>
        )}
      </div>
    </section>
  );
}
