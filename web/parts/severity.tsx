import { mdiAlertOctagonOutline, mdiAlertOutline, mdiLightbulbOutline } from '@mdi/js';
import SvgIcon from '@mui/material/SvgIcon';
import { counted, type Severity } from '../../core/index.ts';

/** The words and signs of the three severities: never colour alone. */
export const severityWords: Record<Severity, { one: string; many: string; icon: string }> = {
  blocker: { one: 'Blocker', many: 'blockers', icon: mdiAlertOctagonOutline },
  warning: { one: 'Warning', many: 'warnings', icon: mdiAlertOutline },
  advice: { one: 'Advice', many: 'pieces of advice', icon: mdiLightbulbOutline },
};

/** The mark of a severity; with a count in words, or where there is little room with the word for ears only. */
export function SeverityMark({
  severity,
  count,
  short = false,
}: {
  severity: Severity;
  count?: number;
  short?: boolean;
}) {
  const { one, many, icon } = severityWords[severity];
  const words = count === undefined ? one : counted(count, one.toLowerCase(), many);
  return (
    <span className={`mark mark-${severity}`} {...(short && { title: words })}>
      <Icon path={icon} />
      {short && count !== undefined ? (
        <>
          {count}
          <span className="unseen"> {count === 1 ? one.toLowerCase() : many}</span>
        </>
      ) : (
        words
      )}
    </span>
  );
}

/** What is wrong with something that was looked at, gravest first. */
export const FaultList = ({
  faults,
}: {
  faults: readonly { readonly severity: Severity; readonly says: string }[];
}) => (
  <ul className="profile-faults">
    {faults.map(({ severity, says }) => (
      <li key={says}>
        <SeverityMark severity={severity} /> {says}
      </li>
    ))}
  </ul>
);

export function Icon({ path, label }: { path: string; label?: string }) {
  return (
    <SvgIcon fontSize="inherit" {...(label === undefined ? { 'aria-hidden': true } : { titleAccess: label })}>
      <path d={path} />
    </SvgIcon>
  );
}
