import type { Site } from '../../site/model.ts';
import type { WifiRadio } from '../../site/wifi.ts';
import { sharedMhz, spectrumOf, wifiBands, type WifiBand } from '../../base/worked/wifi.ts';
import { linkRateWorked } from '../../base/worked/wifi-rate.ts';
import { figure, practice, step, worked, type Worked } from '../../base/worked/worked.ts';
import { planChannels, weightOf, ownDbm, type Choice, type Heard } from './channels.ts';
import { channelRules } from './countries.ts';
import { roomSignal } from './coverage.ts';
import { heardOn, leadersOf } from './now.ts';

/** Widths in MHz that are worth a look: in 2.4 GHz only one leaves room for others. */
const widthsOf: Readonly<Record<WifiBand, readonly number[]>> = {
  '2.4': [20],
  '5': [20, 40, 80],
  '6': [20, 40, 80, 160],
};

/** All radios of a band on one width, each on the channel that suits it best. */
export interface WidthOption {
  readonly width: number;
  readonly choices: readonly Choice[];
  /** What a device close by gets of its radio on average, in Mb/s of link rate on one stream, with all others busy. */
  readonly mbps: number;
  /** Own radios lie on each other, in sum. */
  readonly own: number;
  /** A room in which this width has no link any more. */
  readonly without: string | undefined;
}

/** The width that suits the radios of one band. */
export interface WidthAdvice {
  readonly band: WifiBand;
  /** Ids of the radios that it is for, in the order of the choices. */
  readonly radios: readonly string[];
  readonly options: readonly WidthOption[];
  readonly best: WidthOption;
  readonly why: Worked<number>;
}

/** A link at its best: from there on more signal gives no more rate. */
const closeBy = -40;

/**
 * For each band the width that suits its radios, by the channels that are then left: one on which own radios do not lie
 * on each other, in which every room still has a link, and of those the one with the most left. Whoever hears others
 * takes turns with them: of n that are as loud each has 1/n of the time. Radios of a wireless bridge follow their first.
 */
export function widthsFor(site: Site, heard: readonly Heard[] = heardOn(site)): WidthAdvice[] {
  const leaders = leadersOf(site);
  const free = site.wifi.radios.filter((radio) => !leaders.has(radio));
  return (Object.keys(wifiBands) as WifiBand[]).sort().flatMap((band): WidthAdvice[] => {
    const radios = free.filter((radio) => radio.band === band);
    if (radios.length === 0) return [];
    const options = widthsOf[band].map((width) => optionOf(site, radios, heard, width));
    const linked = options.filter(({ without }) => without === undefined);
    const candidates = linked.length > 0 ? linked : options.slice(0, 1);
    const apart = Math.min(...candidates.map(({ own }) => own)) + 0.01;
    const best = candidates
      .filter(({ own }) => own <= apart)
      .reduce((found, each) => (each.mbps > found.mbps ? each : found));
    return [{ band, radios: radios.map(({ id }) => id), options, best, why: whyOf(band, options, best) }];
  });
}

function optionOf(
  site: Site,
  radios: readonly WifiRadio[],
  heard: readonly Heard[],
  width: number,
): WidthOption {
  const { choices } = planChannels(
    radios.map((radio) => ({ ...radio, width })),
    heard,
    true,
    channelRules(site.about.country),
  );
  const rate = linkRateWorked(closeBy, width).value;
  const spectra = choices.map(({ channel }, index) => spectrumOf(radios[index]!.band, channel, width));
  const shares = radios.map(({ band }, index) => {
    const mine = spectra[index]!;
    const others = heard.filter(
      (each) => each.band === band && sharedMhz(mine, spectrumOf(band, each.channel, each.width)) > 0,
    );
    const own = spectra.filter((each, place) => place !== index && sharedMhz(mine, each) > 0);
    const turns =
      others.reduce((sum, { signalDbm }) => sum + weightOf(signalDbm), 0) + own.length * weightOf(ownDbm);
    return rate / (1 + turns);
  });
  return {
    width,
    choices,
    mbps: shares.reduce((sum, each) => sum + each, 0) / radios.length,
    own: choices.reduce((sum, { own }) => sum + own, 0),
    without: site.wifi.rooms.find(
      (room) =>
        room.radio !== undefined &&
        radios.includes(room.radio) &&
        roomSignal(room, width)?.rate.value === 0 &&
        roomSignal(room, 20)?.rate.value !== 0,
    )?.name,
  };
}

function whyOf(band: WifiBand, options: readonly WidthOption[], best: WidthOption): Worked<number> {
  return worked(
    `Channel width in ${wifiBands[band]}`,
    best.width,
    'MHz',
    [
      ...options.map(({ width, mbps, own, without, choices }) =>
        step(
          `${width} MHz, channels ${[...new Set(choices.map(({ channel }) => channel))].sort((a, b) => a - b).join(', ')}`,
          without !== undefined
            ? `no link in ${without || 'a room'}`
            : `${figure(mbps, 0)} Mb/s a radio${own > 0.01 ? `, own radios lie on each other by ${figure(own * 100, 0)} %` : ''}`,
        ),
      ),
      step('width', `${best.width} MHz`),
    ],
    `IEEE 802.11 tables 19-23, 21-25, 21-29 (from memory); ${practice}`,
    options.length === 1
      ? 'Of the 83 MHz that everybody shares, three networks of 20 MHz fit without overlap.'
      : 'Link rate of one stream close by, with everybody who is heard taking turns. Own radios on one channel take turns with each other: first they are kept apart, then the widest is taken that gives more.',
  );
}
