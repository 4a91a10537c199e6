import { pbkdf2 } from '@noble/hashes/pbkdf2.js';
import { sha1 } from '@noble/hashes/legacy.js';
import { bad, ok, type Result } from '../result.ts';
import { figure, shown, step, worked, type Worked } from './worked.ts';

/** Bands of IEEE 802.11 in which access points work. */
export const wifiBands = { '2.4': '2.4 GHz', '5': '5 GHz', '6': '6 GHz' } as const;
export type WifiBand = keyof typeof wifiBands;

/** What a radio uses: MHz from `from` to `to`. */
export interface Spectrum {
  readonly from: number;
  readonly to: number;
}

const dot11 = 'IEEE 802.11 (from memory)';

/** Channels of 20 MHz. In 2.4 GHz they lie 5 MHz apart and overlap; above, each has its own 20 MHz. */
export const channelsOf: Readonly<Record<WifiBand, readonly number[]>> = {
  '2.4': [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13],
  '5': [
    36, 40, 44, 48, 52, 56, 60, 64, 100, 104, 108, 112, 116, 120, 124, 128, 132, 136, 140, 144, 149, 153, 157,
    161, 165, 169, 173, 177,
  ],
  '6': Array.from({ length: 59 }, (_, index) => 1 + 4 * index),
};

/** Centre of a channel of 20 MHz, in MHz (IEEE 802.11 annex E: 2407 + 5n, channel 14 at 2484; 5000 + 5n; 5950 + 5n). */
export function channelCentre(band: WifiBand, channel: number): number {
  if (band === '2.4') return channel === 14 ? 2484 : 2407 + 5 * channel;
  if (band === '5') return 5000 + 5 * channel;
  return channel === 2 ? 5935 : 5950 + 5 * channel;
}

/** Parts of a band, in MHz, from whose first edge wider channels are counted; none reaches over the end of its part. */
const parts: Readonly<Record<Exclude<WifiBand, '2.4'>, readonly Spectrum[]>> = {
  '5': [
    { from: 5170, to: 5330 },
    { from: 5490, to: 5730 },
    { from: 5735, to: 5895 },
  ],
  '6': [{ from: 5945, to: 7125 }],
};

/**
 * The MHz that a radio uses on a primary channel with a width, or undefined where there is no such channel: of 160 MHz
 * there are 50, 114 and 163 in 5 GHz, of 80 MHz and more none in 2.4 GHz, and 6 GHz ends at 7125 MHz (IEEE 802.11
 * annex E, from memory). Wider channels are fixed pairs of pairs; in 2.4 GHz 40 MHz extend to the given side.
 */
export function blockOf(band: WifiBand, channel: number, width: number, below = false): Spectrum | undefined {
  const centre = channelCentre(band, channel);
  if (width <= 20) return { from: centre - 10, to: centre + 10 };
  if (band === '2.4') {
    if (width > 40) return undefined;
    return below ? { from: centre - 30, to: centre + 10 } : { from: centre - 10, to: centre + 30 };
  }
  const part = parts[band].find(({ from, to }) => from < centre && centre < to);
  if (!part) return undefined;
  const from = part.from + Math.floor((centre - part.from) / width) * width;
  return from + width <= part.to ? { from, to: from + width } : undefined;
}

/** What a radio uses that is set so: where there is no channel of that width, the widest that there is. */
export const spectrumOf = (band: WifiBand, channel: number, width: number, below = false): Spectrum =>
  blockOf(band, channel, width, below) ?? spectrumOf(band, channel, width / 2, below);

/** MHz that two radios share. */
export const sharedMhz = (a: Spectrum, b: Spectrum): number =>
  Math.max(0, Math.min(a.to, b.to) - Math.max(a.from, b.from));

export function overlapWorked(
  band: WifiBand,
  a: { readonly channel: number; readonly width: number },
  b: { readonly channel: number; readonly width: number },
): Worked<number> {
  const [one, other] = [spectrumOf(band, a.channel, a.width), spectrumOf(band, b.channel, b.width)];
  const shared = sharedMhz(one, other);
  return worked(
    'MHz that both use',
    shared,
    'MHz',
    [
      step(`channel ${a.channel}, ${a.width} MHz`, `${one.from} to ${one.to} MHz`),
      step(`channel ${b.channel}, ${b.width} MHz`, `${other.from} to ${other.to} MHz`),
      step('shared', shown(shared, 'MHz')),
    ],
    dot11,
    shared === 0
      ? one.from === other.to || other.from === one.to
        ? 'They are neighbours: a radio close by still disturbs, for a receiver suppresses the next channel by 16 dB at the slowest rate and not at all at the fastest (IEEE 802.11 section 17.3.10.3, from memory).'
        : 'They do not disturb each other.'
      : a.channel === b.channel || band !== '2.4'
        ? 'They hear each other and take turns: each gets a share of the time. Wide channels announce a frame in every 20 MHz that they use (IEEE 802.11 section 21.3.8, from memory).'
        : 'They disturb without understanding each other, which is worse than the same channel.',
  );
}

