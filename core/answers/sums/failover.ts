import { advise } from '../../behaviour/failover/advisor.ts';
import { outageWorked, switchWorked } from '../../behaviour/failover/predict.ts';
import { namesAt } from '../../plan/places.ts';
import { planSchema, wanTypeNames, type TrafficKind } from '../../plan/schema.ts';
import { planVersion } from '../../plan/version.ts';
import { bad, ok, type Result } from '../../base/result.ts';
import { compile } from '../../site/compile.ts';
import {
  availabilityOf,
  backupDataWorked,
  detectionWorked,
  falseAlarmsWorked,
  missesWorked,
  returnWorked,
  togetherWorked,
  upsWorked,
  windowAlarmsWorked,
} from '../../base/worked/failover.ts';
import { listOf, needed, numberBetween, oneOf, optional, sum, wholeBetween, type Sum } from './sum.ts';

const seconds = numberBetween(0.05, 86_400);
const percent = numberBetween(0, 100);

const interval = needed('probe interval', 's', '5', seconds);
const timeout = needed('probe timeout', 's', '2', seconds);
const losses = needed('failures before down', 'probes', '3', wholeBetween(1, 1000));
const targets = needed('targets probed at once', '', '2', wholeBetween(1, 8));
const loss = needed('random loss', '%', '1', percent);

const trafficNames = namesAt('/failover/promises/*/kind') as TrafficKind[];

/** An availability from "failures per year/hours to repair", as in 3/6. */
function parseRate(text: string): Result<number> {
  const [failures = '', hours = '', ...more] = text.split('/');
  const perYear = numberBetween(0, 100_000)(failures);
  const repair = numberBetween(0, 8760)(hours);
  return perYear.ok && repair.ok && more.length === 0
    ? ok(availabilityOf(perYear.value, repair.value))
    : bad(
        'not-rates',
        `"${text}" is no rate: write failures per year, a slash, hours to repair, as in 3/6 (at most 100000/8760).`,
      );
}

const rates = listOf(parseRate, 8);

export const failoverSums: readonly Sum[] = [
  sum(
    'detection',
    'How soon a dead line is noticed: best, mean, worst',
    { interval, timeout, losses },
    (given) => detectionWorked(given.interval, given.timeout, given.losses),
  ),
  sum(
    'return',
    'How soon a line that works again counts as up',
    {
      interval,
      successes: needed('successes before up', 'probes', '5', wholeBetween(1, 1000)),
      hold: needed('stable before up', 's', '60', numberBetween(0, 86_400)),
    },
    (given) => returnWorked(given.interval, given.successes, given.hold),
  ),
  sum(
    'false-alarms',
    'False alarms in a month from random loss',
    { loss, interval, losses, targets },
    (given) => falseAlarmsWorked(given.loss, given.interval, given.losses, given.targets),
  ),
  sum(
    'window-alarms',
    'False alarms in a month of a loss window',
    {
      loss,
      interval,
      targets,
      window: needed('probes in the window', 'probes', '20', wholeBetween(2, 1000)),
      threshold: needed('loss threshold', '%', '25', numberBetween(1, 100)),
    },
    (given) => windowAlarmsWorked(given.loss, given.interval, given.targets, given.window, given.threshold),
  ),
  sum(
    'misses',
    'Chance that a brown-out is missed',
    {
      loss: needed('loss during it', '%', '40', percent),
      duration: needed('how long it lasts', 's', '600', numberBetween(1, 2_592_000)),
      interval,
      losses,
      targets,
    },
    (given) => missesWorked(given.loss, given.duration, given.interval, given.losses, given.targets),
  ),
  sum(
    'lines-together',
    'Minutes without any line: lines side by side, shared causes in series',
    {
      lines: needed('failures per year/hours to repair, of each line', '', '3/6,10/1.5', rates),
      causes: optional('the same, of what takes all lines at once', '', '2/0.5', rates),
    },
    ({ lines, causes = [] }) => togetherWorked(lines, causes),
  ),
  sum(
    'backup-data',
    'Data and cost of the backup in a month',
    {
      hours: needed('hours on the backup', 'h', '3', numberBetween(0, 744)),
      traffic: needed('traffic during it', 'Mb/s', '2', numberBetween(0, 100_000)),
      interval,
      targets,
      cap: optional('data allowance', 'GB', '20', numberBetween(0, 1_000_000)),
      price: optional('price above it', 'per GB', '2', numberBetween(0, 100_000)),
    },
    (given) =>
      backupDataWorked({
        hours: given.hours,
        mbps: given.traffic,
        probeSeconds: given.interval,
        targets: given.targets,
        capGigabytes: given.cap,
        pricePerGigabyte: given.price,
      }),
  ),
  sum(
    'ups',
    'Run time of a battery supply',
    {
      energy: needed('energy of the battery', 'Wh', '150', numberBetween(0, 1_000_000)),
      load: needed('load', 'W', '45', numberBetween(0.1, 100_000)),
    },
    (given) => upsWorked(given.energy, given.load),
  ),
  sum(
    'switch-time',
    'How long until a backup carries, by its WAN type',
    {
      type: needed(wanTypeNames.join(', '), '', 'cellular', oneOf(wanTypeNames)),
      standby: needed('up or dialled', '', 'dialled', oneOf(namesAt('/uplinks/*/standby'))),
    },
    ({ type, standby }) =>
      switchWorked(
        compile(
          planSchema.parse({
            format: 'netter-plan',
            version: planVersion,
            uplinks: [{ id: 'line', name: 'the backup', type, standby }],
          }),
        ).lines[0]!,
      ),
  ),
  sum(
    'outage',
    'How long a kind of traffic is interrupted when its line fails',
    {
      kind: needed(trafficNames.join(', '), '', 'card', oneOf(trafficNames)),
      interval,
      timeout,
      losses,
      switch: needed('until the backup carries', 's', '2', numberBetween(0, 3600)),
      update: optional('for inbound: until the name is changed', 's', '60', numberBetween(0, 86_400)),
      ttl: optional('for inbound: DNS TTL of the name', 's', '300', numberBetween(0, 604_800)),
    },
    ({ kind, update = 0, ttl, ...given }) =>
      kind === 'inbound' && ttl === undefined
        ? bad(
            'missing-input',
            'Connections from outside follow a DNS name: give its TTL, ttl=300, or ttl=0 where clients know the addresses of both lines.',
            'ttl',
          )
        : outageWorked(kind, given.interval, given.timeout, given.losses, given.switch, update + (ttl ?? 0)),
  ),
  sum(
    'watching',
    'The cheapest monitoring that keeps a promise, or what makes it impossible',
    {
      within: needed('promised: back within', 's', '45', numberBetween(1, 86_400)),
      false: needed('tolerated false switches', 'per month', '1', numberBetween(0, 1000)),
      data: needed('data allowed for probes in a month', 'GB', '1', numberBetween(0, 1_000_000)),
      loss,
      delay: needed('measured round-trip time', 'ms', '40', numberBetween(0, 60_000)),
      targets,
      after: needed('change, names and next try', 's', '12', numberBetween(0, 86_400)),
    },
    (given) =>
      advise({
        withinSeconds: given.within,
        falsePerMonth: given.false,
        probeGigabytes: given.data,
        lossPercent: given.loss,
        delayMs: given.delay,
        targets: given.targets,
        afterSeconds: given.after,
      }).worked,
  ),
];
