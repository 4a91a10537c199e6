import { expect, test } from '@jest/globals';
import { countries, timeZones } from './places.ts';

test('countries are those of ISO 3166-1, in the order of their names, each once', () => {
  const codes = countries.map(([code]) => code);
  expect(new Set(codes).size).toBe(codes.length);
  expect(codes).toEqual(expect.arrayContaining(['DE', 'GB', 'IE', 'JP', 'NZ', 'PT', 'US', 'ZA']));
  // Groups, private use and "unknown" are no countries.
  expect(codes.filter((code) => ['EU', 'UN', 'ZZ', 'XA', 'QO'].includes(code))).toEqual([]);
  // 249 codes are assigned (ISO 3166-1, from memory); the platform may know a few that are reserved.
  expect(codes.length).toBeGreaterThanOrEqual(249);
  const names = countries.map(([, name]) => name);
  expect(names).toEqual([...names].sort((a, b) => a.localeCompare(b)));
});

test('time zones are those the platform can compute with', () => {
  expect(timeZones.map(([zone]) => zone)).toEqual(expect.arrayContaining(['Europe/London', 'Europe/Lisbon']));
  for (const [zone] of timeZones)
    expect(() => new Intl.DateTimeFormat('en', { timeZone: zone })).not.toThrow();
});
