import Button from '@mui/material/Button';
import { useState } from 'react';
import { Link } from 'react-router';
import {
  freePool,
  outsideServices,
  parameterSheet,
  parseTools,
  rankWays,
  tunnelKinds,
  tunnelWorked,
  uniqueLocalPool,
  vpnEndpointSchema,
  vpnGrantSchema,
  vpnGroupSchema,
  vpnRunSchema,
  wayTitles,
  formatPrefix,
  type GroupPlan,
  type RankedWay,
  type VpnSettings,
} from '../../core/index.ts';
import { newId } from '../app/api.ts';
import { useSite } from '../app/analysis.ts';
import { usePlanPiece, useSession } from '../app/session.ts';
import { useDeviceChoices, useNetworkChoices, useUplinkChoices } from '../parts/choices.ts';
import { CopyButton } from '../parts/copy.tsx';
import { ChoiceField, NumberField, SwitchField, TextField } from '../parts/field.tsx';
import { RemoveButton, RowTable, useRows } from '../parts/rows.tsx';
import { SheetHead } from '../parts/sheet-head.tsx';
import { AccessSection } from './access.tsx';
import { Certificates } from './certificates.tsx';
import { JoinedSites } from './joined-sites.tsx';
import { MakeKey } from './make-key.tsx';
import { People } from './people.tsx';
import { ProfileCheck } from './profile-check.tsx';

type Endpoint = VpnSettings['endpoints'][number];
type Grant = GroupPlan['grants'][number];
type Run = VpnSettings['runs'][number];

const serviceWords: Record<(typeof outsideServices)[number], string> = {
  unknown: 'not asked yet',
  allowed: 'yes',
  refused: 'no',
};
const serviceChoices = outsideServices.map((each) => [each, serviceWords[each]] as const);
const tunnelWords: Record<(typeof tunnelKinds)[number], string> = {
  split: 'only what is granted',
  full: 'everything',
  near: 'all but what is near',
};
const tunnelChoices = tunnelKinds.map((each) => [each, tunnelWords[each]] as const);
const spoken = ['wireguard', 'ikev2', 'tls'] as const;

export function Component() {
  const way = usePlanPiece((plan) => plan.vpn.way);
  return (
    <>
      <SheetHead title="Remote access" says="The right way in, for the right people, to the right things." />
      <WhichWay />
      {way === 'wireguard' && <Tunnel />}
      {['ikev2', 'tls'].includes(way) && (
        <>
          <OtherTunnel />
          <Certificates />
        </>
      )}
      {way !== 'none' && way !== 'dated' && (
        <>
          <Groups />
          <People />
          <AccessSection />
        </>
      )}
      {way === 'wireguard' && (
        <>
          <ProfileCheck />
          <JoinedSites />
          <Speed />
        </>
      )}
    </>
  );
}

function WhichWay() {
  const session = useSession();
  const site = useSite();
  const way = usePlanPiece((plan) => plan.vpn.way);
  const encrypts = usePlanPiece((plan) => plan.vpn.boxEncrypts);
  const [failed, setFailed] = useState(false);
  const first = site.lines[0];
  const ranked = rankWays(site, new Set(failed && first ? [first.id] : []));
  const choose = (next: string): void => {
    session.edit('/vpn/way', next);
    session.settle();
  };
  return (
    <section aria-labelledby="way" data-at="/vpn/way" tabIndex={-1}>
      <h3 id="way">Which way in</h3>
      <div className="ledger">
        <ChoiceField at="/vpn/outsideService" label="Outside service" choices={serviceChoices} />
        <NumberField decimals at="/vpn/boxMbps" label="Box encrypts" unit="Mb/s" highest={400_000} />
        <div className="field" data-at="/vpn/boxEncrypts" tabIndex={-1}>
          <span className="field-label">Box speaks</span>
          <span className="ticks ticks-row">
            {spoken.map((each) => (
              <label key={each}>
                <input
                  type="checkbox"
                  className="tick"
                  checked={encrypts.includes(each)}
                  onChange={({ target }) => {
                    session.edit(
                      '/vpn/boxEncrypts',
                      target.checked ? [...encrypts, each] : encrypts.filter((other) => other !== each),
                    );
                    session.settle();
                  }}
                />{' '}
                {each === 'wireguard' ? 'WireGuard' : each === 'ikev2' ? 'IKEv2' : 'TLS'}
              </label>
            ))}
          </span>
        </div>
        {site.lines.length > 1 && first && (
          <label className="field">
            <span className="field-label">Ranked</span>
            <select
              className="choice"
              aria-label="Ranked"
              value={failed ? 'down' : 'up'}
              onChange={({ target }) => setFailed(target.value === 'down')}
            >
              <option value="up">as on most days</option>
              <option value="down">while {first.name} is down</option>
            </select>
          </label>
        )}
      </div>
      <details className="ways-all" open={way === 'none' || failed}>
        <summary>
          {way === 'none' ? 'The ways, best first' : `All ways, best first: ${ranked[0]!.title} leads`}
        </summary>
        {site.lines.length === 0 && (
          <p className="empty">
            Whether anybody outside can call the site decides the way in, and there is no line yet: settle the
            Uplinks sheet first.
          </p>
        )}
        <ol className="ways" aria-label="Ways in, best first">
          {ranked.map((each) => (
            <li key={each.way} className={each.fits || !each.known ? '' : 'way-unfit'}>
              <div>
                <strong>{each.title}</strong> <Fit way={each} />
                <p>{each.reasons.join(' ')}</p>
              </div>
              {way === each.way ? (
                <span className="chosen-way">chosen</span>
              ) : (
                each.way !== 'dated' && (
                  <Button onClick={() => choose(each.way)} aria-label={`Choose: ${each.title}`}>
                    Choose
                  </Button>
                )
              )}
            </li>
          ))}
        </ol>
      </details>
      {way !== 'none' && (
        <div className="row-actions">
          <span>
            <strong>{wayTitles[way]}</strong>.{' '}
            {ranked
              .find((each) => each.way === way)
              ?.reasons.slice(0, 2)
              .join(' ')}
          </span>
          <Button onClick={() => choose('none')}>Nobody comes in</Button>
        </div>
      )}
    </section>
  );
}

