import { adviceFor, backupDataOf, capOf, falseAllowed, lossOf } from '../failover/demand.ts';
import type { Watch } from '../site/failover.ts';
import { linesForKind, predict, switchOf, watchOf } from '../failover/predict.ts';
import { traffic } from '../failover/traffic.ts';
import { causeRates, linesAvailability } from '../failover/years.ts';
import { formatAddress, sameAddress } from '../net/address.ts';
import { contains, formatPrefix, overlaps } from '../net/prefix.ts';
import { replacing, type Check, type Finding } from '../terms/finding.ts';
import type { Line, Site } from '../site/model.ts';
import {
  availabilityOf,
  falseAlarmsWorked,
  returnWorked,
  togetherWorked,
  windowAlarmsWorked,
} from '../worked/failover.ts';
import { mssWorked } from '../worked/packets.ts';
import { figure, practice, step, worked } from '../worked/worked.ts';
import { note, said } from './note.ts';

/** What keeps a second line from taking over, in time and for all that was promised. */
export const failover: Check = {
  name: 'failover',
  run: (site) =>
    site.lines.length < 2
      ? lonely(site)
      : [
          ...site.failover.watches.flatMap((watch) => [...targets(site, watch), ...flapping(site, watch)]),
          ...promises(site),
          ...blocks(site),
          ...sizes(site),
          ...names(site),
          ...inbound(site),
          ...fixedAddresses(site),
          ...causes(site),
          ...data(site),
          ...wayBack(site),
        ],
};

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

const nearWords = {
  inside: 'stands inside, and answers whatever happens to the line',
  box: 'is the box in front, and answers while the internet is gone',
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
        `Nothing is asked over ${line.name}: a line that has link and an address but passes nothing is used on, for hours.`,
        said('Targets', 'none'),
      ),
    ];
  const found: Finding[] = [];
  if (watch.targets.length < 2)
    found.push(
      note(
        'one-target',
        'warning',
        `${watch.at}/targets`,
        `${line.name} is judged by one target alone: when that one rests, a good line is left. Ask two that belong to different people.`,
        said('Targets', '1'),
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
          `A target of ${line.name} has no address yet.`,
          said('Target', 'empty'),
        ),
      );
    else if (reach !== 'beyond')
      found.push(
        note(
          'target-near',
          'blocker',
          `${target.at}/host`,
          `${target.name} ${nearWords[reach]}: ${line.name} would count as up although nothing opens. Ask something beyond the provider.`,
          worked(
            'Where the target stands',
            reach,
            '',
            [
              step('target', target.name),
              ...(line.gateway ? [step('first hop', formatAddress(line.gateway))] : []),
              ...(line.prefix ? [step('block of the line', formatPrefix(line.prefix))] : []),
              step('stands', reach),
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
          `${target.name} is asked over whichever line is in use: once the backup carries, it answers over the backup, ${line.name} counts as up, and traffic goes back to a dead line, again and again.`,
          said('Asked over', 'any line'),
          replacing(`Ask it over ${line.name} only`, `${target.at}/pinned`, true),
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
          `${target.name} is asked over ${twin.other.line.name} too: many routers hold one route to an address, so one of the lines is judged over the other. Use an address of its own for each line.`,
          said('Asked over', `${twin.other.line.name} and ${line.name}`),
        ),
      );
  }
  return found;
}

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
          ? `At ${loss} % loss the last ${window?.probes} probes reach ${window?.lossPercent} % by chance ${figure(byWindow.value, 1)} times a month, and ${watch.line.name} is left for nothing. Look at more probes, or ask for more loss.`
          : `${watch.line.name} loses ${loss} % on an ordinary day, and ${window?.lossPercent} % in the window count as down: it counts as down most of the time though it works. Ask for more loss.`,
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
      `At ${loss} % loss ${watch.line.name} would be left ${figure(alarms.value, 1)} times a month for nothing; ${allowed} ${allowed === 1 ? 'is' : 'are'} bearable.`,
      alarms,
      setting &&
        watching(
          `Watch it as computed: every ${setting.intervalSeconds} s, ${setting.downAfter} lost`,
          watch,
          setting,
        ),
    ),
  ];
}

