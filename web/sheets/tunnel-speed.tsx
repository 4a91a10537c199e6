import { parseTools, vpnRunSchema, type VpnSettings } from '../../core/index.ts';
import { newId } from '../app/api.ts';
import { ChoiceField, NumberField } from '../parts/field.tsx';
import { RemoveButton, RowTable, useRows } from '../parts/rows.tsx';

type Run = VpnSettings['runs'][number];

/** What the tunnel can give a traveller, and what was measured beside it. */
export function TunnelSpeed() {
  const { ids, add, addAll, remove } = useRows<Run>('/vpn/runs');
  const paste = (text: string): string[] => {
    const runs = parseTools(text).flatMap((figure) =>
      figure.kind === 'rate'
        ? [vpnRunSchema.parse({ id: newId(), direction: figure.direction, mbps: figure.mbps })]
        : [],
    );
    addAll(runs);
    return [runs.length === 0 ? 'No rate is in there.' : `${runs.length} runs added.`];
  };
  return (
    <section aria-labelledby="speed" data-at="/vpn/runs" tabIndex={-1}>
      <h3 id="speed">What the tunnel can give</h3>
      <div className="ledger">
        <NumberField
          decimals
          at="/vpn/travellerDownMbps"
          label="Traveller has"
          unit="Mb/s"
          highest={400_000}
        />
        <NumberField decimals at="/vpn/roundTripMs" label="Round trip" unit="ms" highest={60_000} />
      </div>
      <RowTable
        label="Measured through the tunnel"
        headings={[
          ['Direction', 'm'],
          ['Measured', 'm'],
        ]}
        add={() => add(vpnRunSchema.parse({ id: newId() }), 'mbps')}
        addLabel="Add a run"
        paste={paste}
        pasteHint="What a throughput tester prints as JSON."
        empty="No run yet. Three each way, from the place of a traveller: the figure is explained by the bound beside it."
      >
        {ids.map((id, index) => (
          <tr key={id} data-at={`/vpn/runs/${index}`} tabIndex={-1}>
            <td>
              <ChoiceField
                bare
                at={`/vpn/runs/${index}/direction`}
                label="Direction"
                choices={[
                  ['down', 'to the traveller'],
                  ['up', 'from the traveller'],
                ]}
              />
            </td>
            <td>
              <NumberField
                bare
                decimals
                at={`/vpn/runs/${index}/mbps`}
                label="Measured"
                unit="Mb/s"
                highest={400_000}
              />
            </td>
            <td>
              <RemoveButton what={`run ${index + 1}`} onClick={() => remove(index)} />
            </td>
          </tr>
        ))}
      </RowTable>
    </section>
  );
}
