import { allowedBy, type ChannelRules } from './countries.ts';
import {
  blockOf,
  channelsOf,
  sharedMhz,
  spectrumOf,
  type Spectrum,
  type WifiBand,
} from '../../base/worked/wifi.ts';

/** A network as it is heard. */
export interface Heard {
  readonly ssid: string;
  readonly band: WifiBand;
  readonly channel: number;
  readonly width: number;
  readonly signalDbm: number;
}

export interface Radio {
  readonly id: string;
  readonly band: WifiBand;
  readonly width: number;
  /** The channel that it has now: of two that are as good, it is kept. */
  readonly channel?: number | null;
}

export interface Choice {
  readonly radio: string;
  readonly channel: number;
  /** Share of the time that others take of it, 0 to 1 and more, foreign and own. */
  readonly foreign: number;
  readonly own: number;
}

export interface ChannelPlan {
  readonly choices: readonly Choice[];
  /** Sum over all radios; what the search makes small. */
  readonly busy: number;
  /** Every other assignment is as busy or busier; false where the search was cut short. */
  readonly exact: boolean;
}

/** A radio is not disturbed below, and gives way fully above, these levels (common practice, no source). */
export const faint = -92;
export const loud = -62;
/** Own radios in one building hear each other about like that, where nobody measured (common practice, no source). */
export const ownDbm = -70;
/** Of channels that are as busy, those without radar are better, and the present one: far below what is ever measured. */
const radarCost = 1e-6;
const changeCost = 1e-7;
/** Placings looked at before the best so far is taken. */
const mostSteps = 60_000;

/** How much of the time a network of this strength takes, if it is always busy: 0 to 1. */
export const weightOf = (signalDbm: number): number =>
  Math.min(1, Math.max(0, (signalDbm - faint) / (loud - faint)));

/** Share of a radio's spectrum that another one covers, by how strong it is. */
export const disturbance = (mine: Spectrum, other: Spectrum, signalDbm: number): number =>
  (sharedMhz(mine, other) / (mine.to - mine.from)) * weightOf(signalDbm);

/**
 * Channels that may be taken: where 2.4 GHz is shared, 1, 6 and 11 keep 25 MHz between them; in 5 GHz those without
 * radar come first. A country may allow fewer: ask the regulator.
 */
export function offeredChannels(
  band: WifiBand,
  width: number,
  radar = true,
  rules?: ChannelRules,
): readonly number[] {
  const all =
    band === '2.4'
      ? [1, 6, 11]
      : band === '5'
        ? channelsOf['5'].filter((each) => radar || each < 52 || each >= 149)
        : channelsOf['6'];
  // Of the channels that are one block of the width, the first stands for it.
  const seen = new Set<number>();
  return all.filter((channel) => {
    const block = blockOf(band, channel, width);
    if (!block || seen.has(block.from)) return false;
    seen.add(block.from);
    // Above 5850 MHz few countries let Wi-Fi send: offered only where the rules say so.
    return band !== '5' || block.to <= 5850 || rules?.bands['5'].some(({ to }) => to >= block.to) === true;
  });
}

/** Of these what the rules of the country allow; all of them where that leaves none. */
function offeredIn(
  { band, width }: Radio,
  radar: boolean,
  rules: ChannelRules | undefined,
): readonly number[] {
  const all = offeredChannels(band, width, radar, rules);
  const allowed = all.filter((channel) => allowedBy(rules, band, spectrumOf(band, channel, width)));
  return allowed.length > 0 ? allowed : all;
}

/** How busy a channel is with what was heard. */
export const busyShare = (
  band: WifiBand,
  channel: number,
  width: number,
  heard: readonly Heard[],
): number => {
  const mine = spectrumOf(band, channel, width);
  return heard.reduce(
    (sum, other) =>
      other.band === band
        ? sum + disturbance(mine, spectrumOf(band, other.channel, other.width), other.signalDbm)
        : sum,
    0,
  );
};

