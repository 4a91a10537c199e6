import { probeMethods, standbys, watchTargetSchema, type WatchSettings } from '../../core/index.ts';
import { newId } from '../app/api.ts';
import { useSite } from '../app/analysis.ts';
import { usePlanPiece } from '../app/session.ts';
import { ChoiceField, NumberField, SwitchField, TextField } from '../parts/field.tsx';
import { RemoveButton, RowTable, useRows } from '../parts/rows.tsx';

type Target = WatchSettings['targets'][number];

const methodWords: Record<(typeof probeMethods)[number], string> = {
  ping: 'ping',
  name: 'name look-up',
  tcp: 'tcp',
  http: 'http',
};
const methodChoices = probeMethods.map((each) => [each, methodWords[each]] as const);
const standbyWords: Record<(typeof standbys)[number], string> = {
  up: 'kept up',
  dialled: 'dialled when needed',
};
const standbyChoices = standbys.map((each) => [each, standbyWords[each]] as const);
const reachWords = {
  unset: '',
  inside: 'inside: proves nothing',
  box: 'the box in front',
  'first-hop': 'the first hop',
  provider: "the provider's own",
  beyond: 'beyond the provider',
} as const;

/** One line: how it is labelled, how it fails, what is asked over it and what the answers mean. */
export function FailoverLine({ index }: { index: number }) {
  const uplink = usePlanPiece((plan) => plan.uplinks[index]);
  const weights = usePlanPiece((plan) => plan.failover.sharing === 'weights');
  const site = useSite();
  const at = `/uplinks/${index}/watch`;
  const { ids, add, remove } = useRows<Target>(`${at}/targets`);
  if (!uplink) return null;
  const name = uplink.name || 'unnamed uplink';
  const targets = site.failover.watches[index]?.targets;
  return (
    <fieldset className="card" aria-label={`Watching ${name}`} data-at={at} tabIndex={-1}>
      <div className="card-head">
        <h3>{name}</h3>
        <span className="quiet">{index === 0 ? 'first in order' : 'backup'}</span>
      </div>
      <div className="ledger">
        <TextField at={`/uplinks/${index}/label`} label="Label" placeholder="on the plug and the box" />
        {index > 0 && (
          <ChoiceField at={`/uplinks/${index}/standby`} label="As a backup" choices={standbyChoices} />
        )}
        {weights && (
          <NumberField at={`/uplinks/${index}/weight`} label="Weight" highest={1000} placeholder="1" />
        )}
        <NumberField
          decimals
          at={`/uplinks/${index}/failures/measuredLossPercent`}
          label="Loss, measured"
          unit="%"
          highest={100}
        />
        <NumberField
          decimals
          at={`/uplinks/${index}/failures/measuredDelayMs`}
          label="Round trip"
          unit="ms"
          highest={60_000}
        />
        <NumberField
          decimals
          at={`/uplinks/${index}/failures/perYear`}
          label="Fails"
          unit="a year"
          highest={10_000}
          placeholder="by its medium"
        />
        <NumberField
          decimals
          at={`/uplinks/${index}/failures/repairHours`}
          label="Mended after"
          unit="h"
          highest={10_000}
          placeholder="by its medium"
        />
      </div>
      <div data-at={`${at}/targets`} tabIndex={-1}>
        <RowTable
          label={`Targets of ${name}`}
          headings={[
            ['Asked over this line', 'l'],
            ['By', 'm'],
            ['Port', 's'],
            ['Only over it', 'm'],
            ['Stands', 'm'],
          ]}
          add={() => add(watchTargetSchema.parse({ id: newId() }), 'host')}
          addLabel="Add a target"
          empty="Nothing is asked. Two addresses beyond the provider, of two different people, tell whether the internet is there."
        >
          {ids.map((id, row) => (
            <tr key={id} data-at={`${at}/targets/${row}`} tabIndex={-1}>
              <td>
                <TextField bare mono at={`${at}/targets/${row}/host`} label="Asked over this line" />
              </td>
              <td>
                <ChoiceField bare at={`${at}/targets/${row}/method`} label="By" choices={methodChoices} />
              </td>
              <td>
                <NumberField bare at={`${at}/targets/${row}/port`} label="Port" highest={65_535} />
              </td>
              <td>
                <SwitchField
                  bare
                  at={`${at}/targets/${row}/pinned`}
                  label="Only over it"
                  on="pinned"
                  off="any line"
                />
              </td>
              <td className="quiet">{reachWords[targets?.[row]?.reach ?? 'unset']}</td>
              <td>
                <RemoveButton what={`target ${row + 1}`} onClick={() => remove(row)} />
              </td>
            </tr>
          ))}
        </RowTable>
      </div>
      <div className="ledger ledger-three">
        <NumberField
          decimals
          at={`${at}/intervalSeconds`}
          label="Asks every"
          unit="s"
          highest={3600}
          placeholder="10"
        />
        <NumberField
          decimals
          at={`${at}/timeoutSeconds`}
          label="Gives up"
          unit="s"
          highest={60}
          placeholder="2"
        />
        <NumberField at={`${at}/downAfter`} label="Down after" unit="lost" highest={100} placeholder="3" />
        <NumberField at={`${at}/upAfter`} label="Up after" unit="good" highest={1000} placeholder="5" />
        <NumberField at={`${at}/holdSeconds`} label="and held" unit="s" highest={86_400} placeholder="30" />
        <SwitchField at={`${at}/carrier`} label="No link" on="down at once" off="not looked at" />
        <NumberField
          at={`${at}/windowProbes`}
          label="Of the last"
          unit="probes"
          highest={1000}
          placeholder="none"
        />
        <NumberField
          at={`${at}/windowLossPercent`}
          label="a loss of"
          unit="%"
          highest={100}
          placeholder="none"
        />
        <NumberField
          at={`${at}/windowDelayMs`}
          label="a delay of"
          unit="ms"
          highest={60_000}
          placeholder="none"
        />
      </div>
    </fieldset>
  );
}
