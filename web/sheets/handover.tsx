import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import {
  accessList,
  formatAddress,
  formatPorts,
  formatPrefix,
  macText,
  planFileName,
  reachText,
  stepStates,
  medium,
  uplinkType,
  wayTitles,
  writePlan,
  type Site,
} from '../../core/index.ts';
import { keepRevision, removeSite } from '../app/api.ts';
import { useAnalysis, useSite, useStanding } from '../app/analysis.ts';
import { useRecords } from '../app/records.ts';
import { useSession, useSnapshot } from '../app/session.ts';
import { severityWords } from '../parts/severity.tsx';
import { SheetHead } from '../parts/sheet-head.tsx';
import { download } from '../parts/download.ts';
import { dayText, today } from '../parts/time.ts';
import { purposeWords } from './addresses.tsx';
import { roleWords } from './site.tsx';

export function Component() {
  const { plan, revision, savedAt } = useSnapshot();
  const site = useSite();
  const analysis = useAnalysis();
  const session = useSession();
  const save = (): void => {
    keepRevision(session.id, revision, 'file');
    download(planFileName(plan, revision), [writePlan(plan)], 'application/json');
  };
  const print = (): void => {
    keepRevision(session.id, revision, 'print');
    window.print();
  };
  const standing = useStanding();
  const open = analysis?.accepted.filter((each) => !each.accepted).length;
  return (
    <>
      <SheetHead
        title="Handover"
        says={
          open === undefined || standing !== 'done'
            ? standing === 'failed'
              ? 'The analysis of this plan failed: nothing here says that it is proven or sound.'
              : 'The promises are being looked at …'
            : open === 0
              ? 'All promises are proven. The record is ready.'
              : `${open} ${open === 1 ? 'promise is' : 'promises are'} not proven yet; the record says so.`
        }
      >
        <Button variant="contained" onClick={print}>
          Print, A4
        </Button>
        <Button onClick={save}>Save the plan file</Button>
        <RemoveSite name={plan.site.name} />
      </SheetHead>
      <article className="record" aria-label="As-built record">
        <header className="record-head">
          <h1>{plan.site.name || 'Unnamed site'}</h1>
          <p>
            As-built record of the edge router. Revision <span className="mono">{revision}</span>,{' '}
            {dayText(savedAt)}
            {plan.demo && '. An invented site.'}
          </p>
        </header>
        <dl className="record-facts">
          <dt>Customer</dt>
          <dd>{plan.site.customer || '—'}</dd>
          <dt>Address</dt>
          <dd>
            {[plan.site.street, plan.site.postcode, plan.site.town, plan.site.country]
              .filter(Boolean)
              .join(', ') || '—'}
          </dd>
          <dt>People</dt>
          <dd>
            {plan.contacts
              .map((each) => [each.name, each.role, each.phone, each.email].filter(Boolean).join(', '))
              .join('; ') || '—'}
          </dd>
        </dl>
        <KitRecord site={site} />
        <LinesRecord site={site} />
        <NetworksRecord site={site} />
        <DevicesRecord site={site} />
        <RulesRecord site={site} />
        <AccessRecord site={site} />
        <AcceptanceRecord />
        <StepsRecord />
        <FindingsRecord />
        <footer className="record-sign">
          <p>Installed by</p>
          <p>Received by</p>
          <p>Date</p>
        </footer>
      </article>
    </>
  );
}

