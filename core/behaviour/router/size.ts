import type { At } from '../../plan/at.ts';
import { goesOn, stops, type Side, type Stage } from './decision.ts';

export interface SizeTable {
  /** Largest packet in the tunnel to another site, in bytes. */
  readonly tunnelBytes: number;
}

/** Inside, Ethernet carries 1500 bytes (IEEE 802.3). */
export const insideBytes = 1500;

const limitOf = (table: SizeTable, egress: Side | undefined): [bytes: number, at: At | undefined] =>
  egress?.kind === 'line'
    ? [egress.line.mtuBytes, `${egress.line.at}/mtuBytes`]
    : egress?.kind === 'tunnel' || egress?.kind === 'client'
      ? [table.tunnelBytes, '/vpn/mtuBytes']
      : [insideBytes, undefined];

/** A packet that must not be fragmented fits or is dropped, and its sender is told (RFC 1191, RFC 8201). */
export const size = (table: SizeTable): Stage<SizeTable> => ({
  name: 'size',
  table,
  decide: (limits, passage) => {
    const { egress, ingress } = passage;
    // What comes in by a line or a tunnel has been carried by it before.
    const [mtuBytes, at] = [egress, ...(ingress.kind === 'network' ? [] : [ingress])]
      .map((side) => limitOf(limits, side))
      .sort(([a], [b]) => a - b)[0]!;
    return passage.header.sizeBytes <= mtuBytes
      ? goesOn('size', passage, { kind: 'fits', mtuBytes }, at)
      : stops('size', passage, { kind: 'too-large', mtuBytes }, at, 'dropped');
  },
  rows: () => [],
});
