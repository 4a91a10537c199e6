import type { Site } from '../../site/model.ts';
import { replacing, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import { busyAsSet, fits, recommendedChannels } from '../../behaviour/wifi/now.ts';
import { widthsFor } from '../../behaviour/wifi/width.ts';
import { allowedBy, channelRules, mostDbm, rangesText } from '../../behaviour/wifi/countries.ts';
import { blockOf, radarWaitWorked, spectrumOf } from '../../base/worked/wifi.ts';
import { figure, practice, step, worked } from '../../base/worked/worked.ts';
import { lastDay } from './forward-dates.ts';
import { note, said } from './note.ts';

/** Wi-Fi: names, protection, and the channels of all radios together. */
export const wifi: Check = {
  name: 'wifi',
  run: (site, today) => [
    ...networks(site),
    ...ends(site, today),
    ...twoNames(site),
    ...radios(site),
    ...channels(site),
    ...density(site),
  ],
};

function networks({ wifi: { networks: all, heard } }: Site): Finding[] {
  return all.flatMap((each, index): Finding[] => {
    const { at, ssid, network, security } = each;
    const name = ssid || 'The unnamed Wi-Fi network';
    const found: Finding[] = [];
    if (!network)
      found.push(
        note(
          'wifi-network',
          'blocker',
          `${at}/network`,
          `${name} leads to no network: devices join it and get no address.`,
          said('Network', 'none'),
        ),
      );
    if (security === 'older')
      found.push(
        note(
          'wifi-security',
          'blocker',
          `${at}/security`,
          `${name} uses WEP, WPA or TKIP: its key is found in minutes, and IEEE 802.11 has withdrawn them.`,
          said('Security', 'WEP, WPA or TKIP'),
        ),
      );
    if (security === 'open')
      found.push(
        note(
          'wifi-security',
          network?.purpose === 'guests' ? 'advice' : 'warning',
          `${at}/security`,
          network?.purpose === 'guests'
            ? `${name} is open: anyone nearby reads what guests send without encryption. Print a passphrase on a guest card.`
            : `${name} is open and leads to ${network?.name ?? 'a network'}: anyone within range can join it.`,
          said('Security', 'open'),
        ),
      );
    if (each.wps)
      found.push(
        note(
          'wifi-wps',
          'warning',
          `${at}/wps`,
          `WPS is on for ${name}: its PIN of eight digits is tried through in hours. Turn it off.`,
          worked(
            'PINs to try at most',
            11_000,
            '',
            [
              step('first half, four digits', '10 000'),
              step('second half, three digits and a check digit', '1 000'),
              step('to try', '11 000'),
            ],
            'arithmetic',
          ),
        ),
      );
    if (each.hidden)
      found.push(
        note(
          'wifi-hidden',
          'advice',
          `${at}/hidden`,
          `${name} is hidden. That protects nothing: clients probe for it everywhere.`,
          said('Hidden', 'yes'),
        ),
      );
    if (network?.purpose === 'guests' && !each.isolation)
      found.push(
        note(
          'wifi-isolation',
          'warning',
          `${at}/isolation`,
          `On ${name} the devices of guests reach each other. Turn client isolation on.`,
          said('Client isolation', 'off'),
          replacing('Turn client isolation on', `${at}/isolation`, true),
        ),
      );
    const twin = all.find(
      (other, place) => place < index && other.ssid === ssid && ssid !== '' && other.network !== network,
    );
    if (twin)
      found.push(
        note(
          'wifi-name',
          'blocker',
          `${at}/ssid`,
          `${ssid} is the name of two Wi-Fi networks that lead to ${twin.network?.name ?? 'no network'} and ${network?.name ?? 'no network'}: devices join either.`,
          said('Name', ssid),
        ),
      );
    const neighbour = heard.find((other) => other.ssid !== '' && other.ssid === ssid);
    if (neighbour)
      found.push(
        note(
          'wifi-name',
          'warning',
          `${at}/ssid`,
          `A network called ${ssid} was heard on the site that is not an own one: devices try to join it and fail. Choose another name, or take it out of the scan.`,
          said('Heard', `${neighbour.signal ?? '?'} dBm`),
        ),
      );
    return found;
  });
}

/** A Wi-Fi network that was for some time only. */
const ends = ({ wifi: { networks: all } }: Site, today: string): Finding[] =>
  all.flatMap(({ at, ssid, until }): Finding[] => {
    const day = lastDay(until.trim(), today);
    const name = ssid || 'The unnamed Wi-Fi network';
    const field = `${at}/until` as const;
    if (!day) return [];
    return day.kind === 'over'
      ? [
          note(
            'wifi-ended',
            'warning',
            field,
            `${name} was to end on ${until.trim()}: turn it off, or give it a later day.`,
            day.why,
          ),
        ]
      : [note('wifi-ends-soon', 'advice', field, `${name} ends in ${day.left} days.`, day.why)];
  });

/** Two names that lead to one network: who joins one does not change to the other by itself. */
function twoNames({ wifi: { networks: all, radios: own } }: Site): Finding[] {
  return all.flatMap((each, index): Finding[] => {
    const first = all.slice(0, index).find((other) => other.network && other.network === each.network);
    if (!first || first.ssid === each.ssid || each.ssid === '') return [];
    const bandsOf = (network: (typeof all)[number]): string[] => [
      ...new Set(own.filter(({ networks }) => networks.includes(network)).map(({ band }) => `${band} GHz`)),
    ];
    const [here, there] = [bandsOf(each), bandsOf(first)];
    return [
      note(
        'wifi-two-names',
        'advice',
        `${each.at}/ssid`,
        `${first.ssid} and ${each.ssid} lead both to ${each.network!.name}. One name on all bands lets devices take the better one by themselves; a second name is worth it only for devices that must stay on one band, such as those that are set up in 2.4 GHz.`,
        worked(
          'Names of the network',
          2,
          '',
          [
            step(first.ssid, there.join(', ') || 'no radio'),
            step(each.ssid, here.join(', ') || 'no radio'),
            step('names', 2),
          ],
          practice,
        ),
      ),
    ];
  });
}

function radios({ about, wifi: { radios: all } }: Site): Finding[] {
  const rules = channelRules(about.country);
  return all.flatMap((radio): Finding[] => {
    const { at, name, band, channel, width } = radio;
    const found: Finding[] = [];
    if (!fits(radio))
      return [
        note(
          'wifi-channel',
          'blocker',
          `${at}/channel`,
          `${channel} is no channel of ${band} GHz.`,
          said('Channel', String(channel)),
        ),
      ];
    if (channel !== null && !blockOf(band, channel, width)) {
      const { from, to } = spectrumOf(band, channel, width);
      const most = to - from;
      found.push(
        note(
          'wifi-no-block',
          'warning',
          `${at}/width`,
          `${name}: no channel of ${width} MHz holds channel ${channel} of ${band} GHz, so the box takes another channel or width than is planned. The widest there is ${most} MHz.`,
          worked(
            'Widest channel there',
            most,
            'MHz',
            [
              step('primary channel', channel),
              step('set', `${width} MHz`),
              step('widest', `${from} to ${to} MHz`),
            ],
            'IEEE 802.11 annex E (from memory)',
          ),
          replacing(`Use ${most} MHz`, `${at}/width`, String(most)),
        ),
      );
    }
    if (channel !== null && rules && !allowedBy(rules, band, spectrumOf(band, channel, width))) {
      const { from, to } = spectrumOf(band, channel, width);
      found.push(
        note(
          'wifi-country',
          'warning',
          `${at}/channel`,
          `${name} on channel ${channel} uses ${from} to ${to} MHz, which is not free for it in ${about.country.trim().toUpperCase()} by the table here: ask your regulator, or take another channel.`,
          worked(
            'Allowed',
            false,
            '',
            [
              step(`channel ${channel}, ${width} MHz`, `${from} to ${to} MHz`),
              step('allowed', rangesText(rules, band)),
              step('inside', 'no'),
            ],
            rules.source,
          ),
        ),
      );
    }
    const most = channel === null ? undefined : mostDbm(rules, band, spectrumOf(band, channel, width));
    if (radio.power !== null && most !== undefined && radio.power > most)
      found.push(
        note(
          'wifi-power',
          'warning',
          `${at}/power`,
          `${name} is set to ${radio.power} dBm, and ${most} dBm EIRP is the most there in ${about.country.trim().toUpperCase()} by the table here, antennas included: ask your regulator, or set it lower.`,
          worked(
            'Too much power',
            radio.power - most,
            'dB',
            [
              step('set', `${radio.power} dBm`),
              step('most', `- ${most} dBm`),
              step('too much', `${figure(radio.power - most, 1)} dB`),
            ],
            rules!.source,
          ),
          replacing(`Use ${most} dBm`, `${at}/power`, most),
        ),
      );
    if (band === '2.4' && width > 20)
      found.push(
        note(
          'wifi-width',
          'warning',
          `${at}/width`,
          `${name} takes ${width} MHz of the 83 MHz that everybody shares in 2.4 GHz: only two such networks fit, and neighbours slow it down. Use 20 MHz.`,
          said('Channel width', `${width} MHz`),
          replacing('Use 20 MHz', `${at}/width`, '20'),
        ),
      );
    if (band === '5' && channel !== null) {
      const wait = radarWaitWorked(channel, width);
      if (wait.value === 600)
        found.push(
          note(
            'wifi-radar',
            'warning',
            `${at}/channel`,
            `${name} on channel ${channel} touches 5600 to 5650 MHz: it is silent for ten minutes after each start, and for half an hour after it hears a weather radar.`,
            wait,
          ),
        );
    }
    return found;
  });
}

/** The channels as they are set beside the best for all radios together. */
function channels(site: Site): Finding[] {
  const best = recommendedChannels(site);
  const now = busyAsSet(site);
  if (!best || now === undefined || site.wifi.radios.some((radio) => !fits(radio))) return [];
  const changes = best.choices.flatMap(({ radio, channel }, index) =>
    site.wifi.radios[index]!.channel === channel ? [] : [{ radio, channel, index }],
  );
  if (changes.length === 0 || now - best.busy < 0.25) return [];
  return [
    note(
      'wifi-busy',
      'advice',
      `${site.wifi.radios[changes[0]!.index]!.at}/channel`,
      `The channels as set are taken ${figure(Math.round(now * 100))} % by others and each other in sum; ${figure(Math.round(best.busy * 100))} % is possible: ${best.choices.map(({ channel }, index) => `${site.wifi.radios[index]!.name} on ${channel}`).join(', ')}.`,
      worked(
        'Share of the time that others take, all radios together',
        best.busy,
        '',
        [
          ...best.choices.map(({ channel, foreign, own }, index) =>
            step(
              `${site.wifi.radios[index]!.name} on ${channel}`,
              `${Math.round(foreign * 100)} % foreign, ${Math.round(own * 100)} % own`,
            ),
          ),
          step('as set', `${Math.round(now * 100)} %`),
          step('best', `${Math.round(best.busy * 100)} %`),
        ],
        practice,
      ),
      {
        says: 'Take these channels',
        patch: changes.map(({ index, channel }) => ({
          op: 'replace' as const,
          path: `/wifi/radios/${index}/channel`,
          value: channel,
        })),
      },
    ),
  ];
}

/** Own radios that lie on each other at the width that is set, and would not on a narrower one. */
function density(site: Site): Finding[] {
  const { radios: all } = site.wifi;
  const wide = all.filter(({ band, width }) => band !== '2.4' && width > 20);
  if (wide.length < 2 || all.some((radio) => !fits(radio))) return [];
  const crowded = recommendedChannels(site)?.choices.filter(({ own }) => own > 0.01) ?? [];
  if (!crowded.some(({ radio }) => wide.some(({ id }) => id === radio))) return [];
  return widthsFor(site).flatMap(({ band, radios, best, why }): Finding[] => {
    const [first, ...rest] = wide.filter(
      (radio) => radio.band === band && radios.includes(radio.id) && radio.width > best.width,
    );
    const lies = crowded.some(({ radio }) => radios.includes(radio));
    if (!first || rest.length === 0 || !lies) return [];
    return [
      note(
        'wifi-dense',
        'advice',
        `${first.at}/width`,
        `${rest.length + 1} own radios in ${band} GHz do not fit beside each other at ${first.width} MHz: those on one channel take turns. At ${best.width} MHz each has more of its own.`,
        why,
        {
          says: `Use ${best.width} MHz`,
          patch: best.choices.flatMap(({ radio: id, channel }) => {
            const { at } = all.find((radio) => radio.id === id)!;
            return [
              { op: 'replace' as const, path: `${at}/width`, value: String(best.width) },
              { op: 'replace' as const, path: `${at}/channel`, value: channel },
            ];
          }),
        },
      ),
    ];
  });
}
