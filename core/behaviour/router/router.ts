import type { Header } from '../../base/net/packet.ts';
import type { Site } from '../../site/model.ts';
import { tunnelMtu } from '../remote-access/interface.ts';
import { bound, type BoundStage, type Decision, type Passage, type Side } from './decision.ts';
import { destinationNat, destinationTable } from './destination-nat.ts';
import { itself } from './itself.ts';
import { lineChoice } from './line-choice.ts';
import { policy, policyTable } from './policy.ts';
import { routeTable, type RouteTable } from './route-table.ts';
import { routing } from './route.ts';
import { size } from './size.ts';
import { confusedLines, sourceCheck } from './source-check.ts';
import { sourceNat } from './source-nat.ts';

/** The edge router of a site with some lines down: its stages, in the order in which a packet goes through them. */
export interface Router {
  readonly stages: readonly BoundStage[];
  readonly route: RouteTable;
  /** What each stage decides, up to the one at which the packet ends. */
  readonly decide: (ingress: Side, header: Header) => readonly Decision[];
}

/** Makes the tables of a site, with these lines (by id) down. */
export function createRouter(site: Site, down: ReadonlySet<string>): Router {
  const routes = site.routes.filter(({ target }) => target.kind !== 'line' || !down.has(target.line.id));
  const route = routeTable(routes);
  const confusedWith = confusedLines(site, route);
  const destinations = destinationTable(site);
  const stages = [
    bound(sourceCheck({ route, site, confusedWith })),
    bound(destinationNat(destinations)),
    bound(itself({ own: destinations.own, services: site.services, site })),
    bound(routing({ route, site })),
    bound(
      lineChoice({
        rules: site.failover.rules,
        isDown: ({ id }) => down.has(id),
        confusedWith,
        sharing:
          site.failover.sharing === 'weights' ? site.lines.filter((line) => line.defaultRoute) : undefined,
      }),
    ),
    bound(policy(policyTable(site))),
    bound(sourceNat),
    bound(size({ tunnelBytes: site.vpn.sites.length > 0 || site.vpn.way !== 'none' ? tunnelMtu(site) : 0 })),
  ];
  return { stages, route, decide: (ingress, header) => decide(stages, ingress, header) };
}

/** What each of these stages decides on what the one before has left, up to the one at which the packet ends. */
export function decide(stages: readonly BoundStage[], ingress: Side, header: Header): Decision[] {
  let passage: Passage = {
    ingress,
    header,
    forward: undefined,
    hairpin: undefined,
    route: undefined,
    egress: undefined,
  };
  const decisions: Decision[] = [];
  for (const stage of stages) {
    const decision = stage.decide(passage);
    if (!decision) continue;
    decisions.push(decision);
    if (decision.stop) break;
    passage = decision.after;
  }
  return decisions;
}
