import { formatAddress } from '../../base/net/address.ts';
import { contains } from '../../base/net/prefix.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import { step, worked } from '../../base/worked/worked.ts';

/** A static route's next hop must be a neighbour. */
export const routes: Check = {
  name: 'routes',
  run: ({ staticRoutes, networks, lines }) =>
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
    }),
};