const watching = (
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

function promises(site: Site): Finding[] {
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
          `"${promise.says}": ${kind.title.toLowerCase()} of ${promise.network.name} (${kind.sample.protocol} ${kind.sample.destinationPort}) ${first ? `may leave by ${first.name} only` : 'are refused on every line'}. When it fails, they stop.`,
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
          `"${promise.says}": ${second.name} is dialled only when it is needed, which takes up to ${change.highSeconds} s. Keep it up.`,
          prediction.worked,
          replacing(`Keep ${second.name} up`, `${second.at}/standby`, 'up'),
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
        advice?.setting && watching('Watch the line as computed', watchOf(site, first), advice.setting),
      ),
    ];
  });
}

function blocks(site: Site): Finding[] {
  return site.lines.flatMap((line, index) =>
    site.lines
      .slice(0, index)
      .flatMap((other): Finding[] =>
        line.prefix && other.prefix && overlaps(line.prefix, other.prefix)
          ? [
              note(
                'lines-one-block',
                'blocker',
                line.addressAt,
                `${line.name} and ${other.name} both use ${formatPrefix(line.prefix)}: the router cannot tell which way their gateways are. Change the inside block of one box in front.`,
                worked(
                  'Blocks of the lines',
                  'overlap',
                  '',
                  [step(other.name, formatPrefix(other.prefix)), step(line.name, formatPrefix(line.prefix))],
                  'RFC 1812 section 5.2.4.3',
                ),
              ),
            ]
          : [],
      ),
  );
}

function sizes(site: Site): Finding[] {
  const [first, ...others] = site.lines;
  return others.flatMap((line): Finding[] =>
    first && line.mtuBytes < first.mtuBytes
      ? [
          note(
            'backup-smaller',
            'advice',
            `${line.at}/mtuBytes`,
            `${line.name} carries ${line.mtuBytes} bytes where ${first.name} carries ${first.mtuBytes}: clamp TCP to ${mssWorked(line.mtuBytes).value} bytes on it, or pages begin to load and stop after a change. Tunnels keep to the smaller size from the start.`,
            mssWorked(line.mtuBytes),
          ),
        ]
      : [],
  );
}

function names(site: Site): Finding[] {
  const found: Finding[] = [];
  const ownerOf = (host: Line['address']): Line | undefined =>
    site.lines.find(
      ({ resolvers, prefix }) =>
        resolvers.some((each) => sameAddress(each, host)) || (prefix && contains(prefix, host)),
    );
  for (const network of site.networks) {
    const owners = network.resolvers.map(ownerOf);
    const owner = owners[0];
    if (owner && owners.every((each) => each === owner))
      found.push(
        note(
          'resolver-one-line',
          'warning',
          `${network.at}/resolvers`,
          `${network.name} asks the resolvers of ${owner.name} only. Most providers answer their own customers alone: over another line no name opens.`,
          said('Resolvers answer over', owner.name),
        ),
      );
  }
  const { resolvers } = site.failover;
  const own = site.failover.ownResolvers;
  const owners = own.map(ownerOf);
  if (resolvers === 'own' && own.length === 0)
    found.push(
      note(
        'no-own-resolver',
        'warning',
        '/failover/ownResolvers',
        'The router is to ask resolvers of your choice, and none is named.',
        said('Resolvers', 'none'),
      ),
    );
  if (resolvers === 'own' && owners[0] && owners.every((each) => each === owners[0]))
    found.push(
      note(
        'resolver-one-line',
        'warning',
        '/failover/ownResolvers',
        `The router asks resolvers of ${owners[0].name} only: over another line no name opens.`,
        said('Resolvers answer over', owners[0].name),
      ),
    );
  return found;
}

