import { atAntenna } from '../domain-types/nature.ts';
import { replacing, type Finding } from '../domain-types/finding.ts';
import type { Line } from '../../site/model.ts';
import type { StepDraft } from '../domain-types/step.ts';
import { windowWorked } from '../../base/worked/line.ts';
import { equals, figure, practice, step, type Worked, worked } from '../../base/worked/worked.ts';
import { bandMaskWorked, parseBands, rsrqWorked } from './cellular.ts';
import { earfcnWorked, nrArfcnWorked } from './channels.ts';
import { cellRateWorked, freeSpaceLossWorked, noiseWorked, resourceBlocks } from './radio-link.ts';
import { antennaCables, antennaWorked, cableLossWorked, pairProblem, parsePairs } from './antenna.ts';
import { delayWorked, satelliteFloorWorked } from './copper.ts';
import type { MediaSettings, SurveyReading } from '../../plan/schema.ts';
import type { MediaAt, Medium } from './type.ts';
import { numberReading, textReading } from '../domain-types/reading.ts';

const roofs =
  'Roofs, masts and ladders are work for people trained and secured for it; overhead lines, lightning and local codes decide. Radiating parts are switched off before anyone is near.';

type Aligned = MediaSettings['wireless'] | MediaSettings['satellite'];

function alignmentWorked(settings: Aligned): Worked<number> | undefined {
  const { alignmentBeforeDbm: before, alignmentAfterDbm: after } = settings;
  if (before === null || after === null) return undefined;
  const gained = after - before;
  return worked(
    'Gained by aligning',
    gained,
    'dB',
    [
      step('after', `${after} dBm`),
      step('before', `- ${before} dBm`),
      step('gained', `${equals(gained, 1)} dB`),
    ],
    'arithmetic',
    gained < 0
      ? 'It is worse than as found: go back to the marks.'
      : 'Mark the position of the mount, and write both figures into the record.',
  );
}

function checkAir(
  rule: string,
  settings: Aligned,
  line: Line,
  at: MediaAt<'wireless' | 'satellite'>,
): Finding[] {
  const found: Finding[] = [];
  const aligned = alignmentWorked(settings);
  if (aligned && aligned.value < 0)
    found.push({
      rule: `${rule}-alignment`,
      severity: 'warning',
      at: `${at}/alignmentAfterDbm`,
      says: `${line.name} is aligned worse than it was found, by ${figure(-aligned.value, 1)} dB. Go back to the marks.`,
      why: aligned,
      source: aligned.source,
    });
  if (settings.roundTripMs === null) return found;
  const delay = delayWorked(settings.roundTripMs);
  if (delay.verdict !== 'good')
    found.push({
      rule: `${rule}-delay`,
      severity: delay.verdict === 'bad' ? 'warning' : 'advice',
      at: `${at}/roundTripMs`,
      says: `A round trip of ${settings.roundTripMs} ms on ${line.name}: ${delay.worked.means}`,
      why: delay.worked,
      source: delay.worked.source,
    });
  return found;
}

const workingsAir = (settings: Aligned, line: Line, key: string): Worked[] => {
  const aligned = alignmentWorked(settings);
  if (key.startsWith('alignment')) return aligned ? [aligned] : [];
  if (key !== 'roundTripMs' || !settings.roundTripMs) return [];
  return [
    delayWorked(settings.roundTripMs).worked,
    windowWorked(line.rateDownMbps ?? 100, settings.roundTripMs),
  ];
};

const alignStep = (line: Line, medium: 'wireless' | 'satellite', what: string): StepDraft[] => [
  {
    id: `align:${line.id}`,
    nature: atAntenna,
    phase: 'uplink',
    title: `Align ${what} of ${line.name}, reading before and after`,
    needs: ['reconnect'],
    why: 'Only two figures show that the visit made it better.',
    lowSeconds: 120,
    highSeconds: 1200,
    proof: 'The level after is no worse than the level before, and the mount does not move by hand.',
    ifNot: 'Go back to the marks. Something new is in the way, or the mount has turned.',
    cautions: [roofs],
    fields: [
      numberReading('before', 'Signal level before', 'dBm', {
        at: `${line.at}/media/${medium}/alignmentBeforeDbm`,
      }),
      numberReading('after', 'Signal level after', 'dBm', {
        at: `${line.at}/media/${medium}/alignmentAfterDbm`,
      }),
    ],
  },
];

