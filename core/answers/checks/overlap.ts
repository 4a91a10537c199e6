import { formatAddress } from '../../base/net/address.ts';
import { contains, containsPrefix, formatPrefix, hostsOf, overlaps } from '../../base/net/prefix.ts';
import { replacing, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { NamedPrefix, Site } from '../../site/model.ts';
import { freeBlock, renumber } from '../../site/renumber.ts';
import { overlapWorked } from '../../base/worked/addresses.ts';
import { arithmetic, step, worked } from '../../base/worked/worked.ts';

/** Two blocks that share addresses: the router cannot tell which side a packet belongs to. */
export const overlap: Check = {
  name: 'overlap',
  run: (site) => {
    const found: Finding[] = [];
    // Sorted by first address, a block can only overlap those that begin before its end: no need for all pairs.
    const sorted = [...site.prefixes].sort(
      (a, b) =>
        a.prefix.family - b.prefix.family ||
        (a.prefix.first < b.prefix.first
          ? -1
          : a.prefix.first > b.prefix.first
            ? 1
            : a.prefix.length - b.prefix.length),
    );
    /** What each block that may be moved clashes with: one finding a block, however many share its addresses. */
    const clashes = new Map<NamedPrefix, NamedPrefix[]>();
    for (const [index, a] of sorted.entries())
      for (let next = index + 1; next < sorted.length; next += 1) {
        const b = sorted[next]!;
        if (!overlaps(a.prefix, b.prefix)) break;
        if (a.owner === b.owner || meantToNest(a, b)) continue;
        const [fixed, moved] = sides(a, b);
        clashes.set(moved, [...(clashes.get(moved) ?? []).slice(0, mostNamed), fixed]);
      }
    for (const [moved, fixed] of clashes) found.push(clash(site, moved, fixed));
    return [...found, ...lineInsideNetwork(site)];
  },
};

/** Blocks that a finding goes on to, where many share the same addresses. */
const mostNamed = 20;

/**
 * Routes that hold one another, or a subnet that is connected here, are how routing works: the longest match decides
 * (RFC 1812 section 5.2.4.3). A route into a part of a connected subnet is not: its hosts ask no router.
 */
const meantToNest = (a: NamedPrefix, b: NamedPrefix): boolean => {
  const [wide, narrow] = a.prefix.length < b.prefix.length ? [a, b] : [b, a];
  // A static route leads to the subnet of a second router.
  if ([a, b].some(({ role }) => role === 'route') && [a, b].some(({ role }) => role === 'second'))
    return containsPrefix((a.role === 'route' ? a : b).prefix, (a.role === 'second' ? a : b).prefix);
  return wide.role === 'route' && wide.prefix.length < narrow.prefix.length;
};

/** The side that stays and the side that the installer may move: of two networks the one further down in the plan. */
const sides = (a: NamedPrefix, b: NamedPrefix): [NamedPrefix, NamedPrefix] =>
  movable[a.role] > movable[b.role] || (a.role === b.role && a.at > b.at) ? [b, a] : [a, b];

/** Who gives way: a second router's own subnet before a network, and either before what others set. */
const movable: Readonly<Record<NamedPrefix['role'], number>> = {
  line: 0,
  box: 0,
  route: 0,
  network: 1,
  second: 2,
};

function clash(site: Site, moved: NamedPrefix, others: readonly NamedPrefix[]): Finding {
  const [fixed] = others as [NamedPrefix, ...NamedPrefix[]];
  const more =
    others.length > 1 ? ` So do ${others.length > mostNamed ? 'many' : others.length - 1} more.` : '';
  return {
    rule: 'overlap',
    severity: 'blocker',
    at: moved.at,
    also: others.map(({ at }) => at),
    says: `${moved.name} and ${fixed.name} use the same addresses (${formatPrefix(moved.prefix)} and ${formatPrefix(fixed.prefix)}).${more} The router sees them on both sides, so devices on ${moved.role === 'network' ? moved.name : fixed.name} lose part or all of the network.`,
    why: overlapWorked(moved.prefix, fixed.prefix, [moved.name, fixed.name]),
    ...moveFix(site, moved),
    source: 'RFC 1812 section 5.2.4.3, arithmetic',
  };
}

function moveFix(site: Site, moved: NamedPrefix): Pick<Finding, 'fix'> {
  if (moved.role === 'second') {
    const to = freeBlock(site, 24, null);
    const inside = to && `${formatAddress(hostsOf(to).first)}/${to.length}`;
    return inside ? { fix: replacing(`Give it ${inside}`, moved.at, inside) } : {};
  }
  const network =
    moved.role === 'network' ? site.networks.find((each) => each.at === moved.owner) : undefined;
  const to = network && freeBlock(site, moved.prefix.length, network.vlan);
  if (!network || !to) return {};
  return {
    fix: {
      says: `Move ${network.name} to ${formatPrefix(to)}, host parts kept`,
      patch: renumber(site, network, to),
    },
  };
}

/** A DHCP line tells no block beforehand, but its address may already be one of an inside network. */
function lineInsideNetwork(site: Site): Finding[] {
  return site.lines.flatMap((line) =>
    site.networks.flatMap((network): Finding[] => {
      if (line.prefix || !line.addressKnown || !network.prefix || !contains(network.prefix, line.address))
        return [];
      const named = site.prefixes.find((each) => each.owner === network.at);
      return [
        {
          rule: 'overlap',
          severity: 'blocker',
          at: `${network.at}/prefix`,
          also: [line.addressAt],
          says: `${line.name} is expected to get ${formatAddress(line.address)}, an address of ${network.name}. The router sees one subnet on both sides, and nobody on ${network.name} reaches the internet.`,
          why: worked(
            `${formatAddress(line.address)} in ${formatPrefix(network.prefix)}`,
            true,
            '',
            [
              step(network.name, formatPrefix(network.prefix)),
              step(line.name, formatAddress(line.address)),
              step('inside the subnet', 'yes'),
            ],
            arithmetic,
          ),
          ...(named ? moveFix(site, named) : {}),
          source: 'RFC 1812 section 5.2.4.3, arithmetic',
        },
      ];
    }),
  );
}