function Fit({ way: { fits, known } }: { way: RankedWay }) {
  if (!known) return <span className="verdict-doubt">not known yet</span>;
  return <span className={fits ? 'verdict-good' : 'verdict-bad'}>{fits ? 'fits' : 'does not fit'}</span>;
}

function Tunnel() {
  const session = useSession();
  const site = useSite();
  const { pool, pool6 } = usePlanPiece((plan) => plan.vpn);
  const mtu = tunnelWorked(site.vpn.endpoints[0]?.line ?? site.lines[0]).value;
  const offer = (): void => {
    const free = freePool(site);
    if (!free) return;
    session.edit('/vpn/pool', formatPrefix(free));
    session.settle();
  };
  const offer6 = (): void => {
    const random = crypto.getRandomValues(new Uint8Array(5));
    session.edit('/vpn/pool6', formatPrefix(uniqueLocalPool(random)));
    session.settle();
  };
  return (
    <section aria-labelledby="tunnel" data-at="/vpn" tabIndex={-1}>
      <h3 id="tunnel">The tunnel, on the side of the router</h3>
      <div className="ledger">
        <div className="secret-field">
          <TextField mono at="/vpn/pool" label="Pool" placeholder="10.24.60.0/24" />
          {pool === '' && <Button onClick={offer}>Offer one</Button>}
        </div>
        <div className="secret-field">
          <TextField mono at="/vpn/pool6" label="Pool, IPv6" placeholder="none" />
          {pool6 === '' && <Button onClick={offer6}>Offer one</Button>}
        </div>
        <NumberField
          at="/vpn/port"
          label="Listens on"
          unit="udp"
          lowest={1}
          highest={65_535}
          placeholder="51820"
        />
        <NumberField at="/vpn/mtuBytes" label="MTU" unit="bytes" highest={9216} placeholder={String(mtu)} />
        <TextField mono at="/vpn/resolver" label="Resolver" placeholder="none" />
        <NumberField
          at="/vpn/keepAliveSeconds"
          label="Keep-alive"
          unit="s"
          highest={65_535}
          placeholder="25"
        />
        <TextField mono wrap at="/vpn/publicKey" label="Public key" />
        <MakeKey publicAt="/vpn/publicKey" secretAt="/vpn/secret" suggested="tunnel-router" />
      </div>
      <Endpoints />
      <details>
        <summary>What to enter on the router</summary>
        <Values />
        <p className="quiet">
          People and grants follow in the <Link to="../run-sheet">run sheet</Link>, in the order that cuts
          nobody off.
        </p>
      </details>
    </section>
  );
}

/** Names and addresses that travellers call, and the line each leads over. */
function Endpoints() {
  const { ids, add, remove } = useRows<Endpoint>('/vpn/endpoints');
  const uplinks = useUplinkChoices();
  return (
    <RowTable
      label="What travellers call"
      headings={[
        ['Name or address', 'l'],
        ['Leads over', 'm'],
      ]}
      add={() => add(vpnEndpointSchema.parse({ id: newId() }), 'host')}
      addLabel="Add an endpoint"
      empty="Nothing yet: a name that follows the line in use is best, its address will do."
    >
      {ids.map((id, index) => (
        <tr key={id} data-at={`/vpn/endpoints/${index}`} tabIndex={-1}>
          <td>
            <TextField bare mono wrap at={`/vpn/endpoints/${index}/host`} label="Name or address" />
          </td>
          <td>
            <ChoiceField bare at={`/vpn/endpoints/${index}/uplink`} label="Leads over" choices={uplinks} />
          </td>
          <td>
            <RemoveButton what={`endpoint ${index + 1}`} onClick={() => remove(index)} />
          </td>
        </tr>
      ))}
    </RowTable>
  );
}

