import { freeSpaceLossWorked } from '../media/radio-link.ts';
import type { Site } from '../site/model.ts';
import type { Second } from '../site/second.ts';
import { sentDbm } from '../wifi/coverage.ts';
import { channelCentre, indoorLossWorked } from '../worked/wifi.ts';
import { figure, step, worked, type Worked } from '../worked/worked.ts';

/** The channel with which it is computed where none is set yet. */
const usualChannel = { '2.4': 6, '5': 36, '6': 5 } as const;

/**
 * The signal that a wireless bridge may expect over its distance: between a building all the way (ITU-R P.1238) and
 * nothing at all in between (free space); undefined while the distance or a radio of the first is not known.
 */
export function bridgeSignal(
  { wifi }: Site,
  { box, metres }: Second,
): { readonly low: number; readonly high: number; readonly why: Worked<number> } | undefined {
  const own = wifi.radios.filter((radio) => box !== undefined && radio.box === box);
  const first = wifi.radios.find(
    (radio) => radio.box !== box && (own.length === 0 || own.some(({ band }) => band === radio.band)),
  );
  if (!first || metres === null || metres === 0) return undefined;
  const mhz = channelCentre(first.band, first.channel ?? usualChannel[first.band]);
  const sent = sentDbm(first);
  const free = freeSpaceLossWorked(mhz, metres / 1000).value;
  const walls = indoorLossWorked(mhz, metres, 0, 33).value;
  // Close by the two models cross: the better of them is the upper end.
  const [least, most] = [Math.min(free, walls), Math.max(free, walls)];
  return {
    low: sent - most,
    high: sent - least,
    why: worked(
      'Signal to expect',
      sent - most,
      'dBm',
      [
        step(`sent by ${first.name}`, `${figure(sent, 1)} dBm EIRP`),
        step(`loss of free space, ${figure(metres)} m at ${figure(mhz)} MHz`, `${figure(free, 1)} dB`),
        step('loss through a building all the way', `${figure(walls, 1)} dB`),
        step('signal at best', `${figure(sent, 1)} - ${figure(least, 1)} ≈ ${figure(sent - least, 0)} dBm`),
        step('signal at worst', `${figure(sent, 1)} - ${figure(most, 1)} ≈ ${figure(sent - most, 0)} dBm`),
      ],
      'ITU-R P.525, ITU-R P.1238 (from memory)',
      'Antennas with gain at both ends add theirs. A range, not a promise: measure it where it will stand.',
    ),
  };
}
