import { asAt, type At } from '../plan/at.ts';
import { titleAt } from '../plan/places.ts';
import type { MediumName } from '../plan/schema.ts';
import type { Line } from '../site/model.ts';
import type { FormProblem } from '../site/model.ts';
import type { UplinkTypeName } from '../plan/schema.ts';

export type Paper = Line['papers'][number];

interface Clue {
  readonly holds: (facts: Facts) => boolean;
  readonly type: UplinkTypeName;
  /** How much it counts; negative speaks against. */
  readonly weight: number;
  readonly says: string;
}

interface Facts {
  readonly medium: MediumName;
  readonly papers: ReadonlySet<Paper>;
  readonly boxRoutes: boolean;
}

const has =
  (paper: Paper) =>
  ({ papers }: Facts): boolean =>
    papers.has(paper);
const made =
  (...media: MediumName[]) =>
  ({ medium }: Facts): boolean =>
    media.includes(medium);
const both =
  (...tests: ((facts: Facts) => boolean)[]) =>
  (facts: Facts): boolean =>
    tests.every((test) => test(facts));

/** What speaks for and against each WAN type (common practice, no source). */
const clues: readonly Clue[] = [
  {
    type: 'static',
    weight: 6,
    holds: has('block'),
    says: 'The paperwork names an address, a mask and a gateway.',
  },
  {
    type: 'static',
    weight: -4,
    holds: (facts) => !facts.papers.has('block'),
    says: 'The paperwork names no IP address.',
  },
  {
    type: 'pppoe',
    weight: 6,
    holds: both(has('user'), (facts) => facts.medium !== 'cellular'),
    says: 'The paperwork names a user and a password.',
  },
  {
    type: 'pppoe',
    weight: 2,
    holds: both(has('user'), has('vlan')),
    says: 'A VLAN number goes with it, as on many fibre and DSL lines.',
  },
  {
    type: 'pppoe',
    weight: 2,
    holds: both(made('dsl', 'fibre'), (facts) => facts.papers.size === 0),
    says: 'DSL and fibre lines often ask for a session, even if the paper with the user name is missing.',
  },
  {
    type: 'pppoe',
    weight: -4,
    holds: made('cable', 'cellular', 'satellite'),
    says: 'Such lines have no dial-in session.',
  },
  {
    type: 'pppoe',
    weight: -3,
    holds: (facts) => facts.boxRoutes,
    says: 'The device in front routes: it dials, not the router.',
  },
  {
    type: 'dhcp',
    weight: 3,
    holds: (facts) => facts.papers.size === 0,
    says: 'The paperwork names nothing: the line gives the address by itself.',
  },
  {
    type: 'dhcp',
    weight: 3,
    holds: made('cable', 'wireless', 'satellite', 'ethernet'),
    says: 'Such lines mostly give the address by themselves.',
  },
  {
    type: 'dhcp',
    weight: 1,
    holds: made('fibre'),
    says: 'Some fibre lines give the address by themselves, often on a VLAN.',
  },
  {
    type: 'dhcp',
    weight: 6,
    holds: (facts) => facts.boxRoutes,
    says: 'The device in front routes, and gives the router an address of its own.',
  },
  {
    type: 'dhcp',
    weight: 5,
    holds: made('router'),
    says: 'A router in front gives addresses to what is behind it.',
  },
  {
    type: 'cellular',
    weight: 6,
    holds: both(made('cellular'), (facts) => !facts.boxRoutes),
    says: 'The card is in the router itself.',
  },
  {
    type: 'cellular',
    weight: 4,
    holds: both(has('apn'), (facts) => !facts.boxRoutes),
    says: 'The paperwork names an access point (APN).',
  },
  {
    type: 'cellular',
    weight: -6,
    holds: (facts) => facts.boxRoutes,
    says: 'The SIM is in the device in front: to the router that is a line that gives an address.',
  },
  {
    type: 'ds-lite',
    weight: 7,
    holds: has('translator'),
    says: 'The paperwork speaks of IPv4 over IPv6, or names a tunnel end.',
  },
  {
    type: 'l2tp',
    weight: 5,
    holds: both(has('server'), has('user')),
    says: 'The paperwork names a server to dial, besides the user.',
  },
  {
    type: 'pptp',
    weight: 4,
    holds: both(has('server'), has('user')),
    says: 'A server to dial may be PPTP too, which is older.',
  },
];

export interface Likely {
  readonly type: UplinkTypeName;
  readonly title: string;
  readonly score: number;
  readonly reasons: readonly string[];
  readonly against: readonly string[];
}

/** The WAN types this line may be, likeliest first, with what speaks for and against each. */
export function likelyTypes(medium: MediumName, papers: readonly Paper[], boxRoutes: boolean): Likely[] {
  const facts: Facts = { medium, papers: new Set(papers), boxRoutes };
  const scored = new Map<UplinkTypeName, Clue[]>();
  for (const clue of clues)
    if (clue.holds(facts)) scored.set(clue.type, [...(scored.get(clue.type) ?? []), clue]);
  return [...scored]
    .map(([type, found]): Likely => ({
      type,
      title: titleAt('/uplinks/*/type', type),
      score: found.reduce((sum, { weight }) => sum + weight, 0),
      reasons: found.filter(({ weight }) => weight > 0).map(({ says }) => says),
      against: found.filter(({ weight }) => weight < 0).map(({ says }) => says),
    }))
    .filter(({ score }) => score > 0)
    .sort((a, b) => b.score - a.score);
}

