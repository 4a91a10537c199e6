import type { At } from '../../plan/at.ts';
import { formatAddress, parseAddress } from '../../base/net/address.ts';
import { parseMac } from '../../base/net/mac.ts';
import { formatPrefix, parseLength } from '../../base/net/prefix.ts';
import { titleAt } from '../../plan/places.ts';
import { valueOf } from '../../base/result.ts';
import { replacing, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Line, Site } from '../../site/model.ts';
import { factAt, factText, needs } from '../../wan-types/facts.ts';
import { wanType } from '../../wan-types/index.ts';
import type { LineFact } from '../../wan-types/profile.ts';
import type { Paper } from '../../wan-types/type.ts';
import { practice, step, worked } from '../../base/worked/worked.ts';
import { note, said } from './note.ts';

/** What the provider wrote or said about a line, against what is entered for it. */
export const papers: Check = {
  name: 'papers',
  run: (site) =>
    site.lines.flatMap((line) => [...announced(line), ...exchanged(site, line), ...answered(line)]),
};

/** What an unused thing of the paperwork means (common practice, no source). */
const unusedSays: Readonly<Record<Exclude<Paper, 'vlan'>, string>> = {
  user: 'a user name, and nothing here sends one: without it the session is refused or never begins',
  block:
    'an address with a mask, and the line is set to take whatever it is given: a fixed address is entered, and a provider that assigns one on paper often offers none by DHCP',
  apn: 'an APN, which only a SIM card uses: without it the card registers and gets no address',
  translator: 'IPv4 over IPv6 (DS-Lite), so there is no IPv4 address of its own on this line',
  server: 'a server to dial, and nothing here dials one',
};
const untagged = 'a VLAN ID, and none is entered: without the tag the line is silent';

function announced(line: Line): Finding[] {
  const { papers: held, name, type, box } = line;
  // A device in front that routes holds the session and its values, not this router.
  if (type === 'unknown' || box?.routes) return [];
  return held.flatMap((paper): Finding[] => {
    const isTag = paper === 'vlan';
    if (isTag ? line.vlan !== null : wanType(type).uses(line).includes(paper)) return [];
    const title = titleAt('/uplinks/*/type', type);
    const modem = box && isTag ? ` Unless ${box.name} adds it: then say so in the notes.` : '';
    return [
      {
        ...note(
          'papers-unused',
          'warning',
          `${line.at}/${isTag ? 'vlan' : 'type'}`,
          `The paperwork of ${name} holds ${isTag ? untagged : unusedSays[paper]}. It is set to "${title}".${modem}`,
          said('WAN type', title),
        ),
        also: [`${line.at}/papers`],
      },
    ];
  });
}

interface Statement {
  /** The words of whoever stated it, and where. */
  readonly by: string;
  readonly value: string;
}

/** One thing that can be stated about a line, and what is entered for it. */
interface Subject {
  readonly term: string;
  /** Where it is entered; undefined where this line has no place for it. */
  readonly field: (line: Line) => At | undefined;
  /** What is entered; empty where nothing is. */
  readonly entered: (line: Line) => readonly string[];
  /** Questions of the call sheet whose answers are about it, beside that about the field. */
  readonly questions?: readonly string[];
  /** The word before it in free text. */
  readonly label: RegExp;
  /** All values of its kind in a text. */
  readonly read: (text: string) => readonly string[];
  readonly enter?: (value: string) => unknown;
}

const all = (text: string, pattern: RegExp): string[] => [...text.matchAll(pattern)].map(([whole]) => whole);

const addressesIn = (text: string): string[] =>
  all(text, /(?<![\d.:])(?:\d{1,3}\.){3}\d{1,3}(?![\d.])/g).flatMap((each) => {
    const host = valueOf(parseAddress(each));
    return host ? [formatAddress(host)] : [];
  });

const lengthsIn = (text: string): string[] =>
  [...text.matchAll(/\/\d{1,2}\b|\b255(?:\.\d{1,3}){3}\b/g)].flatMap(([each]) => {
    const length = valueOf(parseLength(each.replace('/', '')));
    return length === undefined ? [] : [`/${length}`];
  });

