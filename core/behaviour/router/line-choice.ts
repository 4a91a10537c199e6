import { fitsRule } from '../failover/policy.ts';
import { protocolsOf } from '../../base/net/packet-set.ts';
import type { FailoverRule } from '../../site/failover.ts';
import type { Line, Network, Route } from '../../site/model.ts';
import { goesOn, stops, type Stage } from './decision.ts';

export interface LineTable {
  readonly rules: readonly FailoverRule[];
  readonly isDown: (line: Line) => boolean;
  readonly confusedWith: ReadonlyMap<Line, Network>;
  /** Lines with a default route, where they share the sessions by weight. */
  readonly sharing: readonly Line[] | undefined;
}

/** The default route: which line it leads to is for the failover rules to say. */
const goesOut = ({ prefix, target }: Route): boolean =>
  prefix.length === 0 && target.kind === 'line' && !target.onLink;

/** Which line carries what leaves by the default route: the first rule that fits, else the first line that is up. */
export const lineChoice = (table: LineTable): Stage<LineTable> => ({
  name: 'failover',
  table,
  decide: ({ rules, isDown, confusedWith, sharing }, passage) => {
    const { ingress, header, route } = passage;
    const rule =
      ingress.kind !== 'line' && route && goesOut(route)
        ? rules.find((each) =>
            fitsRule(each, ingress.kind === 'network' ? ingress.network : undefined, header),
          )
        : undefined;
    const line = rule ? rule.lines.find((each) => !isDown(each)) : lineOf(passage.egress);
    if (rule && !line) return stops('failover', passage, { kind: 'no-line', rule }, rule.at, 'refused');
    const network = line && confusedWith.get(line);
    if (line && network)
      return stops('route', passage, { kind: 'next-hop-inside', line, network }, line.at, 'dropped');
    if (line && !line.gatewayUsable && route && goesOut(route))
      return stops('route', passage, { kind: 'next-hop-unusable', line }, line.at, 'dropped');
    const shared =
      sharing && !rule && line && ingress.kind !== 'line' && route && goesOut(route)
        ? sharing.filter((each) => !isDown(each))
        : [];
    // Which line a session takes is for chance; it is followed over the first, and the others are said.
    if (shared.length > 1)
      return goesOn('failover', passage, { kind: 'line-shared', lines: shared }, '/failover/sharing');
    return rule && line
      ? goesOn('failover', passage, { kind: 'line-chosen', rule, line }, rule.at, {
          ...passage,
          egress: { kind: 'line', line },
        })
      : undefined;
  },
  rows: ({ rules }, ingress) =>
    ingress.kind === 'line'
      ? []
      : rules
          .filter(
            ({ network }) =>
              network === undefined || (ingress.kind === 'network' && network === ingress.network),
          )
          .map(({ protocol, ports }) => ({
            ...(protocol !== 'any' && { protocols: protocolsOf(protocol) }),
            ...(ports && { ports }),
          })),
});

const lineOf = (egress: { readonly kind: string; readonly line?: Line } | undefined): Line | undefined =>
  egress?.kind === 'line' ? egress.line : undefined;
