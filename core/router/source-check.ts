import { classify, reachableFromOutside } from '../net/classify.ts';
import type { Address } from '../net/address.ts';
import { contains } from '../net/prefix.ts';
import type { Line, Network, Route, Site } from '../site/model.ts';
import { goesOn, stops, type Stage } from './decision.ts';

export interface SourceTable {
  readonly route: (address: Address) => Route | undefined;
  /**
   * The inside network on which the router would look for a line's next hop, because both use one subnet. No packet
   * leaves by such a line, and none that came in by it is answered.
   */
  readonly confusedWith: ReadonlyMap<Line, Network>;
}

export const networkOf = ({ target }: Route): Network | undefined =>
  target.kind === 'line' ? undefined : target.network;

/** The lines whose next hop is looked for inside. */
export function confusedLines(
  site: Site,
  route: (address: Address) => Route | undefined,
): ReadonlyMap<Line, Network> {
  const found = new Map<Line, Network>();
  for (const line of site.lines) {
    const next = line.gateway ?? (line.addressKnown ? line.address : undefined);
    const side = next && route(next);
    const network = side && networkOf(side);
    if (network) found.set(line, network);
  }
  return found;
}

/** A source belongs to the side it came from (RFC 2827, strict as in RFC 3704 section 2.2). */
export const sourceCheck = (table: SourceTable): Stage<SourceTable> => ({
  name: 'source check',
  table,
  decide: ({ route, confusedWith }, passage) => {
    const { source } = passage.header;
    const back = route(source);
    const inside = back && networkOf(back);
    if (passage.ingress.kind === 'network')
      return back && inside === passage.ingress.network
        ? goesOn('source check', passage, { kind: 'source-inside', back }, back.at)
        : stops('source check', passage, { kind: 'source-elsewhere', back }, back?.at, 'dropped');
    const { line } = passage.ingress;
    const network = confusedWith.get(line);
    if (network)
      return stops('source check', passage, { kind: 'next-hop-inside', line, network }, line.at, 'dropped');
    if (inside)
      return stops(
        'source check',
        passage,
        { kind: 'source-is-inside', network: inside, back },
        back.at,
        'dropped',
      );
    const { class: name } = classify(source);
    const near = line.prefix !== undefined && contains(line.prefix, source);
    return near || reachableFromOutside(name)
      ? goesOn('source check', passage, { kind: 'source-outside' }, undefined)
      : stops('source check', passage, { kind: 'source-not-public', class: name }, back?.at, 'dropped');
  },
});
