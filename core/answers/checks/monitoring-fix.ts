import { adviceFor } from '../../behaviour/failover/demand.ts';
import type { Watch } from '../../site/failover.ts';
import { type Finding } from '../../behaviour/domain-types/finding.ts';

/** The change that sets the monitoring of a line as it was computed. */
export const monitoringFix = (
  says: string,
  watch: Watch,
  setting: NonNullable<NonNullable<ReturnType<typeof adviceFor>>['setting']>,
): NonNullable<Finding['fix']> => ({
  says,
  patch: Object.entries(setting).map(([key, value]) => ({
    op: 'replace' as const,
    path: `${watch.at}/${key}`,
    value,
  })),
});
