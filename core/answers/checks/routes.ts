import { formatAddress, parseAddress, sameAddress } from '../../base/net/address.ts';
import { valueOf } from '../../base/result.ts';
import type { Site } from '../../site/model.ts';
import { note } from './note.ts';
import { contains, formatPrefix } from '../../base/net/prefix.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import { step, worked } from '../../base/worked/worked.ts';

/** A static route's next hop must be a neighbour. */
export const routes: Check = {
  name: 'routes',
  run: (site) => [...nextHops(site), ...twice(site), ...nobodyThere(site)],
};

/** Two static routes to one destination: the router uses one of them, and which one differs from router to router. */
const twice = ({ staticRoutes }: Site): Finding[] =>
  staticRoutes.flatMap(({ at, prefix, via }, index): Finding[] => {
    const first = staticRoutes
      .slice(0, index)
      .find((other) => prefix && other.prefix && formatPrefix(other.prefix) === formatPrefix(prefix));
    if (!prefix || !via || !first?.via) return [];
    return [
      {
        ...note(
          'route-twice',
          'warning',
          `${at}/prefix`,
          `${formatPrefix(prefix)} is routed twice, over ${formatAddress(first.via)} and over ${formatAddress(via)}: routers differ in which one they use. Remove one.`,
          worked(
            'Routes to this destination',
            2,
            '',
            [step('first', formatAddress(first.via)), step('second', formatAddress(via))],
            'RFC 1812 section 5.2.4.3',
          ),
        ),
        also: [`${first.at}/prefix`],
      },
    ];
  });

/** A next hop inside is a router that somebody can find: a device, a second router or equipment with that address. */
function nobodyThere({ staticRoutes, networks, devices, second, kit }: Site): Finding[] {
  const held = [
    ...devices.map(({ address }) => address),
    ...second.map(({ address }) => address),
    ...kit.map(({ adminAddress }) => valueOf(parseAddress(adminAddress))),
    ...networks.map(({ routerAddress }) => routerAddress),
  ];
  return staticRoutes.flatMap(({ at, prefix, via }): Finding[] => {
    const network = via && networks.find((each) => each.prefix && contains(each.prefix, via));
    if (!via || !network || held.some((each) => each && sameAddress(each, via))) return [];
    return [
      note(
        'route-hop-unknown',
        'advice',
        `${at}/via`,
        `Nothing on ${network.name} is entered with the address ${formatAddress(via)}, the next hop${prefix ? ` to ${formatPrefix(prefix)}` : ''}. Enter the router that has it, so that nobody else gets its address.`,
        worked(
          `Things with the address ${formatAddress(via)}`,
          0,
          '',
          [step('devices, second routers and equipment', held.length), step('with this address', 0)],
          'the plan itself',
        ),
      ),
    ];
  });
}

const nextHops = ({ staticRoutes, networks, lines }: Site): Finding[] =>
  staticRoutes.flatMap(({ at, via }): Finding[] => {
    if (!via) return [];
    const near = [...networks, ...lines].filter((side) => side.prefix && contains(side.prefix, via));
    const own = [...networks.map((each) => each.routerAddress), ...lines.map((each) => each.address)].some(
      (each) => each?.value === via.value,
    );
    if (near.length > 0 && !own) return [];
    const text = formatAddress(via);
    return [
      {
        rule: own ? 'route-loop' : 'route-next-hop',
        severity: 'blocker',
        at: `${at}/via`,
        says: own
          ? `The next hop ${text} is the router itself: the packets would go in a circle.`
          : `The next hop ${text} is on no network of this router, so the route cannot be used and routers refuse it.`,
        why: worked(
          `Networks that hold ${text}`,
          near.length,
          '',
          [...networks, ...lines]
            .slice(0, 6)
            .map((side) =>
              step(side.name, side.prefix && contains(side.prefix, via) ? 'holds it' : 'does not'),
            ),
          'RFC 1812 section 5.2.4',
        ),
        source: 'RFC 1812 section 5.2.4',
      },
    ];
  });
