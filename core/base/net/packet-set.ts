import type { Address, Family } from './address.ts';
import type { PortRange, Protocol } from './ports.ts';
import type { AddressRange } from './range.ts';

/** A row of a table as the packets that it is about; what is left out is any. */
export interface PacketRow {
  readonly protocols?: readonly Protocol[];
  readonly source?: AddressRange;
  readonly destination?: AddressRange;
  /** Destination ports. A row with ports is about TCP and UDP only. */
  readonly ports?: PortRange;
}

/** Packets of one protocol and family whose source, destination and destination port each lie in a range. */
export interface PacketBox {
  readonly protocol: Protocol;
  readonly source: AddressRange;
  readonly destination: AddressRange;
  /** 0 to 0 for ICMP. */
  readonly ports: PortRange;
}

const allPorts: PortRange = { first: 1, last: 65535 };

export const protocolsOf = (protocol: Protocol | 'both'): readonly Protocol[] =>
  protocol === 'both' ? ['tcp', 'udp'] : [protocol];

/** A range of one address. */
export const single = ({ family, value }: Address): AddressRange => ({ family, first: value, last: value });

const later = <T extends bigint | number>(a: T, b: T): T => (a > b ? a : b);
const sooner = <T extends bigint | number>(a: T, b: T): T => (a < b ? a : b);

interface Interval<T> {
  readonly first: T;
  readonly last: T;
}

const meet = <T extends bigint | number, I extends Interval<T>>(a: I, b: Interval<T>): I | undefined => {
  const first = later(a.first, b.first);
  const last = sooner(a.last, b.last);
  return first <= last ? { ...a, first, last } : undefined;
};

/** What two boxes have in common. */
export function intersection(a: PacketBox, b: PacketBox): PacketBox | undefined {
  if (a.protocol !== b.protocol || a.destination.family !== b.destination.family) return undefined;
  const source = meet<bigint, AddressRange>(a.source, b.source);
  const destination = meet<bigint, AddressRange>(a.destination, b.destination);
  const ports = meet<number, PortRange>(a.ports, b.ports);
  return source && destination && ports && { protocol: a.protocol, source, destination, ports };
}

/** What is in `box` and not in `hole`: at most six boxes that do not meet. */
function without(box: PacketBox, hole: PacketBox): PacketBox[] {
  const common = intersection(box, hole);
  if (!common) return [box];
  const left: PacketBox[] = [];
  let rest = box;
  // Cut away what lies before and behind the hole, one dimension after the other.
  for (const side of ['source', 'destination'] as const) {
    const { first, last } = common[side];
    if (rest[side].first < first) left.push({ ...rest, [side]: { ...rest[side], last: first - 1n } });
    if (rest[side].last > last) left.push({ ...rest, [side]: { ...rest[side], first: last + 1n } });
    rest = { ...rest, [side]: common[side] };
  }
  const { first, last } = common.ports;
  if (rest.ports.first < first) left.push({ ...rest, ports: { ...rest.ports, last: first - 1 } });
  if (rest.ports.last > last) left.push({ ...rest, ports: { ...rest.ports, first: last + 1 } });
  return left;
}

/** What is in any of `from` and in none of `taken`. */
export const difference = (from: readonly PacketBox[], taken: readonly PacketBox[]): PacketBox[] =>
  taken.reduce<PacketBox[]>((left, hole) => left.flatMap((box) => without(box, hole)), [...from]);

/** Whether a packet is in a box. */
export const holds = (
  box: PacketBox,
  packet: {
    readonly protocol: Protocol;
    readonly source: Address;
    readonly destination: Address;
    readonly destinationPort: number;
  },
): boolean =>
  box.protocol === packet.protocol &&
  box.destination.family === packet.destination.family &&
  box.source.first <= packet.source.value &&
  packet.source.value <= box.source.last &&
  box.destination.first <= packet.destination.value &&
  packet.destination.value <= box.destination.last &&
  box.ports.first <= packet.destinationPort &&
  packet.destinationPort <= box.ports.last;

/** Joins boxes that differ in one dimension only and touch there, until none do. */
export function joinBoxes(boxes: readonly PacketBox[]): PacketBox[] {
  let joined = [...boxes];
  if (joined.length < 2) return joined;
  let before: number;
  do {
    before = joined.length;
    joined = joinAlong(joined, 'ports');
    joined = joinAlong(joined, 'destination');
    joined = joinAlong(joined, 'source');
  } while (joined.length < before);
  return joined;
}

