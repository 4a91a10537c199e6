import Typography from '@mui/material/Typography';
import { type At, watchTargetSchema, watchText } from '../../../core/index.ts';
import { newId } from '../../state/api.ts';
import { useSite } from '../../state/analysis.ts';
import { usePlanPiece } from '../../state/session.ts';
import { Field } from '../../parts/field.tsx';
import { Figures } from '../../parts/figures.tsx';
import { PlanTable } from '../../parts/rows.tsx';

const reachWords = {
  unset: '',
  inside: 'inside: proves nothing about the line',
  box: 'the device in front',
  'first-hop': 'the first hop',
  provider: "the provider's own",
  beyond: 'beyond the provider',
} as const;

/** One line: how it is labelled, how it fails, what is probed over it and what the answers mean. */
export function FailoverLine({ index }: { index: number }) {
  const uplink = usePlanPiece((plan) => plan.uplinks[index]);
  const weights = usePlanPiece((plan) => plan.failover.sharing === 'weights');
  const site = useSite();
  const at = `/uplinks/${index}/watch` as const;
  if (!uplink) return null;
  const name = uplink.name || 'unnamed uplink';
  const line = `/uplinks/${index}` as const;
  const targets = site.failover.watches[index]?.targets;
  const failures: At[] = [
    `${line}/label`,
    ...(index > 0 ? [`${line}/standby` as const] : []),
    ...(weights ? [`${line}/weight` as const] : []),
    `${line}/failures/measuredLossPercent`,
    `${line}/failures/measuredDelayMs`,
    `${line}/failures/perYear`,
    `${line}/failures/repairHours`,
  ];
  return (
    <fieldset className="card" aria-label={`Monitoring of ${name}`} data-at={at} tabIndex={-1}>
      <div className="card-head">
        <Typography variant="h4">{name}</Typography>
        <span className="quiet">{index === 0 ? 'first in order' : 'backup'}</span>
      </div>
      <Figures title="Monitoring" of={name} at={[at]} says={watchText(site, index)}>
        <div data-at={`${at}/targets`} tabIndex={-1}>
          <PlanTable
            at={`${at}/targets`}
            of={name}
            columns={[
              ['host', 'l'],
              ['method', 'm'],
              ['port', 's'],
              ['pinned', 'm'],
              ['Location', 'm'],
            ]}
            row={() => watchTargetSchema.parse({ id: newId() })}
            cell={(key, row) =>
              key === 'Location' && (
                <span className="quiet">{reachWords[targets?.[row]?.reach ?? 'unset']}</span>
              )
            }
            what="target"
            addLabel="Add a target"
            empty="Nothing is probed. Two addresses beyond the provider, run by two different organisations, tell whether the internet is there."
          />
        </div>
        <div className="ledger">
          <Field at={`${at}/intervalSeconds`} />
          <Field at={`${at}/timeoutSeconds`} />
          <Field at={`${at}/downAfter`} />
          <Field at={`${at}/upAfter`} />
          <Field at={`${at}/holdSeconds`} />
          <Field at={`${at}/carrier`} />
          <Field at={`${at}/windowProbes`} />
          <Field at={`${at}/windowLossPercent`} />
          <Field at={`${at}/windowDelayMs`} />
        </div>
      </Figures>
      <Figures title="Label and failures" of={name} at={failures}>
        <div className="ledger">
          {failures.map((place) => (
            <Field key={place} at={place} />
          ))}
        </div>
      </Figures>
    </fieldset>
  );
}
