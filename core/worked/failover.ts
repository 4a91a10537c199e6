import { arithmetic, practice, step, type Worked, worked } from './worked.ts';

const rounded = (value: number, places = 2): number => Number(value.toFixed(places));
const small = (value: number): string =>
  value === 0 ? '0' : value < 0.001 ? value.toExponential(1) : String(rounded(value, 3));
const minutesInMonth = 30 * 24 * 60;
const secondsInMonth = minutesInMonth * 60;

/** How soon a line is found to be down: `losses` probes in a row, one every `intervalSeconds`. */
export interface Detection {
  readonly bestSeconds: number;
  readonly meanSeconds: number;
  readonly worstSeconds: number;
}

/**
 * A probe every T s, each given up after t, n lost in a row. At best the line fails just before a probe, at worst
 * just after one (RFC 5880 section 6.8.4 speaks of multiplier times interval; the rest is arithmetic).
 */
export const detection = (intervalSeconds: number, timeoutSeconds: number, losses: number): Detection => ({
  bestSeconds: rounded((losses - 1) * intervalSeconds + timeoutSeconds),
  meanSeconds: rounded((losses - 0.5) * intervalSeconds + timeoutSeconds),
  worstSeconds: rounded(losses * intervalSeconds + timeoutSeconds),
});

export function detectionWorked(intervalSeconds: number, timeoutSeconds: number, losses: number): Worked {
  const { bestSeconds, meanSeconds, worstSeconds } = detection(intervalSeconds, timeoutSeconds, losses);
  return worked(
    'A dead line is noticed after',
    worstSeconds,
    's at worst',
    [
      step('best', `(${losses} - 1) × ${intervalSeconds} + ${timeoutSeconds} = ${bestSeconds} s`),
      step('on average', `(${losses} - ½) × ${intervalSeconds} + ${timeoutSeconds} = ${meanSeconds} s`),
      step('worst', `${losses} × ${intervalSeconds} + ${timeoutSeconds} = ${worstSeconds} s`),
    ],
    `RFC 5880 section 6.8.4; ${arithmetic}`,
    'From the moment the line dies. A cable without link is noticed at once, so pulling one proves the easy case only.',
  );
}

/** How soon a line that works again is believed: `successes` in a row, and good for `holdSeconds` after that. */
export function returnWorked(intervalSeconds: number, successes: number, holdSeconds: number): Worked {
  const first = rounded((successes - 1) * intervalSeconds);
  const worst = rounded(successes * intervalSeconds + holdSeconds);
  return worked(
    'A line that works again is believed after',
    worst,
    's at worst',
    [
      step(
        'answers in a row',
        `${successes} × ${intervalSeconds} = ${rounded(successes * intervalSeconds)} s`,
      ),
      step('hold', `+ ${holdSeconds} s`),
      step('best', `${rounded(first + holdSeconds)} s`),
      step('worst', `${worst} s`),
    ],
    arithmetic,
  );
}

/** Chance that all probes of one round are lost, when each target's probe is lost on its own. */
const roundLost = (lossPercent: number, targets: number): number => (lossPercent / 100) ** targets;

/**
 * False alarms in 30 days from random loss alone. A run of n losses begins after an answer, so its rate is
 * (1 - p) p^n a probe (Feller, An Introduction to Probability Theory, vol. 1, XIII.7, from memory).
 */
export function falseAlarmsWorked(
  lossPercent: number,
  intervalSeconds: number,
  losses: number,
  targets = 1,
): Worked {
  const rounds = secondsInMonth / intervalSeconds;
  const p = roundLost(lossPercent, targets);
  const value = rounds * (1 - p) * p ** losses;
  return worked(
    'False alarms in a month',
    value < 0.01 ? Number(value.toPrecision(2)) : rounded(value),
    'in 30 days',
    [
      step('probes', `2592000 s / ${intervalSeconds} s = ${rounded(rounds)}`),
      step(
        'a probe is lost',
        targets === 1
          ? `${lossPercent} %`
          : `all ${targets} of a round: (${lossPercent} %)^${targets} = ${small(p)}`,
      ),
      step('a run of losses begins', `(1 - p) × p^${losses} = ${((1 - p) * p ** losses).toExponential(2)}`),
      step('alarms', `${small(value)} in 30 days`),
    ],
    `Feller, vol. 1, XIII.7 (from memory); ${arithmetic}`,
    value < 1
      ? 'Less than one a month by chance alone. Loss that comes in bursts makes more.'
      : 'The line would be left for nothing, again and again: ask for more losses in a row, or more targets.',
  );
}

