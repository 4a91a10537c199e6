import { describe, expect, test } from '@jest/globals';
import { byHand } from '../../testing/letters/by-hand.ts';
import { tally } from '../../testing/letters/tally.ts';
import { voices, writtenLetter } from '../../testing/letters/write.ts';
import { readBrief } from './read.ts';

/*
 * Letters that a machine writes from facts it drew, in seven languages and ten layouts, with what stands around them.
 * The writer has words of its own (core/testing/letters) and shares none with the reader.
 */

const letters = Number(process.env.NETTER_RUNS ?? 280);

describe('letters that are written from facts', () => {
  const { all, wrong, by } = tally(letters);
  const share = (count: number): number => count / (all.right + all.missed + all.wrong);

  test('95 of 100 facts are read, and 3 of 1 000 at most are read wrong', () => {
    expect([share(all.right) >= 0.95, share(all.wrong) <= 0.003 ? [] : wrong]).toEqual([true, []]);
  });

  test('no language and no layout falls behind', () => {
    const behind = [...by].filter(
      ([key, { right, missed, wrong: bad }]) =>
        !key.startsWith('fact') && right / (right + missed + bad) < 0.93,
    );
    expect(behind).toEqual([]);
    expect([...by.keys()].filter((key) => key.startsWith('language'))).toHaveLength(voices.length);
  });

  test('no secret of a letter stands in what was understood or in what is shown of it', () => {
    const shown = Array.from({ length: letters }, (_, seed) => writtenLetter(seed)).flatMap(
      ({ text, truth: { line, backup } }) => {
        const { facts, marks } = readBrief(text);
        const told = JSON.stringify([facts, marks.map(({ says }) => says)]);
        return [line.password, backup?.password].filter(
          (secret) => secret !== undefined && told.includes(secret),
        );
      },
    );
    expect(shown).toEqual([]);
  });
});

describe('a secret is one in every layout', () => {
  const secret = 'Quay-7!rW2';
  const layouts: readonly ((label: string) => string)[] = [
    (label) => `${label}: ${secret}`,
    (label) => `- ${label} – ${secret}`,
    (label) => `| ${label} | ${secret} |`,
    (label) => `${label}\t${secret}`,
    (label) => `${label} ........ ${secret}`,
    (label) => `${label}\n${secret}`,
    (label) => `${label} | VLAN\n${secret} | 7`,
    (label) => `VLAN;${label};MTU\n7;${secret};1492`,
    (label) => `Parameter | Old | New\n${label} | ${secret} | Tide_9931x`,
    (label) => `Parameter | Old | New\n${label} | Tide_9931x | ${secret}`,
    (label) => `Parameter | Line 1 | Line 2\n${label} | Tide_9931x | ${secret}`,
    (label) => `The order (fibre, ${label}: ${secret}) is cancelled.`,
    (label) => `<tr><td>${label}</td><td>${secret}</td></tr>`,
  ];
  const labels = [
    ...voices.flatMap((voice) => voice.labels.password),
    ...[
      'Wi-Fi password',
      'Wi-Fi key',
      'WLAN-Passwort',
      'WLAN-Schlüssel',
      'Clé Wi-Fi',
      'Clave wifi',
      'SIP password',
    ],
    ...['Admin password', 'Router password', 'Customer portal password', 'SIP-Passwort', 'E-mail password'],
  ];

  test('it is kept, marked where it stands, and stands in no fact', () => {
    const shown = labels.flatMap((label) =>
      layouts.flatMap((layout) => {
        const text = `Fibre line\n${layout(label)}`;
        const { facts, marks, secrets } = readBrief(text);
        const rows = text.split('\n');
        const marked = marks
          .filter((mark) => mark.secret)
          .map(({ line, start, end }) => rows[line - 1]!.slice(start, end));
        const kept = secrets.some(({ value }) => value === secret) && marked.join().includes(secret);
        return kept && !JSON.stringify([facts, marks]).includes(secret) ? [] : [text];
      }),
    );
    expect(shown).toEqual([]);
  });

  test('a passphrase of several words is one, and what comes by another way is none', () => {
    expect(readBrief('Fibre\nPassphrase: correct horse battery staple').secrets).toMatchObject([
      { value: 'correct horse battery staple' },
    ]);
    expect(readBrief('Fibre\nPassword: follows by separate letter').secrets).toEqual([]);
  });
});

describe('letters that were written by hand', () => {
  test.each(byHand)('$name', ({ text, lines, secrets, devices }) => {
    const { facts, secrets: kept } = readBrief(text);
    const read = facts.lines.map((line) =>
      Object.fromEntries(
        Object.entries(line)
          .filter(([key]) => !['key', 'user', 'notes'].includes(key))
          .map(([key, fact]) => [key, typeof fact === 'object' && 'value' in fact ? fact.value : fact]),
      ),
    );
    expect(read).toEqual(lines);
    expect(kept.map(({ value }) => value)).toEqual(secrets);
    expect(facts.devices.map(({ kind, count, address }) => [kind, count, address?.value ?? ''])).toEqual(
      expect.arrayContaining(devices.map((each) => [...each])),
    );
  });
});

describe('a form', () => {
  const lineOf = (text: string) => readBrief(text).facts.lines[0];

  test.each([
    ['a unit in the label', 'Access: FTTH\nDownload (Mbit/s): 600\nUpload (Mbit/s): 300', [600, 300]],
    ['several labels in a row', 'Fibre. Down: 250 Mb/s, Up: 50 Mb/s; VLAN: 7', [250, 50]],
    ['a test beside the contract', 'DSL 100/40 Mbit/s (attainable 117 Mbit/s)', [100, 40]],
    ['a length is no rate', 'The drop cable is 52 m long. Fibre, 500/100 Mb/s', [500, 100]],
    ['what follows the allowance', 'Fibre 500/100 Mb/s\nthen reduced to 64 kbit/s', [500, 100]],
    ['a thousand', 'Fibre, download: 1,000 Mbit/s, upload: 1,000 Mbit/s', [1000, 1000]],
  ])('%s', (_, text, rates) => {
    const line = lineOf(text);
    expect([line?.downMbps?.value, line?.upMbps?.value]).toEqual(rates);
  });

  test('the number of a release is no address, a telephone account no user of the line', () => {
    const line = lineOf('FTTH, DHCP\nFirmware 4.5.20.6 or newer\nSIP user: 0812345550132\nVLAN: 7');
    expect([line?.address, line?.userName, line?.vlan?.value]).toEqual([undefined, undefined, 7]);
  });

  test('"comes by post" is no password, and swallows no row below it', () => {
    const brief = readBrief('Fibre\nUser name | Password | VLAN\nlind62@access.example | comes by post | 7');
    expect(brief.secrets).toEqual([]);
    expect(brief.facts.lines[0]).toMatchObject({
      userName: { value: 'lind62@access.example' },
      vlan: { value: 7 },
    });
  });

  test('under the heading of a second line the same medium is another line', () => {
    const lines = readBrief(
      'Main line\nAccess: VDSL\nUser: a1@x.example\n\nBackup line\nAccess: ADSL\nUser: b2@x.example',
    ).facts.lines.map(({ userName, backup }) => [userName?.value, backup]);
    expect(lines).toEqual([
      ['a1@x.example', false],
      ['b2@x.example', true],
    ]);
  });
});
