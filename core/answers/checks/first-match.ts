import { difference, intersection, type PacketBox } from '../../base/net/packet-set.ts';

/** A row of a table in which the first that fits decides, and that decides nothing. */
export interface Idle<Row> {
  readonly row: Row;
  /** The rows above it that take its packets. */
  readonly above: readonly Row[];
  /** Some of its packets. */
  readonly box: PacketBox;
}

/**
 * Rows that rows above take all packets of.
 * @param keyOf rows of different keys have no packet in common; leave it out where any two may
 */
export function idleRows<Row>(
  rows: readonly Row[],
  boxesOf: (row: Row) => readonly PacketBox[],
  keyOf: (row: Row) => string = () => '',
): Idle<Row>[] {
  const found: Idle<Row>[] = [];
  const known = new Map<string, { readonly row: Row; readonly boxes: readonly PacketBox[] }[]>();
  for (const row of rows) {
    const boxes = boxesOf(row);
    const [box] = boxes;
    const before = known.get(keyOf(row)) ?? [];
    const taking = before.filter((each) =>
      each.boxes.some((one) => boxes.some((two) => intersection(one, two))),
    );
    const all = taking.flatMap((each) => each.boxes);
    if (box && all.length > 0 && difference(boxes, all).length === 0)
      found.push({ row, above: taking.map((each) => each.row), box });
    known.set(keyOf(row), [...before, { row, boxes }]);
  }
  return found;
}
