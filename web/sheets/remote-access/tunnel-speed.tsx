import Typography from '@mui/material/Typography';
import { parseTools, vpnRunSchema } from '../../../core/index.ts';
import { newId } from '../../state/api.ts';
import { Field } from '../../parts/field.tsx';
import { PlanTable, useRows } from '../../parts/rows.tsx';

/** What the tunnel can give a remote user, and what was measured beside it. */
export default function TunnelSpeed() {
  const { addAll } = useRows('/vpn/runs');
  const paste = (text: string): string[] => {
    const runs = parseTools(text).flatMap((figure) =>
      figure.kind === 'rate'
        ? [vpnRunSchema.parse({ id: newId(), direction: figure.direction, mbps: figure.mbps })]
        : [],
    );
    addAll(runs);
    return [runs.length === 0 ? 'There is no rate in that text.' : `${runs.length} runs added.`];
  };
  return (
    <section aria-labelledby="speed" data-at="/vpn/runs" tabIndex={-1}>
      <Typography variant="h3" id="speed">
        Throughput of the tunnel
      </Typography>
      <div className="ledger">
        <Field at="/vpn/clientDownMbps" />
        <Field at="/vpn/roundTripMs" />
      </div>
      <PlanTable
        at="/vpn/runs"
        columns={[
          ['direction', 'm'],
          ['mbps', 'm'],
        ]}
        row={() => vpnRunSchema.parse({ id: newId() })}
        what="run"
        addLabel="Add a run"
        paste={paste}
        pasteHint="What a throughput tester prints as JSON."
        empty="No run yet. Make three in each direction, from where a remote user is; the limit beside it explains the figure."
      />
    </section>
  );
}
