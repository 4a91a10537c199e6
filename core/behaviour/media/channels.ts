import { bad, ok, type Result } from '../../base/result.ts';
import { equals, figure, step, type Worked, worked } from '../../base/worked/worked.ts';

/** An LTE operating band: lowest frequencies and channel numbers (3GPP TS 36.101 table 5.7.3-1, from memory). */
interface LteBand {
  readonly band: number;
  readonly lowMHz: number;
  readonly first: number;
  readonly last: number;
  /** Both directions share the channel in time; otherwise the uplink has a channel of its own, or there is none. */
  readonly uplink:
    'shared' | 'none' | { readonly lowMHz: number; readonly first: number; readonly last: number };
}

/** A paired band: numbers of the uplink are 18 000 above those of the downlink, unless the table says otherwise. */
const paired = (
  band: number,
  lowMHz: number,
  first: number,
  last: number,
  uplinkLowMHz: number,
  uplinkFirst = first + 18_000,
  uplinkLast = uplinkFirst + (last - first),
): LteBand => ({
  band,
  lowMHz,
  first,
  last,
  uplink: { lowMHz: uplinkLowMHz, first: uplinkFirst, last: uplinkLast },
});
const inTime = (band: number, lowMHz: number, first: number, last: number): LteBand => ({
  band,
  lowMHz,
  first,
  last,
  uplink: 'shared',
});

const lteBands: readonly LteBand[] = [
  paired(1, 2110, 0, 599, 1920),
  paired(2, 1930, 600, 1199, 1850),
  paired(3, 1805, 1200, 1949, 1710),
  paired(4, 2110, 1950, 2399, 1710),
  paired(5, 869, 2400, 2649, 824),
  paired(7, 2620, 2750, 3449, 2500),
  paired(8, 925, 3450, 3799, 880),
  paired(12, 729, 5010, 5179, 699),
  paired(13, 746, 5180, 5279, 777),
  paired(14, 758, 5280, 5379, 788),
  paired(17, 734, 5730, 5849, 704),
  paired(20, 791, 6150, 6449, 832),
  paired(25, 1930, 8040, 8689, 1850),
  paired(26, 859, 8690, 9039, 814),
  paired(28, 758, 9210, 9659, 703),
  { band: 32, lowMHz: 1452, first: 9920, last: 10_359, uplink: 'none' },
  inTime(38, 2570, 37_750, 38_249),
  inTime(39, 1880, 38_250, 38_649),
  inTime(40, 2300, 38_650, 39_649),
  inTime(41, 2496, 39_650, 41_589),
  inTime(42, 3400, 41_590, 43_589),
  inTime(43, 3600, 43_590, 45_589),
  inTime(48, 3550, 55_240, 56_739),
  // The uplink of band 66 is narrower than its downlink: the upper channels are for downlink only.
  paired(66, 2110, 66_436, 67_335, 1710, 131_972, 132_671),
  paired(71, 617, 68_586, 68_935, 663, 133_122),
];

const lteSource = '3GPP TS 36.101 section 5.7.3 (from memory)';
const tenths = (value: number): number => Math.round(value * 10) / 10;
const known = lteBands.map(({ band }) => band).join(', ');

/** The uplink that belongs to a downlink channel, in words. */
function uplinkOf({ uplink, first }: LteBand, channel: number): string {
  if (uplink === 'shared') return `${channel}, shared in time`;
  if (uplink === 'none') return 'none: the band is for downlink only';
  const number = uplink.first + (channel - first);
  return number > uplink.last
    ? 'none: this channel is for downlink only'
    : `${number}, ${tenths(uplink.lowMHz + 0.1 * (number - uplink.first))} MHz`;
}

/** Downlink frequency of an LTE channel number (EARFCN): F = F_low + 0.1 (N - N_offs) MHz. */
export function earfcnWorked(channel: number): Result<Worked<number>> {
  const found = lteBands.find(({ first, last }) => channel >= first && channel <= last);
  if (!found)
    return bad(
      'unknown-channel',
      `The channel number ${channel} is in none of the downlink bands known here (${known}).`,
      'channel',
    );
  const frequency = tenths(found.lowMHz + 0.1 * (channel - found.first));
  return ok(
    worked(
      `Channel ${channel}, band ${found.band}`,
      frequency,
      'MHz',
      [
        step('band', found.band),
        step('lowest of the band', `${found.lowMHz} MHz`),
        step('channels above it', `${channel} - ${found.first} = ${channel - found.first}`),
        step('uplink channel', uplinkOf(found, channel)),
        step('downlink', `${found.lowMHz} + 0.1 × ${channel - found.first} = ${frequency} MHz`),
      ],
      lteSource,
    ),
  );
}

