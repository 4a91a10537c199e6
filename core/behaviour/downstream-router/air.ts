import { freeSpaceLossWorked } from '../media/radio-link.ts';
import type { Site } from '../../site/model.ts';
import type { Second } from '../../site/second.ts';
import { sentDbm } from '../wifi/coverage.ts';
import { channelCentre, indoorLossWorked } from '../../base/worked/wifi.ts';
import { figure, practice, step, worked, type Worked } from '../../base/worked/worked.ts';

/** The channel with which it is computed where none is set yet. */
const usualChannel = { '2.4': 6, '5': 36, '6': 5 } as const;
/** Lost by aim, weather and leaves on a way with clear sight, at worst (common practice, no source). */
const fadingDb = 10;

/** What a bridge may expect, and the MHz in which it is computed. */
export interface BridgeSignal {
  readonly low: number;
  readonly high: number;
  readonly mhz: number;
  readonly why: Worked<number>;
}

/**
 * The signal that a wireless bridge may expect over its distance, with the gain of its antenna: in clear sight free
 * space (ITU-R P.525) and what aim and weather take; through walls the model of a building (ITU-R P.1238); where
 * nobody looked, all in between. Undefined while the distance or a radio of the first is not known.
 */
export function bridgeSignal({ wifi }: Site, { box, metres, sight, gain }: Second): BridgeSignal | undefined {
  const own = wifi.radios.filter((radio) => box !== undefined && radio.box === box);
  const first = wifi.radios.find(
    (radio) => radio.box !== box && (own.length === 0 || own.some(({ band }) => band === radio.band)),
  );
  if (!first || metres === null || metres === 0) return undefined;
  const mhz = channelCentre(first.band, first.channel ?? usualChannel[first.band]);
  const sent = sentDbm(first);
  const free = freeSpaceLossWorked(mhz, metres / 1000).value;
  const indoor = (coefficient: 28 | 33): number => indoorLossWorked(mhz, metres, 0, coefficient).value;
  const losses: readonly (readonly [says: string, db: number])[] = {
    clear: [
      ['loss of free space', free] as const,
      [`loss of free space, and ${fadingDb} dB for aim and weather`, free + fadingDb] as const,
    ],
    walls: [
      ['loss in a building (N = 28)', indoor(28)] as const,
      ['loss in a building (N = 33)', indoor(33)] as const,
    ],
    unknown: [['loss of free space', free] as const, ['loss in a building (N = 33)', indoor(33)] as const],
  }[sight];
  // Close by the models cross: the better of them is the upper end.
  const [least, most] = losses.map(([, db]) => db).sort((a, b) => a - b) as [number, number];
  const [high, low] = [least, most].map((loss) => sent - loss + (gain ?? 0)) as [number, number];
  const sum = (loss: number, dbm: number): string =>
    `${figure(sent, 1)} - ${figure(loss, 1)}${gain === null ? '' : ` + ${figure(gain, 1)}`} ≈ ${figure(dbm, 0)} dBm`;
  return {
    low,
    high,
    mhz,
    why: worked(
      'Signal to expect',
      low,
      'dBm',
      [
        step(`sent by ${first.name}`, `${figure(sent, 1)} dBm EIRP`),
        ...losses.map(([says, db]) =>
          step(`${says}, ${figure(metres)} m at ${figure(mhz)} MHz`, `${figure(db, 1)} dB`),
        ),
        ...(gain === null ? [] : [step('gain of its antenna', `${figure(gain, 1)} dBi`)]),
        step('signal at best', sum(least, high)),
        step('signal at worst', sum(most, low)),
      ],
      `ITU-R P.525, ITU-R P.1238 (from memory)${sight === 'clear' ? `; ${practice}` : ''}`,
      gain === null
        ? 'An antenna with gain adds it. A range, not a promise: measure it where it will stand.'
        : 'A range, not a promise: measure it where it will stand.',
    ),
  };
}
