import { bad, ok, type Result } from '../../base/result.ts';
import {
  arithmetic,
  equals,
  exact,
  figure,
  shown,
  step,
  type Worked,
  worked,
} from '../../base/worked/worked.ts';

/** Resource blocks of an LTE channel by its width in MHz (3GPP TS 36.101 table 5.6-1). */
export const resourceBlocks: Readonly<Record<string, number>> = {
  '1.4': 6,
  '3': 15,
  '5': 25,
  '10': 50,
  '15': 75,
  '20': 100,
};

/** Resource blocks of a 5G channel below 7 GHz, at 30 kHz between carriers (3GPP TS 38.101-1 table 5.3.2-1, from memory). */
const nrBlocks: Readonly<Record<string, number>> = {
  '5': 11,
  '10': 24,
  '15': 38,
  '20': 51,
  '25': 65,
  '30': 78,
  '40': 106,
  '50': 133,
  '60': 162,
  '70': 189,
  '80': 217,
  '90': 245,
  '100': 273,
};

export type Generation = 'lte' | 'nr';
export type Modulation = 64 | 256;

/** Bits a symbol of the best format: CQI 15 (3GPP TS 36.213 tables 7.2.3-1 and 7.2.3-2). */
const lteBest: Readonly<Record<Modulation, number>> = { 64: 5.5547, 256: 7.4063 };
/** Bits a symbol, largest code rate and overhead of a 5G downlink below 7 GHz (3GPP TS 38.306 section 4.1.2). */
const nrBits: Readonly<Record<Modulation, number>> = { 64: 6, 256: 8 };
const nrCodeRate = 948 / 1024;
const nrOverhead = 0.14;
/** Symbols a second at 30 kHz: 14 in each of 2000 slots. */
const nrSymbols = 28_000;
const nrHzPerBlock = 12 * 30_000;
const lteMHzPerBlock = 0.18;

export interface CellChannel {
  readonly sinrDb: number;
  readonly widthMHz: number;
  readonly layers?: number;
  readonly generation?: Generation;
  readonly modulation?: Modulation;
}

/**
 * The highest rate that a channel of that width can carry at that SINR: Shannon's bound, and the best format of the
 * standard for each of `layers` streams, whichever is lower.
 */
export function cellRateWorked(channel: CellChannel): Result<Worked<number>> {
  const {
    sinrDb,
    widthMHz,
    layers = 1,
    generation = 'lte',
    modulation = generation === 'nr' ? 256 : 64,
  } = channel;
  const table = generation === 'lte' ? resourceBlocks : nrBlocks;
  const blocks = table[String(widthMHz)];
  if (blocks === undefined)
    return bad(
      'width',
      `${generation === 'lte' ? 'An LTE' : 'A 5G'} channel is ${Object.keys(table).join(', ')} MHz wide, not ${widthMHz}.`,
      'width',
    );
  const nr = generation === 'nr';
  const occupied = nr ? (blocks * nrHzPerBlock) / 1e6 : blocks * lteMHzPerBlock;
  const shannon = Math.log2(1 + 10 ** (sinrDb / 10));
  const byNoise = shannon * occupied * layers;
  const byFormat = nr
    ? (layers * nrBits[modulation] * nrCodeRate * blocks * 12 * nrSymbols * (1 - nrOverhead)) / 1e6
    : lteBest[modulation] * occupied * layers;
  const value = Math.min(byNoise, byFormat);
  return ok(
    worked(
      'Highest rate of the channel',
      value,
      'Mb/s',
      [
        step('SINR', `${sinrDb} dB`),
        step('bound by noise', `log2(1 + 10^(${sinrDb} / 10)) ${equals(shannon, 4)} bit/s/Hz`),
        step('spectrum in use', `${blocks} blocks ${equals(occupied, 2)} MHz`),
        step('streams', layers),
        step(
          'by noise',
          `${figure(shannon, 4)} × ${figure(occupied, 2)} × ${layers} ≈ ${figure(byNoise, 1)} Mb/s`,
        ),
        nr
          ? step(
              `by the best format, ${modulation}-QAM`,
              `${layers} × ${nrBits[modulation]} × 948 / 1024 × ${blocks} × 12 × 28000 × 0.86 / 10^6 ${equals(byFormat, 1)} Mb/s`,
            )
          : step(
              `by the best format, ${modulation}-QAM`,
              `${lteBest[modulation]} × ${figure(occupied, 2)} × ${layers} ${equals(byFormat, 1, exact(occupied))} Mb/s`,
            ),
        step('the lower of both', shown(value, 'Mb/s', 1)),
      ],
      `Shannon 1948; ${nr ? '3GPP TS 38.306 section 4.1.2' : '3GPP TS 36.213 section 7.2.3'}`,
      `${byNoise < byFormat ? 'The noise decides' : 'The best format of the standard decides'}. Everybody in the cell shares it; a measured rate above it was measured elsewhere.`,
    ),
  );
}

