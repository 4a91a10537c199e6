import { adviceFor, falseAllowed } from '../../behaviour/failover/demand.ts';
import { lossOf } from '../../behaviour/failover/usual.ts';
import type { Watch } from '../../site/failover.ts';
import { linesForKind } from '../../behaviour/failover/predict.ts';
import { type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { falseAlarmsWorked, windowAlarmsWorked } from '../../base/worked/failover.ts';
import { figure } from '../../base/worked/worked.ts';
import { note } from './note.ts';
import { monitoringFix } from './monitoring-fix.ts';

/** Lines that would be left without a fault, by chance loss alone. */
export const falseAlarmRates: Check = {
  name: 'false alarms',
  run: (site) =>
    site.lines.length < 2 ? [] : site.failover.watches.flatMap((watch) => flapping(site, watch)),
};

function flapping(site: Site, watch: Watch): Finding[] {
  if (watch.targets.length === 0) return [];
  const loss = lossOf(watch.line);
  const { window } = watch;
  const byWindow =
    window?.lossPercent !== undefined &&
    windowAlarmsWorked(loss, watch.intervalSeconds, watch.targets.length, window.probes, window.lossPercent);
  const found: Finding[] = [];
  if (byWindow && byWindow.value > falseAllowed(site))
    found.push(
      note(
        'window-flaps',
        'warning',
        `${watch.at}/windowLossPercent`,
        Number.isFinite(byWindow.value)
          ? `At ${loss} % packet loss the last ${window?.probes} probes reach ${window?.lossPercent} % by chance ${figure(byWindow.value, 1)} times a month: ${watch.line.name} would count as down without a fault. Widen the window, or raise the threshold.`
          : `${watch.line.name} loses ${loss} % on an ordinary day, and the threshold is ${window?.lossPercent} %: it would count as down most of the time although it works. Raise the threshold.`,
        byWindow,
      ),
    );
  const alarms = falseAlarmsWorked(loss, watch.intervalSeconds, watch.downAfter, watch.targets.length);
  const allowed = falseAllowed(site);
  if (alarms.value <= allowed) return found;
  const promise = site.failover.promises.find(
    (each) => linesForKind(site, each.network, each.kind)[0] === watch.line,
  );
  const setting = promise && adviceFor(site, promise)?.setting;
  return [
    ...found,
    note(
      'will-flap',
      'warning',
      `${watch.at}/downAfter`,
      `At ${loss} % packet loss ${watch.line.name} would count as down ${figure(alarms.value, 1)} times a month without a fault; ${allowed} ${allowed === 1 ? 'is' : 'are'} tolerated.`,
      alarms,
      setting &&
        monitoringFix(
          `Set probe interval ${setting.intervalSeconds} s, down after ${setting.downAfter} failures`,
          watch,
          setting,
        ),
    ),
  ];
}
