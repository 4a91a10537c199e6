import Typography from '@mui/material/Typography';
import { exceptionSchema, expectedSentence, type Plan } from '../../../core/index.ts';
import { newId } from '../../state/api.ts';
import { usePlanPiece } from '../../state/session.ts';
import { useNetworkChoices, type Choices } from '../../parts/choices.ts';
import { Field } from '../../parts/field.tsx';
import { PlanTable } from '../../parts/rows.tsx';

const fields = [
  'fromInternet',
  'fromNetworks',
  'fromRemoteUsers',
  'fromSites',
  'toNetworks',
  'toInternet',
  'toSites',
  'manages',
] as const;

/** What each network is for, with which what passes is compared, and what was accepted all the same. */
export function Expectations() {
  const networks = usePlanPiece((plan) => plan.networks);
  return (
    <section aria-labelledby="expectations" className="expectations">
      <Typography variant="h3" id="expectations">
        What each network is for
      </Typography>
      <p className="quiet">
        What passes is compared with this. A difference is a finding, with a packet that shows it.
      </p>
      {networks.length === 0 && <p className="empty">No network yet.</p>}
      {networks.map((network, index) => (
        <details key={network.id} className="expectation">
          <summary>
            <strong>{network.name || 'unnamed network'}</strong> <span>{expectedSentence(network)}</span>
          </summary>
          <div className="ledger">
            {fields.map((key) => (
              <Field key={key} at={`/networks/${index}/expects/${key}`} of={network.name} />
            ))}
          </div>
        </details>
      ))}
      <Exceptions />
    </section>
  );
}

/** Who may begin, and what may be reached, as exceptions name them. */
function useParties(): { readonly from: Choices; readonly to: Choices } {
  const networks = useNetworkChoices();
  const groups = usePlanPiece((plan) => plan.vpn.groups);
  const sites = usePlanPiece((plan) => plan.vpn.sites);
  const named = (rows: readonly { id: string; name: string }[]): Choices =>
    rows.map(({ id, name }) => [id, name] as const);
  const places: Choices = [...networks, ...named(sites)];
  return {
    from: [['internet', 'the internet'], ...places, ...named(groups)],
    to: [
      ['router', 'the router'],
      ['equipment', 'equipment in front'],
      ['internet', 'the internet'],
      ...places,
    ],
  };
}

function Exceptions() {
  const parties = useParties();
  return (
    <>
      <Typography variant="h4" id="exceptions">
        Accepted exceptions
      </Typography>
      <PlanTable<Plan['exceptions'][number]>
        at="/exceptions"
        columns={[
          ['from', 'm'],
          ['to', 'm'],
          ['acceptedBy', 'm'],
          ['reason', 'l'],
          ['until', 's'],
        ]}
        choices={parties}
        row={() => exceptionSchema.parse({ id: newId() })}
        what="exception"
        addLabel="Add an exception"
        empty="None. What a finding names can be accepted by a named person, with a reason, until a day."
      />
    </>
  );
}
