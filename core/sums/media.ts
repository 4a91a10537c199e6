import { bad, ok } from '../result.ts';
import {
  bandMaskWorked,
  bandsOfMask,
  cellRateWorked,
  csqOf,
  earfcnWorked,
  freeSpaceLossWorked,
  noiseWorked,
  nrArfcnWorked,
  parseBands,
  resourceBlocks,
  rsrpOf,
  rsrqOf,
  rsrqWorked,
  type Level,
} from '../media/cellular.ts';
import { cableLossWorked } from '../media/antenna.ts';
import {
  cablePower,
  cableSnr,
  delayWorked,
  dslLength,
  dslMargin,
  satelliteFloorWorked,
} from '../media/copper.ts';
import { judgeOptical, opticalBudget, opticalSystems } from '../media/optical.ts';
import { step, type Worked, worked } from '../worked/worked.ts';
import { input, numberBetween, sum, wholeBetween, type Sum } from './sum.ts';

const level = (name: string, reported: number, found: Level, unit: string, source: string): Worked =>
  worked(name, found.dbm ?? null, unit, [step('reported', reported), step('means', found.says)], source);
const reported = (example: string) =>
  ({ name: 'n', says: 'number the modem reports', unit: '', example }) as const;
const channel = (example: string) =>
  ({ name: 'channel', says: 'channel number', unit: '', example }) as const;
const dbm = (name: string, says: string, example: string) => ({ name, says, unit: 'dBm', example }) as const;

