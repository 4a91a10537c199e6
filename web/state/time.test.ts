import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { clockText, dayText, spanText } from './time.ts';

beforeEach(() => {
  jest.useFakeTimers();
  jest.setSystemTime(new Date(2026, 2, 3, 12, 0, 0));
});
afterEach(() => {
  jest.useRealTimers();
});

test('spans are said in the unit a person would use', () => {
  expect(spanText(45, 45)).toBe('45 s');
  expect(spanText(15, 20)).toBe('15 to 20 s');
  expect(spanText(60, 120)).toBe('1 to 2 min');
  expect(spanText(20, 100)).toBe('1 to 2 min');
  expect(spanText(120, 600)).toBe('2 to 10 min');
});

test('a time of today needs no date, another day has one, and neither depends on the hour of the reader', () => {
  expect(clockText(new Date(2026, 2, 3, 9, 5).toISOString())).toBe('09:05');
  expect(clockText(new Date(2026, 2, 2, 23, 59).toISOString())).toBe('2 Mar 23:59');
  expect(dayText(new Date(2026, 2, 2, 23, 59).toISOString())).toBe('2 Mar 2026 23:59');
});
