import * as z from 'zod';
import { parseVlans } from '../../base/net/vlan.ts';
import type { CableCategory } from '../../base/worked/cabling.ts';
import {
  choice,
  cosmetic,
  id,
  number,
  onSheet,
  rate,
  refersTo,
  rows,
  short,
  typedList,
  usually,
  usualWhole,
  whole,
  yesNo,
} from '../field.ts';

/** What a run is made of: ISO/IEC 11801, TIA-568. */
export const categoryTitles = {
  unknown: 'not known',
  cat5: 'Cat 5',
  cat5e: 'Cat 5e',
  cat6: 'Cat 6',
  cat6a: 'Cat 6A',
  cat7: 'Cat 7',
  cat8: 'Cat 8',
  om3: 'fibre, multimode OM3',
  om4: 'fibre, multimode OM4',
  os2: 'fibre, single mode OS2',
} as const satisfies Readonly<Record<CableCategory, string>>;

export const poeTitles = { none: 'none', gives: 'gives power', takes: 'takes power' } as const;

export const vlanSupportTitles = {
  unknown: 'not looked up yet',
  aware: 'VLAN-aware (IEEE 802.1Q)',
  plain: 'passes every frame as it is',
} as const;

const vlanBounds = { least: 1, most: 4094 } as const;

/** A port of a box that passes frames on (IEEE 802.1Q: bridge port). */
export const switchPortSchema = z.strictObject({
  id,
  name: short('Port', 'As printed beside it.', {
    tellsApart: true,
    alsoCalled: ['Socket', 'Interface', 'Jack'],
  }),
  rateMbps: rate(
    number('Port rate', 'Largest rate of the port, as on the data sheet.', {
      unit: 'Mb/s',
      seldomOutside: [10, 100000],
      most: 400_000,
      emptyMeans: 'not looked up',
      alsoCalled: ['Link speed', 'Port speed'],
    }),
  ),
  untagged: usualWhole('Untagged VLAN', 'The VLAN of frames without a tag (IEEE 802.1Q: PVID).', {
    ...vlanBounds,
    usual: usually(1, 'IEEE 802.1Q: the default PVID'),
    alsoCalled: ['PVID', 'Native VLAN', 'Access VLAN'],
  }),
  tagged: typedList('Tagged VLANs', 'The VLANs that pass with their tag: 10, 20-29.', parseVlans, 64, {
    emptyMeans: 'none',
    alsoCalled: ['Trunk VLANs', 'Allowed VLANs', 'VLAN members'],
  }),
  poe: choice('Power', 'Power over Ethernet on this port.', poeTitles, 'none', {
    alsoCalled: ['PoE', 'PSE', 'PD'],
  }),
  poeClass: whole('PoE class', 'Class of what is fed, 1 to 8 (IEEE 802.3af, at, bt).', {
    least: 1,
    most: 8,
    emptyMeans: 'not known',
  }),
});

/** A cable from a port to another one. */
export const runSchema = z.strictObject({
  id,
  label: cosmetic(
    short('Label', 'On both ends of the cable.', {
      tellsApart: true,
      alsoCalled: ['Cable number', 'Tag'],
    }),
  ),
  fromBox: refersTo('/kit', 'From', 'The box at one end.', { emptyMeans: 'not known' }),
  fromPort: short('From port', 'As printed beside it.'),
  toBox: refersTo('/kit', 'To', 'The box at the other end.', { emptyMeans: 'a device or an outlet' }),
  toDevice: refersTo('/devices', 'To device', 'The device at the other end, where it is no box.', {
    emptyMeans: 'none',
  }),
  toPort: short('To port', 'As printed beside it, or the number of the outlet.'),
  category: rate(
    choice('Category', 'What the run is made of, as printed on its jacket.', categoryTitles, 'unknown', {
      alsoCalled: ['Cable type', 'Class'],
    }),
  ),
  metres: cosmetic(
    number('Length', 'From plug to plug, with the patch cords.', {
      unit: 'm',
      seldomOutside: [0.1, 2000],
      most: 100_000,
    }),
  ),
  pairs: rate(
    usualWhole('Pairs', 'Pairs of wires that are connected at both ends.', {
      least: 1,
      most: 4,
      usual: usually(4, 'IEEE 802.3ab'),
    }),
  ),
  shielded: rate(yesNo('Shielded', 'The screen is connected at both ends.', false)),
});

/** A line whose provider side goes over the cabling of the site in a VLAN of its own. */
export const transitSchema = z.strictObject({
  id,
  uplink: refersTo('/uplinks', 'Uplink', 'The line whose provider side is carried.', {
    lacking: 'no line is carried by it.',
  }),
  vlan: whole('Transit VLAN', 'The VLAN that carries it between its box and the router, and nothing else.', {
    ...vlanBounds,
    lacking: 'the line does not get to the router.',
  }),
});

export const wiringSchema = z
  .strictObject({
    runs: rows('Runs', 'Cables between ports, a row each.', runSchema, 2000),
    transits: rows(
      'Lines carried over the cabling',
      'Lines whose box and router are apart: the provider side goes over a VLAN of its own.',
      transitSchema,
      8,
      'line carried over the cabling',
    ),
  })
  .prefault({});

/** What a box in the cabling is, and its ports. */
export const boxWiring = {
  ports: onSheet(
    'wiring',
    rows('Switch ports', 'Ports of the box, and the VLANs of each.', switchPortSchema, 64),
  ),
  vlanSupport: onSheet(
    'wiring',
    choice('VLAN support', 'Whether the box looks at VLAN tags.', vlanSupportTitles, 'unknown', {
      alsoCalled: ['Managed', 'Smart switch', '802.1Q'],
    }),
  ),
  spanningTree: onSheet(
    'wiring',
    yesNo('Spanning tree', 'The box blocks a port that closes a loop (IEEE 802.1D).', false, {
      alsoCalled: ['STP', 'RSTP', 'Loop protection'],
    }),
  ),
  poeWatts: onSheet(
    'wiring',
    cosmetic(
      number('PoE budget', 'Power for all ports together.', {
        unit: 'W',
        seldomOutside: [5, 4000],
        most: 100_000,
        emptyMeans: 'not known',
      }),
    ),
  ),
} as const;
