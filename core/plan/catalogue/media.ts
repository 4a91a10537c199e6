import * as z from 'zod';
import { practice } from '../../base/worked/worked.ts';
import {
  choice,
  cosmetic,
  id,
  moment,
  number,
  oneInUse,
  rate,
  repeated,
  rows,
  text,
  usualWhole,
  usually,
  whole,
  yesNo,
} from '../field.ts';

/* What the plan knows of the medium. All media are kept beside each other, as with the WAN types. */

export const cableTitles = {
  none: 'no cable',
  'rg-174': 'RG 174, 2.8 mm',
  'rg-58': 'RG 58, 5 mm',
  'foam-5': 'low loss, 5 mm',
  'rg-213': 'RG 213, 10 mm',
  'foam-10': 'low loss, 10 mm',
} as const;
export type CableName = keyof typeof cableTitles;

/** One reading of a cellular survey. Empty is unknown, never zero. */
export const surveyReading = cosmetic(
  z.strictObject({
    id,
    place: text('Place', 'Where the antenna was.', { longest: 100 }),
    heightMetres: number('Antenna height', 'Above the ground.', {
      unit: 'm',
      seldomOutside: [0.5, 60],
      most: 1000,
    }),
    antenna: text('Antenna', 'Internal, or which external one.', { longest: 100 }),
    gainDbi: number('Antenna gain', "From the antenna's data sheet.", {
      unit: 'dBi',
      seldomOutside: [-5, 24],
      least: -20,
      most: 40,
    }),
    cable: choice('Antenna cable', 'Kind of cable between antenna and modem.', cableTitles, 'none'),
    cableMetres: number('Cable length', 'Between antenna and modem.', {
      unit: 'm',
      seldomOutside: [0.2, 50],
      most: 500,
    }),
    channel: whole('Channel number', 'EARFCN (LTE), or NR-ARFCN above 262143 (5G).', {
      most: 3_279_165,
      alsoCalled: ['EARFCN', 'NR-ARFCN', 'DL channel'],
    }),
    rsrpDbm: number('RSRP', 'Reference signal received power (3GPP TS 36.214).', {
      unit: 'dBm',
      seldomOutside: [-140, -44],
      least: -160,
      most: 0,
    }),
    rsrqDb: number('RSRQ', 'Reference signal received quality (3GPP TS 36.214).', {
      unit: 'dB',
      seldomOutside: [-34, 2.5],
      least: -40,
      most: 20,
    }),
    sinrDb: number('SINR', 'Signal to interference and noise.', {
      unit: 'dB',
      seldomOutside: [-23, 40],
      least: -40,
      most: 60,
      alsoCalled: ['SNR', 'RS-SINR'],
    }),
    rssiDbm: number('RSSI', 'Everything the antenna receives in the channel.', {
      unit: 'dBm',
      seldomOutside: [-120, -25],
      least: -140,
      most: 0,
    }),
    cell: text('Serving cell', 'Cell identity, as the modem shows it.', {
      longest: 40,
      mono: true,
      alsoCalled: ['PCI', 'Cell ID'],
    }),
    downMbps: number('Measured download', 'Rate measured at this place.', {
      unit: 'Mb/s',
      seldomOutside: [0.1, 5000],
      most: 100_000,
    }),
    upMbps: number('Measured upload', 'Rate measured at this place.', {
      unit: 'Mb/s',
      seldomOutside: [0.05, 2000],
      most: 100_000,
    }),
    takenAt: moment('Taken at', 'Date and time', 'happened'),
  }),
);

const roundTripMs = cosmetic(
  number('Round-trip time', 'Median of ten pings to the other end of the link.', {
    unit: 'ms',
    most: 60_000,
  }),
);
const alignmentBeforeDbm = cosmetic(
  number('Signal level before alignment', 'As found.', {
    unit: 'dBm',
    least: -120,
    most: 0,
  }),
);
const alignmentAfterDbm = cosmetic(
  number('Signal level after alignment', 'After the antenna was aligned.', {
    unit: 'dBm',
    least: -120,
    most: 0,
  }),
);

const fibre = z.strictObject({
  termination: choice(
    'Termination',
    'Where light becomes Ethernet.',
    { ont: 'a terminal (ONT)', optic: 'a transceiver in the router' },
    'ont',
    { alsoCalled: ['ONU', 'Media converter', 'SFP'] },
  ),
  system: choice(
    'Optical system',
    'From the provider, or the label of the terminal.',
    {
      none: 'not known',
      'gpon-b': 'GPON, class B+',
      'gpon-c': 'GPON, class C+',
      'xgs-n1': 'XGS-PON, class N1',
    },
    'none',
    { alsoCalled: ['PON class', 'Optical class'] },
  ),
  lengthKm: cosmetic(
    number('Fibre length', 'To the exchange.', { unit: 'km', seldomOutside: [0.01, 60], most: 100 }),
  ),
  connectors: cosmetic(
    usualWhole('Connectors', 'On the whole way, both ends counted.', {
      most: 100,
      usual: usually(2, practice),
    }),
  ),
  splices: cosmetic(usualWhole('Splices', 'On the whole way.', { most: 1000, usual: usually(0, practice) })),
  splitterWays: cosmetic(
    usualWhole('Splitter ratio, 1 to', 'All splitters on the way, multiplied; 1 for none.', {
      unit: 'ways',
      least: 1,
      most: 128,
      usual: usually(1, practice),
    }),
  ),
  sentDbm: cosmetic(
    number('Transmit power of the exchange', 'If the provider told it.', {
      unit: 'dBm',
      seldomOutside: [-10, 12],
      least: -40,
      most: 20,
      emptyMeans: 'the range of the class',
      alsoCalled: ['OLT Tx power'],
    }),
  ),
  measuredDbm: cosmetic(
    number('Received power', 'With a power meter, or as the terminal shows it.', {
      unit: 'dBm',
      seldomOutside: [-40, 5],
      least: -80,
      most: 20,
      alsoCalled: ['Rx power', 'Received optical power'],
    }),
  ),
});

