import Button from '@mui/material/Button';
import { Link } from 'react-router';
import {
  freePool,
  parameterSheet,
  tunnelWorked,
  uniqueLocalPool,
  vpnEndpointSchema,
  wayTitles,
  formatPrefix,
  type VpnSettings,
} from '../../core/index.ts';
import { newId } from '../app/api.ts';
import { useSite } from '../app/analysis.ts';
import { usePlanPiece, useSession } from '../app/session.ts';
import { useUplinkChoices } from '../parts/choices.ts';
import { CopyButton } from '../parts/copy.tsx';
import { ChoiceField, NumberField, TextField } from '../parts/field.tsx';
import { RemoveButton, RowTable, useRows } from '../parts/rows.tsx';
import { SheetHead } from '../parts/sheet-head.tsx';
import { AccessSection } from './access.tsx';
import { Certificates } from './certificates.tsx';
import { Groups } from './groups.tsx';
import { JoinedSites } from './joined-sites.tsx';
import { MakeKey } from './make-key.tsx';
import { People } from './people.tsx';
import { ProfileCheck } from './profile-check.tsx';
import { TunnelSpeed } from './tunnel-speed.tsx';
import { WhichWay } from './which-way.tsx';

type Endpoint = VpnSettings['endpoints'][number];

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
          <TunnelSpeed />
        </>
      )}
    </>
  );
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