function inbound(site: Site): Finding[] {
  return site.forwards.flatMap((forward): Finding[] => {
    const first = forward.line;
    const backup = site.lines.find((line) => line !== first);
    if (!first || !backup || first !== site.lines[0]) return [];
    if (site.forwards.some((other) => other.line === backup && other.device === forward.device)) return [];
    const closed = backup.inbound !== 'direct' && backup.inbound !== 'by-box';
    return [
      note(
        closed ? 'forward-not-on-backup' : 'forward-one-line',
        'advice',
        `${forward.at}/uplink`,
        closed
          ? `${forward.name} does not answer while ${first.name} is down: over ${backup.name} nothing can begin outside. If that matters, let the device call out, or ask for a public address there.`
          : `${forward.name} is open on ${first.name} only. Open it on ${backup.name} too, and give visitors a name that follows the line.`,
        said(`Inbound over ${backup.name}`, backup.inbound),
      ),
    ];
  });
}

function fixedAddresses(site: Site): Finding[] {
  return site.failover.fixed.flatMap((service): Finding[] => {
    const network = service.network ?? site.networks[0];
    const [first, second] = network ? linesForKind(site, network, 'web') : [];
    if (!network || !first || !second) return [];
    return [
      note(
        'fixed-address',
        'warning',
        service.at,
        `${service.name} knows the site by the address of ${first.name}. Over ${second.name} it sees another one and refuses: have that one allowed as well, or pin it to ${first.name} and say that it waits.`,
        worked(
          'Address that the far end sees',
          'changes',
          '',
          [
            step(first.name, first.publicAddressKnown ? formatAddress(first.publicAddress) : 'not fixed'),
            step(second.name, second.publicAddressKnown ? formatAddress(second.publicAddress) : 'not fixed'),
          ],
          'RFC 3022 section 2.2',
        ),
      ),
    ];
  });
}

function causes(site: Site): Finding[] {
  const found = causeRates(site).flatMap((cause, index): Finding[] => {
    if (site.lines.some((line) => !cause.lines.includes(line))) return [];
    const alone = site.lines.map((line) => linesAvailability(site, [line]));
    return [
      note(
        'shared-cause',
        'warning',
        `/failover/causes/${index}`,
        `${cause.name} takes every line at once, ${cause.perYear} times a year: while it lasts the second line is worth nothing. Give the lines ways of their own, or a battery.`,
        togetherWorked(alone, [availabilityOf(cause.perYear, cause.repairHours)]),
      ),
    ];
  });
  const { wattHours } = site.failover.power;
  if (wattHours === null && site.failover.promises.length > 0)
    found.push(
      note(
        'no-battery',
        'advice',
        '/failover/power/wattHours',
        'No battery supply is written down: a power cut takes the router and both lines, whatever was promised. Mains work is for a licensed electrician.',
        said('Battery supply', 'none'),
      ),
    );
  return found;
}

function data(site: Site): Finding[] {
  const carried = backupDataOf(site);
  const cap = capOf(site, site.lines[1]);
  if (!carried || cap === undefined || carried.value <= cap) return [];
  return [
    note(
      'cap-exceeded',
      'warning',
      '/failover/backupGigabytes',
      `${site.lines[1]!.name} would carry ${figure(carried.value)} GB a month where ${cap} GB are allowed. Refuse what can wait: visitors, updates, copies.`,
      carried,
    ),
  ];
}

function wayBack(site: Site): Finding[] {
  const { back } = site.failover;
  const first = site.failover.watches[0];
  if (!first || first.targets.length === 0) return [];
  const believed = returnWorked(first.intervalSeconds, first.upAfter, first.holdSeconds);
  if (back === 'at-once' && first.holdSeconds < 30)
    return [
      note(
        'back-flaps',
        'warning',
        '/failover/back',
        `Traffic goes back to ${first.line.name} as soon as it answers, held for ${first.holdSeconds} s only: a line that comes and goes takes every session with it each time.`,
        believed,
        replacing('Go back after a hold', '/failover/back', 'hold'),
      ),
    ];
  if (back === 'by-hand' && site.failover.told.trim() === '')
    return [
      note(
        'back-nobody',
        'warning',
        '/failover/told',
        'Somebody has to switch back by hand, and nobody is told: the backup is used up unnoticed.',
        said('Told', 'nobody'),
      ),
    ];
  return [];
}
