import { asAt, type At } from '../plan/at.ts';
import { titleAt } from '../plan/places.ts';
import type { MediumName } from '../plan/schema.ts';
import type { FormProblem, Line } from '../site/model.ts';
import { wanTypes } from './index.ts';
import type { WanTypeName } from './names.ts';
import type { Paper, Signs } from './type.ts';

export interface Likely {
  readonly type: WanTypeName;
  readonly title: string;
  readonly score: number;
  readonly reasons: readonly string[];
  readonly against: readonly string[];
}

/** The WAN types this line may be, likeliest first, with what speaks for and against each. */
export function likelyTypes(medium: MediumName, papers: readonly Paper[], boxRoutes: boolean): Likely[] {
  const signs: Signs = { medium, papers: new Set(papers), boxRoutes };
  return wanTypes
    .map(({ name, clues }): Likely => {
      const found = clues.filter(({ holds }) => holds(signs));
      return {
        type: name,
        title: titleAt('/uplinks/*/type', name),
        score: found.reduce((sum, { weight }) => sum + weight, 0),
        reasons: found.filter(({ weight }) => weight > 0).map(({ says }) => says),
        against: found.filter(({ weight }) => weight < 0).map(({ says }) => says),
      };
    })
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
      asks: 'How does the router get its address: automatically (DHCP), with a user name (PPPoE), or fixed?',
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
    ...field('gatewayName', 'What is the name of the tunnel end (AFTR)?', 'The line mostly announces it.'),
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
