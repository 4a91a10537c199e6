import type { Site } from '../site/model.ts';
import type { WifiRadio } from '../site/wifi.ts';
import { channelsOf } from '../worked/wifi.ts';
import { busyShare, ownShare, planChannels, type ChannelPlan, type Heard } from './channels.ts';

/** What was heard on the site, as far as it can be computed with. */
export const heardOn = ({ wifi }: Site): readonly Heard[] =>
  wifi.heard.flatMap(({ ssid, band, channel, width, signal }) =>
    channel === null || signal === null ? [] : [{ ssid, band, channel, width, signalDbm: signal }],
  );

/** Channels for all radios of the site together; undefined where it has none. */
export const recommendedChannels = (site: Site): ChannelPlan | undefined =>
  site.wifi.radios.length === 0 ? undefined : planChannels(site.wifi.radios, heardOn(site));

/** How busy the channels are as they are set; undefined where one is left to its box. */
export function busyAsSet(site: Site): number | undefined {
  const set = site.wifi.radios.flatMap((radio) =>
    radio.channel === null ? [] : [{ ...radio, channel: radio.channel }],
  );
  if (set.length < site.wifi.radios.length) return undefined;
  const heard = heardOn(site);
  return set.reduce(
    (sum, radio, index) =>
      sum +
      busyShare(radio.band, radio.channel, radio.width, heard) +
      ownShare(
        radio,
        set.filter((_, place) => place !== index),
      ),
    0,
  );
}

/** Whether the settings of a radio are a channel of its band. */
export const fits = ({ band, channel }: Pick<WifiRadio, 'band' | 'channel'>): boolean =>
  channel === null || channelsOf[band].includes(channel);
