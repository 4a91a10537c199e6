import type { Spectrum, WifiBand } from '../../base/worked/wifi.ts';

/** A range in MHz, and the most that may be sent in it: in dBm EIRP, and in each MHz where that is less. */
export interface AllowedRange extends Spectrum {
  readonly dbm: number;
  readonly perMhz?: number;
}

/** What a country lets Wi-Fi use without a licence. */
export interface ChannelRules {
  readonly countries: readonly string[];
  readonly bands: Readonly<Record<WifiBand, readonly AllowedRange[]>>;
  readonly source: string;
}

const mhz = (
  ...edges: readonly (readonly [from: number, to: number, dbm: number, perMhz?: number])[]
): AllowedRange[] =>
  edges.map(([from, to, dbm, perMhz]) => ({ from, to, dbm, ...(perMhz !== undefined && { perMhz }) }));

/**
 * From memory, and laws change: what an access point indoors may use. Power, outdoor use and radar differ within each
 * range; whoever is not sure asks the regulator.
 */
const table: readonly ChannelRules[] = [
  {
    countries:
      'AT BE BG CH CY CZ DE DK EE ES FI FR GR HR HU IE IS IT LI LT LU LV MT NL NO PL PT RO SE SI SK'.split(
        ' ',
      ),
    bands: {
      '2.4': mhz([2400, 2483.5, 20]),
      '5': mhz([5150, 5350, 23], [5470, 5725, 30]),
      '6': mhz([5945, 6425, 23, 10]),
    },
    source: 'ERC/REC 70-03, ECC/DEC (04)08, ECC/DEC (20)01 (from memory)',
  },
  {
    countries: ['GB'],
    bands: {
      '2.4': mhz([2400, 2483.5, 20]),
      '5': mhz([5150, 5350, 23], [5470, 5725, 30], [5725, 5850, 23]),
      '6': mhz([5925, 6425, 24]),
    },
    source: 'IR 2030 (from memory)',
  },
  {
    countries: ['US'],
    bands: {
      '2.4': mhz([2400, 2473, 36]),
      // 30 dBm at the antenna port and 6 dBi; 5850 to 5895 MHz indoors.
      '5': mhz([5150, 5250, 36], [5250, 5350, 30], [5470, 5730, 30], [5730, 5895, 36]),
      // Indoors and low in power.
      '6': mhz([5925, 7125, 30, 5]),
    },
    source: '47 CFR 15.247, 15.407 (from memory)',
  },
  {
    countries: ['CA'],
    bands: {
      '2.4': mhz([2400, 2473, 36]),
      '5': mhz([5150, 5350, 23], [5470, 5600, 30], [5650, 5730, 30], [5730, 5850, 36]),
      '6': mhz([5925, 7125, 30, 5]),
    },
    source: 'RSS-247, RSS-248 (from memory)',
  },
  {
    countries: ['AU', 'NZ'],
    bands: {
      '2.4': mhz([2400, 2483.5, 36]),
      '5': mhz([5150, 5350, 23], [5470, 5600, 30], [5650, 5725, 30], [5725, 5850, 36]),
      '6': mhz([5925, 6425, 24]),
    },
    source: 'Radiocommunications (Low Interference Potential Devices) Class Licence (from memory)',
  },
  {
    countries: ['JP'],
    bands: {
      '2.4': mhz([2400, 2483.5, 20]),
      '5': mhz([5150, 5350, 23], [5470, 5730, 30]),
      '6': mhz([5925, 6425, 23]),
    },
    source: 'ARIB STD-T66, STD-T71 (from memory)',
  },
];

/** The rules of a country by its two letters (ISO 3166-1); undefined where this table has none. */
export const channelRules = (country: string): ChannelRules | undefined =>
  table.find(({ countries }) => countries.includes(country.trim().toUpperCase()));

/** The ranges that a radio's spectrum touches, where together they hold all of it. */
function rangesOf(rules: ChannelRules, band: WifiBand, { from, to }: Spectrum): readonly AllowedRange[] {
  const touched = rules.bands[band].filter((each) => each.from < to && from < each.to);
  const held = touched.reduce((sum, each) => sum + Math.min(each.to, to) - Math.max(each.from, from), 0);
  return held === to - from ? touched : [];
}

/** Whether all of a radio's spectrum lies within what the rules allow; without rules everything does. */
export const allowedBy = (rules: ChannelRules | undefined, band: WifiBand, spectrum: Spectrum): boolean =>
  !rules || rangesOf(rules, band, spectrum).length > 0;

/** "5150 to 5350, 5470 to 5725 MHz". */
export const rangesText = ({ bands }: ChannelRules, band: WifiBand): string =>
  `${bands[band].map(({ from, to }) => `${from} to ${to}`).join(', ')} MHz`;

/** The most that may be sent there, in dBm EIRP; undefined where the rules do not allow it, or are not known. */
export const mostDbm = (
  rules: ChannelRules | undefined,
  band: WifiBand,
  spectrum: Spectrum,
): number | undefined => {
  const ranges = rules ? rangesOf(rules, band, spectrum) : [];
  const wide = 10 * Math.log10(spectrum.to - spectrum.from);
  return ranges.length === 0
    ? undefined
    : Math.round(Math.min(...ranges.map(({ dbm, perMhz = Infinity }) => Math.min(dbm, perMhz + wide))));
};
