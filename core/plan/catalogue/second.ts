import * as z from 'zod';
import { parseAddress } from '../../base/net/address.ts';
import { parsePorts } from '../../base/net/ports.ts';
import { parseInterface } from '../../base/net/prefix.ts';
import { choice, cosmetic, id, number, refersTo, rows, short, text, typed, yesNo } from '../field.ts';
import { protocol } from './site.ts';

export const secondWayTitles = {
  undecided: 'not decided',
  'access-point': 'access point, LAN to LAN',
  chained: 'router behind the router, WAN to LAN',
  bridge: 'wireless bridge',
} as const;

export const sightTitles = {
  unknown: 'not looked up yet',
  clear: 'clear',
  walls: 'walls or a building',
} as const;

/** A port forward of a second router: what the first hands it, it hands on. */
export const secondForwardSchema = z.strictObject({
  id,
  purpose: cosmetic(text('What for', 'What is reached.')),
  protocol,
  outsidePorts: typed('Port on its WAN side', 'Where it is asked, by the first router.', parsePorts, {
    example: '8443',
    alsoCalled: ['External port', 'Public port'],
  }),
  address: typed('Device address', 'Address of the device in its own subnet.', parseAddress, {
    alsoCalled: ['Internal IP', 'Server address'],
  }),
  insidePorts: typed('Port of the device', 'Where the device listens.', parsePorts, {
    emptyMeans: 'the same',
    alsoCalled: ['Internal port', 'Private port'],
  }),
});

/** A second router, or an access point that could route. */
export const secondSchema = z.strictObject({
  id,
  box: refersTo('/kit', 'Box', 'Which of the equipment it is.', { emptyMeans: 'not entered yet' }),
  network: refersTo('/networks', 'Connected to', "The first router's network in which it is.", {
    emptyMeans: 'the first network',
  }),
  way: choice('Mode', 'How it is connected.', secondWayTitles, 'undecided', {
    alsoCalled: ['Operation mode', 'Router mode', 'AP mode', 'Repeater', 'Client mode'],
  }),
  address: typed('Upstream address', 'Its own address in that network.', parseAddress, {
    alsoCalled: ['LAN IP', 'WAN IP', 'Management address'],
  }),
  inside: typed('Its own subnet', 'Its address and prefix length inside, where it routes.', parseInterface, {
    example: '192.168.60.1/24',
    alsoCalled: ['LAN subnet', 'IP range'],
  }),
  factoryAddress: cosmetic(
    typed(
      'Factory address',
      'Address and prefix length when it is new, from its label or manual.',
      parseInterface,
      { example: '192.168.1.1/24', alsoCalled: ['Default IP', 'Default login'] },
    ),
  ),
  dhcp: yesNo('DHCP server', 'It gives addresses to what is connected to it.', true, {
    on: 'on',
    off: 'off',
    alsoCalled: ['DHCP mode'],
  }),
  translates: yesNo(
    'Source NAT',
    'Where it routes: what leaves it gets its own address. Without, the router needs a static route to its subnet.',
    true,
    { on: 'on', off: 'off', alsoCalled: ['NAT', 'Masquerade'] },
  ),
  port: choice(
    'Plugged into',
    'Which of its ports the cable from the first router goes into.',
    { unknown: 'not looked up yet', lan: 'a LAN port', wan: 'its WAN port' },
    'unknown',
  ),
  cable: cosmetic(
    choice(
      'Cable',
      'Whether a cable reaches the place where it stands.',
      { unknown: 'not looked up yet', yes: 'a cable reaches it', no: 'no cable' },
      'unknown',
    ),
  ),
  place: cosmetic(short('Place', 'Where it stands: upstairs, barn.')),
  metres: cosmetic(
    number('Distance by air', 'To the first, where it is joined by air.', {
      unit: 'm',
      seldomOutside: [1, 10000],
      most: 20_000,
      emptyMeans: 'not known',
    }),
  ),
  sight: cosmetic(
    choice('Line of sight', 'What stands between it and the first.', sightTitles, 'unknown', {
      alsoCalled: ['LOS', 'Obstructions'],
    }),
  ),
  gain: cosmetic(
    number('Antenna gain', 'Of its antenna towards the first; it adds to what is received.', {
      unit: 'dBi',
      seldomOutside: [0, 34],
      least: -10,
      most: 45,
      emptyMeans: 'none',
    }),
  ),
  signal: cosmetic(
    number('Signal', 'How strong the first is received where it stands.', {
      unit: 'dBm',
      seldomOutside: [-95, -20],
      least: -120,
      most: 0,
      emptyMeans: 'not measured',
    }),
  ),
  forwards: rows(
    'Forwards of the second router',
    'What it hands on to devices behind it.',
    secondForwardSchema,
    200,
  ),
});
