import { describe, expect, test } from '@jest/globals';
import { readBrief } from './read.ts';

const lineOf = (text: string) => readBrief(text).facts.lines;

describe('what a text takes back does not hold', () => {
  test.each([
    ['a form with boxes', 'Access:  [ ] DSL   [x] Fibre   [ ] Cable', ['fibre']],
    ['round boxes', 'Access:  ( ) Cable   (x) DSL    ( ) Fibre', ['dsl']],
    ['signs', '☐ DSL\n☑ Fibre\n☐ Cable', ['fibre']],
    [
      'a cancelled order',
      'Order 4471 (DSL 50) is cancelled and replaced by order 4502: fibre 300/150 Mbit/s',
      ['fibre'],
    ],
    ['an order that cannot be cancelled', 'The fibre order can be cancelled within 14 days.', ['fibre']],
    [
      'one in German',
      'Auftrag 4471 (DSL 50) ist storniert und ersetzt durch Auftrag 4502: Glasfaser, bitte nicht ohne uns.',
      ['fibre'],
    ],
  ])('%s', (_what, text, media) => expect(lineOf(text).map(({ medium }) => medium?.value)).toEqual(media));

  test.each([
    ['Fibre. VLAN 8.\nCorrection: please not VLAN 8 but VLAN 31.', 31],
    ['Fibre.\nVLAN tag: please use 132 instead of 7', 132],
    ['Fibre.\nVLAN: 31 (was 8)', 31],
    ['Fibre, VLAN 31, television 35, telephone 40', 31],
    ['> Fibre, VLAN 8\n\nFibre, VLAN 31', 31],
    ['Leitung: Glasfaser.\nBitte nicht VLAN 8, sondern VLAN 31.', 31],
    ['Fibre. The first of our letters said VLAN 8.', 8],
  ])('%s', (text, vlan) => expect(lineOf(text)[0]?.vlan?.value).toBe(vlan));

  test('what is not there is no device, and guests are not invited by a "no"', () => {
    const { devices, networks } = readBrief(
      'Fibre. There is no printer and no guests. Two tills, a camera, without any colour printer.',
    ).facts;
    expect(devices.map(({ kind }) => kind)).toEqual(['till', 'camera']);
    expect(networks).toEqual([]);
  });

  test.each([
    'Fibre. Two tills.\nPrinter: no\nGuests: none; cameras: not required',
    'Glasfaser, zwei Kassen.\nDrucker: nein\nGäste: keine',
    'Fibre. Two tills.\tPrinter\tno\r\n\u00a0',
  ])('a "no" behind its label: %j', (text) => {
    const { devices, networks, lines } = readBrief(text).facts;
    expect(devices.map(({ kind }) => kind)).toEqual(['till']);
    expect(networks).toEqual([]);
    expect(lines.map(({ medium }) => medium?.value)).toEqual(['fibre']);
  });

  test('what the line does without is no refusal', () => {
    const [line] = lineOf('Fibre. VLAN: none. PPPoE login: k1@isp.example, PIN: none');
    expect([line!.medium?.value, line!.userName?.value]).toEqual(['fibre', 'k1@isp.example']);
  });

  test('a password that is sent by another way swallows nothing', () => {
    const { facts, secrets } = readBrief(
      'Login             k1@isp.example\nPassword          sent separately by letter\nPrimary DNS       198.51.100.53\nSecondary DNS     198.51.100.54',
    );
    expect(secrets).toEqual([]);
    expect(facts.lines[0]!.resolvers?.value).toEqual(['198.51.100.53', '198.51.100.54']);
  });

  test('what was taken back is marked, and says so', () => {
    const { marks } = readBrief('[ ] DSL   [x] Fibre');
    expect(marks.map(({ says }) => says)).toContain('not chosen');
  });

  test('a secret in what was cancelled is a secret', () => {
    const text = 'Order 3 (DSL, password: Quay!2291-x) is cancelled. Fibre, please.';
    const { facts, marks, secrets } = readBrief(text);
    const hidden = marks.filter(({ secret }) => secret).map(({ start, end }) => text.slice(start, end));
    expect(hidden.join()).toContain('Quay!2291-x');
    expect(secrets.map(({ value, kind }) => [value, kind])).toEqual([['Quay!2291-x', 'other']]);
    expect(JSON.stringify(facts)).not.toContain('Quay');
  });

  test('a secret in what was cancelled stays as typed, where its words have a translation', () => {
    const text =
      'Auftrag 3 (DSL, Kennwort: Kasse-Büro-7!x) ist storniert. Wir bitten um Glasfaser für den Laden.';
    expect(readBrief(text).secrets.map(({ value }) => value)).toEqual(['Kasse-Büro-7!x']);
  });

  test('one label for two addresses', () => {
    const [line] = lineOf('Fibre.\nDNS servers: 198.51.100.53 and 198.51.100.54');
    expect([line!.resolvers?.value, line!.address]).toEqual([['198.51.100.53', '198.51.100.54'], undefined]);
  });
});
