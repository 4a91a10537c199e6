import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { counted, titleAt, type Finding, type Plan } from '../../core/index.ts';
import { SeverityMark } from '../parts/severity.tsx';

/** What the answers come to: in a few lines, with what is still open. */
export function Outcome({
  plan,
  findings,
  make,
  open,
}: {
  plan: Plan;
  findings: readonly Finding[];
  make: () => void;
  open: number;
}) {
  const count = (severity: Finding['severity']): number =>
    findings.filter((finding) => finding.severity === severity).length;
  const blockers = findings.filter(({ severity }) => severity === 'blocker');
  const { uplinks, networks, forwards, vpn, failover } = plan;
  const promise = failover.promises[0];
  return (
    <section className="outcome" aria-label="Resulting plan">
      <div className="brief-head">
        <Typography variant="h3">Resulting plan</Typography>
        <span>
          {count('blocker') > 0 && <SeverityMark severity="blocker" count={count('blocker')} />}{' '}
          {count('warning') > 0 && <SeverityMark severity="warning" count={count('warning')} />}
          {count('blocker') + count('warning') === 0 && <span className="quiet">no findings</span>}
        </span>
      </div>
      <dl>
        <dt>Lines</dt>
        <dd>
          {uplinks
            .map(
              ({ name, type, vlan }) =>
                `${name}: ${titleAt('/uplinks/*/type', type)}${vlan === null ? '' : `, VLAN ${vlan}`}`,
            )
            .join(' · ')}
        </dd>
        <dt>Networks</dt>
        <dd>
          {networks.map(({ id, name, prefix, vlan }) => (
            <span key={id} className="outcome-network">
              {name} <span className="mono">{prefix}</span>
              {vlan === null ? '' : `, VLAN ${vlan}`}
            </span>
          ))}
        </dd>
        <dt>From outside</dt>
        <dd>
          {[
            vpn.way === 'none'
              ? ''
              : `${titleAt('/vpn/way', vpn.way)} for ${vpn.groups.map(({ name }) => name).join(', ')}`,
            ...forwards.map(({ purpose }) => `port forward: ${purpose}`),
          ]
            .filter((each) => each !== '')
            .join(' · ') || 'nothing'}
        </dd>
        {promise && (
          <>
            <dt>Failover</dt>
            <dd>
              {uplinks[0]!.name}, then {uplinks[1]!.name}, within {promise.withinSeconds} s: probes every{' '}
              {uplinks[0]!.watch.intervalSeconds ?? 10} s, down after {uplinks[0]!.watch.downAfter ?? 3} lost
            </dd>
          </>
        )}
      </dl>
      {blockers.length > 0 && (
        <ul className="outcome-open">
          {blockers.slice(0, 4).map(({ rule, at, says }) => (
            <li key={`${rule} ${at}`}>{says}</li>
          ))}
        </ul>
      )}
      <div className="row-actions">
        <Button variant={open === 0 ? 'contained' : 'outlined'} onClick={make}>
          Make the site
        </Button>
        <span className="quiet">
          {open === 0
            ? 'Every value says where it came from, until you confirm it.'
            : `${counted(open, 'open question uses', 'open questions use')} the likely answer.`}
        </span>
      </div>
    </section>
  );
}
