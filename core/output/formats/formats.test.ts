import { describe, expect, test } from '@jest/globals';
import Papa from 'papaparse';
import { readPlan } from '../../plan/read.ts';
import { siteRecord } from '../record/record.ts';
import { runSheet } from '../../answers/run-sheet/sheet.ts';
import { compile } from '../../site/compile.ts';
import { demoPlan, good } from '../../testing/plans.ts';
import { peerFormats, siteFormats } from './index.ts';
import { siteFileName, type Sources } from './type.ts';

const sources = (name: string, change: (plan: ReturnType<typeof demoPlan>) => void = () => {}): Sources => {
  const plan = demoPlan(name);
  change(plan);
  const site = compile(plan);
  return {
    plan,
    site,
    siteId: name,
    revision: 41,
    day: '2026-03-02',
    stampedAt: '2026-03-02T09:00:00.000Z',
    record: () =>
      siteRecord(site, {
        plan,
        accepted: [],
        steps: runSheet(site),
        records: [],
        findings: undefined,
        today: '2026-03-02',
        momentText: (iso) => iso,
      }),
  };
};
const farrow = sources('farrow-sound');

describe('files of a site', () => {
  test.each([
    ['plan', 'farrow-sound-ferry-office-revision-41.netter.json'],
    ['record-json', 'farrow-sound-ferry-office-record-2026-03-02.json'],
    ['record-markdown', 'farrow-sound-ferry-office-record-2026-03-02.md'],
    ['access-csv', 'farrow-sound-ferry-office-access-2026-03-02.csv'],
    ['calendar', 'farrow-sound-ferry-office-endings.ics'],
  ] as const)(
    '%s has a name that says what it is, text that ends in a line end, and no key',
    (name, file) => {
      const format = siteFormats[name];
      expect(format.fileName(farrow)).toBe(file);
      const text = format.write(farrow);
      expect(text.endsWith('\n')).toBe(true);
      if (name !== 'plan')
        for (const { publicKey } of farrow.plan.vpn.peers) expect(text).not.toContain(publicKey.slice(0, 12));
    },
  );

  test('a plan reads back as it was; without a revision its name has none', () => {
    expect(good(readPlan(siteFormats.plan.write(farrow)))).toEqual(farrow.plan);
    expect(siteFormats.plan.fileName({ ...farrow, revision: undefined })).toBe(
      'farrow-sound-ferry-office.netter.json',
    );
  });

  test('the record is the same in both forms', () => {
    const record = JSON.parse(siteFormats['record-json'].write(farrow)) as ReturnType<Sources['record']>;
    expect(record).toEqual(JSON.parse(JSON.stringify(farrow.record())));
    const text = siteFormats['record-markdown'].write(farrow);
    for (const { title } of record.sections) expect(text).toContain(`## ${title}`);
  });

  test('rows for a spreadsheet (RFC 4180): one per device, and no cell is a formula', () => {
    const { data, errors } = Papa.parse<string[]>(
      siteFormats['access-csv']
        .write(sources('farrow-sound', (plan) => (plan.vpn.peers[0]!.name = '=HYPERLINK("x"), "telephone"')))
        .trimEnd(),
    );
    expect(errors).toEqual([]);
    expect(data).toHaveLength(1 + farrow.plan.vpn.peers.length);
    expect(data[1]![1]).toBe(`'=HYPERLINK("x"), "telephone"`);
  });

  test.each([
    ['Farrow Sound / ferry: office', 'farrow-sound-ferry-office'],
    ['Größe & Söhne', 'gro-e-so-hne'],
    ['..\\..\\x', 'x'],
    ['???', 'site'],
  ])('%s suits every desktop', (name, expected) => expect(siteFileName(name)).toBe(expected));
});

test('a file for a peer is named for it, and holds no secret unless it is given', () => {
  const peer = farrow.site.vpn.peers[0]!;
  const { fileName, write } = peerFormats.wireguard;
  expect(fileName(peer)).toBe(`${peer.name}.conf`);
  expect(write(farrow.site, peer)).toContain(`(in the vault: ${peer.secret})`);
});
