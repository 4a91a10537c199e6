import { advise } from '../failover/advisor.ts';
import { outageWorked, switchWorked } from '../failover/predict.ts';
import { namesAt } from '../plan/places.ts';
import { planSchema, type TrafficKind } from '../plan/schema.ts';
import { planVersion } from '../plan/version.ts';
import { bad, ok, type Result } from '../result.ts';
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
} from '../worked/failover.ts';
import { compile } from '../site/compile.ts';
import { uplinkTypeNames } from '../plan/schema.ts';
import { input, numberBetween, sum, wholeBetween, type Sum } from './sum.ts';

const interval = { name: 'interval', says: 'a probe every', unit: 's', example: '5' } as const;
const timeout = { name: 'timeout', says: 'given up after', unit: 's', example: '2' } as const;
const losses = { name: 'losses', says: 'lost in a row that mean down', unit: '', example: '3' } as const;
const targets = { name: 'targets', says: 'targets asked at once', unit: '', example: '2' } as const;
const loss = { name: 'loss', says: 'random loss', unit: '%', example: '1' } as const;

const trafficNames = namesAt('/failover/promises/*/kind') as TrafficKind[];

const seconds = numberBetween(0.05, 86_400);
const count = wholeBetween(1, 1000);
const percent = numberBetween(0, 100);
const fewTargets = wholeBetween(1, 8);

/** Availabilities from a list of "failures a year/hours to repair", as in 3/6,10/1.5. */
function parseRates(text: string): Result<readonly number[]> {
  const rates: number[] = [];
  for (const part of text.split(/[\s,]+/).filter((each) => each !== '')) {
    const match = /^(\d+(?:\.\d+)?)\/(\d+(?:\.\d+)?)$/.exec(part);
    if (!match)
      return bad(
        'not-rates',
        `"${part}" is no rate: write 3/6, failures a year, a stroke, hours until it works again.`,
      );
    rates.push(availabilityOf(Number(match[1]), Number(match[2])));
  }
  return ok(rates);
}

/** One of a few words. */
const oneOf =
  <Word extends string>(what: string, words: readonly Word[]) =>
  (text: string): Result<Word> => {
    const word = words.find((each) => each === text.trim());
    return word === undefined ? bad(what, `"${text}" is no ${what}; known: ${words.join(', ')}.`) : ok(word);
  };