/** False alarms in 30 days of "k lost among the last W": how often the count rises to k, in the long run. */
export function windowAlarms(
  lossPercent: number,
  probesAMonth: number,
  window: number,
  needed: number,
): number {
  const p = lossPercent / 100;
  if (needed < 1 || needed > window || p <= 0) return 0;
  if (p >= 1) return 0;
  // Binomial in logarithms: the factorials are too large as they are.
  let log = 0;
  for (let index = 1; index <= needed - 1; index += 1) log += Math.log((window - index) / index);
  log += (needed - 1) * Math.log(p) + (window - needed) * Math.log(1 - p);
  return probesAMonth * p * (1 - p) * Math.exp(log);
}

export function windowAlarmsWorked(
  lossPercent: number,
  intervalSeconds: number,
  targets: number,
  window: number,
  thresholdPercent: number,
): Worked {
  const needed = Math.max(1, Math.ceil((window * thresholdPercent) / 100));
  const probes = (secondsInMonth / intervalSeconds) * targets;
  const value = windowAlarms(lossPercent, probes, window, needed);
  return worked(
    'False alarms of the loss window in a month',
    value < 0.01 ? Number(value.toPrecision(2)) : rounded(value),
    'in 30 days',
    [
      step('probes', `2592000 s / ${intervalSeconds} s × ${targets} = ${rounded(probes)}`),
      step('losses that mean down', `${window} × ${thresholdPercent} % = ${needed}`),
      step(
        'the count rises to that',
        `p (1 - p) × C(${window - 1}, ${needed - 1}) p^${needed - 1} (1 - p)^${window - needed}`,
      ),
      step('alarms', `${small(value)} in 30 days`),
    ],
    `binomial distribution; ${arithmetic}`,
  );
}

/**
 * Chance that a brown-out is missed: no run of n losses in M probes, by the recursion over the place of the first
 * such run (Feller, vol. 1, XIII.7, from memory).
 */
export function missChance(lossShare: number, losses: number, probes: number): number {
  if (probes < losses) return 1;
  const p = lossShare;
  const none: number[] = Array.from({ length: losses }, () => 1);
  for (let count = losses; count <= probes; count += 1) {
    const before = none[count - 1]!;
    const first = count === losses ? p ** losses : (1 - p) * p ** losses * none[count - losses - 1]!;
    none.push(Math.max(0, before - first));
  }
  return none[probes]!;
}

export function missesWorked(
  lossPercent: number,
  seconds: number,
  intervalSeconds: number,
  losses: number,
  targets = 1,
): Worked {
  const probes = Math.floor(seconds / intervalSeconds);
  const p = roundLost(lossPercent, targets);
  const chance = rounded(missChance(p, losses, Math.min(probes, 1_000_000)) * 100, 1);
  return worked(
    'A brown-out is missed',
    chance,
    '%',
    [
      step('probes meanwhile', `${seconds} s / ${intervalSeconds} s = ${probes}`),
      step('a probe is lost', targets === 1 ? `${lossPercent} %` : `all ${targets}: ${small(p)}`),
      step(`no ${losses} lost in a row`, `${chance} %`),
    ],
    'Feller, vol. 1, XIII.7 (from memory)',
    chance > 10
      ? 'A line that limps is used on. A loss window, or fewer losses in a row, notices it.'
      : 'Such a line is left, nearly always.',
  );
}

/** Share of the time in which something works that fails so often a year and is down so long each time (IEC 61078). */
export const availabilityOf = (perYear: number, repairHours: number): number =>
  perYear <= 0 ? 1 : 8760 / perYear / (8760 / perYear + repairHours);

