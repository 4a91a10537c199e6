import { adviceFor } from '../../behaviour/failover/demand.ts';
import type {} from '../../site/failover.ts';
import { linesForKind, predict, switchOf, watchOf } from '../../behaviour/failover/predict.ts';
import { traffic } from '../../behaviour/failover/traffic.ts';
import { replacing, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { note, said } from './note.ts';
import { monitoringFix } from './monitoring-fix.ts';

/** What was promised to the customer, against what the second line and its monitoring can do. */
export const promises: Check = {
  name: 'promises',
  run: (site) => [...unfigured(site), ...(site.lines.length < 2 ? lonely(site) : late(site))],
};

/** A promise without a number can be neither computed nor proven. */
const unfigured = ({ failover }: Site): Finding[] =>
  failover.unfigured.map(({ at, says }, index) =>
    note(
      'promise-without-time',
      'warning',
      `${at}/withinSeconds`,
      `${says.trim() === '' ? `Promise ${index + 1}` : `"${says.trim()}"`} has no number of seconds: it can be neither computed nor proven. Ask how long an interruption may last, and enter that.`,
      said('Back within', 'not entered'),
    ),
  );

function lonely(site: Site): Finding[] {
  return site.failover.promises.map((promise) =>
    note(
      'no-second-line',
      'blocker',
      promise.at,
      `"${promise.says}" needs a second line, and the site has ${site.lines.length === 0 ? 'none' : 'one'}.`,
      said('Lines', String(site.lines.length)),
    ),
  );
}

function late(site: Site): Finding[] {
  return site.failover.promises.flatMap((promise): Finding[] => {
    const [first, second] = linesForKind(site, promise.network, promise.kind);
    const kind = traffic[promise.kind];
    const prediction = predict(site, promise);
    if (!first || !second)
      return [
        note(
          'promise-not-moved',
          'blocker',
          promise.at,
          `"${promise.says}": ${kind.title.toLowerCase()} of ${promise.network.name} (${kind.sample.protocol} ${kind.sample.destinationPort}) ${first ? `may use ${first.name} only` : 'are refused on every line'}. When that line fails, this traffic stops.`,
          prediction.worked,
        ),
      ];
    const change = switchOf(second);
    if (second.standby === 'dialled' && change.highSeconds > promise.withinSeconds)
      return [
        note(
          'dial-too-slow',
          'blocker',
          `${second.at}/standby`,
          `"${promise.says}": ${second.name} dials only when it is needed, which takes up to ${change.highSeconds} s. Keep it connected.`,
          prediction.worked,
          replacing(`Keep ${second.name} connected`, `${second.at}/standby`, 'up'),
        ),
      ];
    if (prediction.worstSeconds === undefined)
      return [
        note(
          'promise-never',
          'blocker',
          promise.at,
          `"${promise.says}": ${prediction.says}`,
          prediction.worked,
        ),
      ];
    if (prediction.worstSeconds <= promise.withinSeconds) return [];
    const advice = adviceFor(site, promise);
    return [
      note(
        'promise-late',
        'blocker',
        promise.at,
        `"${promise.says}": it takes up to ${prediction.worstSeconds} s. ${advice?.says ?? ''}`,
        prediction.worked,
        advice?.setting &&
          monitoringFix('Set the monitoring as computed', watchOf(site, first), advice.setting),
      ),
    ];
  });
}
