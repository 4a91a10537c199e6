import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import useSWR from 'swr';
import {
  bestHub,
  formatPrefix,
  joinedRows,
  joinSites,
  translationTable,
  tunnelsWorked,
  type Joined,
  type JoinShape,
  type Site,
} from '../../../core/index.ts';
import { getJson, saveSite, sentence, type SiteDocument, type SiteRow } from '../../state/api.ts';
import { siteOf, useSite } from '../../state/analysis.ts';
import { useSession } from '../../state/session.ts';
import { WorkedSum } from '../../parts/worked.tsx';
import { StateList } from '../../parts/state-list.tsx';
import { Select, Tick } from '../../parts/inputs.tsx';
import '../../parts/panel.css';

interface Other {
  readonly document: SiteDocument;
  readonly site: Site;
}

const loaded = async (id: string): Promise<Other> => {
  const document = await getJson<SiteDocument>(`/api/sites/${id}`);
  return { document, site: siteOf(document.plan) };
};

const nameOf = (site: Site): string => site.about.name || 'unnamed site';

/** Looks at other sites of the same customer on this machine and makes the values of all ends. */
export default function JoinPanel() {
  const session = useSession();
  const site = useSite();
  const { data } = useSWR<{ rows: SiteRow[] }>(
    `/api/sites?search=${encodeURIComponent(site.about.customer)}&offset=0&limit=50`,
  );
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [shape, setShape] = useState<JoinShape>('mesh');
  const [hub, setHub] = useState('');
  const [said, setSaid] = useState('');
  const { data: others = [], error } = useSWR<Other[], unknown>(
    chosen.length === 0 ? null : `/join/${chosen.join('/')}`,
    () => Promise.all(chosen.map(loaded)),
    { keepPreviousData: chosen.length > 0 },
  );
  const { customer } = site.about;
  // By name: the list itself is by the last save, and would move a box from under the pointer.
  const rows = (data?.rows ?? [])
    .filter((row) => row.id !== session.id && customer !== '' && row.customer === customer)
    .sort((a, b) => a.name.localeCompare(b.name));
  const sites = [site, ...others.map((each) => each.site)];
  const center = sites.find((each) => nameOf(each) === hub) ?? bestHub(sites);
  const joined = others.length > 0 ? joinSites(sites, shape, center) : undefined;

  const join = async ({ plans }: Joined): Promise<void> => {
    const written: string[] = [];
    try {
      // The far ends first: if somebody changed one meanwhile, nothing is written here either.
      for (const { document, site: far } of others) {
        const made = plans.find((each) => each.site === far)!;
        await saveSite(document.id, document.revision, {
          ...document.plan,
          vpn: {
            ...document.plan.vpn,
            sites: [...joinedRows(document.plan.vpn.sites, made)],
            hub: made.hub,
          },
        });
        written.push(nameOf(far));
      }
      const own = plans.find((each) => each.site === site)!;
      session.editAll({
        '/vpn/sites': joinedRows(session.snapshot().plan.vpn.sites, own),
        '/vpn/hub': own.hub,
      });
      setSaid(`Their plans hold one another now: ${[nameOf(site), ...written].join(', ')}.`);
      setChosen([]);
    } catch (error) {
      setSaid(
        `${sentence(error)} ${written.length > 0 ? `Written already: ${written.join(', ')}. Look at the sites again and join once more; the values come out the same.` : 'Nothing was written.'}`,
      );
    }
  };

  return (
    <div className="join">
      {rows.length === 0 ? (
        <p className="empty">
          {customer === ''
            ? 'Sites of one customer can be connected: enter the customer on the Site sheet.'
            : `No other site of ${customer} is on this machine. Make it first, or type it in by hand.`}
        </p>
      ) : (
        <fieldset className="ticks ticks-row">
          <legend>Connect to</legend>
          {rows.map(({ id, name }) => (
            <label key={id}>
              <Tick
                checked={chosen.includes(id)}
                onChange={({ target }) => {
                  setSaid('');
                  setChosen(target.checked ? [...chosen, id] : chosen.filter((each) => each !== id));
                }}
              />{' '}
              {name}
            </label>
          ))}
        </fieldset>
      )}
      {sites.length > 2 && (
        <div className="bench-form">
          <label>
            Shape
            <Select
              className="boxed"
              value={shape}
              onChange={({ target }) => setShape(target.value as JoinShape)}
            >
              <option value="mesh">full mesh</option>
              <option value="hub">hub and spoke</option>
            </Select>
          </label>
          {shape === 'hub' && (
            <label>
              Through
              <Select
                className="boxed"
                value={center ? nameOf(center) : ''}
                onChange={({ target }) => setHub(target.value)}
              >
                {sites.map((each) => (
                  <option key={nameOf(each)} value={nameOf(each)}>
                    {nameOf(each)}
                  </option>
                ))}
              </Select>
            </label>
          )}
        </div>
      )}
      {joined && (
        <div className="note">
          {joined.says.map((each) => (
            <p key={each}>{each}</p>
          ))}
          <WorkedSum worked={joined.worked} />
          {sites.length > 2 && <WorkedSum worked={tunnelsWorked(sites.length)} />}
          {joined.tunnels.map(({ ends, states }) => (
            <div key={ends.map(nameOf).join()}>
              <Typography variant="h4" className="sub">
                {ends.map(nameOf).join(' and ')}
              </Typography>
              <StateList label={`The tunnel between ${ends.map(nameOf).join(' and ')}`} states={states} />
            </div>
          ))}
          <CalledOtherwise joined={joined} />
          <Button variant="contained" disabled={!joined.works} onClick={() => void join(joined)}>
            {sites.length === 2 ? 'Update both plans' : `Write it into all ${sites.length} plans`}
          </Button>
        </div>
      )}
      {error !== undefined && <p role="alert">{sentence(error)}</p>}
      {said && <p role="status">{said}</p>}
    </div>
  );
}

/** The table people need where a network is seen under another block. */
function CalledOtherwise({ joined }: { joined: Joined }) {
  const rows = joined.seen.flatMap(({ site, network, as }) =>
    as ? translationTable(site, network, as).map((row) => ({ ...row, site, network, as })) : [],
  );
  if (rows.length === 0) return null;
  return (
    <Table className="losses" aria-label="Device addresses at the other sites">
      <TableHead>
        <TableRow>
          <TableCell>Device</TableCell>
          <TableCell>Site, network</TableCell>
          <TableCell>There</TableCell>
          <TableCell>Address seen from elsewhere</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {rows.map(({ name, own, elsewhere, site, network, as }) => (
          <TableRow key={`${formatPrefix(as)} ${own}`}>
            <TableCell component="th" scope="row">
              {name}
            </TableCell>
            <TableCell>
              {nameOf(site)}, {network.name}
            </TableCell>
            <TableCell className="mono">{own}</TableCell>
            <TableCell className="mono">{elsewhere}</TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
