import { media, medium as mediumOf } from '../../behaviour/media/index.ts';
import { needs } from '../../wan-types/facts.ts';
import { wanTypeNames } from '../../wan-types/names.ts';
import type { LineFact } from '../../wan-types/profile.ts';
import { titleAt } from '../../plan/places.ts';
import { formatPrefix, parsePrefix } from '../../base/net/prefix.ts';
import type { WanTypeName } from '../../plan/schema.ts';
import { likelyTypes } from '../../wan-types/advice.ts';
import type { Paper } from '../../wan-types/type.ts';
import { lineName } from '../../intake/letter/collector.ts';
import type { BoxMode, Facts, LineFacts } from '../../intake/letter/facts.ts';
import { choice, eachLine, type BriefChoice, type Kind } from './question.ts';

/* What the lines are made of, what stands in front of them, and how they give their address. */

/** The media that can be offered, the usual ones first. */
const mediumChoices = media.flatMap(({ name, offered }) =>
  offered ? [choice(name, offered[0], offered[1])] : [],
);

export const firstLine: Kind = (facts) =>
  facts.lines.length > 0
    ? []
    : [
        {
          id: 'line',
          asks: 'What is the first line made of?',
          why: 'It decides how the router gets its address, and what is measured on site.',
          choices: mediumChoices,
          likely: 'fibre',
          because: 'Until it is known.',
          take: (to, answer, from) => {
            const medium = media.find(({ name }) => name === answer)?.name ?? 'unknown';
            to.lines.push({ key: medium, backup: false, notes: [], medium: { value: medium, from } });
          },
        },
      ];

export const secondLine: Kind = (facts) => {
  if (facts.lines.length !== 1) return [];
  const promised = facts.withinSeconds !== undefined;
  return [
    {
      id: 'second-line',
      asks: 'Is there a second line that takes over?',
      why: 'Without one every fault of the provider is an outage.',
      choices: [choice('none', 'No second line', 'One line; no failover.'), ...mediumChoices],
      likely: promised ? 'cellular' : 'none',
      because: promised
        ? 'The text names the longest outage, which one line cannot keep.'
        : 'The text names one line.',
      take: (to, answer, from) => {
        const medium = media.find(({ name }) => name === answer)?.name;
        if (medium)
          to.lines.push({
            key: `${medium} backup`,
            backup: true,
            notes: [],
            medium: { value: medium, from },
          });
      },
    },
  ];
};

export const medium = eachLine(
  (line) =>
    line.medium
      ? undefined
      : {
          id: 'medium',
          asks: `What is ${lineName(line)} made of?`,
          why: 'It decides what is measured on site, and how often such a line fails.',
          choices: mediumChoices,
          likely: knows(line, 'userName') ? 'dsl' : knows(line, 'address') ? 'ethernet' : 'fibre',
          because: 'The text does not say; this is what such a line mostly is.',
        },
  (line, answer, from) => {
    const medium = media.find(({ name }) => name === answer)?.name;
    if (!medium) return 'Unknown medium. Pick one.';
    line.medium = { value: medium, from };
  },
);

const boxChoices: Readonly<Record<BoxMode, BriefChoice>> = {
  none: choice('none', 'None, or a media converter', 'The router holds the address of the line.'),
  bridged: choice(
    'bridged',
    'A modem in bridge mode',
    'The router holds the address of the line; the modem has its own page.',
  ),
  routes: choice(
    'routes',
    'Another router',
    'A second translation (double NAT); forwards are entered twice.',
  ),
};

export const box = eachLine(
  (line) => {
    const medium = line.medium?.value;
    if (
      line.box ||
      knows(line, 'address') ||
      medium === undefined ||
      medium === 'ethernet' ||
      medium === 'unknown'
    )
      return undefined;
    const dialled = line.userName !== undefined || knows(line, 'userName');
    const likely = mediumOf(medium).inFront;
    return {
      id: 'box',
      asks:
        medium === 'cellular' ? 'Where is the SIM?' : `What stands between ${lineName(line)} and the router?`,
      why: 'Another router translates a second time: forwards and remote access end at it.',
      choices:
        medium === 'cellular'
          ? [
              choice('none', 'In the router itself', 'The router registers and needs the APN.'),
              choice(
                'routes',
                'In a cellular box in front',
                'To the router that is a line with DHCP, behind a second translation.',
              ),
            ]
          : [boxChoices.none, boxChoices.bridged, boxChoices.routes],
      likely,
      because:
        dialled && likely === 'bridged'
          ? 'The router dials, so what is in front does not.'
          : 'Most such lines come like this.',
    };
  },
  (line, answer, from) => {
    line.box = { value: answer === 'routes' ? 'routes' : answer === 'bridged' ? 'bridged' : 'none', from };
  },
);

