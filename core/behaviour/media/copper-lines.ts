import { lineWaits } from '../domain-types/nature.ts';
import type { At } from '../../plan/at.ts';
import type { Finding } from '../domain-types/finding.ts';
import type { Line } from '../../site/model.ts';
import { figure, practice, step, worked } from '../../base/worked/worked.ts';
import { cablePower, cableSnr, cableUpstream, dslLength, dslMargin, type Judged } from './copper.ts';
import type { Medium } from './type.ts';
import { numberReading } from '../domain-types/reading.ts';

/** A judged reading as a finding; nothing where it is good. */
function judged(rule: string, line: Line, at: At, { verdict, worked }: Judged): Finding[] {
  if (verdict === 'good') return [];
  return [
    {
      rule,
      severity: 'warning',
      at,
      says: `${worked.name} on ${line.name}: ${figure(worked.value)} ${worked.unit}. ${worked.means}`,
      why: worked,
      source: worked.source,
    },
  ];
}

export const dsl: Medium<'dsl'> = {
  name: 'dsl',
  light: 'The DSL light is steady and the margin is 6 dB or more. Sync is not a session.',
  start: {
    seconds: [60, 180],
    searching: 'DSL light blinking',
    ready: 'DSL light steady',
    fault: {
      name: 'no-link',
      title: 'No sync on the pair',
      light: 'DSL light keeps blinking',
      says: 'No sync: margin too low, a missing filter, or a pair that is not connected. Test socket, short cord, everything else unplugged.',
    },
    unsteady: {
      name: 'margin-low',
      title: 'The margin is too low',
      light: 'DSL light steady, then blinking again',
      says: 'It finds sync and loses it: the margin is below 6 dB. Filter on every telephone, test socket, short cord; then ask the provider for a slower profile.',
    },
  },
  usualFailures: [4, 8],
  rateLimit: ({ syncDownMbps, syncUpMbps }, _line, at) => ({
    by: 'the modem is in sync at',
    downMbps: syncDownMbps,
    upMbps: syncUpMbps,
    at: `${at}/syncDownMbps`,
    means:
      'The pair does not give more: ask the provider for the rate of this address, or for a lower contract.',
    source: 'ITU-T G.997.1 (actual data rate)',
  }),
  unplugCautions: ['A telephone pair can carry ringing voltage.'],
  offered: ['DSL', 'Sync and margin are measured, mostly with a session.'],
  inFront: 'bridged',
  inText: [/\b(?:[vas]+dsl2?|dsl|g\.fast|broadband over copper|copper (?:line|pair))\b/gi],
  check: (settings, line, at) => [
    ...(settings.marginDb === null
      ? []
      : judged('dsl-margin', line, `${at}/marginDb`, dslMargin(settings.marginDb))),
    ...(settings.filters
      ? []
      : [
          {
            rule: 'dsl-filters',
            severity: 'advice' as const,
            at: `${at}/filters` as const,
            says: `Telephones without a filter disturb ${line.name} whenever one is lifted. Look at every outlet, alarm and franking machine too.`,
            why: worked('Filters', 'not seen', '', [step('filters on every outlet', 'not seen')], practice),
            source: practice,
          },
        ]),
    ...(settings.errorsPerHour !== null && settings.errorsPerHour > 100
      ? [
          {
            rule: 'dsl-errors',
            severity: 'warning' as const,
            at: `${at}/errorsPerHour` as const,
            says: `${settings.errorsPerHour} errors an hour on ${line.name}: calls crackle and pages stall. Try the test socket with everything else unplugged.`,
            why: worked(
              'Errors an hour',
              settings.errorsPerHour,
              '',
              [step('usual up to', 100), step('counted', settings.errorsPerHour)],
              practice,
            ),
            source: practice,
          },
        ]
      : []),
  ],
  workings: (settings, _line, key) => {
    if (key === 'marginDb' && settings.marginDb !== null) return [dslMargin(settings.marginDb).worked];
    if (key === 'attenuationDb' && settings.attenuationDb !== null)
      return [dslLength(settings.attenuationDb)];
    return [];
  },
  steps: (_settings, line) => [
    {
      id: `sync:${line.id}`,
      nature: lineWaits(line, 0.7),
      phase: 'uplink',
      title: `Bring ${line.name} into sync`,
      needs: ['reconnect'],
      why: 'Without sync nothing above it can work, and its figures tell a bad pair from a bad setting.',
      lowSeconds: 60,
      highSeconds: 180,
      proof: 'The light is steady, and the margin is 6 dB or more.',
      ifNot:
        'Test socket, short cord, everything else unplugged. Still no sync: the pair or the activation, so call the provider.',
      cautions: [
        'Surge protection comes first on the pair, then the filter, then the modem. Not in a thunderstorm.',
      ],
      fields: [
        numberReading('down', 'Sync rate, downstream', 'Mb/s', { at: `${line.at}/media/dsl/syncDownMbps` }),
        numberReading('up', 'Sync rate, upstream', 'Mb/s', { at: `${line.at}/media/dsl/syncUpMbps` }),
        numberReading('margin', 'Noise margin', 'dB', { at: `${line.at}/media/dsl/marginDb` }),
        numberReading('attenuation', 'Line attenuation', 'dB', {
          at: `${line.at}/media/dsl/attenuationDb`,
          optional: true,
        }),
      ],
    },
  ],
};

