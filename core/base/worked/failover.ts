import { arithmetic, equals, exact, figure, practice, shown, step, type Worked, worked } from './worked.ts';

/** Intervals and timeouts have two places at most; sums of them are freed of what binary fractions add. */
const tidy = (value: number): number => Math.round(value * 1e6) / 1e6;
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
  bestSeconds: tidy((losses - 1) * intervalSeconds + timeoutSeconds),
  meanSeconds: tidy((losses - 0.5) * intervalSeconds + timeoutSeconds),
  worstSeconds: tidy(losses * intervalSeconds + timeoutSeconds),
});

export function detectionWorked(
  intervalSeconds: number,
  timeoutSeconds: number,
  losses: number,
): Worked<number> {
  const { bestSeconds, meanSeconds, worstSeconds } = detection(intervalSeconds, timeoutSeconds, losses);
  return worked(
    'A failed line is found down after',
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
export function returnWorked(
  intervalSeconds: number,
  successes: number,
  holdSeconds: number,
): Worked<number> {
  const first = tidy((successes - 1) * intervalSeconds);
  const worst = tidy(successes * intervalSeconds + holdSeconds);
  return worked(
    'A line counts as up again after',
    worst,
    's at worst',
    [
      step('answers in a row', `${successes} × ${intervalSeconds} = ${tidy(successes * intervalSeconds)} s`),
      step('hold', `+ ${holdSeconds} s`),
      step('best', `${tidy(first + holdSeconds)} s`),
      step('worst', `${worst} s`),
    ],
    arithmetic,
  );
}

/** Chance that all probes of one round are lost, when each target's probe is lost on its own. */
const roundLost = (lossPercent: number, targets: number): number => (lossPercent / 100) ** targets;

/** False alarms in 30 days from random loss alone, for probes of all targets lost so often in a row. */
export function falseAlarms(
  lossPercent: number,
  intervalSeconds: number,
  losses: number,
  targets = 1,
): number {
  const p = roundLost(lossPercent, targets);
  // A line on which everything is lost is down, and no alarm about it is false: the rate has no meaning there.
  return p >= 1 ? Infinity : (secondsInMonth / intervalSeconds) * (1 - p) * p ** losses;
}

/**
 * False alarms in 30 days from random loss alone. A run of n losses begins after an answer, so its rate is
 * (1 - p) p^n a probe (Feller, An Introduction to Probability Theory, vol. 1, XIII.7, from memory).
 */
export function falseAlarmsWorked(
  lossPercent: number,
  intervalSeconds: number,
  losses: number,
  targets = 1,
): Worked<number> {
  const rounds = secondsInMonth / intervalSeconds;
  const p = roundLost(lossPercent, targets);
  const begins = (1 - p) * p ** losses;
  const value = falseAlarms(lossPercent, intervalSeconds, losses, targets);
  return worked(
    'False alarms in a month',
    value,
    'in 30 days',
    [
      step('probes', `2592000 / ${intervalSeconds} ${equals(rounds)}`),
      step(
        'a probe is lost',
        targets === 1
          ? `p = ${lossPercent} %`
          : `all ${targets} of a round: p = (${lossPercent} / 100)^${targets} ${equals(p, 6)}`,
      ),
      step('a run of losses begins', `(1 - p) × p^${losses}: ${shown(begins, '', 6)}`),
      step(
        'alarms',
        Number.isFinite(value) ? `${shown(value, '', 3)} in 30 days` : 'the line is always down',
      ),
    ],
    `Feller, vol. 1, XIII.7 (from memory); ${arithmetic}`,
    !Number.isFinite(value)
      ? 'Everything is lost: the line counts as down all the time, and rightly.'
      : value < 1
        ? 'Less than one a month by chance alone. Loss in bursts causes more.'
        : 'The line would be left without a fault, again and again: ask for more failures before down, or more targets.',
  );
}

/** log of C(n, k) p^k (1 - p)^(n - k): the factorials are too large as they are. */
function logBinomial(n: number, k: number, p: number): number {
  let log = 0;
  for (let index = 1; index <= k; index += 1) log += Math.log((n - index + 1) / index);
  return log + k * Math.log(p) + (n - k) * Math.log(1 - p);
}

/** Share of the time in which at least `needed` of the last `window` probes are lost (binomial distribution). */
export function shareAbove(lossPercent: number, window: number, needed: number): number {
  const p = lossPercent / 100;
  if (needed > window || p <= 0) return 0;
  if (needed < 1 || p >= 1) return 1;
  let below = 0;
  for (let lost = 0; lost < needed; lost += 1) below += Math.exp(logBinomial(window, lost, p));
  return Math.max(0, Math.min(1, 1 - below));
}

/** From this share of the time on a window does not raise alarms: it simply counts the line as down. */
const mostlyDown = 0.5;

/**
 * False alarms in 30 days of "k lost among the last W": how often the count rises to k, in the long run. Infinite
 * where the loss is so high that the count stands there most of the time.
 */
export function windowAlarms(
  lossPercent: number,
  probesAMonth: number,
  window: number,
  needed: number,
): number {
  const p = lossPercent / 100;
  if (needed < 1 || needed > window || p <= 0) return 0;
  if (shareAbove(lossPercent, window, needed) >= mostlyDown) return Infinity;
  return probesAMonth * p * (1 - p) * Math.exp(logBinomial(window - 1, needed - 1, p));
}

export function windowAlarmsWorked(
  lossPercent: number,
  intervalSeconds: number,
  targets: number,
  window: number,
  thresholdPercent: number,
): Worked<number> {
  const needed = Math.max(1, Math.ceil((window * thresholdPercent) / 100));
  const probes = (secondsInMonth / intervalSeconds) * targets;
  const value = windowAlarms(lossPercent, probes, window, needed);
  const above = shareAbove(lossPercent, window, needed) * 100;
  return worked(
    'False alarms of the loss window in a month',
    value,
    'in 30 days',
    [
      step('probes', `2592000 / ${intervalSeconds} × ${targets} ${equals(probes)}`),
      step('losses that mean down', `${window} × ${thresholdPercent} / 100, rounded up: ${needed}`),
      step(
        'losses to be expected',
        `${window} × ${lossPercent} / 100 ${equals((window * lossPercent) / 100)}`,
      ),
      step('share of the time at or above', shown(above, '%', 3)),
      step(
        'the count rises to that',
        `p (1 - p) C(${window - 1}, ${needed - 1}) p^${needed - 1} (1 - p)^${window - needed}`,
      ),
      step(
        'alarms',
        Number.isFinite(value) ? `${shown(value, '', 3)} in 30 days` : 'the line is mostly down',
      ),
    ],
    `binomial distribution; ${arithmetic}`,
    Number.isFinite(value)
      ? undefined
      : `With ${lossPercent} % loss the window is at or above ${thresholdPercent} % most of the time: the line counts as down though it works. Set the threshold well above the loss that the line always has.`,
  );
}

/** Probes after which the chance of no run falls by the same factor with each further one, to the last digit. */
const settled = 20_000;

/**
 * Chance that a brown-out is missed: no run of n losses in M probes, by the recursion over the place of the first
 * such run (Feller, vol. 1, XIII.7, from memory). It soon falls by one factor for each probe, which is then used.
 */
export function missChance(lossShare: number, losses: number, probes: number): number {
  if (probes < losses) return 1;
  const p = lossShare;
  const walked = Math.min(probes, Math.max(settled, 40 * losses));
  const none: number[] = Array.from({ length: losses }, () => 1);
  for (let count = losses; count <= walked; count += 1) {
    const before = none[count - 1]!;
    const first = count === losses ? p ** losses : (1 - p) * p ** losses * none[count - losses - 1]!;
    none.push(Math.max(0, before - first));
  }
  const last = none[walked]!;
  const before = none[walked - 1]!;
  return probes === walked || before === 0 ? last : last * (last / before) ** (probes - walked);
}

export function missesWorked(
  lossPercent: number,
  seconds: number,
  intervalSeconds: number,
  losses: number,
  targets = 1,
): Worked<number> {
  const probes = Math.floor(seconds / intervalSeconds);
  const p = roundLost(lossPercent, targets);
  const chance = missChance(p, losses, probes) * 100;
  return worked(
    'A brown-out is missed',
    chance,
    '%',
    [
      step('probes in that time', `${seconds} / ${intervalSeconds}, rounded down: ${probes}`),
      step(
        'a probe is lost',
        targets === 1
          ? `${lossPercent} %`
          : `all ${targets}: (${lossPercent} / 100)^${targets} ${equals(p, 6)}`,
      ),
      step(`no ${losses} lost in a row`, shown(chance, '%')),
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

export function togetherWorked(lines: readonly number[], causes: readonly number[]): Worked<number> {
  const side = 1 - lines.reduce((out, each) => out * (1 - each), 1);
  const all = availabilityTogether(lines, causes);
  const out = 1 - all;
  const value = out * minutesInMonth;
  return worked(
    'No line at all in a month',
    value,
    'minutes',
    [
      ...lines.map((each, index) => step(`line ${index + 1} works`, shown(each, '', 7))),
      step('side by side', shown(side, '', 9)),
      ...causes.map((each, index) => step(`shared cause ${index + 1}, in series`, `× ${shown(each, '', 7)}`)),
      step('at least one works', shown(all, '', 9)),
      step('in a year', shown(out * 8760 * 60, 'min')),
      step('in 30 days', shown(value, 'min')),
    ],
    'IEC 61078',
    causes.length === 0
      ? 'Only if nothing takes both at once: a shared pole, provider or power strip is worth more than the second line.'
      : undefined,
  );
}

/** Data that a backup carries in a month, and what it costs above its allowance. */
export function backupDataWorked(given: {
  readonly hours: number;
  readonly mbps: number;
  readonly probeSeconds: number;
  readonly targets: number;
  readonly capGigabytes: number | undefined;
  readonly pricePerGigabyte: number | undefined;
}): Worked<number> {
  const { hours, mbps, probeSeconds, targets, capGigabytes: cap, pricePerGigabyte: price } = given;
  const carried = (hours * 3600 * mbps) / 8 / 1000;
  // An echo and its answer are 84 bytes each in IPv4 (RFC 791, RFC 792: 20 + 8 + 56).
  const probes = probeSeconds <= 0 ? 0 : ((secondsInMonth / probeSeconds) * targets * 168) / 1e9;
  const all = carried + probes;
  const beyond = cap === undefined ? 0 : Math.max(0, all - cap);
  return worked(
    'Data over the backup in a month',
    all,
    'GB',
    [
      step('traffic', `${hours} × 3600 × ${mbps} / 8 / 1000 ${equals(carried, 4)} GB`),
      step(
        'probes',
        probeSeconds <= 0
          ? 'none'
          : `2592000 / ${probeSeconds} × ${targets} × 168 / 10^9 ${equals(probes, 4)} GB`,
      ),
      ...(cap === undefined
        ? []
        : [step('allowance', `${cap} GB`), step('above it', shown(beyond, 'GB', 4))]),
      ...(price === undefined
        ? []
        : [step('cost', `${figure(beyond, 4)} × ${price} ${equals(beyond * price, 2, exact(beyond, 4))}`)]),
      step('in all', shown(all, 'GB', 4)),
    ],
    `RFC 791, RFC 792; ${arithmetic}`,
    cap !== undefined && beyond > 0
      ? 'The allowance does not last: refuse some traffic on the backup, or buy more.'
      : undefined,
  );
}

/** Share of a battery's energy that reaches the load, and what an aged one still holds (common practice, no source). */
const reaching = 0.85;
const aged = 0.6;

/** How long a battery supply carries its load. */
export function upsWorked(wattHours: number, loadWatts: number): Worked<number> {
  const minutes = (wattHours * reaching * 60) / loadWatts;
  return worked(
    'Run time of the battery supply',
    minutes,
    'minutes',
    [
      step('energy', `${wattHours} Wh`),
      step('reaches the load', `${wattHours} × ${reaching} ${equals(wattHours * reaching)} Wh`),
      step(
        'an aged battery',
        `${figure(wattHours * reaching)} × 60 / ${loadWatts} × ${aged} ${equals(minutes * aged, 0, exact(wattHours * reaching))} min`,
      ),
      step(
        'a new one',
        `${figure(wattHours * reaching)} × 60 / ${loadWatts} ${equals(minutes, 0, exact(wattHours * reaching))} min`,
      ),
    ],
    practice,
    'Test it once with the load on, and write down the minutes. Batteries are changed by their sheet.',
  );
}
