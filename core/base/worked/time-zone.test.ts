import { expect, test } from '@jest/globals';
import { existsSync, readFileSync } from 'node:fs';
import { posixZone } from './time-zone.ts';

// POSIX.1-2017 section 8.3; values of RFC 8536 footers, from memory.
test.each([
  ['Europe/Paris', /^(?:CET|<\+01>)-1(?:CEST|<\+02>),M3\.5\.0,M10\.5\.0\/3$/],
  ['Europe/London', /^GMT0BST,M3\.5\.0\/1,M10\.5\.0$/],
  ['America/New_York', /^(?:EST|<-05>)5(?:EDT|<-04>),M3\.2\.0,M11\.1\.0$/],
  ['Asia/Kolkata', /^(?:IST|<\+0530>)-5:30$/],
  ['Australia/Sydney', /^(?:AEST|<\+10>)-10(?:AEDT|<\+11>),M10\.1\.0,M4\.1\.0\/3$/],
  ['UTC', /^UTC0$/],
])('%s', (zone, written) => {
  expect(posixZone(zone, 2026)).toMatch(written);
});

test('a zone that nobody knows, and one whose changes follow no rule, are not guessed', () => {
  expect(posixZone('Mars/Olympus', 2026)).toBeUndefined();
  // Clocks there follow the moon.
  expect(posixZone('Africa/Casablanca', 2026)).toBeUndefined();
});

const folder = '/usr/share/zoneinfo';
/** Every sixth: all of them take half a minute. */
const zones = Intl.supportedValuesOf('timeZone').filter(
  (zone, index) => index % 6 === 0 && existsSync(`${folder}/${zone}`),
);
/** The footer of a time-zone file (RFC 8536 section 3.3), without names: letters differ between databases. */
const footer = (zone: string): string =>
  readFileSync(`${folder}/${zone}`, 'latin1').trimEnd().split('\n').at(-1)!;
const figures = (text: string): string => text.replace(/<[^>]*>|[A-Za-z]{3,}/g, 'x');

// Where the machine has the time-zone database, every zone is compared with it.
(zones.length > 0 ? test : test.skip)('every zone of this machine says the same as its file', () => {
  const differing = zones.flatMap((zone) => {
    const own = posixZone(zone, 2027);
    return own === undefined || figures(own) === figures(footer(zone))
      ? []
      : [`${zone}: ${own} / ${footer(zone)}`];
  });
  // Two editions of the database may differ in a zone whose law changed lately.
  expect(differing.length).toBeLessThanOrEqual(1);
});
