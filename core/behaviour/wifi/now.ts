import type { Site } from '../../site/model.ts';
import type { WifiRadio } from '../../site/wifi.ts';
import { channelsOf, sharedMhz, spectrumOf } from '../../base/worked/wifi.ts';
import { figure, practice, step, worked, type Worked } from '../../base/worked/worked.ts';
import {
  busyShare,
  disturbance,
  faint,
  loud,
  ownDbm,
  ownShare,
  planChannels,
  weightOf,
  type ChannelPlan,
  type Choice,
  type Heard,
} from './channels.ts';
import { channelRules } from './countries.ts';

/** What was heard on the site, as far as it can be computed with. */
export const heardOn = ({ wifi }: Site): readonly Heard[] =>
  wifi.heard.flatMap(({ ssid, band, channel, width, signal }) =>
    channel === null || signal === null ? [] : [{ ssid, band, channel, width, signalDbm: signal }],
  );

/** Radios that follow another one: those of a wireless bridge work on the channel of the first in their band. */
export function leadersOf({ wifi, second }: Site): ReadonlyMap<WifiRadio, WifiRadio> {
  const bridges = new Set(second.flatMap(({ way, box }) => (way === 'bridge' && box ? [box] : [])));
  const bound = ({ box }: WifiRadio): boolean => box !== undefined && bridges.has(box);
  return new Map(
    wifi.radios.flatMap((radio) => {
      const leader = bound(radio)
        ? wifi.radios.find((each) => each.band === radio.band && !bound(each))
        : undefined;
      return leader ? [[radio, leader] as const] : [];
    }),
  );
}

/** Channels for all radios of the site together, within the rules of its country; undefined where it has none. */
export function recommendedChannels(
  site: Site,
  heard: readonly Heard[] = heardOn(site),
): ChannelPlan | undefined {
  const { radios } = site.wifi;
  if (radios.length === 0) return undefined;
  const leaders = leadersOf(site);
  const free = radios.filter((radio) => !leaders.has(radio));
  const plan = planChannels(free, heard, true, channelRules(site.about.country));
  const choices = radios.map((radio): Choice => {
    const leader = leaders.get(radio);
    const { channel, ...rest } = plan.choices.find((each) => each.radio === (leader ?? radio).id)!;
    return leader
      ? { radio: radio.id, channel, foreign: busyShare(radio.band, channel, radio.width, heard), own: 0 }
      : { channel, ...rest };
  });
  return { ...plan, choices };
}

/** How busy the channels are as they are set, without those that follow; undefined where one is left to its box. */
export function busyAsSet(site: Site): number | undefined {
  const leaders = leadersOf(site);
  const free = site.wifi.radios.filter((radio) => !leaders.has(radio));
  const set = free.flatMap((radio) => (radio.channel === null ? [] : [{ ...radio, channel: radio.channel }]));
  if (set.length < free.length) return undefined;
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

/** Lines of a sum that are still read. */
const mostShown = 8;

/** What takes a radio's channel, others and own: how much of its width, how strong, and so how much of the time. */
export function busyWorked(site: Site, radio: WifiRadio, channel: number): Worked<number> {
  const { band, width } = radio;
  const mine = spectrumOf(band, channel, width);
  const own = site.wifi.radios.flatMap((each) =>
    each === radio || each.band !== band || each.channel === null
      ? []
      : [{ ...each, channel: each.channel, ssid: each.name, signalDbm: ownDbm }],
  );
  const taken = [...heardOn(site).filter((each) => each.band === band), ...own]
    .map((other) => {
      const spectrum = spectrumOf(band, other.channel, other.width);
      const share = disturbance(mine, spectrum, other.signalDbm);
      return { ...other, shared: sharedMhz(mine, spectrum), share };
    })
    .filter(({ shared }) => shared > 0)
    .sort((a, b) => b.share - a.share);
  const sum = taken.reduce((all, { share }) => all + share, 0);
  const rest = taken.slice(mostShown);
  const percent = (share: number): string => `${figure(share * 100, 0)} %`;
  return worked(
    `Channel ${channel} is taken by others`,
    sum * 100,
    '%',
    [
      step(`channel ${channel}, ${width} MHz`, `${mine.from} to ${mine.to} MHz`),
      ...taken
        .slice(0, mostShown)
        .map((other) =>
          step(
            `${other.ssid || 'without a name'} on ${other.channel}, ${other.signalDbm} dBm`,
            `${other.shared} of ${width} MHz × ${figure(weightOf(other.signalDbm))} ≈ ${percent(other.share)}`,
          ),
        ),
      ...(rest.length === 0
        ? []
        : [step(`and ${rest.length} more`, `≈ ${percent(rest.reduce((all, { share }) => all + share, 0))}`)]),
      step('together', percent(sum)),
    ],
    `IEEE 802.11 annex E (from memory); ${practice}`,
    `Overlap in MHz, times how loud the other one is: nothing at ${faint} dBm, all of the time at ${loud} dBm and above. Own radios that nobody measured count as ${ownDbm} dBm.`,
  );
}