function RecordTable({
  title,
  headings,
  rows,
  none,
}: {
  title: string;
  headings: readonly string[];
  rows: readonly (readonly ReactNode[])[];
  none: string;
}) {
  return (
    <section>
      <h2>{title}</h2>
      {rows.length === 0 ? (
        <p>{none}</p>
      ) : (
        <table>
          <thead>
            <tr>
              {headings.map((heading) => (
                <th key={heading} scope="col">
                  {heading}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((cells, index) => (
              <tr key={index}>
                {cells.map((cell, place) => (
                  <td key={place}>{cell}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

const Mono = ({ children }: { children: ReactNode }) => <span className="mono">{children}</span>;
/** Several values, which may go on in the next line. */
const MonoList = ({ children }: { children: ReactNode }) => (
  <span className="mono mono-list">{children}</span>
);

const KitRecord = ({ site }: { site: Site }) => (
  <RecordTable
    title="Kit"
    headings={['Role', 'Model', 'Serial', 'MAC', 'Admin at', 'Firmware', 'Supply']}
    none="None noted."
    rows={site.plan.kit.map((item) => [
      roleWords[item.role],
      item.model,
      <Mono key="s">{item.serial}</Mono>,
      <Mono key="m">{item.mac && macText(item.mac)}</Mono>,
      <Mono key="a">{item.adminAddress}</Mono>,
      <Mono key="f">{item.firmware}</Mono>,
      item.powerVolts !== null && item.powerAmps !== null ? (
        <Mono key="p">{`${item.powerVolts} V ${item.powerAmps} A`}</Mono>
      ) : (
        ''
      ),
    ])}
  />
);

const LinesRecord = ({ site }: { site: Site }) => (
  <RecordTable
    title="Uplinks"
    headings={['Line', 'Medium, type', 'VLAN', 'Address', 'Gateway', 'In front', 'MTU', 'Source NAT']}
    none="None."
    rows={site.lines.map((line) => [
      line.name,
      [
        ...(line.plan.medium === 'unknown' ? [] : [medium(line.plan.medium).title]),
        uplinkType(line.plan.type).title,
        ...(line.plan.type === 'pppoe' ? [line.plan.settings.pppoe.userName] : []),
        ...(line.plan.type === 'cellular' ? [`APN ${line.plan.settings.cellular.apn}`] : []),
      ].join(', '),
      <Mono key="v">{line.plan.vlan ?? 'untagged'}</Mono>,
      <MonoList key="a">
        {line.addressKnown ? formatAddress(line.address) : 'by itself'}
        {line.prefix && `, ${formatPrefix(line.prefix)}`}
      </MonoList>,
      <Mono key="g">{line.gateway ? formatAddress(line.gateway) : ''}</Mono>,
      line.box ? `${line.box.name}, ${line.box.routes ? 'routes' : 'bridged'}` : 'nothing',
      <Mono key="m">{line.mtuBytes}</Mono>,
      line.sourceNat ? 'on' : 'off',
    ])}
  />
);

const NetworksRecord = ({ site }: { site: Site }) => (
  <RecordTable
    title="Inside networks"
    headings={['Network', 'Purpose', 'VLAN', 'Block', 'Router', 'Pool', 'Resolvers']}
    none="None."
    rows={site.networks.map((network) => [
      network.name,
      purposeWords[network.plan.purpose],
      <Mono key="v">{network.plan.vlan ?? 'untagged'}</Mono>,
      <Mono key="b">{network.prefix ? formatPrefix(network.prefix) : network.plan.prefix}</Mono>,
      <Mono key="r">{network.routerAddress ? formatAddress(network.routerAddress) : ''}</Mono>,
      <Mono key="p">
        {network.plan.dhcp.enabled ? `${network.plan.dhcp.from} to ${network.plan.dhcp.to}` : 'no DHCP'}
      </Mono>,
      <MonoList key="d">{network.resolvers.map(formatAddress).join(', ')}</MonoList>,
    ])}
  />
);

const DevicesRecord = ({ site }: { site: Site }) => (
  <RecordTable
    title="Devices"
    headings={['Device', 'Network', 'Address', 'MAC', 'Services']}
    none="None registered."
    rows={site.devices.map((device) => [
      device.name,
      device.network?.name ?? '',
      <Mono key="a">
        {device.address ? `${formatAddress(device.address)}, ${device.plan.addressing}` : 'automatic'}
      </Mono>,
      <Mono key="m">{device.mac?.text ?? device.plan.mac}</Mono>,
      <MonoList key="s">
        {device.services
          .map(
            (service) =>
              `${service.name} ${service.protocol} ${service.ports ? formatPorts(service.ports) : ''}`,
          )
          .join('; ')}
      </MonoList>,
    ])}
  />
);

function RulesRecord({ site }: { site: Site }) {
  return (
    <>
      <RecordTable
        title="Let in from outside"
        headings={['What for', 'Line', 'Outside', 'To', 'Allowed sources']}
        none="Nothing. Everything inbound is refused."
        rows={site.forwards.map((forward) => [
          forward.name,
          forward.line?.name ?? '',
          <Mono key="o">{`${forward.protocol === 'both' ? 'tcp, udp' : forward.protocol} ${forward.outside ? formatPorts(forward.outside) : ''}`}</Mono>,
          <Mono key="t">{`${forward.device?.address ? formatAddress(forward.device.address) : (forward.device?.name ?? '')} ${forward.inside ? formatPorts(forward.inside) : ''}`}</Mono>,
          <MonoList key="s">
            {forward.sources.length === 0
              ? forward.sourcesUnclear
                ? 'not readable'
                : 'everybody'
              : forward.sources.map(formatPrefix).join(', ')}
          </MonoList>,
        ])}
      />
      <RecordTable
        title="Between networks"
        headings={['Allowed; everything else between networks is refused']}
        none="Nothing: all inside networks are apart."
        rows={site.reach.map((rule) => [rule.says])}
      />
    </>
  );
}

function AccessRecord({ site }: { site: Site }) {
  const { vpn } = site;
  if (vpn.plan.way === 'none') return null;
  return (
    <>
      <RecordTable
        title={`Remote access: ${wayTitles[vpn.plan.way]}`}
        headings={['Device', 'State', 'Address', 'Reaches exactly']}
        none="Nobody yet."
        rows={accessList(site, today()).map(({ peer, says }) => [
          peer.name,
          says,
          <MonoList key="a">
            {[peer.address, peer.address6].flatMap((host) => (host ? [formatAddress(host)] : [])).join(', ')}
          </MonoList>,
          reachText(peer).join('; '),
        ])}
      />
      {vpn.sites.length > 0 && (
        <RecordTable
          title="Joined sites"
          headings={['Site', 'Called at', 'Routes to it', 'Joined here', 'Seen under other blocks']}
          none=""
          rows={vpn.sites.map((far) => [
            far.name,
            <Mono key="e">{far.plan.endpoint || 'it calls'}</Mono>,
            <MonoList key="r">{far.prefixes.map(formatPrefix).join(', ')}</MonoList>,
            far.networks.map(({ name }) => name).join(', '),
            far.translations
              .map(
                ({ of, network, real, seen }) =>
                  `${network} ${of}: ${formatPrefix(real)} as ${formatPrefix(seen)}`,
              )
              .join('; '),
          ])}
        />
      )}
    </>
  );
}

function AcceptanceRecord() {
  const accepted = useAnalysis()?.accepted ?? [];
  return (
    <RecordTable
      title="Promises and evidence"
      headings={['Promise', 'On paper', 'Evidence on site', 'Proven']}
      none="None."
      rows={accepted.map(({ promise, best, accepted: proven, missing }) => [
        promise.says,
        promise.paper.kept ? 'kept' : 'not kept',
        best
          ? `${best.says}; ${dayText(best.record.at)}, ${best.record.initials}${best.record.reading && `: ${best.record.reading}`}`
          : '',
        proven ? 'yes' : `no. ${missing}`,
      ])}
    />
  );
}

function StepsRecord() {
  const steps = useAnalysis()?.steps ?? [];
  const states = stepStates(useRecords());
  const done = steps.filter((step) => states.get(step.id)?.done);
  return (
    <RecordTable
      title={`Work done: ${done.length} of ${steps.length} steps`}
      headings={['Step', 'When', 'Who', 'Reading']}
      none="No step is ticked yet."
      rows={done.map((step) => {
        const last = states.get(step.id)!.last!;
        return [
          step.title,
          <Mono key="w">{dayText(last.at)}</Mono>,
          last.initials,
          <MonoList key="r">{last.reading}</MonoList>,
        ];
      })}
    />
  );
}

function FindingsRecord() {
  const analysis = useAnalysis();
  const findings = analysis?.findings ?? [];
  const standing = useStanding();
  return (
    <RecordTable
      title="Open findings"
      headings={['Severity', 'What']}
      none={analysis && standing === 'done' ? 'None.' : 'Not looked at yet.'}
      rows={findings.map((finding) => [severityWords[finding.severity].one, finding.says])}
    />
  );
}

function RemoveSite({ name }: { name: string }) {
  const session = useSession();
  const navigate = useNavigate();
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button color="error" onClick={() => setOpen(true)}>
        Remove site …
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)}>
        <DialogTitle>Remove {name || 'this site'}?</DialogTitle>
        <DialogContent>
          Its plan, all revisions, records and secrets go to the trash. They can be put back for 30 days, on
          the page &quot;Data&quot;; after that they are erased.
        </DialogContent>
        <DialogActions>
          <Button autoFocus onClick={() => setOpen(false)}>
            Keep it
          </Button>
          <Button
            color="error"
            variant="contained"
            onClick={() => void removeSite(session.id).then(() => navigate('/'))}
          >
            Remove it
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
