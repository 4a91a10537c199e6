import type { Site } from '../../site/model.ts';
import { expectedSignal, roomSignal } from '../../behaviour/wifi/coverage.ts';
import { busyWorked, recommendedChannels } from '../../behaviour/wifi/now.ts';
import { widthsFor } from '../../behaviour/wifi/width.ts';
import { radarWaitWorked } from '../../base/worked/wifi.ts';
import type { Worked } from '../../base/worked/worked.ts';

/** What takes a radio's channel as it is set and on the one that is recommended, and which width suits its band. */
export function ofRadio(site: Site, index: number, rest: string): Worked[] {
  const radio = site.wifi.radios[index];
  if (!radio) return [];
  const { band, channel, width } = radio;
  if (rest === 'width') return widthsFor(site).flatMap((each) => (each.band === band ? [each.why] : []));
  if (rest !== 'channel' && rest !== 'band') return [];
  const best = recommendedChannels(site)?.choices[index]?.channel;
  const set = channel ?? best;
  return [
    ...(channel === null ? [] : [busyWorked(site, radio, channel)]),
    ...(best === undefined || best === channel ? [] : [busyWorked(site, radio, best)]),
    ...(band === '5' && set !== undefined ? [radarWaitWorked(set, width)] : []),
  ];
}

/** What a room may expect, what was read there, and the rate that comes of it. */
export function ofRoom(site: Site, index: number, rest: string): Worked[] {
  const room = site.wifi.rooms[index];
  if (!room || rest === 'name' || rest === 'wifi') return [];
  const expected = expectedSignal(room);
  const signal = roomSignal(room);
  return [
    ...(expected ? [expected.why] : []),
    ...(signal?.measured ? [signal.why as Worked] : []),
    ...(signal ? [signal.rate] : []),
  ];
}
