import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { lazy, Suspense } from 'react';
import {
  endOf,
  endOfFar,
  farSiteSchema,
  translationSchema,
  tunnelStates,
  termAt,
  tunnelsWorked,
  type FarSitePlan,
} from '../../../core/index.ts';
import { newId } from '../../state/api.ts';
import { useSite } from '../../state/analysis.ts';
import { usePlanPiece, useSession } from '../../state/session.ts';
import { Field } from '../../parts/field.tsx';
import { PlanTable, RemoveButton, useRows } from '../../parts/rows.tsx';
import { WorkedSum } from '../../parts/worked.tsx';
import { StateList } from '../../parts/state-list.tsx';
import { Tick } from '../../parts/inputs.tsx';

const JoinPanel = lazy(() => import('./join-panel.tsx'));

/** Other sites of the customer, joined by tunnels whose ends are made in one step. */
export default function JoinedSites() {
  const { ids, add, remove } = useRows<FarSitePlan>('/vpn/sites');
  return (
    <section aria-labelledby="sites-joined" data-at="/vpn/sites" tabIndex={-1}>
      <Typography variant="h3" id="sites-joined">
        Site-to-site
      </Typography>
      {ids.map((id, index) => (
        <FarSiteCard key={id} index={index} remove={remove} />
      ))}
      {ids.length > 0 && (
        <div className="ledger">
          <Field at="/vpn/hub" />
        </div>
      )}
      {ids.length > 1 && <WorkedSum worked={tunnelsWorked(ids.length + 1)} />}
      <Suspense fallback={null}>
        <JoinPanel />
      </Suspense>
      <div className="row-actions">
        <Button onClick={() => add(farSiteSchema.parse({ id: newId() }), 'name')}>
          Enter a site by hand
        </Button>
      </div>
    </section>
  );
}

function FarSiteCard({ index, remove }: { index: number; remove: (index: number) => void }) {
  const at = `/vpn/sites/${index}` as const;
  const site = useSite();
  const name = usePlanPiece((plan) => plan.vpn.sites[index]?.name ?? '');
  const failsOver = usePlanPiece((plan) => plan.vpn.sites[index]?.failsOver ?? false);
  const far = site.vpn.sites[index];
  return (
    <fieldset className="card" aria-label={name || `Site ${index + 1}`} data-at={at} tabIndex={-1}>
      <div className="ledger">
        <Field at={`${at}/name`} />
        <Field at={`${at}/publicKey`} />
        <Field at={`${at}/endpoint`} />
        <Field at={`${at}/port`} />
        <Field at={`${at}/prefixes`} />
        <Field at={`${at}/address`} />
        <Field at={`${at}/failsOver`} />
        {failsOver && (
          <>
            <Field at={`${at}/backupEndpoint`} />
            <Field at={`${at}/backSeconds`} />
            <Field at={`${at}/nameSeconds`} />
          </>
        )}
        <span className="secret-field">
          <JoinedNetworks at={`${at}/networks`} index={index} />
          <RemoveButton what={name || `site ${index + 1}`} onClick={() => remove(index)} />
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
function JoinedNetworks({ at, index }: { at: `/vpn/sites/${number}/networks`; index: number }) {
  const session = useSession();
  const site = useSite();
  const joined = site.vpn.sites[index]?.networks ?? [];
  return (
    <div className="field" data-at={at} tabIndex={-1}>
      <span className="field-label">{termAt(at)}</span>
      <span className="ticks ticks-row">
        {site.networks.map((network) => (
          <label key={network.id}>
            <Tick
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

/** Networks whose subnet is in use at the other end too. */
function Translations({ at, name }: { at: `/vpn/sites/${number}/translations`; name: string }) {
  return (
    <PlanTable
      at={at}
      of={name || 'this site'}
      columns={[
        ['network', 'l'],
        ['of', 'm'],
        ['real', 'm'],
        ['seen', 'm'],
      ]}
      row={() => translationSchema.parse({ id: newId() })}
      what="translated subnet"
      addLabel="Add a translated subnet"
      empty="No subnet is translated."
    />
  );
}
