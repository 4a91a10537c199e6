import Typography from '@mui/material/Typography';
import { lazy, Suspense } from 'react';
import { parseTools, rateRunSchema, type RateRunPlan } from '../../../core/index.ts';
import { useSite } from '../../state/analysis.ts';
import { newId } from '../../state/api.ts';
import { usePlanPiece } from '../../state/session.ts';
import { PlanTable, useRows } from '../../parts/rows.tsx';

const RateChart = lazy(() => import('./rate-chart.tsx'));
/** Fewer runs than these are read faster than a chart of them. */
const fewestDrawn = 4;

/** Measured rates of a line: typed, or pasted as a throughput tester writes them. */
export function RateRuns({ index }: { index: number }) {
  const at = `/uplinks/${index}/runs` as const;
  const { addAll } = useRows<RateRunPlan>(at);
  const name = usePlanPiece((plan) => plan.uplinks[index]?.name ?? '');
  const line = useSite().lines[index];
  const made = (figures: object): RateRunPlan =>
    rateRunSchema.parse({ id: newId(), hour: new Date().getHours(), ...figures });
  const paste = (text: string): string[] => {
    const found = parseTools(text).flatMap((figure) =>
      figure.kind === 'rate' ? [made({ direction: figure.direction, mbps: figure.mbps })] : [],
    );
    addAll(found);
    return [
      found.length === 0
        ? 'No rate was found in that: paste the JSON of one run as a whole.'
        : `${found.length} run${found.length === 1 ? '' : 's'} added.`,
    ];
  };
  return (
    <section data-at={at} tabIndex={-1} aria-label={`Measured rates of ${name}`}>
      <Typography variant="h4" className="sub">
        Measured rates
      </Typography>
      {line && line.runs.filter(({ hour, mbps }) => hour !== null && mbps !== null).length >= fewestDrawn && (
        <Suspense fallback={<p className="quiet">Drawing …</p>}>
          <RateChart line={line} />
        </Suspense>
      )}
      <PlanTable
        at={at}
        of={name}
        columns={[
          ['direction', 'm'],
          ['mbps', 'm'],
          ['wired', 'm'],
          ['hour', 's'],
        ]}
        row={() => made({})}
        what="run"
        addLabel="Add a run"
        paste={paste}
        pasteHint="The JSON that a throughput tester writes, one run at a time."
        empty="None yet. Three runs by cable in each direction are the least that can be judged."
      />
    </section>
  );
}