/** How much of a radio's time own ones beside it take. */
export function ownShare(
  radio: { readonly band: WifiBand; readonly channel: number; readonly width: number },
  others: readonly { readonly band: WifiBand; readonly channel: number; readonly width: number }[],
): number {
  const mine = spectrumOf(radio.band, radio.channel, radio.width);
  return others.reduce(
    (sum, other) =>
      other.band === radio.band
        ? sum + disturbance(mine, spectrumOf(other.band, other.channel, other.width), ownDbm)
        : sum,
    0,
  );
}

/**
 * Channels for all own radios together, least busy in sum: what is heard of others, and the own ones among themselves
 * (each pair counts for both), within the rules of a country where they are given. Exact: every placing that could be better is tried, by branch and bound.
 */
export function planChannels(
  radios: readonly Radio[],
  heard: readonly Heard[],
  radar = true,
  rules?: ChannelRules,
): ChannelPlan {
  const bands = [...new Set(radios.map(({ band }) => band))];
  const parts = bands.map((band) =>
    planBand(
      radios.filter((each) => each.band === band),
      heard,
      radar,
      rules,
    ),
  );
  const byRadio = new Map(
    parts.flatMap(({ choices }) => choices.map((choice) => [choice.radio, choice] as const)),
  );
  return {
    choices: radios.map(({ id }) => byRadio.get(id)!),
    busy: parts.reduce((sum, { busy }) => sum + busy, 0),
    exact: parts.every(({ exact }) => exact),
  };
}

function planBand(
  radios: readonly Radio[],
  heard: readonly Heard[],
  radar: boolean,
  rules: ChannelRules | undefined,
): ChannelPlan {
  const costOf = (radio: Radio, spectrum: Spectrum, channel: number): number => {
    const radar5 = radio.band === '5' && spectrum.from < 5725 && spectrum.to > 5250;
    const weather = radar5 && spectrum.from < 5650 && spectrum.to > 5600;
    return (weather ? 3 : radar5 ? 1 : 0) * radarCost + (radio.channel === channel ? 0 : changeCost);
  };
  const options = radios.map((radio) =>
    offeredIn(radio, radar, rules)
      .map((channel) => {
        const spectrum = spectrumOf(radio.band, channel, radio.width);
        const foreign = busyShare(radio.band, channel, radio.width, heard);
        return { channel, spectrum, foreign, cost: foreign + costOf(radio, spectrum, channel) };
      })
      .sort((a, b) => a.cost - b.cost || a.channel - b.channel),
  );
  /** Least that the radios from here on can add: their quietest channels. */
  const rest = [...radios.keys(), radios.length].map((index) =>
    options.slice(index).reduce((sum, [first]) => sum + (first?.cost ?? 0), 0),
  );
  const placed: (typeof options)[number][number][] = [];
  let best: { busy: number; choices: readonly (typeof options)[number][number][] } | undefined;
  let steps = 0;
  // What only decides between placings that are as busy is not searched for: the first of them is the one.
  const ties = radios.length * (3 * radarCost + changeCost);
  const pair = (a: Spectrum, b: Spectrum): number => disturbance(a, b, ownDbm) + disturbance(b, a, ownDbm);
  const place = (index: number, busy: number): void => {
    if (best && busy + rest[index]! >= best.busy - ties) return;
    if (index === radios.length) {
      best = { busy, choices: [...placed] };
      return;
    }
    const added = options[index]!.map((option) => ({
      option,
      cost: option.cost + placed.reduce((sum, other) => sum + pair(option.spectrum, other.spectrum), 0),
    })).sort((a, b) => a.cost - b.cost);
    for (const { option, cost } of added) {
      if ((steps += 1) > mostSteps && best) return;
      placed.push(option);
      place(index + 1, busy + cost);
      placed.pop();
    }
  };
  place(0, 0);
  const choices = best?.choices ?? [];
  const found = radios.map(({ id }, index): Choice => {
    const mine = choices[index]!;
    const own = choices.reduce(
      (sum, other, place) =>
        place === index ? sum : sum + disturbance(mine.spectrum, other.spectrum, ownDbm),
      0,
    );
    return { radio: id, channel: mine.channel, foreign: mine.foreign, own };
  });
  return {
    choices: found,
    busy: found.reduce((sum, { foreign, own }) => sum + foreign + own, 0),
    exact: steps <= mostSteps,
  };
}