export const cable: Medium<'cable'> = {
  name: 'cable',
  light: 'The online light is steady and the levels are in their ranges.',
  start: {
    seconds: [120, 300],
    searching: 'online light blinking',
    ready: 'online light steady',
    fault: {
      name: 'no-link',
      title: 'The modem finds no channel',
      light: 'online light keeps blinking',
      says: 'The modem searches on: connectors, splitters, or no signal on the drop.',
    },
  },
  usualFailures: [4, 6],
  offered: ['Cable', 'The line gives the address; it may be tied to one MAC address.'],
  inFront: 'bridged',
  inText: [
    /\b(?:docsis(?: ?\d(?:\.\d)?)?|coax(?:ial)?|cable (?:internet|modem|line|broadband|connection|tv))\b/gi,
    /(?<!\b(?:network|patch|ethernet|power|one|by|via|a|the|of|antenna|supply|usb|this|that|same|cat ?\d\w?) )\bcable\b(?! (?:between|label|length|run|from|to|tie|duct|is|goes)\b)/gi,
  ],
  check: (settings, line, at) => [
    ...(settings.powerDbmv === null
      ? []
      : judged('cable-power', line, `${at}/powerDbmv`, cablePower(settings.powerDbmv))),
    ...(settings.snrDb === null ? [] : judged('cable-snr', line, `${at}/snrDb`, cableSnr(settings.snrDb))),
    ...(settings.upstreamDbmv === null
      ? []
      : judged('cable-upstream', line, `${at}/upstreamDbmv`, cableUpstream(settings.upstreamDbmv))),
  ],
  workings: (settings, _line, key) => {
    if (key === 'powerDbmv' && settings.powerDbmv !== null) return [cablePower(settings.powerDbmv).worked];
    if (key === 'snrDb' && settings.snrDb !== null) return [cableSnr(settings.snrDb).worked];
    if (key === 'upstreamDbmv' && settings.upstreamDbmv !== null)
      return [cableUpstream(settings.upstreamDbmv).worked];
    return [];
  },
  steps: (_settings, line) => [
    {
      id: `modem:${line.id}`,
      nature: lineWaits(line, 0.8),
      phase: 'uplink',
      title: `Let the modem of ${line.name} come up`,
      needs: ['reconnect'],
      why: 'It searches its channels first; the router gets nothing before that is over.',
      lowSeconds: 120,
      highSeconds: 600,
      proof: 'Its online light is steady; power and SNR on its page are in order.',
      ifNot: 'Still searching after ten minutes: connectors and splitters, then the provider.',
      fields: [
        numberReading('power', 'Downstream power, worst channel', 'dBmV', {
          at: `${line.at}/media/cable/powerDbmv`,
        }),
        numberReading('snr', 'Downstream SNR, worst channel', 'dB', { at: `${line.at}/media/cable/snrDb` }),
        numberReading('upstream', 'Upstream power', 'dBmV', {
          at: `${line.at}/media/cable/upstreamDbmv`,
          optional: true,
        }),
      ],
    },
  ],
};
