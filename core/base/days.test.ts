import { describe, expect, test } from '@jest/globals';
import { dayAfter, dayOf, daysBetween, isDay, secondsOf } from './days.ts';

describe('days', () => {
  test('a day is that of the calendar on this machine, a minute before and after midnight', () => {
    expect(dayOf(new Date(2027, 2, 1, 0, 1))).toBe('2027-03-01');
    expect(dayOf(new Date(2027, 2, 1, 23, 59))).toBe('2027-03-01');
    expect(dayOf(new Date(2027, 11, 31, 23, 59))).toBe('2027-12-31');
  });

  test.each([
    ['2028-02-29', true],
    ['2027-02-29', false],
    ['2100-02-29', false],
    ['2027-13-01', false],
    ['2027-3-1', false],
    ['', false],
  ])('"%s" is a day of the calendar: %s (Gregorian rule of leap years, ISO 8601)', (text, is) => {
    expect(isDay(text)).toBe(is);
  });

  test('days are counted over a leap day and backwards', () => {
    expect(daysBetween('2028-02-28', '2028-03-01')).toBe(2);
    expect(daysBetween('2027-03-01', '2027-02-28')).toBe(-1);
    expect(dayAfter('2027-12-31', 1)).toBe('2028-01-01');
  });

  test('a moment with a zone is the same moment in UTC (RFC 3339 section 5.8, its own example)', () => {
    expect(secondsOf('1996-12-19T16:39:57-08:00')).toBe(secondsOf('1996-12-20T00:39:57Z'));
    expect(secondsOf('1996-12-19T25:00:00Z')).toBeUndefined();
  });
});