/** Free-space loss: 32.4 + 20 log10 f + 20 log10 d (ITU-R P.525), f in MHz, d in km. */
export function freeSpaceLossWorked(frequencyMHz: number, distanceKm: number): Worked<number> {
  const f = 20 * Math.log10(frequencyMHz);
  const d = 20 * Math.log10(distanceKm);
  const value = 32.4 + f + d;
  return worked(
    'Loss in free space',
    value,
    'dB',
    [
      step('frequency', `20 × log10(${frequencyMHz}) ${equals(f, 3)}`),
      step('distance', `20 × log10(${distanceKm}) ${equals(d, 3)}`),
      step('loss', `32.4 + ${figure(f, 3)} + ${figure(d, 3)} ≈ ${figure(value, 1)} dB`),
    ],
    'ITU-R P.525',
    'The least a mast at that distance loses on the way; hills, walls and leaves only add to it.',
  );
}

/**
 * Radius of the first Fresnel zone in the middle of a link: 550 √(d1 d2 / (f d)) metres, d in km, f in MHz (ITU-R
 * P.526). It is as good as free space while six tenths of it are.
 */
export function fresnelWorked(frequencyMHz: number, distanceKm: number): Worked<number> {
  const half = distanceKm / 2;
  const radius = 550 * Math.sqrt((half * half) / (frequencyMHz * distanceKm));
  return worked(
    'First Fresnel zone, in the middle',
    radius,
    'm',
    [
      step(
        'radius',
        `550 × √(${figure(half, 3)} × ${figure(half, 3)} / (${frequencyMHz} × ${figure(distanceKm, 3)})) ≈ ${figure(radius, 2)} m`,
      ),
      step('to be kept free', `0.6 × ${figure(radius, 2)} ≈ ${figure(0.6 * radius, 2)} m`),
    ],
    'ITU-R P.526 (from memory)',
    'Trees and roofs that reach into it cost signal, even where one can see past them.',
  );
}

/** Thermal noise of a receiver: -174 dBm/Hz + 10 log10 B + noise figure. */
export function noiseWorked(bandwidthMHz: number, noiseFigureDb = 7): Worked<number> {
  const spread = 10 * Math.log10(bandwidthMHz * 1e6);
  const value = -174 + spread + noiseFigureDb;
  return worked(
    'Noise floor',
    value,
    'dBm',
    [
      step('thermal noise', '-174 dBm/Hz'),
      step('bandwidth', `10 × log10(${bandwidthMHz} × 10^6) ${equals(spread, 3)}`),
      step('noise figure', `+ ${noiseFigureDb} dB`),
      step('noise floor', `-174 + ${figure(spread, 3)} + ${noiseFigureDb} ≈ ${figure(value, 1)} dBm`),
    ],
    'physics: k T at 290 K is -174 dBm/Hz',
  );
}

/** Power that an antenna radiates in its best direction, as an isotropic one would have to (ITU-R V.573). */
export function eirpWorked(powerDbm: number, cableDb: number, gainDbi: number): Worked<number> {
  const value = powerDbm - cableDb + gainDbi;
  return worked(
    'Equivalent isotropically radiated power (e.i.r.p.)',
    value,
    'dBm',
    [
      step('power of the transmitter', `${powerDbm} dBm`),
      step('lost in the cable', `- ${cableDb} dB`),
      step('gain of the antenna', `+ ${gainDbi} dBi`),
      step('e.i.r.p.', `${powerDbm} - ${cableDb} + ${gainDbi} ${equals(value, 3)} dBm`),
    ],
    `ITU-R V.573; ${arithmetic}`,
    'The limit is in the rules of your country for that band: ask your regulator.',
  );
}

/** What arrives over a radio link, and how far above what the receiver needs. */
export function linkBudgetWorked(given: {
  readonly eirpDbm: number;
  readonly lossDb: number;
  readonly otherDb: number;
  readonly gainDbi: number;
  readonly sensitivityDbm: number;
}): Worked<number> {
  const { eirpDbm, lossDb, otherDb, gainDbi, sensitivityDbm } = given;
  const received = eirpDbm - lossDb - otherDb + gainDbi;
  const margin = received - sensitivityDbm;
  return worked(
    'Margin of the radio link',
    margin,
    'dB',
    [
      step('radiated (e.i.r.p.)', `${eirpDbm} dBm`),
      step('loss on the way', `- ${lossDb} dB`),
      step('walls, trees, cables', `- ${otherDb} dB`),
      step('gain of the receiving antenna', `+ ${gainDbi} dBi`),
      step('received', `${eirpDbm} - ${lossDb} - ${otherDb} + ${gainDbi} ${equals(received, 3)} dBm`),
      step('the receiver needs', `${sensitivityDbm} dBm`),
      step('margin', `${figure(received, 3)} - ${sensitivityDbm} ${equals(margin, 3)} dB`),
    ],
    arithmetic,
    margin < 0
      ? 'The link does not come up.'
      : margin < 10
        ? 'Rain, leaves and a slipped mount take 10 dB and more: plan for more margin (common practice, no source).'
        : undefined,
  );
}
