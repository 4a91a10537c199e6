import type { Brief, LineFacts } from '../../intake/letter/facts.ts';
import type { LetterTruth, LineTruth } from './truth.ts';

/** One fact of a letter: what it says, and what was read. */
export interface Compared {
  readonly line: 'main' | 'backup';
  readonly fact: string;
  readonly said: unknown;
  readonly read: unknown;
  readonly verdict: 'right' | 'missed' | 'wrong';
}

const scored = [
  'medium', 'type', 'userName', 'vlan', 'downMbps', 'upMbps', 'address', 'prefixLength', 'gateway', 'resolvers', 'mtuBytes', 'apn', 'capGigabytes', 'translator',
] as const; // prettier-ignore

/** What may be read of a line without being said in so many words. */
const follows = (fact: string, read: unknown, said: LineTruth): boolean =>
  (fact === 'type' && read === 'cellular') || (fact === 'type' && said.medium === 'cellular');

function compareLine(
  name: Compared['line'],
  said: LineTruth | undefined,
  read: LineFacts | undefined,
): Compared[] {
  return scored.flatMap((fact): Compared[] => {
    const truth = said?.[fact];
    const found = (read?.[fact] as { value: unknown } | undefined)?.value;
    if (truth === undefined && (found === undefined || found === 'unknown')) return [];
    const same = JSON.stringify(truth) === JSON.stringify(found);
    if (said && follows(fact, found, said)) return [];
    return [
      {
        line: name,
        fact,
        said: truth,
        read: found,
        verdict: same ? 'right' : found === undefined || found === 'unknown' ? 'missed' : 'wrong',
      },
    ];
  });
}

/** Every fact of a letter beside what was read; what was read and nobody said is wrong, and so is an unmasked secret. */
export function compare({ line, backup }: LetterTruth, brief: Brief): Compared[] {
  const { lines } = brief.facts;
  const second = lines.find((each) => each.backup) ?? lines[1];
  const first = lines.find((each) => each !== second) ?? lines[0];
  const more = lines.filter((each) => each !== first && each !== second);
  const secrets = [line.password, line.pin, backup?.password, backup?.pin].flatMap((secret) =>
    secret === undefined ? [] : [secret],
  );
  return [
    ...compareLine('main', line, first),
    ...compareLine('backup', backup, first === second ? undefined : second),
    ...more.flatMap((each) => compareLine('backup', undefined, each)),
    ...secrets.map((secret): Compared => {
      const kept = brief.secrets.some(({ value }) => value === secret);
      const told = JSON.stringify(brief.facts).includes(secret);
      return {
        line: 'main',
        fact: 'secret',
        said: secret,
        read: brief.secrets.map(({ value }) => value),
        verdict: told ? 'wrong' : kept ? 'right' : 'missed',
      };
    }),
    ...brief.secrets
      .filter(({ value }) => !secrets.includes(value))
      .map(({ value }): Compared => ({
        line: 'main',
        fact: 'secret',
        said: undefined,
        read: value,
        verdict: 'wrong',
      })),
  ];
}