/** Lines side by side, and causes that take all of them at once, which stand in series (IEC 61078). */
export const availabilityTogether = (lines: readonly number[], causes: readonly number[]): number =>
  (1 - lines.reduce((out, each) => out * (1 - each), 1)) * causes.reduce((all, each) => all * each, 1);

export function togetherWorked(lines: readonly number[], causes: readonly number[]): Worked {
  const side = 1 - lines.reduce((out, each) => out * (1 - each), 1);
  const all = availabilityTogether(lines, causes);
  const out = 1 - all;
  const shown = (value: number): string => String(Number(value.toFixed(7)));
  return worked(
    'No line at all in a month',
    rounded(out * minutesInMonth),
    'minutes',
    [
      ...lines.map((each, index) => step(`line ${index + 1}`, shown(each))),
      step('side by side', `1 - ${lines.map((each) => `(1 - ${shown(each)})`).join(' ')} = ${shown(side)}`),
      ...causes.map((each, index) => step(`shared cause ${index + 1}, in series`, `× ${shown(each)}`)),
      step('at least one', shown(all)),
      step('in a year', `× 8760 h × 60 = ${rounded(out * 8760 * 60)} min`),
      step('in 30 days', `${rounded(out * minutesInMonth)} min`),
    ],
    'IEC 61078',
    causes.length === 0
      ? 'Only if nothing takes both at once: a shared pole, provider or power strip is worth more than the second line.'
      : undefined,
  );
}

/** Data that a backup carries in a month, and what it costs beyond its cap. */
export function backupDataWorked(given: {
  readonly hours: number;
  readonly mbps: number;
  readonly probeSeconds: number;
  readonly targets: number;
  readonly capGigabytes: number | undefined;
  readonly pricePerGigabyte: number | undefined;
}): Worked {
  const { hours, mbps, probeSeconds, targets, capGigabytes: cap, pricePerGigabyte: price } = given;
  const carried = rounded((hours * 3600 * mbps) / 8 / 1000);
  // An echo and its answer are 84 bytes each in IPv4 (RFC 791, RFC 792: 20 + 8 + 56).
  const probes = rounded(probeSeconds <= 0 ? 0 : ((secondsInMonth / probeSeconds) * targets * 168) / 1e9);
  const all = rounded(carried + probes);
  const beyond = cap === undefined ? 0 : rounded(Math.max(0, all - cap));
  return worked(
    'Data over the backup in a month',
    all,
    'GB',
    [
      step('traffic', `${hours} h × 3600 × ${mbps} Mb/s / 8 / 1000 = ${carried} GB`),
      step(
        'probes',
        probeSeconds <= 0 ? 'none' : `2592000 / ${probeSeconds} × ${targets} × 168 B = ${probes} GB`,
      ),
      ...(cap === undefined ? [] : [step('cap', `${cap} GB`), step('beyond it', `${beyond} GB`)]),
      ...(price === undefined ? [] : [step('cost', `${beyond} × ${price} = ${rounded(beyond * price)}`)]),
      step('in all', `${all} GB`),
    ],
    `RFC 791, RFC 792; ${arithmetic}`,
    cap !== undefined && beyond > 0
      ? 'The cap does not last: refuse some traffic on the backup, or buy more.'
      : undefined,
  );
}

/** How long a battery supply carries its load. 85 % reach the load; an aged battery holds 60 % of that (practice). */
export function upsWorked(wattHours: number, loadWatts: number): Worked {
  const minutes = loadWatts <= 0 ? 0 : rounded((wattHours * 0.85 * 60) / loadWatts, 0);
  return worked(
    'Run time of the battery supply',
    minutes,
    'minutes',
    [
      step('energy', `${wattHours} Wh`),
      step('reach the load', `× 0.85 = ${rounded(wattHours * 0.85)} Wh`),
      step('load', `/ ${loadWatts} W`),
      step('new', `${minutes} min`),
      step('aged', `× 0.6 = ${rounded(minutes * 0.6, 0)} min`),
    ],
    practice,
    'Test it once with the load on, and write down the minutes. Batteries are changed by their sheet.',
  );
}
