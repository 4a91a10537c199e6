import { describe, expect, test } from '@jest/globals';
import { acceptance } from '../../answers/acceptance/judge.ts';
import { runSheet } from '../../answers/run-sheet/sheet.ts';
import type { SiteRecord } from '../../answers/run-sheet/record.ts';
import { compile } from '../../site/compile.ts';
import { demoPlan } from '../../testing/plans.ts';
import { soundRecords } from '../../testing/visit.ts';
import { houseCard, labelStrip } from './house-card.ts';
import { siteRecord, type SiteRecordDocument } from './record.ts';

const plan = demoPlan('farrow-sound');
const site = compile(plan);
const steps = runSheet(site);

const recordOf = (records: readonly SiteRecord[]): SiteRecordDocument =>
  siteRecord(site, {
    plan,
    accepted: acceptance(site, records, steps),
    steps,
    records,
    findings: [],
    today: '2026-03-02',
    momentText: (iso) => iso.slice(0, 10),
  });
const rowsOf = (record: SiteRecordDocument, title: RegExp): readonly (readonly string[])[] =>
  record.sections.find((section) => title.test(section.title))!.rows;

describe('the record', () => {
  test('is as planned while nothing was seen, and as built only where everything was', () => {
    expect(recordOf([]).says).toContain('As planned, not verified on site');
    expect(rowsOf(recordOf([]), /^Uplinks/).map((row) => row.at(-1))).toEqual(['planned', 'planned']);
    const whole = recordOf(soundRecords(site, steps));
    expect(whole.says).toContain('As built');
    expect(rowsOf(whole, /^Uplinks/).map((row) => row.at(-1))).toEqual(['2026-03-02, AB', '2026-03-02, AB']);
    const some = recordOf(
      soundRecords(
        site,
        steps.filter(({ id }) => id === 'internet:office'),
      ),
    );
    expect(some.says).toContain('1 of 17 promises were seen');
  });

  test('what was read off differently stands first, with the plan beside it and who saw it', () => {
    const records = soundRecords(
      site,
      steps.filter(({ id }) => ['internet:office', 'size:fibre'].includes(id)),
    ).map((record) => (record.subject === 'size:fibre' ? { ...record, values: { passed: '1452' } } : record));
    const [first, ...rest] = rowsOf(recordOf(records), /^Seen on site/);
    expect(first).toEqual([
      'Test the largest packet on Fibre: Largest size that passed',
      expect.any(String),
      '1452 bytes',
      'differs from the plan',
      '2026-03-02, AB',
    ]);
    expect(rest.every((row) => row[3] === '')).toBe(true);
  });
});

describe('what stays in the house', () => {
  test('the card names whom to call and what never to reset, and holds no secret', () => {
    const text = JSON.stringify(houseCard(site));
    for (const words of ['01632 960 012', 'never reset it', 'ER5-2209-0147', 'A, blue'])
      expect(text).toContain(words);
    expect(text).not.toMatch(/password|"admin"|farrow-sound@/i);
  });

  test('a cable has a label that says from where to where it goes', () => {
    expect(labelStrip(compile(demoPlan('weir-street')))).toContainEqual({
      title: 'K2',
      text: 'Switch, cellar 8 to Switch, rack 8',
    });
  });

  test('labels are there for every line, port and network', () => {
    const titles = labelStrip(site).map(({ title }) => title);
    for (const { name } of site.networks) expect(titles).toContain(name);
    expect(titles).toEqual(expect.arrayContaining(['A, blue', 'B, white', 'Port 1']));
  });
});

test('the cabling and the Wi-Fi are in the record of a site that has them, and a key of Wi-Fi is not', () => {
  const of = (name: string): SiteRecordDocument => {
    const other = demoPlan(name);
    return siteRecord(compile(other), {
      plan: other,
      accepted: [],
      steps: [],
      records: [],
      findings: [],
      today: '2026-03-02',
      momentText: (iso) => iso,
    });
  };
  expect(rowsOf(of('weir-street'), /^Cabling/)[1]).toEqual([
    'K2',
    'Switch, cellar 8',
    'Switch, rack 8',
    'Cat 5e, 38 m',
    '1 Gb/s',
  ]);
  expect(rowsOf(of('hollin-edge'), /^Wi-Fi networks/)[0]).toEqual([
    'Hollin Edge pitches',
    'Pitches',
    'WPA2 and WPA3',
    'yes',
  ]);
  expect(rowsOf(of('hollin-edge'), /^Radios/)).toHaveLength(5);
  expect(rowsOf(of('larch-house'), /^Rooms/)[0]).toEqual([
    'the breakfast room',
    'Larch House guests',
    'Router, hall cupboard, 5 GHz',
    '-60.5 dBm, read',
    '10 Mb/s',
  ]);
  expect(rowsOf(of('larch-house'), /^Second/)[2]).toEqual([
    "Tenant's router",
    'ground floor',
    'router behind the router, WAN to LAN',
    '10.24.52.2, on Tenant',
    '192.168.60.0/24',
    'Archive: 8443 to 192.168.60.10 443',
  ]);
});
