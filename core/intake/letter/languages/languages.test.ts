import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { prepare } from '../prepared.ts';
import { readBrief } from '../read.ts';
import type { LineFacts } from '../facts.ts';
import { languageOf, lexicons } from './index.ts';

/** Facts of a line without where each was read. */
const plain = (line: LineFacts): Record<string, unknown> =>
  Object.fromEntries(
    Object.entries(line).map(([key, fact]) => [
      key,
      typeof fact === 'object' && fact !== null && 'value' in fact ? fact.value : fact,
    ]),
  );

interface Letter {
  readonly text: string;
  readonly line: Record<string, unknown>;
  readonly secret?: string;
  readonly devices: readonly [kind: string, count: number][];
}

/** Letters as providers and customers of these countries write them; names and numbers are invented. */
const letters: Readonly<Record<string, Letter>> = {
  German: {
    text: `Sehr geehrte Frau Brandt,

Ihr Anschluss wird am 14.12.2026 freigeschaltet.

Anschlussart: Glasfaser
Bandbreite: 249.600 kbit/s im Download, 42.000 kbit/s im Upload
Zugangsart: PPPoE
Benutzername: brandt-4502@nordlicht.example
Kennwort: Hafen!2291
VLAN-ID: 7
Feste IPv4-Adresse: 203.0.113.77
DNS-Server: 198.51.100.53, 198.51.100.54

Zwei Kassen, drei Kameras, kein Drucker, Gäste-WLAN. Kundennummer 88123, Störungsstelle 0800 555 0199`,
    line: {
      ...{ medium: 'fibre', type: 'pppoe', vlan: 7, userName: 'brandt-4502@nordlicht.example' },
      ...{ address: '203.0.113.77', resolvers: ['198.51.100.53', '198.51.100.54'] },
      ...{ downMbps: 249.6, upMbps: 42, activation: 'not-yet' },
    },
    secret: 'Hafen!2291',
    devices: [
      ['till', 2],
      ['camera', 3],
    ],
  },
  French: {
    text: `Madame Lefort,
votre ligne fibre sera mise en service le 14/12/2026.

Nom d'utilisateur : lefort-2207@nordfibre.example
Mot de passe : Quai#8812
Débit descendant : 1 000 Mbit/s
Débit montant : 500 Mbit/s
Adresse IPv4 fixe : 203.0.113.90
Masque de sous-réseau : 255.255.255.248
Passerelle par défaut : 203.0.113.89
Serveurs DNS : 198.51.100.53 et 198.51.100.54
VLAN internet : 835 (télévision : 838)

Boulangerie avec deux caisses, une imprimante et quatre caméras.`,
    line: {
      ...{ medium: 'fibre', userName: 'lefort-2207@nordfibre.example', vlan: 835, prefixLength: 29 },
      ...{ address: '203.0.113.90', gateway: '203.0.113.89', downMbps: 1000, upMbps: 500 },
      ...{ resolvers: ['198.51.100.53', '198.51.100.54'], activation: 'not-yet' },
    },
    secret: 'Quai#8812',
    devices: [
      ['till', 2],
      ['printer', 1],
      ['camera', 4],
    ],
  },
  Spanish: {
    text: `Estimada señora Vidal:
La línea de fibra óptica se activará el 9 de diciembre.
Tipo de conexión: PPPoE
Usuario: vidal-77@nortefibra.example
Contraseña: Puerto*4410
VLAN de internet: 20
Velocidad: 600 Mb/s de bajada y 600 Mb/s de subida
IP fija: 198.51.100.200
Servidores DNS: 192.0.2.53, 192.0.2.54
No hay impresora. Tres ordenadores, dos datáfonos y wifi para invitados.`,
    line: {
      ...{ medium: 'fibre', type: 'pppoe', vlan: 20, userName: 'vidal-77@nortefibra.example' },
      ...{ downMbps: 600, upMbps: 600, address: '198.51.100.200', resolvers: ['192.0.2.53', '192.0.2.54'] },
    },
    secret: 'Puerto*4410',
    devices: [
      ['computer', 3],
      ['card terminal', 2],
    ],
  },
  Italian: {
    text: `Gentile cliente,
la linea in fibra ottica sarà attivata il 10/12/2026.
Nome utente: rossetti-12@nordfibra.example
Password: inviata separatamente
Indirizzo IP statico: 203.0.113.18
Maschera di sottorete: 255.255.255.252
Gateway predefinito: 203.0.113.17
DNS primario: 198.51.100.53
DNS secondario: 198.51.100.54
Velocità: 100 Mbit/s simmetrici
Ufficio con cinque telefoni, due stampanti e una telecamera.`,
    line: {
      ...{ medium: 'fibre', userName: 'rossetti-12@nordfibra.example', prefixLength: 30 },
      ...{ address: '203.0.113.18', gateway: '203.0.113.17', downMbps: 100, upMbps: 100 },
      ...{ resolvers: ['198.51.100.53', '198.51.100.54'] },
    },
    devices: [
      ['telephone', 5],
      ['printer', 2],
      ['camera', 1],
    ],
  },
  Dutch: {
    text: `Geachte mevrouw De Wit,
uw glasvezelaansluiting wordt geactiveerd op 14 december.
Gebruikersnaam: dewit@noordglas.example
Wachtwoord: Kade!9921
VLAN-ID: 6
Snelheid: 500 Mbit/s symmetrisch
Vast IP-adres: 203.0.113.140
DNS-servers: 198.51.100.53 198.51.100.54
Kantoor met vier telefoons, een printer en twee camera's. Geen gasten.`,
    line: {
      ...{ medium: 'fibre', userName: 'dewit@noordglas.example', vlan: 6, address: '203.0.113.140' },
      ...{ downMbps: 500, upMbps: 500, resolvers: ['198.51.100.53', '198.51.100.54'] },
    },
    secret: 'Kade!9921',
    devices: [
      ['telephone', 4],
      ['printer', 1],
      ['camera', 2],
    ],
  },
  Portuguese: {
    text: `Exma. Senhora,
a linha de fibra ótica será ativada no dia 14/12/2026.
Utilizador: marques@nortefibra.example
Palavra-passe: Cais-5521
VLAN de internet: 12
Velocidade: 1.000 Mbps de descarga e 200 Mbps de envio
Endereço IP fixo: 203.0.113.200
Servidores DNS: 198.51.100.53, 198.51.100.54
Padaria com duas caixas registadoras, uma impressora e Wi-Fi para convidados.`,
    line: {
      ...{ medium: 'fibre', userName: 'marques@nortefibra.example', vlan: 12, downMbps: 1000, upMbps: 200 },
      ...{ address: '203.0.113.200', resolvers: ['198.51.100.53', '198.51.100.54'] },
    },
    secret: 'Cais-5521',
    devices: [
      ['till', 2],
      ['printer', 1],
    ],
  },
};