/** The band of an LTE channel number; undefined in no listed band. */
export const bandOf = (channel: number): number | undefined =>
  lteBands.find(({ first, last }) => channel >= first && channel <= last)?.band;

/** LTE channel numbers of a downlink frequency, one for each band that has it. */
export function lteChannelWorked(frequencyMHz: number): Result<Worked<string>> {
  const found = lteBands.flatMap((each) => {
    const above = (frequencyMHz - each.lowMHz) * 10;
    const channel = each.first + Math.round(above);
    return Math.abs(above - Math.round(above)) < 1e-6 && channel >= each.first && channel <= each.last
      ? [{ band: each.band, channel }]
      : [];
  });
  if (found.length === 0)
    return bad(
      'frequency',
      `${frequencyMHz} MHz is on no downlink channel of the bands known here (${known}); channels are 0.1 MHz apart.`,
      'mhz',
    );
  const value = found.map(({ channel }) => channel).join(', ');
  return ok(
    worked(
      `LTE channel of ${frequencyMHz} MHz`,
      value,
      '',
      [...found.map(({ band, channel }) => step(`band ${band}`, channel)), step('channel', value)],
      lteSource,
    ),
  );
}

interface Raster {
  readonly baseMHz: number;
  readonly from: number;
  readonly kHz: number;
}

/** The global frequency raster of 5G (3GPP TS 38.104 table 5.4.2.1-1). */
const rasters: readonly (Raster & { readonly belowMHz: number; readonly below: number })[] = [
  { baseMHz: 0, from: 0, kHz: 5, belowMHz: 3000, below: 600_000 },
  { baseMHz: 3000, from: 600_000, kHz: 15, belowMHz: 24_250.08, below: 2_016_667 },
  { baseMHz: 24_250.08, from: 2_016_667, kHz: 60, belowMHz: 100_000.01, below: 3_279_166 },
];
const nrSource = '3GPP TS 38.104 section 5.4.2.1';

/** Frequency of a 5G channel number. */
export function nrArfcnWorked(channel: number): Result<Worked<number>> {
  const raster = rasters.find(({ below }) => channel < below);
  if (channel < 0 || !raster)
    return bad(
      'unknown-channel',
      `${channel} is no 5G channel number: they go from 0 to 3279165.`,
      'channel',
    );
  const value = Math.round((raster.baseMHz + (raster.kHz * (channel - raster.from)) / 1000) * 1000) / 1000;
  return ok(
    worked(
      `5G channel ${channel}`,
      value,
      'MHz',
      [
        step('raster', `${raster.kHz} kHz`),
        step('counted from', `${raster.baseMHz} MHz at ${raster.from}`),
        step(
          'frequency',
          `${raster.baseMHz} + ${raster.kHz / 1000} × ${channel - raster.from} ${equals(value, 3)} MHz`,
        ),
      ],
      nrSource,
    ),
  );
}

/** The channel numbers next to a 5G frequency: one where it is on the raster, two where it is not. */
export function nrChannelsOf(frequencyMHz: number): Result<number[]> {
  const raster = rasters.find(({ belowMHz }) => frequencyMHz < belowMHz);
  if (frequencyMHz < 0 || !raster)
    return bad('frequency', `${frequencyMHz} MHz is outside 0 to 100000 MHz.`, 'mhz');
  const exact = Math.round(((frequencyMHz - raster.baseMHz) * 1_000_000) / raster.kHz) / 1000 + raster.from;
  return ok([...new Set([Math.floor(exact), Math.ceil(exact)])]);
}

/** The 5G channel number of a frequency, or the two around it. */
export function nrChannelWorked(frequencyMHz: number): Result<Worked<string>> {
  const channels = nrChannelsOf(frequencyMHz);
  if (!channels.ok) return channels;
  const value = channels.value.join(', ');
  return ok(
    worked(
      `5G channel of ${frequencyMHz} MHz`,
      value,
      '',
      [
        step('frequency', `${figure(frequencyMHz, 3)} MHz`),
        step(channels.value.length > 1 ? 'between two of the raster' : 'on the raster', value),
      ],
      nrSource,
    ),
  );
}
