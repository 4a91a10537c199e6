import { bad, ok, type Result } from '../result.ts';
import { tcpCeilingWorked } from './packets.ts';
import { arithmetic, practice, step, type Worked, worked } from './worked.ts';

const hundredths = (value: number): number => Math.round(value * 100) / 100;

/** How long a line is out in a month and a year at an availability given as a percentage (IEC 61078). */
export function availabilityWorked(percent: number): Worked {
  const out = 1 - percent / 100;
  const month = hundredths(out * 30 * 24 * 60);
  return worked(
    'Out of service in a month',
    month,
    'minutes',
    [
      step('available', `${percent} %`),
      step('not available', `1 - ${percent}/100 = ${Number(out.toPrecision(6))}`),
      step('in a year', `× 8760 h = ${hundredths(out * 8760)} h`),
      step('in 30 days', `× 43200 min = ${month} min`),
    ],
    'IEC 61078, arithmetic',
  );
}

/** What an outage costs on a line with a data cap: traffic beyond what is left of the cap, times its price. */
export function capCostWorked(
  outageHours: number,
  trafficMbps: number,
  capLeftGigabytes: number,
  pricePerGigabyte: number,
): Worked {
  const used = hundredths((outageHours * 3600 * trafficMbps) / 8 / 1000);
  const beyond = Math.max(0, hundredths(used - capLeftGigabytes));
  const cost = hundredths(beyond * pricePerGigabyte);
  return {
    name: 'Cost of the outage on the capped line',
    value: cost,
    unit: 'in the currency of the price',
    steps: [
      step('used', `${outageHours} h × 3600 s × ${trafficMbps} Mb/s / 8 / 1000 = ${used} GB`),
      step('left of the cap', `- ${capLeftGigabytes} GB`),
      step('beyond it', `${beyond} GB`),
      step('cost', `${beyond} × ${pricePerGigabyte} = ${cost}`),
    ],
    source: arithmetic,
    ...(beyond === 0 && { means: 'It stays within the cap.' }),
  };
}

/** What one TCP connection can carry at most: its window in a round trip, or the line (RFC 6349 section 3.3.1). */
export function windowWorked(rateMbps: number, roundTripMs: number, windowKilobytes = 64): Worked {
  const product = Math.round(rateMbps * 1e6 * (roundTripMs / 1000));
  const byWindow = hundredths((windowKilobytes * 1024 * 8) / (roundTripMs * 1000));
  const value = Math.min(rateMbps, byWindow);
  return worked(
    'Most of one connection',
    value,
    'Mb/s',
    [
      step('in flight to fill the line', `${rateMbps} Mb/s × ${roundTripMs} ms = ${product} bit`),
      step('that is a window of', `${Math.ceil(product / 8 / 1024)} KiB`),
      step(
        `with a window of ${windowKilobytes} KiB`,
        `${windowKilobytes} × 1024 × 8 / ${roundTripMs} ms = ${byWindow} Mb/s`,
      ),
      step('the lower of both', `${value} Mb/s`),
    ],
    'RFC 6349 section 3.3.1',
    byWindow < rateMbps
      ? 'One connection alone cannot fill this line; several at once can. Say so before a speed test is blamed.'
      : 'One connection can fill the line.',
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

/** Measured rates of one direction against the contract: at least three wired runs, their median, the best TCP can show. */
export function rateVerdict(
  runs: readonly RateRun[],
  direction: 'down' | 'up',
  contractMbps: number,
  mtuBytes = 1500,
  wrappingBytes = 0,
): Result<Worked> {
  const mine = runs.filter((run) => run.direction === direction && run.mbps !== null);
  const wired = mine.filter((run) => run.wired);
  if (wired.length < 3)
    return bad(
      'too-few-runs',
      `${wired.length} wired run${wired.length === 1 ? '' : 's'} ${direction} ${wired.length === 1 ? 'is' : 'are'} too few to judge the line: make at least three by cable${mine.length > wired.length ? '; the ones by air judge the air' : ''}.`,
    );
  const rates = wired.flatMap(({ mbps }) => mbps ?? []);
  const middle = hundredths(median(rates));
  const best = Number(tcpCeilingWorked(contractMbps, mtuBytes, false, wrappingBytes).value);
  const share = Math.round((middle / best) * 100);
  const hours = new Set(wired.map(({ hour }) => hour));
  return ok(
    worked(
      `Measured ${direction} against the contract`,
      share,
      '%',
      [
        step('wired runs', rates.length),
        step('lowest to highest', `${Math.min(...rates)} to ${Math.max(...rates)} Mb/s`),
        step('median', `${middle} Mb/s`),
        step('contract', `${contractMbps} Mb/s`),
        step('best a test can show', `${best} Mb/s`),
        step('share', `${middle} / ${best} = ${share} %`),
      ],
      `RFC 6349 section 4.1.1; from 90 % as sold: ${practice}`,
      `${
        share > 103
          ? 'More than the contract can give: the units (bits, bytes) or the contract are written down wrongly.'
          : share >= 90
            ? 'As sold.'
            : share >= 70
              ? 'Less than sold: measure at another hour, with the router out of the way.'
              : 'Far less than sold: take the figures to the provider.'
      }${hours.size === 1 ? ' All runs are from one hour: an evening may look different.' : ''}`,
    ),
  );
}
