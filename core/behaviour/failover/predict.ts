import { titleAt } from '../../plan/places.ts';
import { wanType } from '../../wan-types/index.ts';
import type { Line, Network, Site } from '../../site/model.ts';
import { detection, type Detection } from '../../base/worked/failover.ts';
import { shown, practice, step, type Worked, worked } from '../../base/worked/worked.ts';
import type { FailoverPromise, Watch } from '../../site/failover.ts';
import { linesFor } from './policy.ts';
import type { TrafficKind } from '../../plan/schema.ts';
import { traffic } from './traffic.ts';

/** Targets whose silence tells that the internet is gone over this line, and nothing else. */
export const soundTargets = (watch: Watch): Watch['targets'] =>
  watch.targets.filter(({ reach, pinned }) => reach === 'beyond' && pinned);

/** How soon a line that is dead beyond the first hop is noticed; undefined where nobody would. */
export const detectionOf = (watch: Watch): Detection | undefined =>
  soundTargets(watch).length === 0 || soundTargets(watch).length < watch.targets.length
    ? undefined
    : detection(watch.intervalSeconds, watch.timeoutSeconds, watch.downAfter);

/** How long it takes until the backup carries packets, once the router has decided. */
export function switchOf(line: Line): { lowSeconds: number; highSeconds: number; says: string } {
  if (line.standby === 'up')
    return { lowSeconds: 1, highSeconds: 2, says: `${line.name} is kept up: the routes change` };
  const { lowSeconds = 10, highSeconds = 120 } = wanType(line.type).bringUp(line);
  return {
    lowSeconds,
    highSeconds,
    says: `${line.name} is dialled only then: ${titleAt('/uplinks/*/type', line.type)}`,
  };
}

/** The same as a figure with its working. */
export function switchWorked(line: Line): Worked {
  const { lowSeconds, highSeconds, says } = switchOf(line);
  return worked(
    'The backup carries after',
    highSeconds,
    's at worst',
    [step('how', says), step('at best', `${lowSeconds} s`), step('at worst', `${highSeconds} s`)],
    practice,
    line.standby === 'up' ? undefined : 'Kept up, it would take a second or two.',
  );
}

export const watchOf = (site: Site, line: Line): Watch => site.failover.watches[site.lines.indexOf(line)]!;

/** Lines that a kind of traffic of a network may use, in order. */
export const linesForKind = (site: Site, network: Network, kind: TrafficKind): readonly Line[] =>
  linesFor(site, network, traffic[kind].sample);

/** How long a kind of traffic is interrupted when its line fails, without anything that a plan knows besides. */
export function outageWorked(
  kindName: TrafficKind,
  intervalSeconds: number,
  timeoutSeconds: number,
  losses: number,
  switchSeconds: number,
  nameSeconds = 0,
): Worked<number> {
  const kind = traffic[kindName];
  const found = detection(intervalSeconds, timeoutSeconds, losses);
  // Who comes in from outside finds the site by its name: until that and its caches have changed, nobody does.
  const byName = kindName === 'inbound' ? nameSeconds : 0;
  const worst = found.worstSeconds + switchSeconds + byName + kind.retrySeconds;
  const best = found.bestSeconds + switchSeconds;
  return worked(
    `${kind.title}: back after`,
    worst,
    's at worst',
    [
      step('at best', shown(best, 's')),
      step('the line is found down', `${found.worstSeconds} s`),
      step('the backup carries', `+ ${switchSeconds} s`),
      ...(byName > 0 ? [step('the name and its caches', `+ ${byName} s`)] : []),
      step('it tries again', `+ ${kind.retrySeconds} s`),
      step('at worst', shown(worst, 's')),
    ],
    `RFC 5880 section 6.8.4; ${kind.source}`,
    kind.session ? 'A session that was open is lost; a new one can be made then.' : undefined,
  );
}

