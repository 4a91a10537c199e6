import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { good } from '../../testing/plans.ts';
import { gapOf, gapText, pingCommands, readPings } from './outage.ts';
import { readingOf } from './tools.ts';

/** Invented records in the form in which the usual desktop systems print a running ping (from memory). */
const epoch = [
  'PING 192.0.2.54 (192.0.2.54) 56(84) bytes of data.',
  '[1772442000.100000] 64 bytes from 192.0.2.54: icmp_seq=1 ttl=57 time=14.1 ms',
  '[1772442001.101000] 64 bytes from 192.0.2.54: icmp_seq=2 ttl=57 time=14.3 ms',
  '[1772442003.100000] no answer yet for icmp_seq=3',
  '[1772442004.100000] no answer yet for icmp_seq=4',
  '[1772442019.600000] 64 bytes from 192.0.2.54: icmp_seq=20 ttl=52 time=51.0 ms',
  '[1772442020.601000] 64 bytes from 192.0.2.54: icmp_seq=21 ttl=52 time=49.7 ms',
].join('\n');
const clock = [
  '23:59:58.500 64 bytes from 192.0.2.54: icmp_seq=0 ttl=57 time=14.1 ms',
  '23:59:59.500 64 bytes from 192.0.2.54: icmp_seq=1 ttl=57 time=14.1 ms',
  'Request timeout for icmp_seq 2'.replace(/^/, '00:00:01.500 '),
  '00:00:10.500 64 bytes from 192.0.2.54: icmp_seq=12 ttl=57 time=14.1 ms',
  '00:00:11.500 64 bytes from 192.0.2.54: icmp_seq=13 ttl=57 time=14.1 ms',
].join('\n');
const iso = [
  '2026-03-02T09:00:00.1234567+00:00 Reply from 192.0.2.54: bytes=32 time=14ms TTL=57',
  '2026-03-02T09:00:01.1334567+00:00 Reply from 192.0.2.54: bytes=32 time=14ms TTL=57',
  '2026-03-02T09:00:05.1334567+00:00 Request timed out.',
  '2026-03-02T09:00:07.6334567+00:00 Reply from 192.0.2.54: bytes=32 time=52ms TTL=52',
  '2026-03-02T09:00:08.6434567+00:00 Reply from 192.0.2.54: bytes=32 time=52ms TTL=52',
].join('\r\n');

describe('the record of a running ping', () => {
  test.each([
    ['seconds since 1970 in brackets', epoch, 17.5],
    ['a clock that passes midnight', clock, 10],
    ['ISO 8601 with seven digits', iso, 5.5],
  ])('%s', (_form, text, gap) => {
    const record = good(readPings(text));
    expect(record.gaps).toHaveLength(1);
    // One usual interval of about 1 s belongs to the running ping, not to the gap.
    expect(record.longestGap).toBeCloseTo(gap, 1);
  });

  test('without times every line is a second, and it says so', () => {
    const lines = [
      'Reply from 192.0.2.54: bytes=32 time=14ms TTL=57',
      'Reply from 192.0.2.54: bytes=32 time=14ms TTL=57',
      ...Array.from({ length: 12 }, () => 'Request timed out.'),
      'Reply from 192.0.2.54: bytes=32 time=52ms TTL=52',
      'Reply from 192.0.2.54: bytes=32 time=52ms TTL=52',
    ];
    const record = good(readPings(lines.join('\n')));
    expect(record).toMatchObject({ longestGap: 12, lost: 12, answered: 4 });
    expect(record.notes.join()).toMatch(/counts as one second/);
  });

  test('any gap in any row of answers is found', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 3, max: 30 }),
        fc.integer({ min: 2, max: 90 }),
        fc.integer({ min: 3, max: 30 }),
        (before, gap, after) => {
          const line = (second: number): string =>
            `[${1_772_442_000 + second}.500] 64 bytes from 192.0.2.1: icmp_seq=${second} ttl=57 time=9.1 ms`;
          const seconds = [
            ...Array.from({ length: before }, (_, index) => index),
            ...Array.from({ length: after }, (_, index) => before + gap + index),
          ];
          expect(good(readPings(seconds.map(line).join('\n')))).toMatchObject({
            longestGap: gap,
            gaps: [{ fromSeconds: before - 1, seconds: gap }],
            answered: before + after,
          });
        },
      ),
    );
  });

  test.each([
    ['', 'no-pings'],
    ['Hello\nworld', 'no-pings'],
    [`${epoch}\n64 bytes from 192.0.2.54: icmp_seq=22 ttl=57 time=14 ms`, 'mixed-pings'],
    ['Request timed out.\nRequest timed out.\nRequest timed out.', 'no-answers'],
  ])('what is no record is refused in a sentence: %j', (text, code) => {
    expect(readPings(text)).toMatchObject({ ok: false, problem: { code } });
  });
});

test('a gap as it is entered, and read again', () => {
  expect(gapOf('gap 18.4 s')).toBe(18.4);
  expect(gapOf('61 s')).toBe(61);
  expect(gapOf('12,5 seconds')).toBe(12.5);
  expect(gapOf('23')).toBe(23);
  expect(gapOf('it came back')).toBeUndefined();
  const record = good(readPings(epoch));
  expect(gapOf(gapText(record))).toBe(record.longestGap);
});

test('a pasted record of an outage becomes its gap; a few pings stay a ping', () => {
  const long = Array.from(
    { length: 30 },
    (_, index) =>
      `[${1_772_442_000 + index + (index > 9 ? 20 : 0)}.0] 64 bytes from 192.0.2.54: icmp_seq=${index} ttl=57 time=14 ms`,
  ).join('\n');
  expect(readingOf(long)).toBe('gap 20 s, 30 answers');
  expect(readingOf(epoch)).not.toMatch(/^gap/);
});

test('the commands name the address, one for each kind of desktop', () => {
  const commands = pingCommands('192.0.2.54');
  expect(commands).toHaveLength(3);
  expect(commands.every(({ command }) => command.includes('192.0.2.54'))).toBe(true);
});