type Dimension = 'ports' | 'destination' | 'source';
const dimensions: readonly Dimension[] = ['ports', 'destination', 'source'];

function joinAlong(boxes: readonly PacketBox[], along: Dimension): PacketBox[] {
  const groups = new Map<string, PacketBox[]>();
  for (const box of boxes) {
    const key = [
      box.protocol,
      box.destination.family,
      ...dimensions.filter((each) => each !== along).map((each) => `${box[each].first}-${box[each].last}`),
    ].join(' ');
    const group = groups.get(key);
    if (group) group.push(box);
    else groups.set(key, [box]);
  }
  return [...groups.values()].flatMap((group) => {
    if (group.length === 1) return group;
    group.sort((a, b) => (a[along].first < b[along].first ? -1 : a[along].first > b[along].first ? 1 : 0));
    const joined: PacketBox[] = [];
    for (const box of group) {
      const last = joined.at(-1);
      // Touching is enough: the next begins at most one further on.
      if (last && BigInt(box[along].first) <= BigInt(last[along].last) + 1n)
        joined[joined.length - 1] = {
          ...last,
          [along]: { ...last[along], last: later(last[along].last, box[along].last) },
        };
      else joined.push(box);
    }
    return joined;
  });
}

/**
 * The same set of packets always as the same text, however it was cut: each dimension is cut only where what is left of
 * the others changes.
 */
export function canonicalBoxes(boxes: readonly PacketBox[]): string {
  const groups = new Map<string, PacketBox[]>();
  for (const box of boxes) {
    const key = `${box.protocol} ${box.destination.family}`;
    groups.set(key, [...(groups.get(key) ?? []), box]);
  }
  return [...groups]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([key, group]) => `${key}: ${canonicalAlong(group, ['destination', 'source', 'ports'])}`)
    .join('; ');
}

function canonicalAlong(boxes: readonly PacketBox[], [along, ...rest]: readonly Dimension[]): string {
  if (along === undefined) return '';
  const edges = [
    ...new Set(boxes.flatMap((box) => [BigInt(box[along].first), BigInt(box[along].last) + 1n])),
  ].sort((a, b) => (a < b ? -1 : 1));
  const slices: { readonly first: bigint; last: bigint; readonly inner: string }[] = [];
  for (const [index, first] of edges.slice(0, -1).entries()) {
    const here = boxes.filter((box) => BigInt(box[along].first) <= first && first <= BigInt(box[along].last));
    if (here.length === 0) continue;
    const last = edges[index + 1]! - 1n;
    const inner = canonicalAlong(here, rest);
    const before = slices.at(-1);
    if (before && before.inner === inner && before.last + 1n === first) before.last = last;
    else slices.push({ first, last, inner });
  }
  return slices
    .map(({ first, last, inner }) => `${first}-${last}${inner === '' ? '' : `(${inner})`}`)
    .join(',');
}

const noPorts: PortRange = { first: 0, last: 0 };
const protocols: readonly Protocol[] = ['tcp', 'udp', 'icmp'];

/** A value further on or back by one, of either kind of number. */
const addresses = (value: bigint, by: 1 | -1): bigint => value + BigInt(by);
const numbers = (value: number, by: 1 | -1): number => value + by;

/** The pieces into which intervals cut a range: each interval holds all of a piece or none. */
function pieces<T extends bigint | number, I extends Interval<T>>(
  range: I,
  cuts: readonly Interval<T>[],
  moved: (value: T, by: 1 | -1) => T,
): I[] {
  const edges = new Set<T>([range.first]);
  for (const { first, last } of cuts) {
    if (range.first < first && first <= range.last) edges.add(first);
    const next = moved(last, 1);
    if (range.first < next && next <= range.last) edges.add(next);
  }
  const starts = [...edges].sort((a, b) => (a < b ? -1 : 1));
  return starts.map((first, index) => ({
    ...range,
    first,
    last: index + 1 < starts.length ? moved(starts[index + 1]!, -1) : range.last,
  }));
}