export interface Question {
  readonly id: string;
  readonly asks: string;
  readonly why: string;
  /** Field of the plan that the answer goes into, where there is one. */
  readonly at?: At;
  /** Already known: the plan has it. */
  readonly known: boolean;
}

/** Questions of any line, then those of its type and medium; what the plan knows already is marked. */
export function callSheet(line: Line, problems: readonly FormProblem[]): Question[] {
  const { at } = line;
  const settingsAt = `${at}/settings/${line.type}`;
  const settings = line.settings[line.type] as Readonly<Record<string, unknown>>;
  const filled = (key: string): boolean => {
    const value = settings[key];
    return typeof value === 'string'
      ? value.trim() !== ''
      : Array.isArray(value)
        ? value.length > 0
        : value !== null && value !== undefined;
  };
  const field = (key: string, asks: string, why: string): Question[] =>
    key in settings
      ? [{ id: `${line.type}-${key}`, asks, why, at: asAt(`${settingsAt}/${key}`), known: filled(key) }]
      : [];
  const questions: Question[] = [
    {
      id: 'activation',
      asks: 'Is this line active now? If not, on which day and at which hour?',
      why: 'Before activation nothing the router does brings up a session.',
      at: `${at}/activation` as const,
      known: line.activation === 'active',
    },
    {
      id: 'type',
      asks: 'How does the router get its address: by itself (DHCP), with a user name (PPPoE), or fixed?',
      why: 'It decides every other field.',
      at: `${at}/type`,
      known: line.type !== 'unknown',
    },
    ...(line.medium === 'cellular'
      ? []
      : [
          {
            id: 'vlan',
            asks: 'Is the data on a VLAN? Which number, and with which priority?',
            why: 'With the wrong tag the line is silent: no answer at all, not a refusal.',
            at: `${at}/vlan` as const,
            known: line.vlan !== null,
          },
        ]),
    ...field(
      'userName',
      'What is the user name, letter by letter, with what follows the "@"?',
      'The realm is what most refusals are about.',
    ),
    ...field('address', 'Which address is ours?', 'The router holds it.'),
    ...field('prefixLength', 'Which mask goes with it?', 'A wrong mask hides the gateway.'),
    ...field('gateway', 'Which address is your end, the gateway?', 'Without it nothing leaves.'),
    ...field('resolvers', 'Which DNS servers are we to use?', 'Without one no name resolves.'),
    ...field(
      'routedBlock',
      'Is there a further subnet, and is it on the line or routed to our address?',
      'The two are set up differently.',
    ),
    ...field(
      'tiedMac',
      'Does the line answer one MAC address only? Which one does it know, and can you clear it?',
      'Otherwise the new router gets no address.',
    ),
    ...field(
      'apn',
      'Which APN, and does it need a user name?',
      'Registered without an address is nearly always the APN.',
    ),
    ...field(
      'capGigabytes',
      'How much data is in the contract, and what does more cost?',
      'The backup line is paid by the gigabyte.',
    ),
    ...field(
      'gatewayName',
      'What is the name of the tunnel end (AFTR)?',
      'Mostly the line tells it by itself.',
    ),
    {
      id: 'public',
      asks: 'Do we get a public IPv4 address of our own, and does it stay the same?',
      why: 'Behind a shared address nothing can be reached from outside.',
      known: line.lineAddressKnown,
    },
    {
      id: 'box',
      asks: 'Does your device route, or is it bridged? Can it be bridged, and who switches it?',
      why: 'A router in front translates a second time.',
      at: `${at}/handoff/mode` as const,
      known: line.handoff.mode !== 'none' && !problems.some((each) => each.at.startsWith(`${at}/handoff`)),
    },
    {
      id: 'rate',
      asks: 'Which rates are sold, down and up?',
      why: 'A measured rate is judged against what was sold.',
      at: `${at}/rateDownMbps` as const,
      known: line.rateDownMbps !== null && line.rateUpMbps !== null,
    },
    {
      id: 'fault',
      asks: 'Which number do we call when it fails, with which customer and line number?',
      why: 'At the cabinet there is no time to search for it.',
      known: false,
    },
  ];
  const answered = new Set(line.answers.filter(({ answer }) => answer.trim() !== '').map(({ id }) => id));
  return questions.map((question) => ({ ...question, known: question.known || answered.has(question.id) }));
}

/** Fields that this line needs and does not have yet. */
export const missingFields = (line: Line, problems: readonly FormProblem[]): readonly FormProblem[] =>
  missingOf({ problems }).filter(({ at }) => at.startsWith(`${line.at}/`));

/** Every field of the plan that something needs and nobody entered yet. */
export const missingOf = ({
  problems,
}: {
  readonly problems: readonly FormProblem[];
}): readonly FormProblem[] => problems.filter(({ needed, code }) => needed && code === 'empty');
