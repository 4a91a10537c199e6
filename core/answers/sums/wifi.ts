import { bad, ok, type Result } from '../../base/result.ts';
import {
  channelsOf,
  indoorLossWorked,
  overlapWorked,
  pmkWorked,
  radarWaitWorked,
  wifiBands,
  type WifiBand,
} from '../../base/worked/wifi.ts';
import { airRateWorked, linkRateWorked, readingsWorked } from '../../base/worked/wifi-rate.ts';
import { listOf, needed, numberBetween, optional, sum, wholeBetween, type Sum } from './sum.ts';

function band(text: string): Result<WifiBand> {
  const found = (Object.keys(wifiBands) as WifiBand[]).find(
    (each) => each === text.trim().replace(/ ?GHz$/i, ''),
  );
  return found ? ok(found) : bad('band', `"${text}" is not a band; write 2.4, 5 or 6.`);
}

function width(text: string): Result<number> {
  const mhz = Number(text.trim());
  return [20, 40, 80, 160, 320].includes(mhz)
    ? ok(mhz)
    : bad('width', `"${text}" is not a channel width; they are 20, 40, 80, 160 and 320 MHz.`);
}

function linkWidth(text: string): Result<number> {
  const read = width(text);
  return read.ok && read.value > 160
    ? bad('width', 'Rates are known here for 20, 40, 80 and 160 MHz.')
    : read;
}

const channel = wholeBetween(1, 233);
const anyText = (text: string): Result<string> => ok(text);

export const wifiSums: readonly Sum[] = [
  sum(
    'channel-overlap',
    'What two Wi-Fi channels share',
    {
      band: needed('band', 'GHz', '2.4', band),
      a: needed('one channel', '', '8', channel),
      b: needed('the other channel', '', '6', channel),
      widthA: optional('width of the one', 'MHz', '20', width),
      widthB: optional('width of the other', 'MHz', '20', width),
    },
    (given) => {
      const stray = [given.a, given.b].find((each) => !channelsOf[given.band].includes(each));
      return stray === undefined
        ? overlapWorked(
            given.band,
            { channel: given.a, width: given.widthA ?? 20 },
            { channel: given.b, width: given.widthB ?? 20 },
          )
        : bad('channel', `${stray} is no channel of 20 MHz in ${wifiBands[given.band]}.`);
    },
  ),
  sum(
    'radar-wait',
    'How long a radio listens before it may send in 5 GHz',
    {
      channel: needed('channel', '', '116', channel),
      width: optional('width', 'MHz', '80', width),
    },
    (given) =>
      channelsOf['5'].includes(given.channel)
        ? radarWaitWorked(given.channel, given.width ?? 20)
        : bad('channel', `${given.channel} is no channel of 20 MHz in 5 GHz.`),
  ),
  sum(
    'wifi-key',
    'Key of a Wi-Fi network from its name and passphrase',
    {
      ssid: needed('network name', 'text', 'IEEE', anyText),
      passphrase: needed('passphrase, or 64 hexadecimal digits', 'text', 'password', anyText),
    },
    ({ ssid, passphrase }) => pmkWorked(ssid, passphrase),
  ),
  sum(
    'indoor-loss',
    'Loss of a signal in a building, as a range',
    {
      mhz: needed('frequency', 'MHz', '5180', numberBetween(300, 10_000)),
      metres: needed('distance', 'm', '15', numberBetween(1, 1000)),
      floors: optional('floors between', '', '1', wholeBetween(0, 10)),
    },
    ({ mhz, metres, floors }) => indoorLossWorked(mhz, metres, floors ?? 0),
  ),
  sum(
    'link-rate',
    'Link rate that a Wi-Fi signal allows',
    {
      dbm: needed('signal', 'dBm', '-64', numberBetween(-120, 0)),
      width: optional('channel width', 'MHz', '20', linkWidth),
      streams: optional('spatial streams', '', '1', wholeBetween(1, 8)),
    },
    ({ dbm, width: mhz, streams }) => linkRateWorked(dbm, mhz ?? 20, streams ?? 1),
  ),
  sum(
    'air-rate',
    'What is left for users over one or several wireless hops',
    {
      dbm: needed('signal of the weakest hop', 'dBm', '-64', numberBetween(-120, 0)),
      width: optional('channel width', 'MHz', '20', linkWidth),
      streams: optional('spatial streams', '', '1', wholeBetween(1, 8)),
      hops: optional('hops on one channel', '', '2', wholeBetween(1, 5)),
    },
    ({ dbm, width: mhz, streams, hops }) =>
      airRateWorked(dbm, mhz ?? 20, { streams: streams ?? 1, hops: hops ?? 1 }),
  ),
  sum(
    'readings',
    'Median of signal readings, and how far they scatter',
    { dbm: needed('readings', 'dBm', '-61,-64,-70', listOf(numberBetween(-120, 0), 100)) },
    ({ dbm }) => readingsWorked(dbm),
  ),
];
