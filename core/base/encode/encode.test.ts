import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import Papa from 'papaparse';
import { planSchema, type Plan } from '../../plan/schema.ts';
import { parsePlan } from '../../plan/read.ts';
import { compile } from '../../site/compile.ts';
import { demoPlan } from '../../testing/plans.ts';
import { asLine, asText, isLine } from '../text.ts';
import { withCleanLines } from '../../plan/clean.ts';
import { writeAccess } from '../../output/formats/access-csv.ts';
import { profileText } from '../../behaviour/remote-access/interface.ts';
import { parseProfile } from '../../behaviour/remote-access/profile.ts';
import { endingsOf, writeCalendar } from '../../output/formats/calendar.ts';
import { configurationValue, fileName, tableCell, writeTable } from './index.ts';
import { siteFileName } from '../../output/formats/type.ts';

/** What must never get through: line ends of every kind, marks of direction, delimiters, and what people made of them. */
const nasty = fc.oneof(
  fc.string({
    unit: fc.constantFrom(
      ...[
        '\n',
        '\r',
        '\u2028',
        '\u2029',
        '\u0085',
        '\0',
        '\u202e',
        '\u2066',
        '\t',
        ',',
        ';',
        '"',
        "'",
        '=',
        '#',
      ],
      ...[
        '+',
        '-',
        '@',
        '[',
        ']',
        ':',
        '\\',
        '/',
        ' ',
        'a',
        'Z',
        '7',
        'é',
        '港',
        'PostUp = ',
        '\r\n',
        'END:VEVENT',
      ],
    ),
    maxLength: 12,
  }),
  fc.string({ maxLength: 30 }),
);

describe('texts', () => {
  test('a line is one line whatever came in, and a clean one is not touched', () =>
    fc.assert(
      fc.property(nasty, (text) => {
        expect(isLine(asLine(text))).toBe(true);
        expect(asLine(asLine(text))).toBe(asLine(text));
        expect(asText(asText(text))).toBe(asText(text));
        expect(asText(text)).not.toMatch(/[\r\u2028\u2029\u202e\0]/);
        if (isLine(text)) expect(asLine(text)).toBe(text);
      }),
    ));

  test('a plan refuses line ends at the door, wherever they are, and a brought-in one can be cleaned', () => {
    const plan = demoPlan('farrow-sound');
    const spots: ((to: Plan, text: string) => void)[] = [
      (to, text) => (to.site.name = text),
      (to, text) => (to.devices[0]!.name = text),
      (to, text) => (to.vpn.endpoints[0]!.host = text),
      (to, text) => (to.vpn.peers[0]!.publicKey = text),
      (to, text) => (to.uplinks[0]!.settings.pppoe.userName = text),
      (to, text) => (to.contacts[0]!.name = text),
    ];
    for (const spot of spots)
      for (const end of ['\n', '\r', '\u2028', '\u0085', '\u202e', '\0']) {
        const copy = structuredClone(plan);
        spot(copy, `a${end}PostUp = x`);
        expect(parsePlan(copy)).toMatchObject({ ok: false, problem: { code: 'wrong-structure' } });
        expect(parsePlan(withCleanLines(copy)).ok).toBe(true);
      }
    const notes = structuredClone(plan);
    notes.site.notes = 'first\nsecond\tthird';
    expect(parsePlan(notes).ok).toBe(true);
    expect(withCleanLines(plan)).toBe(plan);
  });
});

