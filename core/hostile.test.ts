import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readBrief } from './intake/letter/read.ts';
import { findSite } from './intake/discovery/discovery.ts';
import { pasteWords, readPaste } from './intake/discovery/paste.ts';
import { parseRows } from './output/formats/rows.ts';
import { parseAddress } from './base/net/address.ts';
import { parseInterface, parsePrefix } from './base/net/prefix.ts';
import { ask } from './answers/path/ask.ts';
import { parseQuery } from './answers/path/query.ts';
import { readPlan } from './plan/read.ts';
import { runSheet } from './answers/run-sheet/sheet.ts';
import { compile } from './site/compile.ts';
import { fillSteps } from './answers/visit-scripts/fill.ts';
import { originOf, readTranscript } from './answers/visit-scripts/transcript.ts';
import { parseScan } from './behaviour/wifi/scan.ts';
import { demoPlan } from './testing/plans.ts';
import { parseListing } from './behaviour/remote-access/listing.ts';
import { parseProfile } from './behaviour/remote-access/profile.ts';
import { parseCellular } from './intake/readings/cellular.ts';
import { gapOf, readPings } from './intake/readings/outage.ts';
import { readingOf } from './intake/readings/tools.ts';

const site = compile(demoPlan('farrow-sound'));
const steps = runSheet(site);

/** Every reader of text that people paste or type, and the pieces of its own grammar. */
const readers: readonly (readonly [string, (text: string) => unknown, readonly string[]])[] = [
  [
    'a question',
    (text) => ask(site, text),
    ['from', 'to', 'internet', 'tcp', '443', 'when', 'fibre', 'is down', 'size'],
  ],
  [
    'what a tool prints',
    readingOf,
    ['inet ', '10.24.10.5', '/24', 'netmask ', '0xffffff00', 'default via ', 'mtu', '*', ' ms', '1 '],
  ],
  [
    'pings',
    readPings,
    ['64 bytes from ', 'icmp_seq=1 ', 'time=', 'ttl=', '[1772442000.1]', 'timeout', '10:00:00 '],
  ],
  ['a gap', gapOf, ['gap ', '18.4', 's', 'seconds', '1', ',']],
  ['what a modem prints', parseCellular, ['+CSQ: ', '+CESQ:', '99', ',', 'rsrp', ': ', '-97', 'dBm', '=']],
  [
    'what a router lists',
    (text) => parseListing(text, '2026-03-02'),
    ['\t', 'A'.repeat(43) + '=', '10.0.0.0/24', '2 ', 'minutes', ' ago', 'handshake', 'peer: '],
  ],
  [
    'a profile',
    parseProfile,
    ['[Interface]', '[Peer]', '# Name = ', 'Address', ' = ', '10.0.0.2/32', '#', '=', 'Endpoint'],
  ],
  ['rows', parseRows, ['\t', ';', ',', '"', 'tcp', '8443', 'name']],
  ['a plan file', readPlan, ['{', '}', '"format"', ':', '"netter-plan"', '[', ',', '\\u0000', '1e999']],
  [
    'a letter',
    readBrief,
    [
      'IP address: ',
      '203.0.113.9',
      '\n',
      'Password: ',
      'PPPoE',
      '/29',
      'VLAN 7',
      ' and ',
      'not ',
      '100/40 Mbit/s',
    ],
  ],
  [
    'what was found on a page',
    (text) => {
      const paste = readPaste(text);
      return [findSite([paste]), pasteWords(paste)];
    },
    ['WAN IP', '\t', '192.168.1.1', '255.255.255.0', '00:00:5e:00:53:01', 'DHCP', '<td>', '\n', ': ', '|'],
  ],
  [
    'what a script wrote',
    (text) => {
      const transcript = readTranscript(text);
      return [originOf(site, transcript), fillSteps(site, steps, transcript)];
    },
    ['@@', ' begin', ' end', '@@ ping 10.24.10.1', '\n', 'inet 10.24.10.20/24', '64 bytes from '],
  ],
  [
    'what was heard of Wi-Fi',
    parseScan,
    ['SSID: ', 'freq: 2412', 'signal: -60.00 dBm', 'BSS 00:00:5e:00:53:01', '\n', 'Channel', '\t', ','],
  ],
  ['a subnet', parsePrefix, ['10.', '/', '24', ' ', '255', ':', 'fe80']],
  ['a host and its subnet', parseInterface, ['10.9.8.7', ' ', '/', '255.255.248.0', '\t']],
  ['an address', parseAddress, ['10.', ':', 'ffff', '.', '%', '1']],
];
const blanks = [' ', '\t', '\n', '\r\n', '\u00a0', '0', '-', '#', '.', ':', '\0'];

describe.each(readers)('%s', (_name, read, pieces) => {
  // Quadratic readers took minutes for these; a linear one answers at once. Nothing here is timed: what does not
  // end in the time of a test fails it.
  test.each([...blanks, ...pieces])('a quarter of a million characters of %j', (piece) => {
    const text = piece.repeat(Math.ceil(250_000 / piece.length));
    expect(() => read(text)).not.toThrow();
    expect(() => read(`${pieces[0]}${text}!`)).not.toThrow();
  });

  test('texts of its own grammar, shuffled, are read or refused, and never fail', () =>
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.constantFrom(...pieces, ...blanks), fc.string({ maxLength: 6 })), {
          maxLength: 60,
        }),
        (parts) => {
          expect(() => read(parts.join(''))).not.toThrow();
        },
      ),
      { numRuns: Number(process.env.NETTER_RUNS ?? 300) },
    ));
});

test('a question that is too long is refused in a sentence', () => {
  const refused = parseQuery(`from ${' '.repeat(4000)}x`);
  expect(refused).toMatchObject({
    ok: false,
    problem: { says: expect.stringMatching(/at most 600 characters/) },
  });
});
