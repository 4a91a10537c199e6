import type { At } from '../../plan/at.ts';
import { everyAddress, type PacketBox } from '../../base/net/packet-set.ts';
import { joinRanges } from '../../base/net/range.ts';
import type { Site } from '../../site/model.ts';
import { rangeText, reachedName, reachesOf } from './describe.ts';
import { createRouter } from '../../behaviour/router/router.ts';
import { exposureOf, type Passing } from './exposure.ts';
import { sendersOf, type Sender } from './senders.ts';

/** One way on which a sender reaches a destination: by which rule, and a packet that shows it. */
export interface Opening {
  /** The device, the network, the router. */
  readonly to: string;
  readonly services: string;
  /** Who may, where it is not everybody of the sender. */
  readonly only: string;
  /** Pointer of the rule; undefined where it is the habit of the router. */
  readonly at: At | undefined;
  readonly rule: string;
  /** A question for Ask. */
  readonly witness: string;
}

export interface MatrixCell {
  readonly column: string;
  /** In two or three words: "nothing", "everything", "tcp 8443". */
  readonly text: string;
  readonly openings: readonly Opening[];
}

export interface MatrixRow {
  readonly from: string;
  readonly kind: Sender['kind'];
  readonly cells: readonly MatrixCell[];
}

/** Who (rows) can reach what (columns). */
export interface ExposureMatrix {
  readonly columns: readonly string[];
  readonly rows: readonly MatrixRow[];
}

const inFront = (name: string): string => `In front of ${name}`;

const columnOf = ({ reached }: Passing): string =>
  reached.kind === 'router'
    ? 'Router'
    : reached.kind === 'internet'
      ? 'Internet'
      : reached.kind === 'in-front'
        ? inFront(reached.line.name)
        : reachedName(reached);

export const exposureColumns = ({ networks, lines, vpn }: Site): string[] => [
  ...networks.map(({ name }) => name),
  'Router',
  'Internet',
  ...lines.filter(({ box }) => box?.routes).map(({ name }) => inFront(name)),
  ...vpn.sites.map(({ name }) => name),
];

/** One row of the table, out of what passes of one sender. */
export function matrixRow(site: Site, sender: Sender, passing: readonly Passing[]): MatrixRow {
  const found = new Map<string, Opening[]>();
  for (const each of passing) {
    const column = columnOf(each);
    found.set(column, [...(found.get(column) ?? []), ...openingsOf(site, each)]);
  }
  return {
    from: sender.name,
    kind: sender.kind,
    cells: exposureColumns(site).map((column) => {
      const openings = once(found.get(column) ?? []).sort(inOrder);
      return { column, text: cellText(openings, column), openings };
    }),
  };
}

/**
 * The exposure of a site as a table for people, row by row: a site may have hundreds of senders.
 * @param down ids of the lines that are down
 */
export function* exposureRows(site: Site, down: ReadonlySet<string> = new Set()): Generator<MatrixRow> {
  const router = createRouter(site, down);
  for (const sender of sendersOf(site)) yield matrixRow(site, sender, exposureOf(site, sender, down, router));
}

/** As the rules stand in the plan, then by what is reached. */
const inOrder = (a: Opening, b: Opening): number =>
  collator.compare(a.at ?? '', b.at ?? '') ||
  collator.compare(a.to, b.to) ||
  collator.compare(a.services, b.services) ||
  collator.compare(a.witness, b.witness);
const collator = new Intl.Collator('en', { numeric: true });

/** The same opening over IPv4 and IPv6 is one. */
const once = (openings: readonly Opening[]): Opening[] => [
  ...new Map(
    openings.map((each) => [[each.to, each.services, each.at, each.rule].join('\n'), each]),
  ).values(),
];

const openingsOf = (site: Site, passing: Passing): Opening[] =>
  reachesOf(site, [passing]).map((reach) => ({
    ...reach,
    only: passing.sender.kind === 'internet' ? sourcesText(passing.boxes) : '',
    at: passing.at,
    rule: passing.rule(),
    witness: passing.witness,
  }));

/** Sources from the internet, where they are few; everybody otherwise. */
function sourcesText(boxes: readonly PacketBox[]): string {
  const sources = joinRanges(boxes.map(({ source }) => source));
  const [first] = sources;
  if (!first) return '';
  const size = sources.reduce((sum, range) => sum + (range.last - range.first + 1n), 0n);
  const whole = everyAddress(first.family);
  // More than half of all addresses is everybody: the rest is what no packet comes from.
  return size * 2n > whole.last ? '' : sources.map(rangeText).join(', ');
}

function cellText(openings: readonly Opening[], column: string): string {
  const [first, ...more] = openings;
  if (!first) return 'nothing';
  if (openings.some(({ to, services }) => to === column && services === 'everything')) return 'everything';
  if (column === 'Internet' && openings.length === 1) return first.services;
  const services = new Set(openings.map((each) => each.services));
  if (services.size === 1 && first.services.length <= 16)
    return more.length === 0 ? first.services : `${first.services}, ${openings.length} places`;
  return `${openings.length} ${openings.length === 1 ? 'opening' : 'openings'}`;
}
