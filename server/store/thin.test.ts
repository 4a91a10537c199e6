import { expect, test } from '@jest/globals';
import { revisionsToDrop } from './thin.ts';

const now = new Date('2026-03-20T12:00:00Z');
const hoursAgo = (hours: number): Date => new Date(now.getTime() - hours * 3_600_000);

test('the newest hundred, the first, those with records, one an hour for a week and one a day before that stay', () => {
  // 400 saves, ten an hour: the last of them now, the first forty hours ago.
  const recent = Array.from({ length: 400 }, (_, index) => ({
    number: index + 1,
    savedAt: hoursAgo((399 - index) / 10),
  }));
  const dropped = new Set(revisionsToDrop(recent, new Set([77]), now));
  expect(recent.slice(300).some(({ number }) => dropped.has(number))).toBe(false);
  expect([1, 77].some((number) => dropped.has(number))).toBe(false);
  const kept = recent.slice(0, 300).filter(({ number }) => !dropped.has(number));
  const hours = new Set(recent.slice(0, 300).map(({ savedAt }) => Math.floor(savedAt.getTime() / 3_600_000)));
  expect(kept.length).toBe(hours.size + 2);

  // A month old, one an hour: one a day is left beside the newest hundred.
  const old = Array.from({ length: 300 }, (_, index) => ({
    number: index + 1,
    savedAt: hoursAgo(720 + 299 - index),
  }));
  const left = old.length - revisionsToDrop(old, new Set(), now).length;
  const days = new Set(old.slice(0, 200).map(({ savedAt }) => Math.floor(savedAt.getTime() / 86_400_000)));
  expect(left).toBe(100 + days.size + 1);
  expect(revisionsToDrop(recent.slice(0, 100), new Set(), now)).toEqual([]);
});