export const wireless: Medium<'wireless'> = {
  name: 'wireless',
  light: 'The light of the radio is steady: the radio is associated. It does not show that packets pass.',
  usualFailures: [6, 4],
  roundTripMs: ({ roundTripMs }) => roundTripMs,
  outdoors: true,
  offered: ['Fixed wireless', 'A box on the roof or wall that often routes.'],
  inFront: 'routes',
  inText: [/\b(?:fixed wireless|wireless link|radio link|microwave|point.to.(?:multi)?point radio|wisp)\b/gi],
  check: (settings, line, at) => checkAir('wireless', settings, line, at),
  workings: workingsAir,
  steps: (_settings, line) => alignStep(line, 'wireless', 'the antenna'),
};

/** Height of the geostationary orbit above the equator, which stands in where no height is known. */
const geostationaryKm = 35_786;

export const satellite: Medium<'satellite'> = {
  name: 'satellite',
  light: 'The terminal says it is on the satellite. It says nothing about the account.',
  start: {
    seconds: [60, 180],
    searching: 'searching the satellite',
    ready: 'on the satellite',
    fault: {
      name: 'no-link',
      title: 'The dish does not find the satellite',
      light: 'searching',
      says: 'No lock: something is in the way, or the mount has turned. Go back to the marks.',
    },
  },
  usualFailures: [8, 2],
  roundTripMs: ({ roundTripMs }) => roundTripMs,
  outdoors: true,
  offered: ['Satellite', 'A long round trip, and a box that often routes.'],
  inFront: 'routes',
  inText: [/\b(?:satellite|geostationary|low earth orbit)\b/gi],
  check: (settings, line, at) => {
    const floor = satelliteFloorWorked(settings.heightKm ?? geostationaryKm);
    const tooFast =
      settings.heightKm !== null && settings.roundTripMs !== null && settings.roundTripMs < floor.value;
    return [
      ...checkAir('satellite', settings, line, at),
      ...(tooFast
        ? [
            {
              rule: 'faster-than-light',
              severity: 'warning' as const,
              at: `${at}/roundTripMs` as const,
              says: `${settings.roundTripMs} ms is less than light needs over that satellite: the ping was answered nearer, or went over another line.`,
              why: floor,
              source: floor.source,
            },
          ]
        : []),
    ];
  },
  workings: (settings, line, key) => [
    ...workingsAir(settings, line, key),
    ...(key === 'heightKm' || key === 'roundTripMs'
      ? [satelliteFloorWorked(settings.heightKm ?? geostationaryKm)]
      : []),
  ],
  steps: (_settings, line) => alignStep(line, 'satellite', 'the dish'),
};

/** The cable of a reading at the frequency of its channel, 900 MHz where that is unknown, and what is left of the gain. */
function antennaOf({ channel, cable, cableMetres, gainDbi }: SurveyReading): Worked[] {
  if (cable === 'none' || cableMetres === null) return [];
  const frequency =
    channel === null ? undefined : channel <= 262_143 ? earfcnWorked(channel) : nrArfcnWorked(channel);
  const loss = cableLossWorked(
    { db: antennaCables[cable].dbPer100m, mhz: 900 },
    frequency?.ok ? frequency.value.value : 900,
    cableMetres,
  );
  return gainDbi === null ? [loss] : [loss, antennaWorked(gainDbi, loss.value)];
}

/** The arithmetic behind one figure of a survey. */
function readingWorked(reading: SurveyReading, field: string, widthMHz: number | null): Worked[] {
  const { channel, rsrpDbm, rssiDbm, sinrDb } = reading;
  const blocks = resourceBlocks[String(widthMHz)];
  if (field === 'channel' && channel !== null) {
    const frequency = channel <= 262_143 ? earfcnWorked(channel) : nrArfcnWorked(channel);
    return frequency.ok ? [frequency.value] : [];
  }
  if (['rsrpDbm', 'rsrqDb', 'rssiDbm'].includes(field))
    return rsrpDbm !== null && rssiDbm !== null && blocks !== undefined
      ? [rsrqWorked(rsrpDbm, rssiDbm, blocks)]
      : [];
  if (['gainDbi', 'cable', 'cableMetres'].includes(field)) return antennaOf(reading);
  if (!['sinrDb', 'downMbps'].includes(field) || sinrDb === null || widthMHz === null) return [];
  const rate = cellRateWorked({ sinrDb, widthMHz, layers: 2 });
  return rate.ok ? [rate.value] : [];
}

