import { secondsOf } from '../../base/days.ts';
import { rsrpQuality, rsrqWorked, sinrQuality, type Quality } from '../../behaviour/media/cellular.ts';
import type { SurveyReading } from '../../plan/schema.ts';
import { median, scatter } from '../../base/worked/line.ts';
import { practice, step, type Worked, worked } from '../../base/worked/worked.ts';
import { bandText } from './cellular.ts';

/** Readings that were taken alike: same place, antenna and band. */
export interface SurveySpot {
  readonly name: string;
  readonly count: number;
  readonly rsrpDbm: number | undefined;
  readonly rsrqDb: number | undefined;
  readonly sinrDb: number | undefined;
  readonly downMbps: number | undefined;
  readonly upMbps: number | undefined;
  /** Scatter of the rate, or of the SINR where no rate was measured. */
  readonly spread: number;
  readonly signal: Quality | undefined;
  readonly noise: Quality | undefined;
}

export interface Survey {
  /** Best first. */
  readonly spots: readonly SurveySpot[];
  readonly best: SurveySpot | undefined;
  /** Why the best one is best, or why nothing can be said yet. */
  readonly verdict: Worked | undefined;
  readonly says: string;
  /** Readings that cannot be as they stand. */
  readonly impossible: readonly { readonly index: number; readonly says: string }[];
}

const middle = (values: readonly (number | null)[]): number | undefined => {
  const known = values.filter((value) => value !== null);
  return known.length === 0 ? undefined : Math.round(median(known) * 10) / 10;
};

/** What makes readings alike. */
export const surveyGroups = ['place', 'band', 'hour'] as const;
export type SurveyGroup = (typeof surveyGroups)[number];

/** "14 h": the hour of a reading on the site's own clock. */
function hourText(takenAt: string, timeZone: string): string {
  const seconds = secondsOf(takenAt);
  if (seconds === undefined) return 'hour not noted';
  const time = seconds * 1000;
  const text = (zone: string): string =>
    new Intl.DateTimeFormat('en-GB', { hour: '2-digit', hourCycle: 'h23', timeZone: zone }).format(time);
  try {
    return `${text(timeZone)} h`;
  } catch {
    // A file may name a zone that nobody knows.
    return `${text('UTC')} h (UTC)`;
  }
}

const groupNames: Record<SurveyGroup, (reading: SurveyReading, timeZone: string) => string> = {
  place: ({ place, antenna, channel }) =>
    [place || 'unnamed place', antenna, bandText(channel)].filter((part) => part !== '').join(', '),
  band: ({ channel }) => bandText(channel) || 'band not noted',
  hour: ({ takenAt }, timeZone) => hourText(takenAt, timeZone),
};

function spotOf(name: string, readings: readonly SurveyReading[]): SurveySpot {
  const rates = readings.map(({ downMbps }) => downMbps).filter((rate) => rate !== null);
  const sinr = readings.map(({ sinrDb }) => sinrDb).filter((value) => value !== null);
  const rsrpDbm = middle(readings.map((each) => each.rsrpDbm));
  const sinrDb = middle(sinr);
  const sample = rates.length > 0 ? rates : sinr;
  return {
    name,
    count: readings.length,
    rsrpDbm,
    rsrqDb: middle(readings.map((each) => each.rsrqDb)),
    sinrDb,
    downMbps: middle(rates),
    upMbps: middle(readings.map((each) => each.upMbps)),
    spread: sample.length < 2 ? 0 : Math.round(scatter(sample) * 10) / 10,
    signal: rsrpDbm === undefined ? undefined : rsrpQuality(rsrpDbm),
    noise: sinrDb === undefined ? undefined : sinrQuality(sinrDb),
  };
}

/** Medians, scatter and the better spot: a difference counts only where it is larger than the noise of both. */
export function judgeSurvey(
  readings: readonly SurveyReading[],
  widthMHz: number | null,
  by: SurveyGroup = 'place',
  timeZone = 'UTC',
): Survey {
  const groups = new Map<string, SurveyReading[]>();
  for (const reading of readings) {
    const name = groupNames[by](reading, timeZone);
    groups.set(name, [...(groups.get(name) ?? []), reading]);
  }
  const byRate = readings.some(({ downMbps }) => downMbps !== null);
  const worth = (spot: SurveySpot): number =>
    (byRate ? spot.downMbps : spot.sinrDb) ?? Number.NEGATIVE_INFINITY;
  const spots = [...groups].map(([name, group]) => spotOf(name, group)).sort((a, b) => worth(b) - worth(a));
  const [best, second] = spots;
  const blocks = widthMHz === null ? undefined : { 1.4: 6, 3: 15, 5: 25, 10: 50, 15: 75, 20: 100 }[widthMHz];
  const impossible = readings.flatMap((reading, index) => {
    const { rsrpDbm, rssiDbm, rsrqDb } = reading;
    if (rsrpDbm === null || rssiDbm === null) return [];
    if (rsrpDbm > rssiDbm)
      return [{ index, says: 'RSRP is one part of RSSI and cannot be more than the whole.' }];
    if (rsrqDb === null || blocks === undefined) return [];
    const computed = Number(rsrqWorked(rsrpDbm, rssiDbm, blocks).value);
    return Math.abs(computed - rsrqDb) > 3
      ? [
          {
            index,
            says: `RSRQ ${rsrqDb} dB does not go with RSRP and RSSI, which make ${computed} dB: not read at one moment.`,
          },
        ]
      : [];
  });
  if (!best || worth(best) === Number.NEGATIVE_INFINITY)
    return {
      spots,
      best: undefined,
      verdict: undefined,
      says: 'No rate and no SINR yet: bars and RSRP alone do not tell which place is better.',
      impossible,
    };
  const unit = byRate ? 'Mb/s' : 'dB';
  if (!second || worth(second) === Number.NEGATIVE_INFINITY)
    return {
      spots,
      best,
      verdict: undefined,
      says: `Only one spot can be judged: take at least three readings at another place too.`,
      impossible,
    };
  const few = Math.min(best.count, second.count) < 3;
  const difference = Math.round((worth(best) - worth(second)) * 10) / 10;
  const noise = Math.round(Math.hypot(best.spread, second.spread) * 10) / 10;
  const clear = difference > 2 * noise && !few;
  return {
    spots,
    best,
    verdict: worked(
      `${best.name} against ${second.name}`,
      difference,
      unit,
      [
        step(`${best.name}, median of ${best.count}`, `${worth(best)} ${unit}`),
        step(`${second.name}, median of ${second.count}`, `- ${worth(second)} ${unit}`),
        step('scatter of both', `√(${best.spread}² + ${second.spread}²) = ${noise} ${unit}`),
        step('twice that', `${Math.round(noise * 20) / 10} ${unit}`),
        step('difference', `${difference} ${unit}`),
      ],
      `medians and their scatter, arithmetic; factor two: ${practice}`,
    ),
    says: clear
      ? `${best.name} is the better one: ${difference} ${unit} more, which is more than the scatter of the readings.`
      : few
        ? `${best.name} leads by ${difference} ${unit}, but with fewer than three readings a spot that may be chance.`
        : `${best.name} and ${second.name} cannot be told apart: ${difference} ${unit} lie within the scatter. Take the one that is easier to mount, or more readings.`,
    impossible,
  };
}

/** Runs of an experiment in an order in which the hour does not decide: each round takes every set once, turned by one. */
export function experimentOrder(sets: readonly string[], rounds: number): string[] {
  return Array.from({ length: rounds }, (_, round) =>
    sets.map((_set, place) => sets[(place + round) % sets.length]!),
  ).flat();
}
