import { atCupboard } from '../domain-types/nature.ts';
import type { Line } from '../../site/model.ts';
import type { Finding } from '../domain-types/finding.ts';
import { step, type Worked, worked } from '../../base/worked/worked.ts';
import { judgeOptical, opticalBudget, splittersOf, type OpticalBudget } from './optical.ts';
import type { MediaSettings } from '../../plan/schema.ts';
import type { MediaAt, Medium } from './type.ts';
import { entry, fieldEntry } from '../domain-types/step.ts';
import { numberReading } from '../domain-types/reading.ts';

/** The budget of the route as far as it is known; undefined while the length or the system is missing. */
export function fibreBudget(settings: MediaSettings['fibre']): OpticalBudget | undefined {
  if (settings.system === 'none' || settings.lengthKm === null) return undefined;
  const budget = opticalBudget({
    system: settings.system,
    lengthKm: settings.lengthKm,
    connectors: settings.connectors,
    splices: settings.splices,
    splitters: splittersOf(settings.splitterWays),
    sentDbm: settings.sentDbm ?? undefined,
  });
  return budget.ok ? budget.value : undefined;
}

/** What the router sees of the fibre, and so where its light is read off. */
const terminations: Record<MediaSettings['fibre']['termination'], string> = {
  ont: 'a terminal (ONT): its own page or its lights; the router gets Ethernet',
  optic: "a transceiver in the router: the router's page of the port; its type must fit the optical system",
};

const severities = {
  dark: 'blocker',
  'too-weak': 'blocker',
  overload: 'blocker',
  weak: 'warning',
  strong: 'advice',
} as const;

const windowWorked = (budget: OpticalBudget, measuredDbm: number): Worked =>
  worked(
    'Power at the terminal',
    measuredDbm,
    'dBm',
    [
      step('the terminal hears', `${budget.system.hearDbm[0]} to ${budget.system.hearDbm[1]} dBm`),
      step('this route should give', `${budget.expectedDbm[0]} to ${budget.expectedDbm[1]} dBm`),
      step('measured', `${measuredDbm} dBm`),
    ],
    budget.system.source,
    judgeOptical(budget, measuredDbm).says,
  );

/** A route that loses more, or less, than its class is made for. */
const routeFinding = (budget: OpticalBudget, line: Line, at: MediaAt<'fibre'>): Finding[] =>
  budget.standing === 'fits'
    ? []
    : [
        {
          rule: `optical-loss-${budget.standing}`,
          severity: budget.standing === 'too-much' ? 'warning' : 'advice',
          at: `${at}/system`,
          says: `${line.name}: ${budget.worked.means}`,
          why: budget.worked,
          source: budget.system.source,
        },
      ];

/** Rates of the optical systems on the fibre, shared by everybody on it. */
const systemRates: Readonly<Record<string, readonly [down: number, up: number, source: string]>> = {
  'gpon-b': [2488, 1244, 'ITU-T G.984.2 table 2a'],
  'gpon-c': [2488, 1244, 'ITU-T G.984.2 table 2a'],
  'xgs-n1': [9953, 9953, 'ITU-T G.9807.1 annex B'],
};

export const fibre: Medium<'fibre'> = {
  name: 'fibre',
  light: 'The PON light is steady, the LOS light dark, and the received power in its window.',
  start: {
    seconds: [20, 60],
    searching: 'PON light blinking',
    ready: 'PON light steady',
    fault: {
      name: 'no-link',
      title: 'No light on the fibre',
      light: 'LOS light red',
      says: 'Loss of signal: no light arrives. Unplugged, bent or dirty; clean, then measure. Never look into it.',
    },
  },
  usualFailures: [2, 8],
  rateLimit: ({ system }, _line, at) => {
    const rates = systemRates[system];
    return (
      rates && {
        by: 'the whole optical system carries',
        downMbps: rates[0],
        upMbps: rates[1],
        at: `${at}/system`,
        means:
          'The contract is of another system, or the system is entered wrongly: read the label of the terminal.',
        source: rates[2],
      }
    );
  },
  unplugCautions: ['Never look into a fibre or a port. Put the cap on.'],
  offered: ['Fibre', 'Light levels are measured, often with a VLAN and a session.'],
  inFront: 'none',
  inText: [/\b(?:fibre|fiber|ftt[hpbo]|x?gs?-?pon|ont|optical (?:line|network)|dark fibre)\b/gi],
  check: (settings, line, at): Finding[] => {
    const budget = fibreBudget(settings);
    if (!budget) return [];
    const route = routeFinding(budget, line, at);
    if (settings.measuredDbm === null) return route;
    const { verdict, says } = judgeOptical(budget, settings.measuredDbm);
    if (verdict === 'as-expected') return route;
    return [
      ...route,
      {
        rule: `optical-${verdict}`,
        severity: severities[verdict],
        at: `${at}/measuredDbm`,
        says: `${line.name}: ${says}`,
        why: windowWorked(budget, settings.measuredDbm),
        source: budget.system.source,
      },
    ];
  },
  workings: (settings, _line, key) => {
    const budget = fibreBudget(settings);
    if (!budget) return [];
    return key === 'measuredDbm' && settings.measuredDbm !== null
      ? [windowWorked(budget, settings.measuredDbm), budget.worked]
      : [budget.worked];
  },
  steps: (settings, line) => {
    const budget = fibreBudget(settings);
    return [
      {
        id: `light:${line.id}`,
        nature: { ...atCupboard, uses: [`line:${line.id}`] },
        phase: 'uplink',
        title: `Measure the light of ${line.name}`,
        needs: ['reconnect'],
        entries: [
          fieldEntry(`${line.at}/media/fibre/termination`, terminations[settings.termination]),
          ...(budget
            ? [
                entry(
                  'Expect',
                  `${budget.expectedDbm[0]} to ${budget.expectedDbm[1]} dBm`,
                  ['Rx power', 'Received optical power'],
                  `${line.at}/media/fibre/lengthKm`,
                ),
                entry(
                  'The terminal hears',
                  `${budget.system.hearDbm[0]} to ${budget.system.hearDbm[1]} dBm`,
                  ['Sensitivity', 'Overload'],
                  `${line.at}/media/fibre/system`,
                ),
              ]
            : []),
        ],
        why: 'A weak line works today and fails with the next bend or speck of dust.',
        lowSeconds: 60,
        highSeconds: 300,
        proof: 'The power is inside the window, and as the route should give it; no light says LOS.',
        ifNot: 'Clean both connectors with the right tool, then measure again, before you call the provider.',
        cautions: [
          'Laser light, mostly invisible: never look into a fibre or a port, not through a lens either (IEC 60825-1, -2). Meter first; caps on what is open.',
        ],
        fields: [
          numberReading('power', 'Received power', 'dBm', { at: `${line.at}/media/fibre/measuredDbm` }),
        ],
      },
    ];
  },
};