/** Subnets that boxes of providers come with (common practice, no source). */
const boxSubnets = ['192.168.1.0/24', '192.168.8.0/24', '192.168.100.0/24'] as const;

export const boxSubnet: Kind = (facts) =>
  facts.lines.flatMap((line, index) => {
    if (line.box?.value !== 'routes' || line.insidePrefix) return [];
    const taken = facts.lines.flatMap(({ insidePrefix }) => insidePrefix?.value ?? []);
    const likely = boxSubnets.filter((each) => !taken.includes(each))[Math.min(index, 2)] ?? boxSubnets[0];
    return [
      {
        id: `box-subnet:${line.key}`,
        asks: `Which subnet does the box in front of ${lineName(line)} give?`,
        why: 'No network inside may have the same; it stands on the label of the box or on its page.',
        choices: [...new Set([likely, ...boxSubnets])].map((each) => choice(each, each, '')),
        likely,
        because: 'Many boxes come with it. Read the label before the router is set up.',
        typed: { term: 'Subnet', example: '192.168.178.0/24' },
        take: (to: Facts, answer: string, from: string) => {
          const prefix = parsePrefix(answer);
          if (!prefix.ok) return prefix.problem.says;
          to.lines.find(({ key }) => key === line.key)!.insidePrefix = {
            value: formatPrefix(prefix.value),
            from,
          };
        },
      },
    ];
  });

/** Whether the line's type is known, and cannot do without the fact. */
const knows = ({ type }: LineFacts, fact: LineFact): boolean => type !== undefined && needs(type.value, fact);

const papersOf = (line: LineFacts): Paper[] => [
  ...(line.user ? (['user'] as const) : []),
  ...(line.address || line.gateway || line.block ? (['block'] as const) : []),
  ...(line.apn ? (['apn'] as const) : []),
  ...(line.vlan ? (['vlan'] as const) : []),
  ...(line.translator ? (['translator'] as const) : []),
  ...(line.server ? (['server'] as const) : []),
];

/** Offered whatever speaks for them: the first of the registry that are known. */
const usualTypes = wanTypeNames.filter((name) => name !== 'unknown').slice(0, 3);

/** By how much one WAN type must lead for the question to be none (common practice, no source). */
const clearLead = 4;

export const type = eachLine(
  (line) => {
    const routes = line.box?.value === 'routes';
    if (line.type && !(routes && line.type.value === 'cellular')) return undefined;
    const ranked = likelyTypes(line.medium?.value ?? 'unknown', papersOf(line), routes);
    const [first, second] = ranked;
    // One answer that nothing else comes near is no question: it stands with its reason.
    if (first && first.score - (second?.score ?? 0) >= clearLead) {
      line.type = { value: first.type, from: `Usual value: ${first.title}. ${first.reasons.join(' ')}` };
      return undefined;
    }
    const titles = ranked.slice(0, 4);
    return {
      id: 'type',
      asks: `How does the router get its address on ${lineName(line)}?`,
      why: 'It decides every other field of the line.',
      choices: [
        ...titles.map(({ type, title, reasons }) => choice(type, title, reasons[0] ?? '')),
        ...usualTypes.flatMap((each) =>
          titles.some(({ type }) => type === each)
            ? []
            : [choice(each, titleAt('/uplinks/*/type', each), '')],
        ),
      ],
      likely: first?.type ?? 'dhcp',
      because: first
        ? `${first.reasons.join(' ')}${second && second.score === first.score ? ' Others are as likely.' : ''}`
        : 'Most lines do.',
      provider: true,
    };
  },
  (line, answer, from) => {
    line.type = { value: answer as WanTypeName, from };
  },
);