export const mediaSums: readonly Sum[] = [
  sum({
    name: 'earfcn',
    says: 'Band and frequency of an LTE channel number',
    inputs: [channel('6300')],
    read: { channel: wholeBetween(0, 262_143) },
    run: ({ channel: number }) => earfcnWorked(number),
  }),
  sum({
    name: 'nr-arfcn',
    says: 'Frequency of a 5G channel number',
    inputs: [channel('640000')],
    read: { channel: wholeBetween(0, 3_279_165) },
    run: ({ channel: number }) => nrArfcnWorked(number),
  }),
  sum({
    name: 'rsrp',
    says: 'Received power a modem reports as 0 to 97',
    inputs: [reported('53')],
    read: { n: wholeBetween(0, 255) },
    run: ({ n }) =>
      ok(level('Received power of the cell (RSRP)', n, rsrpOf(n), 'dBm', '3GPP TS 36.133 section 9.1.4')),
  }),
  sum({
    name: 'rsrq',
    says: 'Received quality a modem reports as 0 to 34',
    inputs: [reported('20')],
    read: { n: wholeBetween(0, 255) },
    run: ({ n }) =>
      ok(level('Received quality of the cell (RSRQ)', n, rsrqOf(n), 'dB', '3GPP TS 36.133 section 9.1.7')),
  }),
  sum({
    name: 'csq',
    says: 'Signal strength of +CSQ, 0 to 31',
    inputs: [reported('17')],
    read: { n: wholeBetween(0, 99) },
    run: ({ n }) => ok(level('Signal strength (RSSI)', n, csqOf(n), 'dBm', '3GPP TS 27.007 section 8.5')),
  }),
  sum({
    name: 'rsrq-check',
    says: 'RSRQ from RSRP, RSSI and the width measured',
    inputs: [
      dbm('rsrp', 'received power of the cell', '-98'),
      dbm('rssi', 'power of the whole channel', '-68'),
      {
        name: 'width',
        says: `channel width: ${Object.keys(resourceBlocks).join(', ')}`,
        unit: 'MHz',
        example: '10',
      },
    ],
    read: { rsrp: numberBetween(-160, 0), rssi: numberBetween(-140, 0), width: numberBetween(1, 20) },
    run: ({ rsrp, rssi, width }) => {
      const blocks = resourceBlocks[String(width)];
      return blocks === undefined
        ? bad(
            'width',
            `An LTE channel is ${Object.keys(resourceBlocks).join(', ')} MHz wide, not ${width}.`,
            'width',
          )
        : ok(rsrqWorked(rsrp, rssi, blocks));
    },
  }),
  sum({
    name: 'cell-rate',
    says: 'Highest rate of a cellular channel',
    inputs: [
      { name: 'sinr', says: 'signal above noise', unit: 'dB', example: '13' },
      { name: 'width', says: 'channel width', unit: 'MHz', example: '20' },
      { name: 'streams', says: 'antennas used at once', unit: '', example: '2' },
    ],
    read: { sinr: numberBetween(-30, 60), width: numberBetween(1, 400), streams: wholeBetween(1, 8) },
    run: ({ sinr, width, streams }) => ok(cellRateWorked(sinr, width, streams)),
  }),
  sum({
    name: 'free-space-loss',
    says: 'Least loss to a mast at that distance',
    inputs: [
      { name: 'mhz', says: 'frequency', unit: 'MHz', example: '806' },
      { name: 'km', says: 'distance', unit: 'km', example: '3.2' },
    ],
    read: { mhz: numberBetween(1, 100_000), km: numberBetween(0.001, 1000) },
    run: ({ mhz, km }) => ok(freeSpaceLossWorked(mhz, km)),
  }),
  sum({
    name: 'noise',
    says: 'Noise floor of a receiver',
    inputs: [
      { name: 'width', says: 'channel width', unit: 'MHz', example: '20' },
      { name: 'figure', says: 'noise figure', unit: 'dB', example: '7' },
    ],
    read: { width: numberBetween(0.001, 10_000), figure: numberBetween(0, 30) },
    run: ({ width, figure }) => ok(noiseWorked(width, figure)),
  }),
  sum({
    name: 'antenna-cable',
    says: 'Loss of an antenna cable, from its sheet at one frequency',
    inputs: [
      { name: 'db', says: 'loss of 100 m on its sheet', unit: 'dB', example: '22' },
      { name: 'at', says: 'at this frequency', unit: 'MHz', example: '900' },
      { name: 'mhz', says: 'frequency in use', unit: 'MHz', example: '2600' },
      { name: 'metres', says: 'length', unit: 'm', example: '10' },
    ],
    read: {
      db: numberBetween(0.1, 1000),
      at: numberBetween(1, 100_000),
      mhz: numberBetween(1, 100_000),
      metres: numberBetween(0, 1000),
    },
    run: ({ db, at, mhz, metres }) => ok(cableLossWorked({ db, mhz: at }, mhz, metres)),
  }),
  {
    name: 'band-mask',
    says: 'Hexadecimal mask of a set of bands',
    inputs: [{ name: 'bands', says: 'bands', unit: '', example: '3,7,20' }],
    run: (given) => {
      const bands = input(given, 'bands', parseBands);
      return bands.ok ? ok(bandMaskWorked(bands.value)) : bands;
    },
  },
  {
    name: 'mask-bands',
    says: 'Bands of a hexadecimal mask',
    inputs: [{ name: 'mask', says: 'mask', unit: '', example: '0x80044' }],
    run: (given) => {
      const bands = input(given, 'mask', bandsOfMask);
      return bands.ok
        ? ok({ ...bandMaskWorked(bands.value), value: bands.value.join(', '), name: 'Bands of the mask' })
        : bands;
    },
  },
  {
    name: 'optical',
    says: 'Loss of an optical route and the power to be expected',
    inputs: [
      {
        name: 'system',
        says: opticalSystems.map(({ name }) => name).join(', '),
        unit: '',
        example: 'gpon-b',
      },
      { name: 'km', says: 'length', unit: 'km', example: '4.5' },
      { name: 'connectors', says: 'connectors', unit: '', example: '4' },
      { name: 'splices', says: 'splices', unit: '', example: '6' },
      { name: 'ways', says: 'splitter ways, 1 for none', unit: '', example: '32' },
      { ...dbm('sent', 'power sent, where known', '3'), optional: true },
      { ...dbm('measured', 'power measured', '-19.4'), optional: true },
    ],
    run: (given) => {
      const km = input(given, 'km', numberBetween(0, 100));
      const connectors = input(given, 'connectors', wholeBetween(0, 100));
      const splices = input(given, 'splices', wholeBetween(0, 1000));
      const ways = input(given, 'ways', wholeBetween(1, 64));
      for (const read of [km, connectors, splices, ways]) if (!read.ok) return read;
      const sent = given.sent === undefined ? undefined : input(given, 'sent', numberBetween(-40, 20));
      if (sent && !sent.ok) return sent;
      const budget = opticalBudget({
        system: given.system ?? '',
        lengthKm: (km as { value: number }).value,
        connectors: (connectors as { value: number }).value,
        splices: (splices as { value: number }).value,
        splitterWays: (ways as { value: number }).value,
        sentDbm: sent?.value,
      });
      if (!budget.ok)
        return bad(
          budget.problem.code,
          budget.problem.says,
          budget.problem.code === 'splitter' ? 'ways' : 'system',
        );
      if (given.measured === undefined) return ok(budget.value.worked);
      const measured = input(given, 'measured', numberBetween(-80, 20));
      return measured.ok
        ? ok({ ...budget.value.worked, means: judgeOptical(budget.value, measured.value).says })
        : measured;
    },
  },
  sum({
    name: 'dsl-margin',
    says: 'Noise margin of a DSL line above its target',
    inputs: [{ name: 'db', says: 'margin shown', unit: 'dB', example: '8.1' }],
    read: { db: numberBetween(-20, 60) },
    run: ({ db }) => ok(dslMargin(db).worked),
  }),
  sum({
    name: 'dsl-length',
    says: 'Length of a pair from its attenuation',
    inputs: [{ name: 'db', says: 'attenuation shown', unit: 'dB', example: '27.6' }],
    read: { db: numberBetween(0, 120) },
    run: ({ db }) => ok(dslLength(db)),
  }),
  sum({
    name: 'cable-power',
    says: 'Received power of a cable channel',
    inputs: [{ name: 'dbmv', says: 'power shown', unit: 'dBmV', example: '-3.2' }],
    read: { dbmv: numberBetween(-60, 60) },
    run: ({ dbmv }) => ok(cablePower(dbmv).worked),
  }),
  sum({
    name: 'cable-snr',
    says: 'Signal above noise of a cable channel',
    inputs: [{ name: 'db', says: 'SNR shown', unit: 'dB', example: '36.5' }],
    read: { db: numberBetween(0, 80) },
    run: ({ db }) => ok(cableSnr(db).worked),
  }),
  sum({
    name: 'delay',
    says: 'What a round trip does to calls',
    inputs: [{ name: 'rtt', says: 'round trip', unit: 'ms', example: '610' }],
    read: { rtt: numberBetween(0, 60_000) },
    run: ({ rtt }) => ok(delayWorked(rtt).worked),
  }),
  sum({
    name: 'satellite-floor',
    says: 'Least round trip over a satellite at that height',
    inputs: [{ name: 'km', says: 'height', unit: 'km', example: '35786' }],
    read: { km: numberBetween(100, 50_000) },
    run: ({ km }) => ok(satelliteFloorWorked(km)),
  }),
];
