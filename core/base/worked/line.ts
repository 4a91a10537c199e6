import { bad, ok, type Result } from '../result.ts';
import { tcpShare } from './packets.ts';
import { arithmetic, equals, exact, figure, practice, shown, step, type Worked, worked } from './worked.ts';

/** How long a line is out in a month and a year at an availability given as a percentage (IEC 61078). */
export function availabilityWorked(percent: number): Worked<number> {
  const out = 1 - percent / 100;
  const month = out * 43_200;
  return worked(
    'Out of service in a month',
    month,
    'minutes',
    [
      step('available', `${percent} %`),
      step('not available', `1 - ${percent} / 100 ${equals(out, 8)}`),
      step('in a year', `(1 - ${percent} / 100) × 8760 ${equals(out * 8760)} h`),
      step('in 30 days', `(1 - ${percent} / 100) × 43200 ${equals(month)} min`),
    ],
    'IEC 61078, arithmetic',
  );
}

/** Out of service with a second line: what is left of each outage is the time until it carries. */
export function switchedDowntimeWorked(
  failuresPerYear: number,
  repairHours: number,
  switchSeconds: number,
): Worked<number> {
  const alone = failuresPerYear * repairHours * 60;
  const each = Math.min(switchSeconds, repairHours * 3600);
  const value = (failuresPerYear * each) / 60;
  return worked(
    'Out of service in a year, with the backup',
    value,
    'minutes',
    [
      step('without a backup', `${failuresPerYear} × ${repairHours} × 60 ${equals(alone)} min`),
      step('each outage lasts', `${shown(each)} s`),
      step('with a backup', `${failuresPerYear} × ${figure(each)} / 60 ${equals(value, 2, exact(each))} min`),
    ],
    arithmetic,
    'Only for outages in which the backup works, and traffic that goes on without help after a change.',
  );
}

/** What an outage costs on a line with a data cap: traffic beyond what is left of the cap, times its price. */
export function capCostWorked(
  outageHours: number,
  trafficMbps: number,
  capLeftGigabytes: number,
  pricePerGigabyte: number,
): Worked<number> {
  const used = (outageHours * 3600 * trafficMbps) / 8 / 1000;
  const beyond = Math.max(0, used - capLeftGigabytes);
  const cost = beyond * pricePerGigabyte;
  return {
    name: 'Cost of the outage on the capped line',
    value: cost,
    unit: 'in the currency of the price',
    steps: [
      step('used', `${outageHours} × 3600 × ${trafficMbps} / 8 / 1000 ${equals(used, 6)} GB`),
      step('left of the cap', `${capLeftGigabytes} GB`),
      step(
        'beyond it',
        used <= capLeftGigabytes
          ? 'nothing'
          : `${figure(used, 6)} - ${capLeftGigabytes} ${equals(beyond, 6, exact(used, 6))} GB`,
      ),
      step('cost', `${figure(beyond, 6)} × ${pricePerGigabyte} ${equals(cost, 2, exact(beyond, 6))}`),
    ],
    source: arithmetic,
    ...(beyond === 0 && { means: 'It stays within the cap.' }),
  };
}

/** What one TCP connection can carry at most: its window in a round trip, or the line (RFC 6349 section 3.3.1). */
export function windowWorked(rateMbps: number, roundTripMs: number, windowKilobytes = 64): Worked<number> {
  const product = rateMbps * 1000 * roundTripMs;
  const byWindow = (windowKilobytes * 1024 * 8) / (roundTripMs * 1000);
  const value = Math.min(rateMbps, byWindow);
  return worked(
    'Most of one connection',
    value,
    'Mb/s',
    [
      step('in flight to fill the line', `${rateMbps} × 1000 × ${roundTripMs} ${equals(product, 0)} bit`),
      step('that is a window of', `${Math.ceil(product / 8 / 1024)} KiB, rounded up`),
      step(
        `with a window of ${windowKilobytes} KiB`,
        `${windowKilobytes} × 1024 × 8 / (${roundTripMs} × 1000) ${equals(byWindow)} Mb/s`,
      ),
      step('the lower of both', shown(value, 'Mb/s')),
    ],
    'RFC 6349 section 3.3.1',
    byWindow < rateMbps
      ? 'One connection alone cannot fill this line; several at once can. Say so before a speed test is blamed.'
      : 'One connection can fill the line.',
  );
}

