import { goesOn, stops, type Egress, type Stage } from './decision.ts';

export interface SizeTable {
  /** Largest packet in the tunnel to another site, in bytes. */
  readonly tunnelBytes: number;
}

/** Inside, Ethernet carries 1500 bytes (IEEE 802.3). */
const insideBytes = 1500;

const limitOf = (table: SizeTable, egress: Egress | undefined): [bytes: number, at: string | undefined] =>
  egress?.kind === 'line'
    ? [egress.line.mtuBytes, `${egress.line.at}/mtuBytes`]
    : egress?.kind === 'tunnel'
      ? [table.tunnelBytes, '/vpn/mtuBytes']
      : [insideBytes, undefined];

/** A packet that must not be fragmented fits or is dropped, and its sender is told (RFC 1191, RFC 8201). */
export const size = (table: SizeTable): Stage<SizeTable> => ({
  name: 'size',
  table,
  decide: (limits, passage) => {
    const [mtuBytes, at] = limitOf(limits, passage.egress);
    return passage.header.sizeBytes <= mtuBytes
      ? goesOn('size', passage, { kind: 'fits', mtuBytes }, at)
      : stops('size', passage, { kind: 'too-large', mtuBytes }, at, 'dropped');
  },
});
