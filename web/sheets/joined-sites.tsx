import Button from '@mui/material/Button';
import {
  endOf,
  endOfFar,
  farSiteSchema,
  translationSchema,
  tunnelStates,
  tunnelsWorked,
  type FarSitePlan,
  type TranslationPlan,
} from '../../core/index.ts';
import { newId } from '../app/api.ts';
import { useSite } from '../app/analysis.ts';
import { usePlanPiece, useSession } from '../app/session.ts';
import { ChoiceField, ListField, NumberField, SwitchField, TextField } from '../parts/field.tsx';
import { RemoveButton, RowTable, useRows } from '../parts/rows.tsx';
import { WorkedSum } from '../parts/worked.tsx';
import { JoinPanel } from './join-panel.tsx';
import { StateList } from './state-list.tsx';

/** Other sites of the customer, joined by tunnels whose ends are made in one step. */
export function JoinedSites() {
  const { ids, add, remove } = useRows<FarSitePlan>('/vpn/sites');
  return (
    <section aria-labelledby="sites-joined" data-at="/vpn/sites" tabIndex={-1}>
      <h3 id="sites-joined">Joined sites</h3>
      {ids.map((id, index) => (
        <FarSiteCard key={id} index={index} remove={remove} />
      ))}
      {ids.length > 0 && (
        <div className="ledger">
          <SwitchField
            at="/vpn/hub"
            label="Passes on"
            on="between joined sites: the hub"
            off="nothing between them"
          />
        </div>
      )}
      {ids.length > 1 && <WorkedSum worked={tunnelsWorked(ids.length + 1)} />}
      <JoinPanel />
      <div className="row-actions">
        <Button onClick={() => add(farSiteSchema.parse({ id: newId() }), 'name')}>
          Type in a site by hand
        </Button>
      </div>
    </section>
  );
}

function FarSiteCard({ index, remove }: { index: number; remove: (index: number) => void }) {
  const at = `/vpn/sites/${index}`;
  const site = useSite();
  const name = usePlanPiece((plan) => plan.vpn.sites[index]?.name ?? '');
  const failsOver = usePlanPiece((plan) => plan.vpn.sites[index]?.failsOver ?? false);
  const far = site.vpn.sites[index];
  return (
    <fieldset className="card" aria-label={name || `Joined site ${index + 1}`} data-at={at} tabIndex={-1}>
      <div className="ledger">
        <TextField wrap at={`${at}/name`} label="Site" />
        <TextField mono wrap at={`${at}/publicKey`} label="Its key" />
        <TextField mono wrap at={`${at}/endpoint`} label="Called at" placeholder="it cannot be called" />
        <NumberField at={`${at}/port`} label="Port" lowest={1} highest={65_535} placeholder="51820" />
        <ListField at={`${at}/prefixes`} label="Routes to it" />
        <TextField mono at={`${at}/address`} label="In the tunnel" />
        <SwitchField at={`${at}/failsOver`} label="Second line" on="it has one" off="it has none" />
        {failsOver && (
          <>
            <TextField
              mono
              wrap
              at={`${at}/backupEndpoint`}
              label="Called there"
              placeholder="it cannot be called over it"
            />
            <NumberField at={`${at}/backSeconds`} label="It carries after" unit="s" highest={86_400} />
            <NumberField
              at={`${at}/nameSeconds`}
              label="Its name after"
              unit="s"
              highest={691_200}
              placeholder="3600"
            />
          </>
        )}
        <span className="secret-field">
          <JoinedNetworks at={`${at}/networks`} index={index} />
          <RemoveButton what={name || `joined site ${index + 1}`} onClick={() => remove(index)} />
        </span>
      </div>
      <Translations at={`${at}/translations`} name={name} />
      {far && (
        <StateList
          label={`The tunnel to ${far.name} when a line fails`}
          states={tunnelStates(endOf(site), endOfFar(far), site.vpn.keepAliveSeconds)}
        />
      )}
    </fieldset>
  );
}

/** Which of this site's networks the other end reaches, and may be reached from. */
function JoinedNetworks({ at, index }: { at: string; index: number }) {
  const session = useSession();
  const site = useSite();
  const joined = site.vpn.sites[index]?.networks ?? [];
  return (
    <div className="field" data-at={at} tabIndex={-1}>
      <span className="field-label">Joined here</span>
      <span className="ticks ticks-row">
        {site.networks.map((network) => (
          <label key={network.id}>
            <input
              type="checkbox"
              className="tick"
              checked={joined.includes(network)}
              onChange={({ target }) => {
                const next = site.networks.filter((each) =>
                  each === network ? target.checked : joined.includes(each),
                );
                session.edit(
                  at,
                  next.map(({ id }) => id),
                );
                session.settle();
              }}
            />{' '}
            {network.name}
          </label>
        ))}
      </span>
    </div>
  );
}

const ends = [
  ['there', 'there'],
  ['here', 'here'],
] as const;

/** Networks whose block is in use at the other end too. */
function Translations({ at, name }: { at: string; name: string }) {
  const { ids, add, remove } = useRows<TranslationPlan>(at);
  const addOne = (): void => add(translationSchema.parse({ id: newId() }), 'network');
  if (ids.length === 0)
    return (
      <div className="row-actions">
        <Button onClick={addOne} aria-label={`A network is seen under another block: ${name}`}>
          A network is seen under another block
        </Button>
      </div>
    );
  return (
    <RowTable
      label={`Networks seen under another block, with ${name || 'this site'}`}
      headings={[
        ['Network', 'l'],
        ['It is', 's'],
        ['Own block', 'm'],
        ['The other end sees', 'm'],
      ]}
      add={addOne}
      addLabel="Add a block"
      empty=""
    >
      {ids.map((id, row) => (
        <tr key={id} data-at={`${at}/${row}`} tabIndex={-1}>
          <td>
            <TextField bare wrap at={`${at}/${row}/network`} label="Network" />
          </td>
          <td>
            <ChoiceField bare at={`${at}/${row}/of`} label="It is" choices={ends} />
          </td>
          <td>
            <TextField bare mono at={`${at}/${row}/real`} label="Own block" />
          </td>
          <td>
            <TextField bare mono at={`${at}/${row}/seen`} label="The other end sees" />
          </td>
          <td>
            <RemoveButton what={`block ${row + 1}`} onClick={() => remove(row)} />
          </td>
        </tr>
      ))}
    </RowTable>
  );
}
