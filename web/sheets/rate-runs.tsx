import { parseTools, rateRunSchema, type RateRunPlan } from '../../core/index.ts';
import { newId } from '../app/api.ts';
import { usePlanPiece } from '../app/session.ts';
import { ChoiceField, NumberField, SwitchField } from '../parts/field.tsx';
import { RemoveButton, RowTable, useRows } from '../parts/rows.tsx';

const directions = [
  ['down', 'down'],
  ['up', 'up'],
] as const;

/** Measured rates of a line: typed, or pasted as a throughput tester writes them. */
export function RateRuns({ index }: { index: number }) {
  const at = `/uplinks/${index}/runs`;
  const { ids, add, addAll, remove } = useRows<RateRunPlan>(at);
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
      <h4 className="sub">Measured rates</h4>
      <RowTable
        label={`Runs on ${name}`}
        headings={[
          ['Direction', 'm'],
          ['Rate, Mb/s', 'm'],
          ['By cable', 'm'],
          ['Hour', 's'],
        ]}
        add={() => add(made({}), 'mbps')}
        addLabel="Add a run"
        paste={paste}
        pasteHint="The JSON that a throughput tester writes, one run at a time."
        empty="None yet. Three runs by cable in each direction are the least that can be judged."
      >
        {ids.map((id, row) => (
          <tr key={id} data-at={`${at}/${row}`} tabIndex={-1}>
            <td>
              <ChoiceField bare at={`${at}/${row}/direction`} label="Direction" choices={directions} />
            </td>
            <td>
              <NumberField bare decimals at={`${at}/${row}/mbps`} label="Rate in Mb/s" highest={400_000} />
            </td>
            <td>
              <SwitchField bare at={`${at}/${row}/wired`} label="By cable" on="cable" off="air" />
            </td>
            <td>
              <NumberField bare at={`${at}/${row}/hour`} label="Hour" highest={23} />
            </td>
            <td>
              <RemoveButton what={`run ${row + 1}`} onClick={() => remove(row)} />
            </td>
          </tr>
        ))}
      </RowTable>
    </section>
  );
}
