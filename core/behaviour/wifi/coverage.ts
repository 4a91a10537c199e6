import type { WifiRadio, WifiRoom } from '../../site/wifi.ts';
import { channelCentre, indoorLossWorked, type WifiBand } from '../../base/worked/wifi.ts';
import { airRateWorked, quartilesOf, readingsWorked } from '../../base/worked/wifi-rate.ts';
import { figure, step, worked, type Worked } from '../../base/worked/worked.ts';

/**
 * What a radio sends where nobody set it: 100 mW in 2.4 GHz (ETSI EN 300 328), 200 mW in 5 GHz below 5350 MHz (ETSI EN
 * 301 893), 200 mW indoors in 6 GHz (ETSI EN 303 687); from memory, and devices send less.
 */
const usualDbm: Readonly<Record<WifiBand, number>> = { '2.4': 20, '5': 23, '6': 23 };
const firstChannel: Readonly<Record<WifiBand, number>> = { '2.4': 6, '5': 36, '6': 5 };

export const sentDbm = ({ band, power }: Pick<WifiRadio, 'band' | 'power'>): number =>
  power ?? usualDbm[band];

/** The signal that is expected in a room, as a range; undefined while the radio or the distance is not known. */
export function expectedSignal({
  radio,
  metres,
  floors,
}: WifiRoom): { readonly low: number; readonly high: number; readonly why: Worked<number> } | undefined {
  if (!radio || metres === null) return undefined;
  const mhz = channelCentre(radio.band, radio.channel ?? firstChannel[radio.band]);
  const [near, far] = ([28, 33] as const).map(
    (coefficient) => sentDbm(radio) - indoorLossWorked(mhz, metres, floors ?? 0, coefficient).value,
  ) as [number, number];
  return {
    low: far,
    high: near,
    why: worked(
      'Signal to expect',
      far,
      'dBm',
      [
        step('sent', `${sentDbm(radio)} dBm EIRP${radio.power === null ? ', the most that is usual' : ''}`),
        ...indoorLossWorked(mhz, metres, floors ?? 0).steps,
        step('signal', `${figure(far, 0)} to ${figure(near, 0)} dBm`),
      ],
      'ITU-R P.1238, tables 2 and 3 (from memory)',
      'A range, not a promise: readings in the room decide.',
    ),
  };
}

/** What a room gets, from its readings where there are some, else as expected; the worse end of it. */
export interface RoomSignal {
  readonly measured: boolean;
  readonly dbm: number;
  /** The spread: half of the readings lie between, or the whole of what is expected. */
  readonly from: number;
  readonly to: number;
  readonly why: Worked<number | null>;
  /** Mb/s for one device that is alone. */
  readonly rate: Worked<number>;
}

/** Signal and rate of a room on a channel width, in MHz; undefined while neither readings nor distance are known. */
export function roomSignal(room: WifiRoom, width = room.radio?.width ?? 20): RoomSignal | undefined {
  const readings = readingsWorked(room.readings);
  if (readings.value !== null) {
    const [from, , to] = quartilesOf(room.readings);
    return {
      measured: true,
      dbm: readings.value,
      from,
      to,
      why: readings,
      rate: airRateWorked(readings.value, width),
    };
  }
  const expected = expectedSignal(room);
  return (
    expected && {
      measured: false,
      dbm: expected.low,
      from: expected.low,
      to: expected.high,
      why: expected.why,
      rate: airRateWorked(expected.low, width),
    }
  );
}

/** A room where it is spoken of. */
export const roomName = ({ name, at }: WifiRoom): string =>
  name.trim() || `room ${Number(at.split('/').at(-1)) + 1}`;
