import { expect, test } from '@jest/globals';
import { revisionsToDrop } from './thin.ts';

const now = new Date('2026-03-20T12:00:00Z');
const hoursAgo = (hours: number): Date => new Date(now.getTime() - hours * 3_600_000);
/** Saves of which the last is now: `count` of them, so many an hour. */
const saves = (count: number, anHour: number, endedHoursAgo = 0) =>
  Array.from({ length: count }, (_, index) => ({
    number: index + 1,
    savedAt: hoursAgo(endedHoursAgo + (count - 1 - index) / anHour),
  }));
const hourOf = ({ savedAt }: { savedAt: Date }): number => Math.floor(savedAt.getTime() / 3_600_000);

test('the newest hundred, the last eight hours, the first, those with records, and one an hour before that stay', () => {
  const all = saves(400, 10);
  const dropped = new Set(revisionsToDrop(all, new Set([77])));
  expect(all.slice(300).some(({ number }) => dropped.has(number))).toBe(false);
  expect([1, 77].some((number) => dropped.has(number))).toBe(false);
  const kept = all.slice(0, 300).filter(({ number }) => !dropped.has(number));
  expect(kept.length).toBe(new Set(all.slice(0, 300).map(hourOf)).size + 2);
});

test('160 saves within one hour all stay', () =>
  expect(revisionsToDrop(saves(160, 160), new Set())).toEqual([]));

test('weeks ago, one a day is left beside the newest hundred', () => {
  const old = [...saves(300, 1, 720), { number: 301, savedAt: now }];
  const left = old.length - revisionsToDrop(old, new Set()).length;
  const days = new Set(old.slice(0, 201).map(({ savedAt }) => Math.floor(savedAt.getTime() / 86_400_000)));
  expect(left).toBe(100 + days.size + 1);
});

test('a clock that jumps back or forward for a while thins nothing of the last hours', () => {
  for (const jump of [-365 * 24, 365 * 24]) {
    const all = saves(300, 100).map((each) =>
      each.number > 150 ? { ...each, savedAt: hoursAgo(-jump - (300 - each.number) / -100) } : each,
    );
    const newest = new Set(all.slice(-100).map(({ number }) => number));
    expect(revisionsToDrop(all, new Set()).some((number) => newest.has(number))).toBe(false);
  }
  const back = saves(300, 100).map((each) =>
    each.number > 150 ? { ...each, savedAt: hoursAgo(9_000) } : each,
  );
  expect(revisionsToDrop(back, new Set())).toEqual([]);
});
