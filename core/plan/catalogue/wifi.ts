import * as z from 'zod';
import { wifiBands } from '../../base/worked/wifi.ts';
import { bad, ok, type Result } from '../../base/result.ts';
import {
  choice,
  cosmetic,
  day,
  id,
  number,
  rate,
  refersTo,
  refersToSome,
  repeated,
  rows,
  secret,
  text,
  typedList,
  whole,
  yesNo,
} from '../field.ts';

export const widthTitles = { '20': '20 MHz', '40': '40 MHz', '80': '80 MHz', '160': '160 MHz' } as const;

export const securityTitles = {
  wpa3: 'WPA3',
  both: 'WPA2 and WPA3',
  wpa2: 'WPA2 with AES',
  open: 'open, without a key',
  older: 'WEP, WPA or TKIP',
} as const;

/** The oldest generation of IEEE 802.11 that a radio lets join. */
export const modeTitles = {
  any: 'all of its band',
  'no-b': 'from 802.11g, without 802.11b',
  n: 'from 802.11n',
  ac: 'from 802.11ac',
  ax: 'from 802.11ax',
} as const;

/** A signal in dBm, as a program shows it: -67, or "-67 dBm". */
function parseSignal(typed: string): Result<number> {
  const figure = /^(-?\d{1,3}(?:\.\d)?)(?: ?dBm)?$/i.exec(typed.trim().replace('\u2212', '-'));
  const dbm = Number(figure?.[1]);
  return figure && dbm >= -120 && dbm <= 0
    ? ok(dbm)
    : bad('signal', `"${typed}" is no signal: write it in dBm, from -120 to 0, such as -67.`);
}

/** A room in which Wi-Fi is promised, what is expected there, and what was read there. */
export const roomSchema = z.strictObject({
  id,
  name: cosmetic(text('Room', 'As people here call it.', { longest: 80, tellsApart: true })),
  wifi: refersTo('/wifi/networks', 'Wi-Fi network', 'The name that is used there.', { emptyMeans: 'any' }),
  radio: refersTo('/wifi/radios', 'Served by', 'The radio that serves it.', { emptyMeans: 'not chosen' }),
  metres: cosmetic(
    number('Distance', 'From the access point, through the walls.', {
      unit: 'm',
      seldomOutside: [0.5, 60],
      most: 1000,
    }),
  ),
  floors: cosmetic(
    whole('Floors between', 'Ceilings that the signal passes.', { most: 10, emptyMeans: 'none' }),
  ),
  wantedMbps: rate(
    number('Promised rate', 'What a device gets there at least, download.', {
      unit: 'Mb/s',
      seldomOutside: [1, 2000],
      most: 10_000,
      emptyMeans: 'nothing promised',
    }),
  ),
  readings: cosmetic(
    typedList('Signal readings', 'Signal at several spots of the room, in dBm.', parseSignal, 20, {
      repeats: true,
      emptyMeans: 'not measured',
      example: '-61, -64, -70',
    }),
  ),
});

/** A Wi-Fi network: what devices see and join. */
export const wifiNetworkSchema = z.strictObject({
  id,
  ssid: text('SSID', 'The name that devices show; 32 bytes at most.', {
    longest: 32,
    lacking: 'no device can find it.',
    alsoCalled: ['Network name', 'WLAN name'],
  }),
  network: refersTo('/networks', 'Network', 'The inside network whose devices join it.', {
    emptyMeans: 'not chosen',
  }),
  security: choice('Security', 'What protects it.', securityTitles, 'both', {
    alsoCalled: ['Encryption', 'Authentication', 'WPA mode'],
  }),
  secret: secret('Passphrase', 'Name under which the vault keeps it; 8 to 63 characters.', {
    alsoCalled: ['Wi-Fi key', 'Pre-shared key', 'WPA key'],
  }),
  hidden: yesNo(
    'Hidden',
    'The name is not announced. That protects nothing, and devices then call it out wherever they are.',
    false,
    {
      alsoCalled: ['Broadcast SSID'],
    },
  ),
  isolation: yesNo('Client isolation', 'Devices on it cannot reach each other.', false, {
    alsoCalled: ['AP isolation', 'Station isolation'],
  }),
  wps: yesNo('WPS', 'Devices join by button or PIN.', false, { alsoCalled: ['Wi-Fi Protected Setup'] }),
  terms: yesNo('Page of terms', 'Guests accept a page before they get on.', false, {
    alsoCalled: ['Captive portal', 'Hotspot', 'Splash page'],
  }),
  sessionMinutes: cosmetic(
    whole('Session limit', 'How long a guest stays on before accepting again.', {
      unit: 'min',
      seldomOutside: [5, 525600],
      least: 1,
      most: 525_600,
      emptyMeans: 'no limit',
      alsoCalled: ['Session timeout', 'Voucher time'],
    }),
  ),
  until: cosmetic(day('Ends on', 'Last day of this Wi-Fi network', 'until', { emptyMeans: 'stays' })),
});

/** A radio of a box. */
export const radioSchema = z.strictObject({
  id,
  box: refersTo('/kit', 'Access point', 'The box that has it.', { emptyMeans: 'not chosen' }),
  band: rate(choice('Band', 'The band in which it works.', wifiBands, '2.4')),
  channel: rate(
    whole('Channel', 'The primary channel of 20 MHz.', {
      least: 1,
      most: 233,
      emptyMeans: 'automatic',
    }),
  ),
  width: rate(
    choice('Channel width', 'What it uses at once.', widthTitles, '20', { alsoCalled: ['Bandwidth'] }),
  ),
  modes: rate(
    choice('Wi-Fi generations', 'The oldest generation that may join.', modeTitles, 'any', {
      alsoCalled: ['Wireless mode', '802.11 mode', 'Legacy rates'],
    }),
  ),
  networks: refersToSome('/wifi/networks', 'Wi-Fi networks on it', 'Which names it serves.', 16, {
    emptyMeans: 'all',
  }),
  power: rate(
    number('Transmit power', 'EIRP, as its settings say.', {
      unit: 'dBm',
      seldomOutside: [5, 36],
      least: -10,
      most: 40,
      emptyMeans: 'factory setting',
    }),
  ),
});

/** A foreign network that was heard on the site. */
export const heardSchema = cosmetic(
  z.strictObject({
    id,
    ssid: text('SSID', 'Its name; empty where it hides it.', { longest: 32 }),
    band: choice('Band', 'The band in which it was heard.', wifiBands, '2.4'),
    channel: whole('Channel', 'Its primary channel.', { least: 1, most: 233 }),
    width: choice('Channel width', 'What it uses at once.', widthTitles, '20'),
    signal: number('Signal', 'As strong as it was heard.', {
      unit: 'dBm',
      seldomOutside: [-100, -20],
      least: -120,
      most: 0,
    }),
  }),
);

export const wifiSchema = z
  .strictObject({
    networks: rows('Wi-Fi networks', 'Names that devices can join.', wifiNetworkSchema, 50),
    radios: rows('Radios', 'Radios of access points and routers.', radioSchema, 200),
    rooms: rows('Rooms', 'Where Wi-Fi is promised, and what was read there.', roomSchema, 200),
    heard: repeated(
      rows('Networks heard', 'What a scan on the site found beside the own ones.', heardSchema, 500),
    ),
  })
  .prefault({});