/** The window scale that a line of this rate and round trip needs (RFC 7323 section 2): 16 bits, shifted 0 to 14. */
export function windowScaleWorked(rateMbps: number, roundTripMs: number): Worked<number> {
  const bytes = (rateMbps * 1000 * roundTripMs) / 8;
  let scale = 0;
  while (scale < 14 && 65_535 * 2 ** scale < bytes) scale += 1;
  return worked(
    'Window scale that fills the line',
    scale,
    'bits',
    [
      step('in flight to fill the line', `${rateMbps} × 1000 × ${roundTripMs} / 8 ${equals(bytes, 0)} bytes`),
      step('largest window without scale', '65535 bytes'),
      step(`with a scale of ${scale}`, `65535 × 2^${scale} = ${65_535 * 2 ** scale} bytes`),
      step('window scale', scale),
    ],
    'RFC 7323 section 2.2',
    65_535 * 2 ** scale < bytes ? 'Even the largest window does not fill this line.' : undefined,
  );
}

/** How long an amount of data takes at a payload rate. */
export function transferWorked(gigabytes: number, rateMbps: number): Worked<number> {
  const value = (gigabytes * 8000) / rateMbps;
  return worked(
    'Time of the transfer',
    value,
    'seconds',
    [
      step('data', `${gigabytes} GB = ${figure(gigabytes * 8000, 6)} Mb`),
      step('time', `${gigabytes} × 8000 / ${rateMbps} ${equals(value)} s`),
      step('that is', `${shown(value / 60)} min`),
    ],
    arithmetic,
  );
}

export interface RateRun {
  readonly direction: 'down' | 'up';
  /** null while the figure is not typed yet. */
  readonly mbps: number | null;
  readonly wired: boolean;
  /** Hour of the day, 0 to 23; null where nobody noted it. */
  readonly hour: number | null;
}

/** Middle value; the mean of the two middle ones of an even count. */
export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}

/** Scatter that one wild value does not move: the median distance from the median, scaled to a standard deviation. */
export function scatter(values: readonly number[]): number {
  const middle = median(values);
  return 1.4826 * median(values.map((value) => Math.abs(value - middle)));
}

/** Shares of the best that a test can show, in per cent, by which measured rates are judged (common practice, no source). */
const sold = { fromPercent: 90, toPercent: 103, farLessPercent: 70 } as const;

export type RateStanding = 'as-sold' | 'less' | 'far-less' | 'more';

/** How a measured share of the best possible stands to what was sold. The one place of that rule. */
export const rateStanding = (sharePercent: number): RateStanding =>
  sharePercent > sold.toPercent
    ? 'more'
    : sharePercent >= sold.fromPercent
      ? 'as-sold'
      : sharePercent >= sold.farLessPercent
        ? 'less'
        : 'far-less';

const standingSays: Readonly<Record<RateStanding, string>> = {
  more: 'More than the contract can give: the contract is another, or one of the figures is in other units (bits, bytes).',
  'as-sold': 'As sold.',
  less: 'Less than sold: measure at another hour, with the router out of the way.',
  'far-less': 'Far less than sold: take the figures to the provider.',
};

export interface RateVerdict extends Worked<number> {
  readonly standing: RateStanding;
}

/** Measured rates of one direction against the contract: at least three wired runs, their median, the best TCP can show. */
export function rateVerdict(
  runs: readonly RateRun[],
  direction: 'down' | 'up',
  contractMbps: number,
  mtuBytes = 1500,
  wrappingBytes = 0,
): Result<RateVerdict> {
  const mine = runs.filter((run) => run.direction === direction && run.mbps !== null);
  const wired = mine.filter((run) => run.wired);
  if (wired.length < 3)
    return bad(
      'too-few-runs',
      `${wired.length} wired run${wired.length === 1 ? '' : 's'} ${direction} ${wired.length === 1 ? 'is' : 'are'} too few to judge the line: make at least three by cable${mine.length > wired.length ? '; those over Wi-Fi judge the Wi-Fi' : ''}.`,
    );
  const rates = wired.flatMap(({ mbps }) => mbps ?? []);
  const middle = median(rates);
  const best = contractMbps * tcpShare({ mtuBytes, wrappingBytes });
  const share = (middle / best) * 100;
  const standing = rateStanding(share);
  const hours = new Set(wired.map(({ hour }) => hour));
  const oneHour = hours.size === 1 && !hours.has(null);
  return ok({
    standing,
    ...worked(
      `Measured ${direction} against the contract`,
      share,
      '%',
      [
        step('wired runs', rates.length),
        step('lowest to highest', `${Math.min(...rates)} to ${Math.max(...rates)} Mb/s`),
        step('median', shown(middle, 'Mb/s')),
        step('contract', `${contractMbps} Mb/s`),
        step('best a test can show', shown(best, 'Mb/s')),
        step('share', `${figure(middle)} / ${figure(best)} × 100 ≈ ${figure(share, 1)} %`),
      ],
      `RFC 6349 section 4.1.1; from ${sold.fromPercent} % as sold: ${practice}`,
      `${standingSays[standing]}${oneHour ? ' All runs are from one hour: an evening may look different.' : ''}`,
    ),
  });
}