/** Packets that differ in their source only, as far as rows tell them apart. */
export interface PacketBundle extends Omit<PacketBox, 'source'> {
  readonly sources: readonly AddressRange[];
}

export const boxesOf = ({ sources, ...rest }: PacketBundle): PacketBox[] =>
  sources.map((source) => ({ ...rest, source }));

/**
 * Cuts the packets from `sources` to `destinations` into bundles in which each row holds all packets or none: whoever
 * decides by these rows decides alike on all packets of a bundle. Bundles do not meet, and together they are all packets.
 * @param within only these destination ports of TCP and UDP; left out, all packets
 */
export function bundlesBetween(
  sources: readonly AddressRange[],
  destinations: readonly AddressRange[],
  rows: readonly PacketRow[],
  within: PortRange = allPorts,
): PacketBundle[] {
  const found: PacketBundle[] = [];
  for (const destination of destinations) {
    const { family } = destination;
    const from = sources.filter((each) => each.family === family);
    if (from.length === 0) continue;
    const mine = rows.filter((row) => (row.source ?? row.destination ?? destination).family === family);
    const anywhere = mine.filter((row) => !row.destination);
    const there = mine.filter((row) => row.destination);
    const whole = pieces<bigint, AddressRange>(
      destination,
      there.map((row) => row.destination!),
      addresses,
    );
    const active = activeRows(whole, there);
    for (const [index, piece] of whole.entries())
      for (const protocol of protocols)
        bundlesTo(found, from, piece, protocol, [...anywhere, ...active[index]!], within);
  }
  return found;
}

/** The rows that hold each piece: found by place, for a table has a thousand rows and its pieces are as many. */
function activeRows(whole: readonly AddressRange[], rows: readonly PacketRow[]): PacketRow[][] {
  const place = new Map(whole.map(({ first }, index) => [first, index]));
  const active: PacketRow[][] = whole.map(() => []);
  const [start] = whole;
  const end = whole.at(-1)!;
  for (const row of rows) {
    const { first, last } = row.destination!;
    if (last < start!.first || first > end.last) continue;
    const until = last >= end.last ? whole.length : place.get(last + 1n)!;
    for (let index = first <= start!.first ? 0 : place.get(first)!; index < until; index += 1)
      active[index]!.push(row);
  }
  return active;
}

function bundlesTo(
  found: PacketBundle[],
  sources: readonly AddressRange[],
  destination: AddressRange,
  protocol: Protocol,
  rows: readonly PacketRow[],
  within: PortRange,
): void {
  const mine = rows.filter((row) =>
    within !== allPorts && row.ports && (row.ports.last < within.first || within.last < row.ports.first)
      ? false
      : protocol === 'icmp'
        ? !row.ports && (row.protocols?.includes('icmp') ?? true)
        : (row.protocols?.includes(protocol) ?? true),
  );
  const cuts = mine.flatMap((row) => (row.ports ? [row.ports] : []));
  const ports =
    protocol !== 'icmp'
      ? pieces<number, PortRange>(within, cuts, numbers)
      : within === allPorts
        ? [noPorts]
        : [];
  const bySource = mine.filter((row) => row.source);
  for (const range of ports) {
    const here = bySource.filter(
      (row) => !row.ports || (row.ports.first <= range.first && range.last <= row.ports.last),
    );
    for (const alike of bySources(sources, here))
      found.push({ protocol, sources: alike, destination, ports: range });
  }
}

/** Sources, put together as the rows hold them. */
function bySources(
  sources: readonly AddressRange[],
  rows: readonly PacketRow[],
): (readonly AddressRange[])[] {
  if (rows.length === 0) return [sources];
  const cuts = rows.map((row) => row.source!);
  const groups = new Map<string, AddressRange[]>();
  for (const piece of sources.flatMap((each) => pieces<bigint, AddressRange>(each, cuts, addresses))) {
    const key = cuts.map(({ first, last }) => (first <= piece.first && piece.last <= last ? 1 : 0)).join('');
    const group = groups.get(key);
    if (group) group.push(piece);
    else groups.set(key, [piece]);
  }
  return [...groups.values()];
}

/** Every address of a family. */
export const everyAddress = (family: Family): AddressRange => ({
  family,
  first: 0n,
  last: family === 4 ? (1n << 32n) - 1n : (1n << 128n) - 1n,
});
