import Typography from '@mui/material/Typography';
import { parseTools, rateRunSchema, type RateRunPlan } from '../../core/index.ts';
import { newId } from '../app/api.ts';
import { usePlanPiece } from '../app/session.ts';
import { PlanTable, useRows } from '../parts/rows.tsx';

/** Measured rates of a line: typed, or pasted as a throughput tester writes them. */
export function RateRuns({ index }: { index: number }) {
  const at = `/uplinks/${index}/runs`;
  const { addAll } = useRows<RateRunPlan>(at);
  const name = usePlanPiece((plan) => plan.uplinks[index]?.name ?? '');
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
