import Button from '@mui/material/Button';
import { useState } from 'react';
import useSWR from 'swr';
import {
  compile,
  farSiteSchema,
  joinSites,
  translationTable,
  tunnelsWorked,
  type FarSitePlan,
  type Joined,
} from '../../core/index.ts';
import { getJson, newId, saveSite, sentence, type SiteDocument, type SiteRow } from '../app/api.ts';
import { useSite } from '../app/analysis.ts';
import { useSession } from '../app/session.ts';
import { ListField, NumberField, TextField } from '../parts/field.tsx';
import { RemoveButton, useRows } from '../parts/rows.tsx';
import { WorkedSum } from '../parts/worked.tsx';

/** Other sites of the customer, joined by tunnels whose two ends are made in one step. */
export function JoinedSites() {
  const { ids, add, remove } = useRows<FarSitePlan>('/vpn/sites');
  return (
    <section aria-labelledby="sites-joined" data-at="/vpn/sites" tabIndex={-1}>
      <h3 id="sites-joined">Joined sites</h3>
      {ids.map((id, index) => (
        <FarSiteCard key={id} index={index} remove={remove} />
      ))}
      {ids.length > 1 && <WorkedSum worked={tunnelsWorked(ids.length + 1)} />}
      <Join />
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
  return (
    <fieldset className="card" aria-label={`Joined site ${index + 1}`} data-at={at} tabIndex={-1}>
      <div className="ledger">
        <TextField at={`${at}/name`} label="Site" />
        <TextField mono wrap at={`${at}/publicKey`} label="Its key" />
        <TextField mono at={`${at}/endpoint`} label="Called at" placeholder="it cannot be called" />
        <NumberField at={`${at}/port`} label="Port" lowest={1} highest={65_535} placeholder="51820" />
        <ListField at={`${at}/prefixes`} label="Routes to it" />
        <TextField mono at={`${at}/address`} label="In the tunnel" />
        <TextField mono at={`${at}/translated`} label="Seen here as" placeholder="as it is" />
        <span className="secret-field">
          <TextField mono at={`${at}/ownTranslated`} label="Seen there as" placeholder="as it is" />
          <RemoveButton what={`joined site ${index + 1}`} onClick={() => remove(index)} />
        </span>
      </div>
    </fieldset>
  );
}

/** Looks at another site of the same customer on this machine and makes the values of both ends. */
function Join() {
  const session = useSession();
  const site = useSite();
  const { data } = useSWR<{ rows: SiteRow[] }>(
    `/api/sites?search=${encodeURIComponent(site.plan.site.customer)}&offset=0&limit=50`,
  );
  const [there, setThere] = useState<SiteDocument>();
  const [said, setSaid] = useState('');
  const others = (data?.rows ?? []).filter(({ id }) => id !== session.id);
  const far = there && compile(there.plan);
  const joined = far && joinSites(site, far);
  const look = async (id: string): Promise<void> => {
    setSaid('');
    if (id === '') {
      setThere(undefined);
      return;
    }
    try {
      setThere(await getJson<SiteDocument>(`/api/sites/${id}`));
    } catch (error) {
      setSaid(sentence(error));
    }
  };
  const join = async (both: Joined): Promise<void> => {
    if (!there) return;
    const put = (list: readonly FarSitePlan[], entry: FarSitePlan): FarSitePlan[] => [
      ...list.filter(({ id }) => id !== entry.id),
      entry,
    ];
    try {
      // The far end first: if somebody changed it meanwhile, nothing is written here either.
      await saveSite(there.id, there.revision, {
        ...there.plan,
        vpn: { ...there.plan.vpn, sites: put(there.plan.vpn.sites, both.there) },
      });
      session.edit('/vpn/sites', put(session.snapshot().plan.vpn.sites, both.here));
      session.settle();
      setSaid(`Both plans hold the other now: ${site.plan.site.name} and ${there.plan.site.name}.`);
      setThere(undefined);
    } catch (error) {
      setSaid(sentence(error));
    }
  };
  return (
    <div className="join">
      <label>
        Join with{' '}
        <select
          className="choice boxed"
          value={there?.id ?? ''}
          onChange={({ target }) => void look(target.value)}
        >
          <option value="">another site …</option>
          {others.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </label>
      {joined && far && there && (
        <div className="note">
          <p>{joined.says}</p>
          <WorkedSum worked={joined.worked} />
          {joined.translation && (
            <table className="losses" aria-label="What devices there are called here">
              <thead>
                <tr>
                  <th scope="col">Device there</th>
                  <th scope="col">There</th>
                  <th scope="col">Called here</th>
                </tr>
              </thead>
              <tbody>
                {translationTable(far, joined.translation).map((row) => (
                  <tr key={row.name}>
                    <th scope="row">{row.name}</th>
                    <td className="mono">{row.there}</td>
                    <td className="mono">{row.here}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          <Button variant="contained" disabled={joined.calls === 'neither'} onClick={() => void join(joined)}>
            Write it into both plans
          </Button>
        </div>
      )}
      {said && <p role="status">{said}</p>}
    </div>
  );
}
