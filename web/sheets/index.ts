import { sheetAt, type FieldSheet } from '../../core/index.ts';

/** A page of a site: everything about it that the rail, the routes, the shortcuts and the Workings want to know. */
interface Page {
  readonly key: string;
  /** Its module, which comes when it is opened. */
  readonly load: () => Promise<object>;
  /** Without fields to work out it has the whole width; bare, for one hand at the cabinet, nothing else is on it. */
  readonly width?: 'wide' | 'bare';
}

interface Sheet extends Page {
  readonly title: string;
  /** The key that opens it with Alt, as it is printed on the keyboard and as the browser calls it. */
  readonly shortcut: readonly [printed: string, code: string];
  /** What it decides, and who waits for it; of a sheet on which fields of the plan stand. */
  readonly about?: readonly [decides: string, waits: string];
}

/** The sheets in working order. */
export const sheets = [
  {
    key: 'picture',
    title: 'Picture',
    load: () => import('./picture/picture.tsx'),
    width: 'wide',
    shortcut: ['1', '1'],
  },
  {
    key: 'site',
    title: 'Site',
    load: () => import('./site/site.tsx'),
    shortcut: ['2', '2'],
    about: [
      'The name under which the site is found, who opens the door, and which equipment is set up.',
      'The run sheet compares labels with the equipment, the record names the people.',
    ],
  },
  {
    key: 'uplinks',
    title: 'Uplinks',
    load: () => import('./uplinks/uplinks.tsx'),
    shortcut: ['3', '3'],
    about: [
      'How each line gives the router its address, and the device in front.',
      'Failover, forwards and remote access go over these lines; the run sheet enters them.',
    ],
  },
  {
    key: 'addresses',
    title: 'Addresses',
    load: () => import('./addresses/addresses.tsx'),
    shortcut: ['4', '4'],
    about: [
      'Which networks there are, who uses each, and which addresses they have.',
      'Rules, forwards and grants name these networks and devices.',
    ],
  },
  {
    key: 'wiring',
    title: 'Wiring',
    load: () => import('./wiring/wiring.tsx'),
    shortcut: ['5', '5'],
    about: [
      'Which cable joins which ports, and which VLANs pass on each.',
      'The way of every network and of lines that are carried over the cabling follows from it.',
    ],
  },
  {
    key: 'wifi',
    title: 'Wi-Fi',
    load: () => import('./wifi/wifi.tsx'),
    shortcut: ['6', '6'],
    about: [
      'Which names devices join, where each leads, and the channels of the radios.',
      'A client on an SSID gets the rules of that network.',
    ],
  },
  {
    key: 'second',
    title: 'Second router',
    load: () => import('./downstream-router/downstream-router.tsx'),
    shortcut: ['7', '7'],
    about: [
      'How each box behind the router is connected: as an access point, as a router of its own, or by air.',
      'Addresses, the order of the steps and what is reached behind it follow from it.',
    ],
  },
  {
    key: 'failover',
    title: 'Failover',
    load: () => import('./failover/failover.tsx'),
    shortcut: ['8', '8'],
    about: [
      'What is promised for the day a line fails. The probing follows from the promise.',
      'The Bench rehearses each promise, the run sheet has it timed, Acceptance asks for the proof.',
    ],
  },
  {
    key: 'rules',
    title: 'Rules',
    load: () => import('./rules/rules.tsx'),
    shortcut: ['9', '9'],
    about: [
      'What may pass between networks, and what is forwarded from outside.',
      'Exposure, Ask and Acceptance answer by these rules; the first row that fits decides.',
    ],
  },
  {
    key: 'remote-access',
    title: 'Remote access',
    load: () => import('./remote-access/remote-access.tsx'),
    shortcut: ['0', '0'],
    about: [
      'Remote users, their VPN and what each may reach.',
      'Profiles, codes to scan and the days on which access ends follow from it.',
    ],
  },
  {
    key: 'bench',
    title: 'Bench',
    load: () => import('./bench/bench.tsx'),
    width: 'wide',
    shortcut: ['-', 'minus'],
  },
  {
    key: 'run-sheet',
    title: 'Run sheet',
    load: () => import('./run-sheet/run-sheet.tsx'),
    shortcut: ['=', 'equal'],
  },
  {
    key: 'acceptance',
    title: 'Acceptance',
    load: () => import('./acceptance/acceptance.tsx'),
    width: 'wide',
    shortcut: ['[', 'bracketleft'],
  },
  {
    key: 'handover',
    title: 'Handover',
    load: () => import('./handover/handover.tsx'),
    width: 'wide',
    shortcut: [']', 'bracketright'],
  },
] as const satisfies readonly Sheet[];

export type SheetKey = (typeof sheets)[number]['key'];

/** Pages of a site that are no sheets of the binder: opened from one, or by a command. */
const otherPages: readonly Page[] = [
  { key: 'found', load: () => import('./discovery/discovery.tsx'), width: 'wide' },
  { key: 'cabinet', load: () => import('./cabinet/cabinet.tsx'), width: 'bare' },
  { key: 'ask', load: () => import('./ask/ask.tsx'), width: 'wide' },
  { key: 'history', load: () => import('./history/history.tsx'), width: 'wide' },
];

export const sitePages: readonly Page[] = [...sheets, ...otherPages];

export const pageNamed = (key: string): Page | undefined => sitePages.find((page) => page.key === key);
export const sheetNamed = (key: string): Sheet | undefined => sheets.find((sheet) => sheet.key === key);

/** The sheet on which a place of the plan is: the catalogue says it. */
export const sheetOf = (at: string): SheetKey & FieldSheet => sheetAt(at);