function checkCellular(settings: MediaSettings['cellular'], line: Line, at: MediaAt<'cellular'>): Finding[] {
  const found: Finding[] = [];
  const add = (
    key: 'bands' | 'pairs' | 'together',
    rule: string,
    says: string,
    typed: string,
    source: string,
  ): void => {
    found.push({
      rule,
      severity: 'warning',
      at: `${at}/${key}`,
      says: `${line.name}: ${says}`,
      why: worked('As typed', typed, '', [step('typed', typed)], 'form'),
      source,
    });
  };
  const bands = settings.bands.trim() === '' ? undefined : parseBands(settings.bands);
  if (bands && !bands.ok)
    add('bands', 'bands-form', bands.problem.says, settings.bands, '3GPP TS 36.101 section 5.5');
  const pairs = parsePairs(settings.pairs);
  if (!pairs.ok) add('pairs', 'pairs-form', pairs.problem.says, settings.pairs, practice);
  const impossible = pairProblem(settings.together, settings.pairs);
  if (impossible)
    add(
      'together',
      'pair-impossible',
      impossible,
      `${settings.together}; table: ${settings.pairs}`,
      "the modem's own table",
    );
  if (settings.restoreBands !== '')
    found.push({
      rule: 'experiment-open',
      severity: 'warning',
      at: `${at}/restoreBands`,
      says: `An experiment on ${line.name} has begun. When its runs are done, set the modem back to: ${settings.restoreBands}. Restricted to one set of bands, the line fails with that cell.`,
      why: worked(
        'To go back to',
        settings.restoreBands,
        '',
        [step('before the experiment', settings.restoreBands)],
        practice,
      ),
      fix: replacing('It is set back', `${at}/restoreBands`, ''),
      source: practice,
    });
  return found;
}

/** What the best reading of the survey can carry in one channel of the entered width. */
function signalOf({ media }: Line): Worked<number> | undefined {
  const { widthMHz, readings } = media.cellular;
  const sinr = readings.flatMap(({ sinrDb }) => (sinrDb === null ? [] : [sinrDb]));
  if (widthMHz === null || sinr.length === 0) return undefined;
  const nr = widthMHz > 20;
  const found = cellRateWorked({
    sinrDb: Math.max(...sinr),
    widthMHz,
    // Two streams are usual at a mast, and four on wide channels (common practice, no source).
    layers: nr ? 4 : 2,
    generation: nr ? 'nr' : 'lte',
    modulation: 256,
  });
  return found.ok ? found.value : undefined;
}

export const cellularAir: Medium<'cellular'> = {
  name: 'cellular',
  light: 'Registered, home network. Bars are no evidence: RSRP, RSRQ and SINR are.',
  usualFailures: [8, 1],
  rateLimit: (_settings, line, at) => {
    const signal = signalOf(line);
    return (
      signal && {
        by: 'the best place of the survey can carry at most',
        downMbps: signal.value,
        upMbps: null,
        at: `${at}/widthMHz`,
        means: 'Another place, an outside antenna or another band comes first; the contract does not help.',
        source: signal.source,
        why: signal,
      }
    );
  },
  offered: ['Cellular', 'A SIM and an APN; mostly behind carrier-grade NAT.'],
  inFront: 'none',
  inText: [
    /\b(?:cellular|lte|[45]g|umts|mobile (?:data|broadband|internet|line|router|network)|sim(?:[- ]card)?(?! pin| code| no| num))\b/gi,
  ],
  check: checkCellular,
  workings: (settings, _line, key) => {
    const bands = parseBands(settings.bands);
    if (key === 'bands') return bands.ok ? [bandMaskWorked(bands.value)] : [];
    if (key === 'mastKm' && settings.mastKm)
      return [800, 1800, 2600].map((mhz) => freeSpaceLossWorked(mhz, settings.mastKm!));
    if (key === 'widthMHz' && settings.widthMHz !== null) return [noiseWorked(settings.widthMHz)];
    const [, row, field] = /^readings\/(\d+)\/(.+)$/.exec(key) ?? [];
    const reading = settings.readings[Number(row)];
    return reading && field ? readingWorked(reading, field, settings.widthMHz) : [];
  },
  steps: (_settings, line) => [
    {
      id: `survey:${line.id}`,
      nature: atAntenna,
      phase: 'uplink',
      title: `Take readings for ${line.name} at three places`,
      needs: ['reconnect'],
      why: 'Bars are no evidence: a strong signal in noise is slower than a weak one in quiet.',
      lowSeconds: 600,
      highSeconds: 1800,
      proof:
        'Three readings at each place are in the survey, with RSRP, RSRQ and SINR, and it names the better place.',
      ifNot:
        'No readings shown: look on the page of the modem for "signal details" or ask it over its terminal.',
      cautions: [roofs],
      fields: [textReading('place', 'Place that was chosen, and why')],
    },
  ],
};
