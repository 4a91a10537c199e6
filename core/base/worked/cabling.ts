import { practice, shown, step, worked, type Worked } from './worked.ts';

/** What a run is made of: ISO/IEC 11801, TIA-568. */
export type CableCategory =
  'unknown' | 'cat5' | 'cat5e' | 'cat6' | 'cat6a' | 'cat7' | 'cat8' | 'om3' | 'om4' | 'os2';

interface Rating {
  readonly mbps: number;
  /** Metres over which the standard assures the rate, and over which it works at best. */
  readonly metres: number;
  readonly atBest?: number;
  readonly source: string;
}

const bz = 'IEEE 802.3bz, TSB-5021 (from memory)';
const an = 'IEEE 802.3an, TSB-155, ISO/IEC 11801 (from memory)';
const gigabit: Rating = { mbps: 1000, metres: 100, source: 'IEEE 802.3ab, ISO/IEC 11801 (from memory)' };

/** What each category carries, largest rate first. */
const ratings: Readonly<Record<CableCategory, readonly Rating[]>> = {
  unknown: [],
  cat5: [
    {
      ...gigabit,
      metres: 0,
      atBest: 100,
      source: 'IEEE 802.3ab; Cat 5 has to be measured for it (from memory)',
    },
    { mbps: 100, metres: 100, source: 'IEEE 802.3u (from memory)' },
  ],
  cat5e: [{ mbps: 2500, metres: 100, source: bz }, gigabit],
  cat6: [
    { mbps: 10_000, metres: 37, atBest: 55, source: an },
    { mbps: 5000, metres: 100, source: bz },
  ],
  cat6a: [{ mbps: 10_000, metres: 100, source: an }],
  cat7: [{ mbps: 10_000, metres: 100, source: an }],
  cat8: [
    { mbps: 40_000, metres: 30, source: 'IEEE 802.3bq (from memory)' },
    { mbps: 10_000, metres: 100, source: an },
  ],
  om3: [
    { mbps: 25_000, metres: 70, source: 'IEEE 802.3by, 25GBASE-SR (from memory)' },
    { mbps: 10_000, metres: 300, source: 'IEEE 802.3ae, 10GBASE-SR (from memory)' },
    { mbps: 1000, metres: 550, source: 'IEEE 802.3z, 1000BASE-SX (from memory)' },
  ],
  om4: [
    { mbps: 25_000, metres: 100, source: 'IEEE 802.3by, 25GBASE-SR (from memory)' },
    { mbps: 10_000, metres: 400, source: 'IEEE 802.3ae, 10GBASE-SR (from memory)' },
    { mbps: 1000, metres: 550, source: 'IEEE 802.3z, 1000BASE-SX (from memory)' },
  ],
  os2: [
    { mbps: 100_000, metres: 10_000, source: 'IEEE 802.3ba, 100GBASE-LR4 (from memory)' },
    { mbps: 10_000, metres: 40_000, source: 'IEEE 802.3ae, 10GBASE-ER (from memory)' },
  ],
};

export const rateText = (mbps: number): string => (mbps >= 1000 ? `${mbps / 1000} Gb/s` : `${mbps} Mb/s`);

/**
 * The largest rate of a run in Mb/s: what its category carries over its length, and what the sockets at its ends have.
 * Null where nothing of that is known; 0 where no standard assures anything. Two pairs carry 100 Mb/s (IEEE 802.3u).
 */
export function runRateWorked({
  category,
  metres,
  pairs = 4,
  ends = [],
}: {
  readonly category: CableCategory;
  readonly metres: number | null;
  readonly pairs?: number;
  /** Rates of the sockets at both ends, where they are known. */
  readonly ends?: readonly number[];
}): Worked<number | null> {
  const steps = [];
  const limits: number[] = [];
  const sources = new Set<string>();
  const fibre = category === 'om3' || category === 'om4' || category === 'os2';
  let means: string | undefined;
  const list = ratings[category];
  if (list.length > 0 && metres !== null) {
    const found = list.find((each) => (each.atBest ?? each.metres) >= metres);
    limits.push(found?.mbps ?? 0);
    steps.push(step(`the category over ${metres} m`, found ? rateText(found.mbps) : 'nothing is assured'));
    sources.add(found?.source ?? list.at(-1)!.source);
    if (!found)
      means = `No standard assures a rate over ${metres} m of this cable. Put a switch or a fibre in between.`;
    else if (metres > found.metres)
      means =
        category === 'cat5'
          ? 'It has to be measured for that rate; many such runs carry it.'
          : `Assured to ${found.metres} m; beyond that only where little comes over from cables beside it.`;
  }
  if (!fibre && pairs < 4) {
    limits.push(pairs < 2 ? 0 : 100);
    steps.push(step(`${pairs} of 4 pairs`, pairs < 2 ? 'no link' : '100 Mb/s'));
    sources.add('IEEE 802.3u (from memory)');
    means ??= 'Rates of 1 Gb/s and more need all four pairs.';
  }
  for (const [index, mbps] of ends.entries()) {
    limits.push(mbps);
    steps.push(step(`port at end ${index + 1}`, rateText(mbps)));
  }
  const value = limits.length === 0 ? null : Math.min(...limits);
  return worked(
    'Rate of the run',
    value,
    'Mb/s',
    [
      ...steps,
      step('rate', value === null ? 'not known' : value === 0 ? 'none assured' : shown(value, 'Mb/s')),
    ],
    sources.size === 0 ? practice : [...sources].join('; '),
    means,
  );
}

/** What a run carries in each direction, in Mb/s, when a line is carried over it and its users sit behind it too. */
export function sharedRunWorked(
  downMbps: number,
  upMbps: number,
  capacityMbps: number | null,
): Worked<number> {
  const each = downMbps + upMbps;
  return worked(
    'Load of the shared run, each way',
    each,
    'Mb/s',
    [
      step('download of the line, to the router', `${downMbps} Mb/s`),
      step('upload of the users, to the router', `${upMbps} Mb/s`),
      step('together, to the router', `${each} Mb/s`),
      step('download of the users, from the router', `${downMbps} Mb/s`),
      step('upload of the line, from the router', `${upMbps} Mb/s`),
      step('together, from the router', `${each} Mb/s`),
      ...(capacityMbps === null ? [] : [step('the run carries', `${capacityMbps} Mb/s`)]),
      step('load each way', shown(each, 'Mb/s')),
    ],
    'arithmetic: every packet passes the run twice, once on each side of the router',
    capacityMbps !== null && each > capacityMbps
      ? `The run is the bottleneck: users get ${Math.floor((capacityMbps / each) * 100)} % of the line when it is full both ways.`
      : undefined,
  );
}
