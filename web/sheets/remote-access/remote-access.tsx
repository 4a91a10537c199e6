import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { lazy, Suspense } from 'react';
import { Link } from 'react-router';
import {
  freePool,
  methodOf,
  tunnelWorked,
  uniqueLocalPool,
  vpnEndpointSchema,
  wayTitles,
  formatPrefix,
} from '../../../core/index.ts';
import { newId } from '../../state/api.ts';
import { useSite } from '../../state/analysis.ts';
import { usePlanPiece, useSession } from '../../state/session.ts';
import { CopyButton } from '../../parts/copy.tsx';
import { Field } from '../../parts/field.tsx';
import { PlanTable } from '../../parts/rows.tsx';
import { SheetHead } from '../../parts/sheet-head.tsx';
import { Groups } from './groups.tsx';
import { MakeKey } from './make-key.tsx';
import { People } from './people.tsx';
import { WhichWay } from './which-way.tsx';
import './remote-access.css';

const AccessSection = lazy(() => import('./access.tsx'));
const Certificates = lazy(() => import('./certificates.tsx'));
const JoinedSites = lazy(() => import('./site-to-site.tsx'));
const ProfileCheck = lazy(() => import('./profile-check.tsx'));
const TunnelSpeed = lazy(() => import('./tunnel-speed.tsx'));

export function Component() {
  const way = usePlanPiece((plan) => plan.vpn.way);
  return (
    <>
      <SheetHead title="Remote access" says="Who may connect from outside, to what, and with which keys." />
      <WhichWay />
      {way === 'wireguard' && <Tunnel />}
      {['ikev2', 'tls'].includes(way) && (
        <>
          <OtherTunnel />
          <Suspense fallback={<p className="quiet">Opening …</p>}>
            <Certificates />
          </Suspense>
        </>
      )}
      {way !== 'none' && way !== 'dated' && (
        <>
          <Groups />
          <People />
          <Suspense fallback={<p className="quiet">Opening …</p>}>
            <AccessSection />
          </Suspense>
        </>
      )}
      {way === 'wireguard' && (
        <>
          <Suspense fallback={<p className="quiet">Opening …</p>}>
            <ProfileCheck />
            <JoinedSites />
            <TunnelSpeed />
          </Suspense>
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
      <Typography variant="h3" id="tunnel">
        Tunnel settings of the router
      </Typography>
      <div className="ledger">
        <div className="secret-field">
          <Field at="/vpn/pool" />
          {pool === '' && <Button onClick={offer}>Suggest one</Button>}
        </div>
        <div className="secret-field">
          <Field at="/vpn/pool6" />
          {pool6 === '' && <Button onClick={offer6}>Suggest one</Button>}
        </div>
        <Field at="/vpn/port" />
        <Field at="/vpn/mtuBytes" placeholder={String(mtu)} />
        <Field at="/vpn/resolver" />
        <Field at="/vpn/keepAliveSeconds" />
        <Field at="/vpn/publicKey" />
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

/** Names and addresses that clients call, and the line to which each leads. */
function Endpoints() {
  return (
    <PlanTable
      at="/vpn/endpoints"
      columns={[
        ['host', 'l'],
        ['uplink', 'm'],
      ]}
      row={() => vpnEndpointSchema.parse({ id: newId() })}
      what="endpoint"
      addLabel="Add an endpoint"
      empty="Nothing yet: a name that follows the line in use is best, its address will do."
    />
  );
}

/** What to enter on the router, each value to be copied. */
function Values() {
  const site = useSite();
  return (
    <Table className="values" aria-label="What to enter">
      <TableBody>
        {methodOf(site.vpn.way)
          ?.entries(site)
          .map((each) => (
            <TableRow key={each.label}>
              <TableCell component="th" scope="row">
                {each.label}
                <span className="quiet">{each.alsoCalled.join(', ')}</span>
              </TableCell>
              <TableCell>{each.value}</TableCell>
              <TableCell>
                <CopyButton value={each.value} what={each.label} at={each.at} />
              </TableCell>
            </TableRow>
          ))}
      </TableBody>
    </Table>
  );
}

/** The sheet of values for a way that has no profiles of its own here. */
function OtherTunnel() {
  const site = useSite();
  return (
    <section aria-labelledby="tunnel" data-at="/vpn" tabIndex={-1}>
      <Typography variant="h3" id="tunnel">
        {wayTitles[site.vpn.way]}: what to enter
      </Typography>
      <div className="ledger">
        <Field at="/vpn/pool" />
        <Field at="/vpn/resolver" />
      </div>
      <Endpoints />
      <Values />
    </section>
  );
}
