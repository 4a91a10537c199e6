import { contains } from '../../base/net/prefix.ts';
import { translated } from '../remote-access/translation.ts';
import { goesOn, type Passage, type Stage } from './decision.ts';

const withSource = (passage: Passage, source: Passage['header']['source']): Passage => ({
  ...passage,
  header: { ...passage.header, source },
});

/**
 * The source that leaves: the line's address, or the subnet under which another site knows this one. The rows stand
 * with the lines and the other sites, so the table is empty.
 */
export const sourceNat: Stage<null> = {
  name: 'source NAT',
  table: null,
  decide: (_table, passage) => {
    const { ingress, egress, hairpin, forward, header } = passage;
    if (egress?.kind === 'tunnel') {
      const { far } = egress;
      const row = far.translations.find(({ of, real }) => of === 'here' && contains(real, header.source));
      const source = row && translated(header.source, row.real, row.seen);
      return source
        ? goesOn('source NAT', passage, { kind: 'translated', far, row }, row.at, withSource(passage, source))
        : goesOn('source NAT', passage, { kind: 'untranslated' }, row?.at);
    }
    if (egress?.kind === 'line' && ingress.kind !== 'line') {
      const { line } = egress;
      const at = `${line.at}/sourceNat` as const;
      return line.sourceNat
        ? goesOn('source NAT', passage, { kind: 'masked', line }, at, withSource(passage, line.address))
        : goesOn('source NAT', passage, { kind: 'unmasked', line }, at);
    }
    // The inside server sees the external address, so that its reply comes back here (RFC 5382 REQ-8).
    if (hairpin && forward)
      return goesOn(
        'source NAT',
        passage,
        { kind: 'turned-round', line: hairpin, rule: forward },
        forward.at,
        withSource(passage, hairpin.address),
      );
    return goesOn('source NAT', passage, { kind: 'untranslated' }, undefined);
  },
  // It changes what leaves, and stops nothing.
  rows: () => [],
};
