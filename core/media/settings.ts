import { z } from 'zod';
import { id, number } from '../plan/parts.ts';
import { lineText } from '../text.ts';

/** Antenna cables by kind; what they lose stands in `cellular.ts`. */
export const cableNames = ['none', 'rg-174', 'rg-58', 'foam-5', 'rg-213', 'foam-10'] as const;

/** One reading of a cellular survey. Empty is unknown, never zero. */
export const surveyReading = z.strictObject({
  id,
  place: lineText(100).default('').describe('Where the antenna was'),
  heightMetres: number(0, 1000),
  antenna: lineText(100).default('').describe('Internal, or which external one'),
  gainDbi: number(-20, 40).describe('Gain of the antenna, from its sheet'),
  cable: z.enum(cableNames).default('none'),
  cableMetres: number(0, 500),
  channel: number(0, 3_279_165).describe('EARFCN, or NR-ARFCN above 262143'),
  rsrpDbm: number(-160, 0),
  rsrqDb: number(-40, 20),
  sinrDb: number(-40, 60),
  rssiDbm: number(-140, 0),
  cell: lineText(40).default(''),
  downMbps: number(0, 100_000),
  upMbps: number(0, 100_000),
  takenAt: lineText(40).default('').describe('ISO 8601'),
});

/** What the plan knows of the medium. All of them are kept beside each other, as with the WAN types. */
export const mediaSettings = z.strictObject({
  unknown: z.strictObject({}).prefault({}),
  ethernet: z.strictObject({}).prefault({}),
  fibre: z
    .strictObject({
      termination: z.enum(['ont', 'optic']).default('ont'),
      system: z.enum(['gpon-b', 'gpon-c', 'xgs-n1', 'none']).default('none'),
      lengthKm: number(0, 100),
      connectors: number(0, 100),
      splices: number(0, 1000),
      splitterWays: number(1, 64),
      sentDbm: number(-40, 20),
      measuredDbm: number(-80, 20),
    })
    .prefault({}),
  dsl: z
    .strictObject({
      syncDownMbps: number(0, 10_000),
      syncUpMbps: number(0, 10_000),
      marginDb: number(-20, 60),
      attenuationDb: number(0, 120),
      errorsPerHour: number(0, 10_000_000),
      filters: z.boolean().default(false).describe('A filter on every telephone outlet, or none needed'),
    })
    .prefault({}),
  cable: z
    .strictObject({ powerDbmv: number(-60, 60), snrDb: number(0, 80), upstreamDbmv: number(0, 80) })
    .prefault({}),
  cellular: z
    .strictObject({
      bands: lineText(200).default('').describe('Bands the modem may use'),
      pairs: lineText(500).default('').describe('Pairs of bands the modem can combine: 3+7, 7+20'),
      together: lineText(100).default('').describe('Bands that are to carry the line together: 3+7'),
      restoreBands: z
        .string()
        .max(200)
        .default('')
        .describe('Setting to go back to after an experiment that has begun'),
      mastKm: number(0.001, 200),
      widthMHz: number(1, 400),
      readings: z.array(surveyReading).max(2000).default([]),
    })
    .prefault({}),
  wireless: z
    .strictObject({
      roundTripMs: number(0, 60_000),
      alignmentBeforeDbm: number(-120, 0),
      alignmentAfterDbm: number(-120, 0),
    })
    .prefault({}),
  satellite: z
    .strictObject({
      roundTripMs: number(0, 60_000),
      heightKm: number(100, 50_000),
      alignmentBeforeDbm: number(-120, 0),
      alignmentAfterDbm: number(-120, 0),
    })
    .prefault({}),
  router: z.strictObject({ canBridge: z.enum(['unknown', 'yes', 'no']).default('unknown') }).prefault({}),
});

export type MediaSettings = z.output<typeof mediaSettings>;
export type MediumName = keyof MediaSettings;
export type SurveyReading = z.output<typeof surveyReading>;
export const mediumNames = Object.keys(mediaSettings.shape) as MediumName[];
