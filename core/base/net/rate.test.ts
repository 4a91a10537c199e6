import { expect, test } from '@jest/globals';
import { rateOf } from './rate.ts';

// IEC 80000-13: a byte has eight bits; k, M and G are powers of ten.
test.each<[string, number | undefined]>([
  ['20', 20],
  ['20 Mb/s', 20],
  ['20 Mbit/s', 20],
  ['20Mbps', 20],
  ['2.5 MB/s', 20],
  ['2,5 MByte/s', 20],
  ['500 kb/s', 0.5],
  ['500 KB/s', 4],
  ['1 Gb/s', 1000],
  ['1 G', 1000],
  ['0.1 kb/s', 0.0001],
  ['5 M', 5],
  ['5 MB', 40],
  ['fast', undefined],
  ['20 Mb/s down', undefined],
  ['', undefined],
])('%s is %s Mb/s', (text, mbps) => expect(rateOf(text)).toBe(mbps));
