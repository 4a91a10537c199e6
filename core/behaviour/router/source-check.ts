import { sameAddress } from '../../base/net/address.ts';
import { classify, reachableFromOutside, specialPrefixes } from '../../base/net/classify.ts';
import { contains } from '../../base/net/prefix.ts';
import { rangeOf } from '../../base/net/range.ts';
import { insideOf } from '../../site/lookups.ts';
import type { Line, Network, Site } from '../../site/model.ts';
import { goesOn, stops, type Stage } from './decision.ts';
import { wayPrefixes, wayTo, type RoutingTable } from './route.ts';
import type { RouteTable } from './route-table.ts';

export interface SourceTable extends RoutingTable {
  /**
   * The inside network on which the router would look for a line's next hop, because both use one subnet. No packet
   * leaves by such a line, and none that came in by it is answered.
   */
  readonly confusedWith: ReadonlyMap<Line, Network>;
}

/** The lines whose next hop is looked for inside. */
export function confusedLines(site: Site, route: RouteTable): ReadonlyMap<Line, Network> {
  const found = new Map<Line, Network>();
  for (const line of site.lines) {
    const next = line.gateway ?? (line.addressKnown ? line.address : undefined);
    const side = next && route.find(next);
    const network = side && insideOf(side.target);
    if (network) found.set(line, network);
  }
  return found;
}

/** A source belongs to the side it came from (RFC 2827, strict as in RFC 3704 section 2.2). */
export const sourceCheck = (table: SourceTable): Stage<SourceTable> => ({
  name: 'source check',
  table,
  decide: ({ route, site, confusedWith }, passage) => {
    const { source } = passage.header;
    if (passage.ingress.kind === 'tunnel') {
      const { far } = passage.ingress;
      const way = wayTo({ route, site }, source);
      const prefix = far.prefixes.find((each) => contains(each, source));
      // Where the way back leads elsewhere, its answers would too.
      const back = way?.kind !== 'far' || way.far !== far;
      return prefix && !back
        ? goesOn('source check', passage, { kind: 'source-there', far, prefix }, `${far.at}/prefixes`)
        : stops(
            'source check',
            passage,
            { kind: 'source-elsewhere', back: route.find(source) },
            `${far.at}/prefixes`,
            'dropped',
          );
    }
    if (passage.ingress.kind === 'client') {
      const { peer } = passage.ingress;
      const own = [peer?.address, peer?.address6].some((each) => each && sameAddress(each, source));
      return peer && own
        ? goesOn('source check', passage, { kind: 'source-client', peer }, peer.at)
        : stops('source check', passage, { kind: 'source-elsewhere', back: undefined }, peer?.at, 'dropped');
    }
    const back = route.find(source);
    const inside = back && insideOf(back.target);
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
    // A prefix that is sent here is nobody's source outside.
    if (back?.target.kind === 'unused')
      return stops('source check', passage, { kind: 'source-elsewhere', back }, back.at, 'dropped');
    const { class: name } = classify(source);
    const near = line.prefix !== undefined && contains(line.prefix, source);
    return near || reachableFromOutside(name)
      ? goesOn('source check', passage, { kind: 'source-outside' }, undefined)
      : stops('source check', passage, { kind: 'source-not-public', class: name }, back?.at, 'dropped');
  },
  rows: ({ route, site }, ingress) => [
    ...route.prefixes.map((prefix) => ({ source: rangeOf(prefix) })),
    ...(ingress.kind === 'line' ? specialPrefixes.map((prefix) => ({ source: rangeOf(prefix) })) : []),
    ...(ingress.kind === 'line' && ingress.line.prefix ? [{ source: rangeOf(ingress.line.prefix) }] : []),
    ...(ingress.kind === 'tunnel' ? wayPrefixes(site).map((prefix) => ({ source: rangeOf(prefix) })) : []),
  ],
});
