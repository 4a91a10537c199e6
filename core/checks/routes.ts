import { parseAddress, formatAddress } from '../net/address.ts';
import { contains } from '../net/prefix.ts';
import type { Check, Finding } from '../site/finding.ts';
import { step, worked } from '../worked/worked.ts';

/** A static route's next hop must be a neighbour. */
export const routes: Check = {
  name: 'routes',
  run: ({ plan, networks, lines }) =>
    plan.routes.flatMap((route, index): Finding[] => {
      const via = parseAddress(route.via);
      if (!via.ok) return [];
      const near = [...networks, ...lines].filter((side) => side.prefix && contains(side.prefix, via.value));
      const own = [...networks.map((each) => each.routerAddress), ...lines.map((each) => each.address)].some(
        (each) => each?.value === via.value.value,
      );
      if (near.length > 0 && !own) return [];
      const text = formatAddress(via.value);
      return [
        {
          rule: own ? 'route-loop' : 'route-next-hop',
          severity: 'blocker',
          at: `/routes/${index}/via`,
          says: own
            ? `The next hop ${text} is the router itself: the packets would go in a circle.`
            : `The next hop ${text} is on no network of this router, so the route cannot be used and boxes refuse it.`,
          why: worked(
            `Networks that hold ${text}`,
            near.length,
            '',
            [...networks, ...lines]
              .slice(0, 6)
              .map((side) =>
                step(side.name, side.prefix && contains(side.prefix, via.value) ? 'holds it' : 'does not'),
              ),
            'RFC 1812 section 5.2.4',
          ),
          source: 'RFC 1812 section 5.2.4',
        },
      ];
    }),
};