/** How long a name that follows the line points the wrong way at worst. */
export function nameWorked(updateSeconds: number, ttlSeconds: number): Worked {
  return worked(
    'The name points to the new line after',
    updateSeconds + ttlSeconds,
    's at worst',
    [
      step('the name is changed', `${updateSeconds} s`),
      step('caches keep the old one', `+ ${ttlSeconds} s`),
      step('worst', `${updateSeconds + ttlSeconds} s`),
    ],
    'RFC 1035 section 3.2.1 (TTL); arithmetic',
  );
}

export interface Prediction {
  /** Undefined: it does not come back before the line does. */
  readonly worstSeconds: number | undefined;
  readonly bestSeconds: number | undefined;
  readonly worked: Worked;
  /** Why it cannot come back, in one sentence; empty where it does. */
  readonly says: string;
}

/** How long this promise's traffic stands still when its first line dies beyond the first hop. */
export function predict(site: Site, promise: FailoverPromise): Prediction {
  const kind = traffic[promise.kind];
  const [first, second] = linesForKind(site, promise.network, promise.kind);
  const never = (says: string): Prediction => ({
    worstSeconds: undefined,
    bestSeconds: undefined,
    worked: worked(
      `${kind.title} of ${promise.network.name} are back after`,
      'never',
      '',
      [step('back', says)],
      practice,
    ),
    says,
  });
  if (!first) return never('It is refused on every line.');
  if (!second)
    return never(
      `${kind.title} of ${promise.network.name} may use ${first.name} only: no rule moves them to another line.`,
    );
  const found = detectionOf(watchOf(site, first));
  if (!found)
    return never(
      `Nothing beyond the provider is watched over ${first.name} alone, so a line that is up but useless is used on.`,
    );
  const change = switchOf(second);
  const { dynamicName, ttlSeconds, updateSeconds, resolvers, sessions } = site.failover;
  if (promise.kind === 'inbound' && second.inbound !== 'direct' && second.inbound !== 'by-box')
    return never(`Nobody outside can begin anything over ${second.name}.`);
  if (promise.kind === 'inbound' && dynamicName === '')
    return never('No name follows the line: visitors go on calling the old address.');
  if (promise.kind === 'tunnel' && sessions === 'keep')
    return never(
      'Sessions on the dead line are kept, and the keep-alives of the tunnel hold its session there for ever.',
    );
  const extra: [string, number][] = [
    ...(kind.session && sessions === 'keep'
      ? [['the old session times out', kind.givesUpSeconds] as [string, number]]
      : []),
    ...(promise.kind === 'inbound'
      ? [['the name and its caches', updateSeconds + ttlSeconds] as [string, number]]
      : []),
    // A resolver that does not answer is given up after 5 s.
    ...(kind.names && resolvers === 'line'
      ? [['the DNS server of the failed line times out', 5] as [string, number]]
      : []),
    [`${kind.title.toLowerCase()} try again`, kind.retrySeconds],
  ];
  const worst =
    Math.round(
      (found.worstSeconds + change.highSeconds + extra.reduce((sum, [, each]) => sum + each, 0)) * 10,
    ) / 10;
  const best = Math.round((found.bestSeconds + change.lowSeconds) * 10) / 10;
  return {
    worstSeconds: worst,
    bestSeconds: best,
    worked: worked(
      `${kind.title} of ${promise.network.name} are back after`,
      worst,
      's at worst',
      [
        step('at best', `${best} s`),
        step(`${first.name} is found down`, `${found.worstSeconds} s`),
        step(change.says, `+ ${change.highSeconds} s`),
        ...extra.map(([says, seconds]) => step(says, `+ ${seconds} s`)),
        step('at worst', `${worst} s`),
      ],
      `RFC 5880 section 6.8.4; ${kind.source}`,
      worst <= promise.withinSeconds
        ? `Within the ${promise.withinSeconds} s that were promised.`
        : `Later than the ${promise.withinSeconds} s that were promised.`,
    ),
    says: '',
  };
}
