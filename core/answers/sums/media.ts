import { bad, ok, type Result } from '../../base/result.ts';
import {
  bandMaskWorked,
  bandsOfMask,
  csqOf,
  parseBands,
  rsrpOf,
  rsrqOf,
  rsrqWorked,
  type Level,
} from '../../behaviour/media/cellular.ts';
import { cableLossWorked } from '../../behaviour/media/antenna.ts';
import {
  earfcnWorked,
  lteChannelWorked,
  nrArfcnWorked,
  nrChannelWorked,
} from '../../behaviour/media/channels.ts';
import {
  cablePower,
  cableSnr,
  cableUpstream,
  delayWorked,
  dslLength,
  dslMargin,
  satelliteFloorWorked,
} from '../../behaviour/media/copper.ts';
import { judgeOptical, opticalBudget, opticalSystems } from '../../behaviour/media/optical.ts';
import {
  cellRateWorked,
  eirpWorked,
  freeSpaceLossWorked,
  fresnelWorked,
  linkBudgetWorked,
  noiseWorked,
  resourceBlocks,
} from '../../behaviour/media/radio-link.ts';
import { step, type Worked, worked } from '../../base/worked/worked.ts';
import { needed, numberBetween, oneOf, optional, sum, wholeBetween, type Sum } from './sum.ts';

const level = (name: string, reported: number, found: Level, unit: string, source: string): Worked =>
  worked(name, found.dbm ?? null, unit, [step('reported', reported), step('means', found.says)], source);
const reported = (most: number, example: string) =>
  needed('number the modem reports', '', example, wholeBetween(0, most));
const dbm = (says: string, example: string, lowest: number, highest: number) =>
  needed(says, 'dBm', example, numberBetween(lowest, highest));
const mhz = (example: string) => needed('frequency', 'MHz', example, numberBetween(1, 100_000));
const db = (says: string, example: string) => needed(says, 'dB', example, numberBetween(0, 300));
const lossEach = (says: string, example: string) => optional(says, 'dB', example, numberBetween(0, 20));

/** Splitters in a row, "4x8"; 1 for none. */
function parseSplitters(text: string): Result<readonly number[]> {
  const parts = text.trim().split(/[x×*]/i);
  const ways: number[] = [];
  for (const part of parts) {
    const read = wholeBetween(1, 128)(part);
    if (!read.ok) return bad('splitter', `"${text}" is no splitter: write 32, 4x8, or 1 for none.`);
    if (read.value > 1) ways.push(read.value);
  }
  return ok(ways);
}