/** A line whose own address stands on paper. */
const assigned = ({ type }: Line): boolean => needs(type, 'address');
/** Where such a line holds a fact of its subnet. */
const onPaper =
  (fact: LineFact) =>
  (line: Line): At | undefined =>
    assigned(line) ? factAt(line, fact) : undefined;
const textOf =
  (fact: LineFact) =>
  (line: Line): string[] =>
    [factText(line, fact)].filter((text) => text !== '');

/** Rates of a text in Mb/s: "250/40 Mb/s", "1 Gb/s down". */
const ratesIn = (text: string): string[] => {
  const unit = /\bg(?:b|bit)?(?:\/s|ps|it)?\b/i.test(text) ? 1000 : 1;
  return all(text, /\d+(?:[.,]\d+)?/g).map((each) => String(Number(each.replace(',', '.')) * unit));
};

const subjects: readonly Subject[] = [
  {
    term: 'VLAN ID',
    field: ({ at }) => `${at}/vlan`,
    entered: ({ vlan }) => (vlan === null ? [] : [String(vlan)]),
    questions: ['vlan'],
    label: /\b(?:vlan|tag)\b/i,
    read: (text) => all(text, /\b\d{1,4}\b/g).filter((each) => Number(each) >= 1 && Number(each) <= 4094),
    enter: Number,
  },
  {
    term: 'address',
    field: onPaper('address'),
    entered: (line) => (line.addressKnown ? [formatAddress(line.address)] : []),
    questions: ['public'],
    label: /\b(?:address|ip)\b/i,
    read: addressesIn,
  },
  {
    term: 'gateway',
    field: onPaper('gateway'),
    entered: (line) => (line.gateway ? [formatAddress(line.gateway)] : []),
    label: /\bgateway\b/i,
    read: addressesIn,
  },
  {
    term: 'prefix length',
    field: onPaper('prefixLength'),
    entered: (line) => (line.prefix ? [`/${line.prefix.length}`] : []),
    label: /\b(?:mask|netmask|prefix length)\b/i,
    read: lengthsIn,
  },
  {
    term: 'user name',
    field: (line) => factAt(line, 'userName'),
    entered: textOf('userName'),
    label: /\buser(?: ?name)?\b/i,
    read: (text) =>
      text
        .split(/[\s,;"'=]+/)
        .map((word) => word.replace(/^[^\p{L}\p{N}]+|[.:]$/gu, ''))
        .filter((word) => /^[^@]+@[^@]+$/.test(word)),
    enter: (value) => value,
  },
  {
    term: 'APN',
    field: (line) => factAt(line, 'apn'),
    entered: textOf('apn'),
    label: /\bapn\b/i,
    read: (text) => all(text, /\b[A-Za-z0-9-]+(?:\.[A-Za-z0-9-]+)+\b/g),
    enter: (value) => value,
  },
  {
    term: 'MAC address the line answers',
    field: (line) => factAt(line, 'tiedMac'),
    entered: (line) => textOf('tiedMac')(line).flatMap((text) => valueOf(parseMac(text))?.text ?? []),
    label: /\bmac\b/i,
    read: (text) =>
      all(text, /\b[0-9a-f]{2}(?:[:-][0-9a-f]{2}){5}\b/gi).flatMap(
        (each) => valueOf(parseMac(each))?.text ?? [],
      ),
  },
  {
    term: 'contract rate',
    field: ({ at }) => `${at}/rateDownMbps`,
    entered: ({ rateDownMbps, rateUpMbps }) =>
      [rateDownMbps, rateUpMbps].flatMap((each) => (each === null ? [] : [String(each)])),
    questions: ['rate'],
    label: /\b(?:rates?|speeds?|contract|sold)\b/i,
    read: ratesIn,
  },
];

/** The answers to the call sheet, whole, and of the notes the words that follow the name of the subject. */
function statementsOf(
  { answers, notes, type }: Line,
  at: At,
  { questions = [], label, read }: Subject,
): Statement[] {
  const asked = [...questions, `${type}-${at.split('/').at(-1)}`];
  const told = answers
    .filter(({ id }) => asked.includes(id))
    .flatMap(({ answer, who }) =>
      read(answer).map((value) => ({
        by: who ? `${who} said "${answer}"` : `the answer was "${answer}"`,
        value,
      })),
    );
  const labelled = new RegExp(`${label.source}[^\\n.;]{0,40}`, 'gi');
  const noted = all(notes, labelled).flatMap((words) =>
    read(words)
      .slice(0, 1)
      .map((value) => ({ by: `the notes say "${words.trim()}"`, value })),
  );
  return [...told, ...noted];
}

const same = (a: string, b: string): boolean => a.toLowerCase() === b.toLowerCase();

function answered(line: Line): Finding[] {
  if (line.box?.routes) return [];
  return subjects.flatMap((subject): Finding[] => {
    const at = subject.field(line);
    if (at === undefined) return [];
    const entered = subject.entered(line);
    const stated = statementsOf(line, at, subject);
    const [first] = stated;
    if (!first) return [];
    const missing = entered.length === 0;
    // What is not entered at all is asked for where it is needed; a tag that is missing is not.
    if (missing && subject.term !== 'VLAN ID') return [];
    const apart = entered.filter((each) => !stated.some(({ value }) => same(value, each)));
    if (!missing && apart.length === 0) return [];
    if (swapped(line, subject, stated)) return [];
    const values = [...new Set(stated.map(({ value }) => value))];
    return [
      note(
        'papers-differ',
        'warning',
        at,
        `The ${subject.term} of ${line.name} is ${missing ? 'not entered' : apart.join(' and ')} here, and ${first.by}. One of the two is wrong: ask again before the visit.`,
        worked(
          `The ${subject.term} in two places`,
          'differs',
          '',
          [step('entered', entered.join(', ') || 'nothing'), step('stated', values.join(', '))],
          practice,
        ),
        subject.enter && values.length === 1
          ? replacing(`Enter ${values[0]}`, at, subject.enter(values[0]!))
          : undefined,
      ),
    ];
  });
}

const subjectOf = (term: string): Subject => subjects.find((each) => each.term === term)!;

/** Address and gateway in each other's place are one mistake, and have a finding of their own. */
const swapped = (line: Line, { term }: Subject, stated: readonly Statement[]): boolean =>
  line.gateway !== undefined &&
  ((term === 'address' && stated.some(({ value }) => value === formatAddress(line.gateway!))) ||
    (term === 'gateway' && stated.some(({ value }) => value === formatAddress(line.address))));

/**
 * The provider's end entered as the own address: by an answer, a note, or an endpoint that calls the site by what is
 * entered as the gateway.
 */
function exchanged({ vpn }: Site, line: Line): Finding[] {
  const { gateway, address, addressKnown, prefix } = line;
  const [addressAt, gatewayAt] = [onPaper('address')(line), onPaper('gateway')(line)];
  if (!addressAt || !gatewayAt || !gateway || !addressKnown || !prefix) return [];
  const [own, far] = [formatAddress(address), formatAddress(gateway)];
  const stated = [
    ...statementsOf(line, addressAt, subjectOf('address')).filter(({ value }) => value === far),
    ...statementsOf(line, gatewayAt, subjectOf('gateway')).filter(({ value }) => value === own),
    ...vpn.endpoints
      .filter((each) => each.line === line && each.host === far)
      .map(() => ({ by: `remote users call the site at ${far}`, value: far })),
  ];
  const [first] = stated;
  if (!first) return [];
  return [
    {
      ...note(
        'address-gateway-exchanged',
        'blocker',
        addressAt,
        `Address and gateway of ${line.name} are swapped: ${own} is entered as the address and ${far} as the gateway, and ${first.by}. Nothing would leave the site, and the router would take the gateway's address.`,
        worked(
          'Address and gateway',
          'exchanged',
          '',
          [
            step('subnet of the line', formatPrefix(prefix)),
            step('entered as the address', own),
            step('entered as the gateway', far),
            step('stated', first.by),
          ],
          practice,
        ),
        {
          says: `Exchange them: address ${far}, gateway ${own}`,
          patch: [
            { op: 'replace', path: addressAt, value: far },
            { op: 'replace', path: gatewayAt, value: own },
          ],
        },
      ),
      also: [gatewayAt],
    },
  ];
}