const dsl = z.strictObject({
  syncDownMbps: cosmetic(
    number('Sync rate, downstream', 'As the modem shows it.', {
      unit: 'Mb/s',
      seldomOutside: [0.2, 2000],
      most: 10_000,
      alsoCalled: ['Line rate', 'Actual data rate'],
    }),
  ),
  syncUpMbps: cosmetic(
    number('Sync rate, upstream', 'As the modem shows it.', {
      unit: 'Mb/s',
      seldomOutside: [0.1, 1000],
      most: 10_000,
    }),
  ),
  marginDb: cosmetic(
    number('Noise margin', 'The worse of both directions (ITU-T G.997.1).', {
      unit: 'dB',
      seldomOutside: [0, 40],
      least: -20,
      most: 60,
      alsoCalled: ['SNR margin', 'SNRM'],
    }),
  ),
  attenuationDb: cosmetic(
    number('Line attenuation', 'Downstream, as the modem shows it.', {
      unit: 'dB',
      seldomOutside: [0.5, 90],
      most: 120,
    }),
  ),
  errorsPerHour: cosmetic(
    whole('CRC errors', 'Counted over an hour.', { unit: 'per hour', most: 10_000_000 }),
  ),
  filters: yesNo('Telephone filters', 'A filter on every telephone outlet, or none needed.', false),
});

const cable = cosmetic(
  z.strictObject({
    powerDbmv: number('Downstream power', 'The worst channel on the page of the modem.', {
      unit: 'dBmV',
      seldomOutside: [-20, 20],
      least: -60,
      most: 60,
      alsoCalled: ['Rx power'],
    }),
    snrDb: number('Downstream SNR', 'The worst channel on the page of the modem.', {
      unit: 'dB',
      seldomOutside: [15, 50],
      most: 80,
      alsoCalled: ['MER', 'RxMER'],
    }),
    upstreamDbmv: number('Upstream power', 'As the modem shows it.', {
      unit: 'dBmV',
      seldomOutside: [20, 60],
      most: 80,
      alsoCalled: ['Tx power'],
    }),
  }),
);

const cellular = z.strictObject({
  bands: text('Allowed bands', 'Bands the modem may use: 3, 7, 20.', {
    mono: true,
    emptyMeans: 'all bands',
    alsoCalled: ['Band lock', 'Band selection'],
  }),
  pairs: rate(
    text('Carrier aggregation', 'Pairs of bands that the modem can combine: 3+7, 7+20.', {
      longest: 500,
      mono: true,
      alsoCalled: ['CA combinations', 'LTE-A'],
    }),
  ),
  together: rate(
    text('Bands to combine', 'Bands that are to carry the line at once: 3+7.', {
      longest: 100,
      mono: true,
    }),
  ),
  restoreBands: cosmetic(
    text('Band setting to restore', 'What the modem goes back to after an experiment.', {
      mono: true,
      emptyMeans: 'no experiment has begun',
    }),
  ),
  mastKm: cosmetic(
    number('Distance to the mast', 'If known.', {
      unit: 'km',
      seldomOutside: [0.02, 60],
      least: 0.001,
      most: 200,
    }),
  ),
  widthMHz: cosmetic(
    number('Channel bandwidth', 'As the modem shows it.', {
      unit: 'MHz',
      seldomOutside: [1.4, 200],
      least: 1,
      most: 400,
      alsoCalled: ['Channel width', 'BW'],
    }),
  ),
  readings: repeated(rows('Survey', 'Readings of the signal, place by place.', surveyReading, 2000)),
});

export const mediumTitles = {
  unknown: 'Not known yet',
  ethernet: 'Ethernet in the building',
  fibre: 'Fibre',
  dsl: 'DSL (telephone pair)',
  cable: 'Cable (coaxial)',
  cellular: 'Cellular',
  wireless: 'Fixed wireless',
  satellite: 'Satellite',
  router: "Behind another party's router",
} as const;

export const mediaSettings = oneInUse(
  {
    unknown: z.strictObject({}).prefault({}),
    ethernet: z.strictObject({}).prefault({}),
    fibre: fibre.prefault({}),
    dsl: dsl.prefault({}),
    cable: cable.prefault({}),
    cellular: cellular.prefault({}),
    wireless: z.strictObject({ roundTripMs, alignmentBeforeDbm, alignmentAfterDbm }).prefault({}),
    satellite: cosmetic(
      z
        .strictObject({
          roundTripMs,
          heightKm: number('Height of the orbit', '35786 is geostationary; low orbits are near 550.', {
            unit: 'km',
            least: 100,
            most: 50_000,
            emptyMeans: '35786, geostationary',
          }),
          alignmentBeforeDbm,
          alignmentAfterDbm,
        })
        .prefault({}),
    ),
    router: z.strictObject({}).prefault({}),
  },
  'medium',
);

export type MediumName = keyof typeof mediumTitles;
export const mediumNames = Object.keys(mediumTitles) as MediumName[];