describe.each(Object.entries(letters))('a letter in %s', (language, { text, line, secret, devices }) => {
  const rows = text.split('\n');
  const brief = readBrief(text);

  test('its language is told, and its facts are those of the letter', () => {
    expect(languageOf(rows).language).toBe(language);
    expect(brief.facts.lines).toHaveLength(1);
    expect(plain(brief.facts.lines[0]!)).toMatchObject(line);
    expect(brief.facts.devices.map(({ kind, count }) => [kind, count])).toEqual(devices);
  });

  test('its password goes into the vault, marked where it stands, and nowhere else', () => {
    expect(brief.secrets.map(({ value }) => value)).toEqual(secret === undefined ? [] : [secret]);
    if (secret === undefined) return;
    const marked = brief.marks.filter((each) => each.secret);
    expect(marked.map(({ line: row, start, end }) => rows[row - 1]!.slice(start, end)).join()).toContain(
      secret,
    );
    expect(JSON.stringify([brief.facts, brief.marks])).not.toContain(secret);
  });

  test('what is quoted stands in the letter as it was typed', () => {
    for (const [, quote] of JSON.stringify(brief.facts).matchAll(/line \d+: \\"(.*?)\\"\./g))
      expect(text).toContain(JSON.parse(`"${quote}"`));
  });
});

describe('rows that are read in another language', () => {
  const words = lexicons.flatMap(({ words: all }) => Object.values(all).flat());
  const anyRow = fc
    .array(fc.oneof(fc.constantFrom(...words), fc.stringMatching(/^[a-z0-9.:]{1,9}$/)), { maxLength: 12 })
    .map((parts) => parts.join(' ').replaceAll('*', ''));

  test('every place is known in the row as it was typed', () => {
    fc.assert(
      fc.property(anyRow, fc.nat(), fc.nat(), (row, from, length) => {
        const [prepared] = prepare([row]);
        const start = prepared!.text.length === 0 ? 0 : from % prepared!.text.length;
        const end = Math.min(prepared!.text.length, start + 1 + (length % 20));
        const at = prepared!.typed({ start, end });
        expect(0 <= at.start && at.start <= at.end && at.end <= row.length).toBe(true);
        // The whole row is the whole row.
        expect(prepared!.typed({ start: 0, end: prepared!.text.length })).toEqual({
          start: 0,
          end: row.length,
        });
      }),
    );
  });

  test('no word of a language has two meanings in it, and none is empty', () => {
    for (const { language, words: all } of lexicons) {
      const list = Object.values(all)
        .flat()
        .map((word) => word.toLowerCase());
      expect([language, list.filter((word, index) => list.indexOf(word) !== index)]).toEqual([language, []]);
      expect(list.every((word) => word.trim() !== '')).toBe(true);
    }
  });
});
