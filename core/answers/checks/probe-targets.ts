import type { Watch } from '../../site/failover.ts';
import { formatAddress, sameAddress } from '../../base/net/address.ts';
import { formatPrefix } from '../../base/net/prefix.ts';
import { replacing, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { practice, step, worked } from '../../base/worked/worked.ts';
import { note, said } from './note.ts';

/** Whether each line is monitored by targets that tell something about it. */
export const probeTargets: Check = {
  name: 'probe targets',
  run: (site) =>
    site.lines.length < 2 ? [] : site.failover.watches.flatMap((watch) => targets(site, watch)),
};

const nearWords = {
  inside: 'is inside, and answers whatever happens to the line',
  box: 'is the device in front, and answers while the internet is gone',
  'first-hop': 'is the first hop, and answers while nothing is beyond it',
  provider: 'belongs to the provider, and answers while the rest of the internet is gone',
} as const;

function targets(site: Site, watch: Watch): Finding[] {
  const { line } = watch;
  if (watch.targets.length === 0)
    return [
      note(
        'not-watched',
        'warning',
        `${watch.at}/targets`,
        `${line.name} has no probe target: when it has link and an address but carries nothing, the router goes on using it.`,
        said('Probe targets', 'none'),
      ),
    ];
  const found: Finding[] = [];
  if (watch.targets.length < 2)
    found.push(
      note(
        'one-target',
        'warning',
        `${watch.at}/targets`,
        `${line.name} has one probe target: when that one is out of service, a working line counts as down. Use two, run by different operators.`,
        said('Probe targets', '1'),
      ),
    );
  for (const target of watch.targets) {
    const { reach } = target;
    if (reach === 'unset')
      found.push(
        note(
          'target-empty',
          'warning',
          `${target.at}/host`,
          `A probe target of ${line.name} has no address yet.`,
          said('Probe target', 'empty'),
        ),
      );
    else if (reach !== 'beyond')
      found.push(
        note(
          'target-near',
          'blocker',
          `${target.at}/host`,
          `${target.name} ${nearWords[reach]}: ${line.name} would count as up although the internet cannot be reached. Use a target beyond the provider.`,
          worked(
            'Where the probe target is',
            reach,
            '',
            [
              step('probe target', target.name),
              ...(line.gateway ? [step('first hop', formatAddress(line.gateway))] : []),
              ...(line.prefix ? [step('subnet of the line', formatPrefix(line.prefix))] : []),
              step('it is', reach),
            ],
            practice,
          ),
        ),
      );
    if (!target.pinned)
      found.push(
        note(
          'target-unpinned',
          'blocker',
          `${target.at}/pinned`,
          `Probes to ${target.name} follow the route in use: once the backup carries the traffic, they are answered over the backup, ${line.name} counts as up again, and traffic returns to a dead line.`,
          said('Probed over', 'any line'),
          replacing(`Send these probes over ${line.name} only`, `${target.at}/pinned`, true),
        ),
      );
    const twin = site.failover.watches
      .filter((other) => other.line !== line && site.lines.indexOf(other.line) < site.lines.indexOf(line))
      .flatMap((other) => other.targets.map((each) => ({ each, other })))
      .find(({ each }) => each.host && target.host && sameAddress(each.host, target.host));
    if (twin)
      found.push(
        note(
          'target-shared',
          'warning',
          `${target.at}/host`,
          `${target.name} is a probe target of ${twin.other.line.name} too: many routers hold one route to an address, so one of the lines would be judged over the other. Use a different target for each line.`,
          said('Probed over', `${twin.other.line.name} and ${line.name}`),
        ),
      );
  }
  return found;
}