export const failoverSums: readonly Sum[] = [
  sum({
    name: 'detection',
    says: 'How soon a dead line is noticed: best, mean, worst',
    inputs: [interval, timeout, losses],
    read: { interval: seconds, timeout: seconds, losses: count },
    run: (given) => ok(detectionWorked(given.interval, given.timeout, given.losses)),
  }),
  sum({
    name: 'return',
    says: 'How soon a line that works again is believed',
    inputs: [
      interval,
      { name: 'successes', says: 'answered in a row', unit: '', example: '5' },
      { name: 'hold', says: 'hold after that', unit: 's', example: '60' },
    ],
    read: { interval: seconds, successes: count, hold: numberBetween(0, 86_400) },
    run: (given) => ok(returnWorked(given.interval, given.successes, given.hold)),
  }),
  sum({
    name: 'false-alarms',
    says: 'False alarms in a month from random loss',
    inputs: [loss, interval, losses, targets],
    read: { loss: percent, interval: seconds, losses: count, targets: fewTargets },
    run: (given) => ok(falseAlarmsWorked(given.loss, given.interval, given.losses, given.targets)),
  }),
  sum({
    name: 'window-alarms',
    says: 'False alarms in a month of a loss window',
    inputs: [
      loss,
      interval,
      targets,
      { name: 'window', says: 'last probes looked at', unit: '', example: '20' },
      { name: 'threshold', says: 'loss in it that means down', unit: '%', example: '25' },
    ],
    read: {
      loss: percent,
      interval: seconds,
      targets: fewTargets,
      window: wholeBetween(2, 1000),
      threshold: numberBetween(1, 100),
    },
    run: (given) =>
      ok(windowAlarmsWorked(given.loss, given.interval, given.targets, given.window, given.threshold)),
  }),
  sum({
    name: 'misses',
    says: 'Chance that a brown-out is missed',
    inputs: [
      { name: 'loss', says: 'loss meanwhile', unit: '%', example: '40' },
      { name: 'duration', says: 'how long it lasts', unit: 's', example: '600' },
      interval,
      losses,
      targets,
    ],
    read: {
      loss: percent,
      duration: numberBetween(1, 2_592_000),
      interval: seconds,
      losses: count,
      targets: fewTargets,
    },
    run: (given) => ok(missesWorked(given.loss, given.duration, given.interval, given.losses, given.targets)),
  }),
  {
    name: 'lines-together',
    says: 'Minutes without any line: lines side by side, shared causes in series',
    inputs: [
      { name: 'lines', says: 'failures a year/hours to repair, of each', unit: '', example: '3/6,10/1.5' },
      {
        name: 'causes',
        says: 'the same, of what takes all at once',
        unit: '',
        example: '2/0.5',
        optional: true,
      },
    ],
    run: (given) => {
      const lines = input(given, 'lines', parseRates);
      if (!lines.ok) return lines;
      const causes = parseRates(given.causes ?? '');
      return causes.ok
        ? ok(togetherWorked(lines.value, causes.value))
        : bad(causes.problem.code, causes.problem.says, 'causes');
    },
  },
  sum({
    name: 'backup-data',
    says: 'Data and cost of the backup in a month',
    inputs: [
      { name: 'hours', says: 'hours on the backup', unit: 'h', example: '3' },
      { name: 'traffic', says: 'traffic meanwhile', unit: 'Mb/s', example: '2' },
      interval,
      targets,
      { name: 'cap', says: 'cap of the contract', unit: 'GB', example: '20' },
      { name: 'price', says: 'price beyond it', unit: 'a GB', example: '2' },
    ],
    read: {
      hours: numberBetween(0, 744),
      traffic: numberBetween(0, 100_000),
      interval: seconds,
      targets: fewTargets,
      cap: numberBetween(0, 1_000_000),
      price: numberBetween(0, 100_000),
    },
    run: (given) =>
      ok(
        backupDataWorked({
          hours: given.hours,
          mbps: given.traffic,
          probeSeconds: given.interval,
          targets: given.targets,
          capGigabytes: given.cap,
          pricePerGigabyte: given.price,
        }),
      ),
  }),
  sum({
    name: 'ups',
    says: 'Run time of a battery supply',
    inputs: [
      { name: 'energy', says: 'energy of the battery', unit: 'Wh', example: '150' },
      { name: 'load', says: 'what hangs on it', unit: 'W', example: '45' },
    ],
    read: { energy: numberBetween(0, 1_000_000), load: numberBetween(0.1, 100_000) },
    run: (given) => ok(upsWorked(given.energy, given.load)),
  }),
  sum({
    name: 'switch-time',
    says: 'How long until a backup carries, by its WAN type',
    inputs: [
      { name: 'type', says: uplinkTypeNames.join(', '), unit: '', example: 'cellular' },
      { name: 'standby', says: namesAt('/uplinks/*/standby').join(' or '), unit: '', example: 'dialled' },
    ],
    read: { type: oneOf('type', uplinkTypeNames), standby: oneOf('standby', namesAt('/uplinks/*/standby')) },
    run: ({ type, standby }) => {
      const site = compile(
        planSchema.parse({
          format: 'netter-plan',
          version: planVersion,
          uplinks: [{ id: 'line', name: 'the backup', type, standby }],
        }),
      );
      return ok(switchWorked(site.lines[0]!));
    },
  }),
  sum({
    name: 'outage',
    says: 'How long a kind of traffic stands still when its line dies',
    inputs: [
      { name: 'kind', says: trafficNames.join(', '), unit: '', example: 'card' },
      interval,
      timeout,
      losses,
      { name: 'switch', says: 'until the backup carries', unit: 's', example: '2' },
    ],
    read: {
      kind: oneOf<TrafficKind>('kind', trafficNames),
      interval: seconds,
      timeout: seconds,
      losses: count,
      switch: numberBetween(0, 3600),
    },
    run: (given) => ok(outageWorked(given.kind, given.interval, given.timeout, given.losses, given.switch)),
  }),
  sum({
    name: 'watching',
    says: 'The cheapest way of watching that keeps a promise, or what makes it impossible',
    inputs: [
      { name: 'within', says: 'promised: back within', unit: 's', example: '45' },
      { name: 'false', says: 'false switches allowed in a month', unit: '', example: '1' },
      { name: 'data', says: 'data allowed for probes in a month', unit: 'GB', example: '1' },
      loss,
      { name: 'delay', says: 'measured round trip', unit: 'ms', example: '40' },
      targets,
      { name: 'after', says: 'change, names and next try', unit: 's', example: '12' },
    ],
    read: {
      within: numberBetween(1, 86_400),
      false: numberBetween(0, 1000),
      data: numberBetween(0, 1_000_000),
      loss: percent,
      delay: numberBetween(0, 60_000),
      targets: fewTargets,
      after: numberBetween(0, 86_400),
    },
    run: (given) =>
      ok(
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
  }),
];