/** What to enter on the router, each value to be copied. */
function Values() {
  const site = useSite();
  return (
    <table className="values" aria-label="What to enter">
      <tbody>
        {parameterSheet(site).map((each) => (
          <tr key={each.label}>
            <th scope="row">
              {each.label}
              <span className="quiet">{each.alsoCalled.join(', ')}</span>
            </th>
            <td>{each.value}</td>
            <td>
              <CopyButton value={each.value} what={each.label} at={each.at} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** The sheet of values for a way that has no profiles of its own here. */
function OtherTunnel() {
  const site = useSite();
  return (
    <section aria-labelledby="tunnel" data-at="/vpn" tabIndex={-1}>
      <h3 id="tunnel">{wayTitles[site.vpn.plan.way]}: what to enter</h3>
      <div className="ledger">
        <TextField mono at="/vpn/pool" label="Pool" />
        <TextField mono at="/vpn/resolver" label="Resolver" />
      </div>
      <Endpoints />
      <Values />
    </section>
  );
}

function Groups() {
  const { ids, add, remove } = useRows<GroupPlan>('/vpn/groups');
  return (
    <section aria-labelledby="groups" data-at="/vpn/groups" tabIndex={-1}>
      <h3 id="groups">Groups, and what each may reach</h3>
      {ids.map((id, index) => (
        <GroupCard key={id} index={index} remove={remove} />
      ))}
      {ids.length === 0 && (
        <p className="empty">
          No group yet. Begin with the least: one service of one device for one kind of person.
        </p>
      )}
      <div className="row-actions">
        <Button onClick={() => add(vpnGroupSchema.parse({ id: newId() }), 'name')}>Add a group</Button>
      </div>
    </section>
  );
}

function GroupCard({ index, remove }: { index: number; remove: (index: number) => void }) {
  const at = `/vpn/groups/${index}`;
  const name = usePlanPiece((plan) => plan.vpn.groups[index]?.name ?? '');
  const { ids, add, remove: removeGrant } = useRows<Grant>(`${at}/grants`);
  const networks = useNetworkChoices();
  const devices = useDeviceChoices();
  const grants = usePlanPiece((plan) => plan.vpn.groups[index]?.grants);
  const all = usePlanPiece((plan) => plan.devices);
  const servicesOf = (device: string | undefined) => [
    ['', 'all of it'] as const,
    ...(all.find(({ id }) => id === device)?.services ?? []).map(
      (service) => [service.id, service.name || service.ports] as const,
    ),
  ];
  return (
    <fieldset className="card" aria-label={name || 'unnamed group'} data-at={at} tabIndex={-1}>
      <div className="ledger ledger-three">
        <TextField at={`${at}/name`} label="Group" />
        <ChoiceField at={`${at}/tunnel`} label="Tunnels" choices={tunnelChoices} />
        <span className="secret-field">
          <SwitchField at={`${at}/manages`} label="Router" on="may manage it" off="may not" />
          <RemoveButton what={name || 'group'} onClick={() => remove(index)} />
        </span>
      </div>
      <div data-at={`${at}/grants`} tabIndex={-1}>
        <RowTable
          label={`Grants of ${name || 'the group'}`}
          headings={[
            ['Network', 'm'],
            ['Device', 'l'],
            ['Service', 'm'],
          ]}
          add={() => add(vpnGrantSchema.parse({ id: newId() }), 'device')}
          addLabel="Add a grant"
          empty="Reaches nothing yet."
        >
          {ids.map((id, row) => (
            <tr key={id} data-at={`${at}/grants/${row}`} tabIndex={-1}>
              <td>
                {grants?.[row]?.device ? (
                  <span className="quiet cell-text">that of the device</span>
                ) : (
                  <ChoiceField bare at={`${at}/grants/${row}/network`} label="Network" choices={networks} />
                )}
              </td>
              <td>
                <ChoiceField
                  bare
                  at={`${at}/grants/${row}/device`}
                  label="Device"
                  choices={[['', 'the whole network'], ...devices]}
                />
              </td>
              <td>
                <ChoiceField
                  bare
                  at={`${at}/grants/${row}/service`}
                  label="Service"
                  choices={servicesOf(grants?.[row]?.device)}
                />
              </td>
              <td>
                <RemoveButton what={`grant ${row + 1}`} onClick={() => removeGrant(row)} />
              </td>
            </tr>
          ))}
        </RowTable>
      </div>
    </fieldset>
  );
}

function Speed() {
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
