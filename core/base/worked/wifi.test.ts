import { describe, expect, test } from '@jest/globals';
import { good } from '../../testing/plans.ts';
import {
  channelCentre,
  channelsOf,
  indoorLossWorked,
  overlapWorked,
  pmkWorked,
  radarWaitWorked,
  sharedMhz,
  spectrumOf,
} from './wifi.ts';

describe('channels', () => {
  test('channel 8 lies on 6 and on 11: 10 MHz with the one, 5 MHz with the other', () => {
    // IEEE 802.11: 2447 MHz, 2437 to 2457.
    expect(spectrumOf('2.4', 8, 20)).toEqual({ from: 2437, to: 2457 });
    const with8 = (channel: number): number =>
      overlapWorked('2.4', { channel: 8, width: 20 }, { channel, width: 20 }).value;
    expect([6, 11, 1, 13].map(with8)).toEqual([10, 5, 0, 0]);
  });

  test('1, 6, 11 share nothing, nor do 1, 5, 9, 13; of three channels of eleven only the first set keeps 25 MHz', () => {
    const apart = (set: readonly number[]): boolean =>
      set.every((a) =>
        set.every((b) => a === b || sharedMhz(spectrumOf('2.4', a, 20), spectrumOf('2.4', b, 20)) === 0),
      );
    expect([apart([1, 6, 11]), apart([1, 5, 9, 13]), apart([1, 4, 8])]).toEqual([true, true, false]);
    const far = channelsOf['2.4']
      .slice(0, 11)
      .flatMap((a) =>
        channelsOf['2.4']
          .slice(0, 11)
          .flatMap((b) =>
            channelsOf['2.4'].slice(0, 11).flatMap((c) => (b - a >= 5 && c - b >= 5 ? [[a, b, c]] : [])),
          ),
      );
    expect(far).toEqual([[1, 6, 11]]);
  });

  test('wide channels are pairs of pairs: 36 to 48 are one of 80 MHz around 5210, 100 to 128 one of 160 around 5570', () => {
    // IEEE 802.11, table of operating classes: centres 42 and 114.
    for (const channel of [36, 40, 44, 48])
      expect(spectrumOf('5', channel, 80)).toEqual({ from: 5170, to: 5250 });
    for (const channel of [100, 112, 128])
      expect(spectrumOf('5', channel, 160)).toEqual({ from: 5490, to: 5650 });
    expect(spectrumOf('5', 149, 80)).toEqual({ from: 5735, to: 5815 });
    expect(spectrumOf('6', 1, 160)).toEqual({ from: 5945, to: 6105 });
    expect([channelCentre('2.4', 14), channelCentre('6', 2), channelCentre('6', 5)]).toEqual([
      2484, 5935, 5975,
    ]);
  });

  test('radar: 60 s, 600 s where 5600 to 5650 MHz are touched, none below 5250', () => {
    // ETSI EN 301 893, from memory.
    const wait = (channel: number, width: number): number => radarWaitWorked(channel, width).value;
    expect([
      wait(36, 80),
      wait(52, 20),
      wait(100, 80),
      wait(116, 20),
      wait(116, 80),
      wait(120, 20),
      wait(149, 80),
    ]).toEqual([0, 60, 60, 60, 600, 600, 0]);
  });
});

describe('keys', () => {
  test.each([
    // IEEE 802.11i annex H.4, the published vectors.
    ['IEEE', 'password', 'f42c6fc52df0ebef9ebb4b90b38a5f902e83fe1b135a70e23aed762e9710a12e'],
    ['ThisIsASSID', 'ThisIsAPassword', '0dc0d6eb90555ed6419756b9a15ec3e3209b63df707dd508d14581f8982721af'],
    ['Z'.repeat(32), 'a'.repeat(32), 'becb93866bb8c3832cb777c2f559807c8c59afcb6eae734885001300a981cc62'],
  ])('%s with %s', (ssid, passphrase, key) => {
    expect(good(pmkWorked(ssid, passphrase)).value).toBe(key);
  });

  test('a passphrase has 8 to 63 characters of ASCII; 64 hexadecimal digits are the key', () => {
    expect([
      pmkWorked('a', 'seven77').ok,
      pmkWorked('a', 'x'.repeat(64)).ok,
      pmkWorked('a', 'schlüssel').ok,
    ]).toEqual([false, false, false]);
    expect(good(pmkWorked('a', 'AB'.repeat(32))).value).toBe('ab'.repeat(32));
    expect([pmkWorked('', 'password').ok, pmkWorked('ü'.repeat(17), 'password').ok]).toEqual([false, false]);
  });
});

test('the loss in a building is a range around the model of ITU-R P.1238', () => {
  // By hand: 74.32 + 28 (33) × 1.1761 + 15 - 28 dB; an office at 5.2 GHz has 31 and 16, 98.8 dB (from memory).
  const worked = indoorLossWorked(5200, 15, 1);
  expect(Math.abs(worked.value - (20 * Math.log10(5200) + 30.5 * Math.log10(15) + 15 - 28))).toBeLessThan(
    1e-9,
  );
  expect(worked.steps.at(-1)!.value).toBe('≈ 94.25 to ≈ 100.13 dB');
});
