import * as z from 'zod';
import { wifiBands } from '../../worked/wifi.ts';
import { choice, id, number, refersTo, rows, secret, text, whole, yesNo } from '../field.ts';

export const widthTitles = { '20': '20 MHz', '40': '40 MHz', '80': '80 MHz', '160': '160 MHz' } as const;

export const securityTitles = {
  wpa3: 'WPA3',
  both: 'WPA2 and WPA3',
  wpa2: 'WPA2 with AES',
  open: 'open, without a key',
  older: 'WEP, WPA or TKIP',
} as const;

/** A Wi-Fi network: what devices see and join. */
export const wifiNetworkSchema = z.strictObject({
  id,
  ssid: text('SSID', 'The name that devices show; 32 bytes at most.', {
    longest: 32,
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
});

/** A radio of a box. */
export const radioSchema = z.strictObject({
  id,
  box: refersTo('/kit', 'Access point', 'The box that has it.', { emptyMeans: 'not chosen' }),
  band: choice('Band', 'The band in which it works.', wifiBands, '2.4'),
  channel: whole('Channel', 'The primary channel of 20 MHz.', {
    least: 1,
    most: 233,
    emptyMeans: 'chosen by itself',
  }),
  width: choice('Channel width', 'What it uses at once.', widthTitles, '20', { alsoCalled: ['Bandwidth'] }),
  power: number('Transmit power', 'EIRP, as its settings say.', {
    unit: 'dBm',
    least: -10,
    most: 40,
    emptyMeans: 'as it comes',
  }),
});

/** A foreign network that was heard on the site. */
export const heardSchema = z.strictObject({
  id,
  ssid: text('SSID', 'Its name; empty where it hides it.', { longest: 32 }),
  band: choice('Band', 'The band in which it was heard.', wifiBands, '2.4'),
  channel: whole('Channel', 'Its primary channel.', { least: 1, most: 233 }),
  width: choice('Channel width', 'What it uses at once.', widthTitles, '20'),
  signal: number('Signal', 'As strong as it was heard.', { unit: 'dBm', least: -120, most: 0 }),
});

export const wifiSchema = z
  .strictObject({
    networks: rows('Wi-Fi networks', 'Names that devices can join.', wifiNetworkSchema, 50),
    radios: rows('Radios', 'Radios of access points and routers.', radioSchema, 200),
    heard: rows('Networks heard', 'What a scan on the site found beside the own ones.', heardSchema, 500),
  })
  .prefault({});