describe('what leaves', () => {
  const plan = demoPlan('farrow-sound');
  /** A site whose every name is a trap, past the door: what leaves must hold by itself. */
  const trapped = (text: string): Plan => {
    const copy = structuredClone(plan);
    copy.site.name = text;
    for (const each of copy.vpn.endpoints) each.host = text;
    for (const peer of copy.vpn.peers) Object.assign(peer, { name: text, person: text, publicKey: text });
    for (const device of copy.devices) device.name = text;
    return copy;
  };

  test('a profile has the lines that it has, and no key that a plan put there', () =>
    fc.assert(
      fc.property(nasty, (text) => {
        const site = compile(trapped(text));
        for (const peer of site.vpn.peers) {
          const profile = profileText(site, peer);
          const keys = profile
            .split(/[\n\r\u2028\u2029\u0085]/)
            .flatMap((line) => /^\s*([A-Za-z]+)\s*=/.exec(line)?.[1] ?? []);
          for (const key of keys)
            expect([
              ...['PrivateKey', 'Address', 'ListenPort', 'DNS', 'MTU'],
              ...['PublicKey', 'PresharedKey', 'Endpoint', 'AllowedIPs', 'PersistentKeepalive'],
            ]).toContain(key);
          expect(profile.match(/^\[/gm) ?? []).toHaveLength(2);
          expect(parseProfile(profile).ok).toBe(true);
        }
      }),
      { numRuns: Number(process.env.NETTER_RUNS ?? 60) },
    ));

  test('an endpoint with line ends is left out and said so, not written and not mended', () => {
    const site = compile(trapped('198.51.100.1\nPostUp = echo x\n#'));
    const text = profileText(site, site.vpn.peers[0]!);
    expect(text).not.toMatch(/^PostUp/m);
    expect(text).toMatch(/^# Endpoint is left out/m);
  });

  test('a calendar reads back as the events that were meant', () =>
    fc.assert(
      fc.property(nasty, (text) => {
        const endings = endingsOf(compile(trapped(text)));
        const file = writeCalendar(endings, 'site', '2026-03-02T09:00:00.000Z');
        const lines = file.replace(/\r\n[ \t]/g, '').split('\r\n');
        expect(lines.filter((line) => line === 'BEGIN:VEVENT')).toHaveLength(endings.length);
        expect(file.replace(/\r\n/g, '')).not.toMatch(/[\r\n\u2028\u2029\0\u202e]/);
        for (const line of lines) expect(line).toMatch(/^(?:[A-Z-]+[:;].*)?$/);
      }),
      { numRuns: Number(process.env.NETTER_RUNS ?? 60) },
    ));

  test('a table has the rows and cells that were meant, and no formula', () =>
    fc.assert(
      fc.property(
        fc.array(fc.array(nasty, { minLength: 3, maxLength: 3 }), { minLength: 1, maxLength: 5 }),
        (rows) => {
          const text = writeTable(['a', 'b', 'c'], rows);
          const back = Papa.parse<string[]>(text, { header: false }).data;
          expect(back).toHaveLength(rows.length + 1);
          for (const row of back) expect(row).toHaveLength(3);
          for (const cell of back.slice(1).flat())
            if (/^[\s"]*[=+\-@]/.test(cell)) expect(cell).toMatch(/^[+-]?\d+(?:[.,]\d+)?$/);
        },
      ),
    ));

  test('line ends before a formula hide nothing; a signed number stays one', () => {
    expect(tableCell('\r\n=1+1')).toBe("' =1+1");
    expect(tableCell('=cmd|x')).toBe("'=cmd|x");
    expect(tableCell('-12,5')).toBe('-12,5');
    expect(writeAccess(compile(trapped('=1\n=2')), '2026-03-02')).not.toMatch(/(?:^|,|"|\n)=/);
  });

  test('a file name is one name, of no device, hidden nowhere, with its ending', () =>
    fc.assert(
      fc.property(nasty, (text) => {
        for (const name of [fileName(`${text}.conf`), `${siteFileName(text)}.netter.json`]) {
          expect(name).not.toMatch(/[/\\:*?"<>|\p{Cc}\u2028\u202e]|^\.|^\s|\s$/u);
          expect(name.length).toBeLessThanOrEqual(140);
          expect(name.length).toBeGreaterThan(3);
        }
        expect(fileName(`${text}.conf`)).toMatch(/\.conf$/);
      }),
    ));

  test.each([
    ['../../etc/passwd', 'etc passwd'],
    ['CON.conf', 'CON file.conf'],
    ['.hidden', 'file.hidden'],
    ['Maren Holt, telephone.conf', 'Maren Holt, telephone.conf'],
    ['', 'file'],
  ])('%j as a file name is %j', (name, file) => expect(fileName(name)).toBe(file));

  test('a value of a configuration is whole or not there', () => {
    expect(configurationValue('quay.example:51820')).toBe('quay.example:51820');
    for (const bad of ['a\nb', 'a#b', ' a', 'a\u202eb']) expect(configurationValue(bad)).toBeUndefined();
  });
});

test('the schema tells other programs what a line is made of', () =>
  expect(planSchema.safeParse({ ...demoPlan('farrow-sound'), site: { name: 'a\nb' } }).success).toBe(false));