/** How long a radio listens before it may send on a channel of 5 GHz, in seconds (ETSI EN 301 893, from memory). */
export function radarWaitWorked(channel: number, width: number): Worked<number> {
  const { from, to } = spectrumOf('5', channel, width);
  const radar = from < 5725 && to > 5250;
  const weather = from < 5650 && to > 5600;
  const seconds = !radar ? 0 : weather ? 600 : 60;
  return worked(
    'Wait before the radio may send',
    seconds,
    's',
    [
      step(`channel ${channel}, ${width} MHz`, `${from} to ${to} MHz`),
      step('radar: 5250 to 5725 MHz', radar ? 'touched' : 'not touched'),
      step('weather radar: 5600 to 5650 MHz', weather ? 'touched' : 'not touched'),
      step('wait', `${seconds} s`),
    ],
    'ETSI EN 301 893 (from memory); ask your regulator',
    radar
      ? 'After a radar is heard the channel is left at once and stays closed for 30 minutes. Do not take it where Wi-Fi may not be away.'
      : undefined,
  );
}

/** The key that devices compute from name and passphrase: PBKDF2 with HMAC-SHA1, 4096 rounds, 256 bits (IEEE 802.11 annex J.4). */
export function pmkWorked(ssid: string, passphrase: string): Result<Worked<string>> {
  const name = new TextEncoder().encode(ssid);
  if (name.length === 0 || name.length > 32)
    return bad('ssid', `A network name has 1 to 32 bytes; this one has ${name.length}.`, 'ssid');
  if (/^[0-9a-f]{64}$/i.test(passphrase))
    return ok(keyOf(passphrase.toLowerCase(), 'the 64 digits are the key itself'));
  if (!/^[\x20-\x7e]{8,63}$/.test(passphrase))
    return bad(
      'passphrase',
      'A passphrase has 8 to 63 letters, digits and signs of ASCII; 64 hexadecimal digits are the key itself.',
      'passphrase',
    );
  const key = pbkdf2(sha1, passphrase, name, { c: 4096, dkLen: 32 });
  return ok(
    keyOf(
      [...key].map((byte) => byte.toString(16).padStart(2, '0')).join(''),
      'PBKDF2-HMAC-SHA1, 4096 rounds',
    ),
  );
}

const keyOf = (hex: string, how: string): Worked<string> =>
  worked(
    'Pairwise master key',
    hex,
    '',
    [step('made by', how), step('key', hex)],
    'IEEE 802.11 annex J.4 (from memory)',
  );

/** Distance power loss coefficients of offices and homes: ITU-R P.1238 table 2, from memory. */
const coefficients = { low: 28, high: 33 } as const;

/**
 * Loss between two rooms of a building in dB: ITU-R P.1238, with the range that its figures leave. The value is the
 * middle of it, or that of one coefficient.
 */
export function indoorLossWorked(
  mhz: number,
  metres: number,
  floors: number,
  coefficient?: number,
): Worked<number> {
  // Floors 15 + 4 (n - 1) dB (table 3).
  const floorLoss = floors === 0 ? 0 : 15 + 4 * (floors - 1);
  const overDistance = (each: number): number => each * Math.log10(Math.max(1, metres));
  const loss = (each: number): number => 20 * Math.log10(mhz) + overDistance(each) + floorLoss - 28;
  const [low, high] = [loss(coefficient ?? coefficients.low), loss(coefficient ?? coefficients.high)];
  return worked(
    'Loss in the building',
    (low + high) / 2,
    'dB',
    [
      step('20 log10 of the frequency', `20 × log10(${figure(mhz)}) = ${shown(20 * Math.log10(mhz), 'dB')}`),
      step(
        `over ${figure(metres)} m, coefficient ${coefficients.low} to ${coefficients.high}`,
        `${shown(overDistance(coefficients.low), '')} to ${shown(overDistance(coefficients.high), 'dB')}`,
      ),
      step(`${floors} ${floors === 1 ? 'floor' : 'floors'}`, `${floorLoss} dB`),
      step('constant', '- 28 dB'),
      step('loss', `${shown(low, '')} to ${shown(high, 'dB')}`),
    ],
    'ITU-R P.1238, tables 2 and 3 (from memory)',
    'A range, not a promise: readings in the rooms decide.',
  );
}