export const mediaSums: readonly Sum[] = [
  sum(
    'earfcn',
    'Band and frequency of an LTE channel number',
    { channel: needed('channel number (EARFCN)', '', '6300', wholeBetween(0, 262_143)) },
    ({ channel }) => earfcnWorked(channel),
  ),
  sum('lte-channel', 'LTE channel number of a downlink frequency', { mhz: mhz('806') }, (given) =>
    lteChannelWorked(given.mhz),
  ),
  sum(
    'nr-arfcn',
    'Frequency of a 5G channel number',
    { channel: needed('channel number (NR-ARFCN)', '', '640000', wholeBetween(0, 3_279_165)) },
    ({ channel }) => nrArfcnWorked(channel),
  ),
  sum('nr-channel', '5G channel number of a frequency', { mhz: mhz('3600') }, (given) =>
    nrChannelWorked(given.mhz),
  ),
  sum('rsrp', 'Received power a modem reports as 0 to 97', { n: reported(255, '53') }, ({ n }) =>
    level('Received power of the cell (RSRP)', n, rsrpOf(n), 'dBm', '3GPP TS 36.133 section 9.1.4'),
  ),
  sum('rsrq', 'Received quality a modem reports as 0 to 34', { n: reported(255, '20') }, ({ n }) =>
    level('Received quality of the cell (RSRQ)', n, rsrqOf(n), 'dB', '3GPP TS 36.133 section 9.1.7'),
  ),
  sum('csq', 'Signal strength of +CSQ, 0 to 31', { n: reported(99, '17') }, ({ n }) =>
    level('Signal strength (RSSI)', n, csqOf(n), 'dBm', '3GPP TS 27.007 section 8.5'),
  ),
  sum(
    'rsrq-check',
    'RSRQ from RSRP, RSSI and the width measured',
    {
      rsrp: dbm('received power of the cell', '-98', -160, 0),
      rssi: dbm('power of the whole channel', '-68', -140, 0),
      width: needed(
        `channel bandwidth: ${Object.keys(resourceBlocks).join(', ')}`,
        'MHz',
        '10',
        numberBetween(1, 20),
      ),
    },
    ({ rsrp, rssi, width }) => {
      const blocks = resourceBlocks[String(width)];
      return blocks === undefined
        ? bad(
            'width',
            `An LTE channel is ${Object.keys(resourceBlocks).join(', ')} MHz wide, not ${width}.`,
            'width',
          )
        : rsrqWorked(rsrp, rssi, blocks);
    },
  ),
  sum(
    'cell-rate',
    'Highest rate of a cellular channel',
    {
      sinr: needed('signal above noise', 'dB', '13', numberBetween(-30, 60)),
      width: needed('channel bandwidth', 'MHz', '20', numberBetween(1, 400)),
      streams: needed('antennas used at once', '', '2', wholeBetween(1, 8)),
      generation: optional('lte or nr', '', 'lte', oneOf(['lte', 'nr'])),
      modulation: optional('best modulation, 64 or 256', 'QAM', '64', oneOf(['64', '256'])),
    },
    ({ sinr, width, streams, generation, modulation }) =>
      cellRateWorked({
        sinrDb: sinr,
        widthMHz: width,
        layers: streams,
        ...(generation && { generation }),
        ...(modulation && { modulation: modulation === '256' ? 256 : 64 }),
      }),
  ),
  sum(
    'free-space-loss',
    'Least loss to a mast at that distance',
    { mhz: mhz('806'), km: needed('distance', 'km', '3.2', numberBetween(0.001, 1000)) },
    (given) => freeSpaceLossWorked(given.mhz, given.km),
  ),
  sum(
    'fresnel-zone',
    'What has to be free of trees and roofs between two antennas',
    { mhz: mhz('5180'), km: needed('distance', 'km', '0.2', numberBetween(0.001, 1000)) },
    (given) => fresnelWorked(given.mhz, given.km),
  ),
  sum(
    'noise',
    'Noise floor of a receiver',
    {
      width: needed('channel bandwidth', 'MHz', '20', numberBetween(0.001, 10_000)),
      figure: needed('noise figure', 'dB', '7', numberBetween(0, 30)),
    },
    ({ width, figure }) => noiseWorked(width, figure),
  ),
  sum(
    'eirp',
    'Power that an antenna radiates (e.i.r.p.)',
    {
      power: dbm('power of the transmitter', '23', -50, 80),
      cable: db('loss of the cable', '2.1'),
      gain: needed('gain of the antenna', 'dBi', '9', numberBetween(-20, 60)),
    },
    ({ power, cable, gain }) => eirpWorked(power, cable, gain),
  ),
  sum(
    'link-budget',
    'What arrives over a radio link, and its margin',
    {
      eirp: dbm('radiated power', '30', -50, 120),
      loss: db('loss on the way', '112.4'),
      other: db('walls, trees, cables', '6'),
      gain: needed('gain of the receiving antenna', 'dBi', '9', numberBetween(-20, 60)),
      sensitivity: dbm('what the receiver needs', '-85', -200, 0),
    },
    ({ eirp, loss, other, gain, sensitivity }) =>
      linkBudgetWorked({
        eirpDbm: eirp,
        lossDb: loss,
        otherDb: other,
        gainDbi: gain,
        sensitivityDbm: sensitivity,
      }),
  ),
  sum(
    'antenna-cable',
    'Loss of an antenna cable, from its sheet at one frequency',
    {
      db: needed('loss of 100 m on its sheet', 'dB', '22', numberBetween(0.1, 1000)),
      at: needed('at this frequency', 'MHz', '900', numberBetween(1, 100_000)),
      mhz: needed('frequency in use', 'MHz', '2600', numberBetween(1, 100_000)),
      metres: needed('length', 'm', '10', numberBetween(0, 1000)),
    },
    (given) => cableLossWorked({ db: given.db, mhz: given.at }, given.mhz, given.metres),
  ),
  sum(
    'band-mask',
    'Hexadecimal mask of a set of bands',
    { bands: needed('bands', '', '3,7,20', parseBands) },
    ({ bands }) => bandMaskWorked(bands),
  ),
  sum(
    'mask-bands',
    'Bands of a hexadecimal mask',
    { mask: needed('mask', '', '0x80044', bandsOfMask) },
    ({ mask }) => ({ ...bandMaskWorked(mask), value: mask.join(', '), name: 'Bands of the mask' }),
  ),
  sum(
    'optical',
    'Loss of an optical route and the power to be expected',
    {
      system: needed(
        opticalSystems.map(({ name }) => name).join(', '),
        '',
        'gpon-b',
        (text): Result<string> =>
          opticalSystems.some(({ name }) => name === text.trim())
            ? ok(text.trim())
            : bad(
                'optical-system',
                `"${text.trim()}" is none of ${opticalSystems.map(({ name }) => name).join(', ')}.`,
              ),
      ),
      km: needed('length', 'km', '4.5', numberBetween(0, 100)),
      connectors: needed('connectors', '', '4', wholeBetween(0, 100)),
      splices: needed('splices', '', '6', wholeBetween(0, 1000)),
      ways: needed('splitter ways; 4x8 for two in a row, 1 for none', '', '32', parseSplitters),
      sent: optional('power sent, where known', 'dBm', '3', numberBetween(-40, 20)),
      measured: optional('power measured', 'dBm', '-19.4', numberBetween(-80, 20)),
      'per-km': lossEach('loss of a kilometre, where known', '0.25'),
      'per-connector': lossEach('loss of a connector, where known', '0.3'),
      'per-splice': lossEach('loss of a splice, where known', '0.1'),
      sensitivity: optional('least that the receiver takes', 'dBm', '-27', numberBetween(-60, 20)),
      overload: optional('most that the receiver takes', 'dBm', '-8', numberBetween(-60, 20)),
    },
    ({ system, km, connectors, splices, ways, sent, measured, sensitivity, overload, ...each }) => {
      const budget = opticalBudget({
        system,
        lengthKm: km,
        connectors,
        splices,
        splitters: ways,
        sentDbm: sent,
        ...(each['per-km'] !== undefined && { perKmDb: each['per-km'] }),
        ...(each['per-connector'] !== undefined && { connectorDb: each['per-connector'] }),
        ...(each['per-splice'] !== undefined && { spliceDb: each['per-splice'] }),
        ...(sensitivity !== undefined && { sensitivityDbm: sensitivity }),
        ...(overload !== undefined && { overloadDbm: overload }),
      });
      if (!budget.ok || measured === undefined) return budget.ok ? budget.value.worked : budget;
      const { says } = judgeOptical(budget.value, measured);
      const { means } = budget.value.worked;
      return { ...budget.value.worked, means: means === undefined ? says : `${means} ${says}` };
    },
  ),
  sum(
    'dsl-margin',
    'Noise margin of a DSL line above its target',
    { db: needed('noise margin shown', 'dB', '8.1', numberBetween(-20, 60)) },
    (given) => dslMargin(given.db).worked,
  ),
  sum(
    'dsl-length',
    'Length of a pair from its attenuation',
    { db: needed('attenuation shown', 'dB', '27.6', numberBetween(0, 120)) },
    (given) => dslLength(given.db),
  ),
  sum(
    'cable-power',
    'Received power of a cable channel',
    { dbmv: needed('power shown', 'dBmV', '-3.2', numberBetween(-60, 60)) },
    ({ dbmv }) => cablePower(dbmv).worked,
  ),
  sum(
    'cable-snr',
    'Signal above noise of a cable channel',
    { db: needed('SNR shown', 'dB', '36.5', numberBetween(0, 80)) },
    (given) => cableSnr(given.db).worked,
  ),
  sum(
    'cable-upstream',
    'Transmit power of a cable modem',
    { dbmv: needed('power shown', 'dBmV', '44', numberBetween(0, 80)) },
    ({ dbmv }) => cableUpstream(dbmv).worked,
  ),
  sum(
    'delay',
    'What a round trip does to calls',
    { rtt: needed('round-trip time', 'ms', '610', numberBetween(0, 60_000)) },
    ({ rtt }) => delayWorked(rtt).worked,
  ),
  sum(
    'satellite-floor',
    'Least round trip over a satellite at that height',
    { km: needed('height', 'km', '35786', numberBetween(100, 50_000)) },
    ({ km }) => satelliteFloorWorked(km),
  ),
];
