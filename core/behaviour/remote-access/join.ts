import { address, formatAddress } from '../../base/net/address.ts';
import { formatPrefix, overlaps, parsePrefix, type Prefix } from '../../base/net/prefix.ts';
import { firstFreeBlock } from '../../base/net/range.ts';
import { valueOf } from '../../base/result.ts';
import { joinedNetworks } from '../../site/compile-vpn.ts';
import type { Network, Site } from '../../site/model.ts';
import { arithmetic, step, type Worked, worked } from '../../base/worked/worked.ts';
import { commonBlocks, takenBlocks } from './interface.ts';
import { farSiteSchema, type FarSitePlan, type TranslationPlan } from '../../plan/schema.ts';
import { endOf, tunnelStates, type TunnelState } from './tunnel-states.ts';

/** Where blocks for translation are taken from: private, and rarely what homes and hotels use (common practice, no source). */
const space = valueOf(parsePrefix('172.24.0.0/13'))!;

/** Every site to every other, or hub and spoke. */
export type JoinShape = 'mesh' | 'hub';

/** A network whose block another site uses too, and the block under which the others see it; undefined where none fits. */
export interface Seen {
  readonly site: Site;
  readonly network: Network;
  readonly as: Prefix | undefined;
}

export interface JoinedTunnel {
  readonly ends: readonly [Site, Site];
  /** On most days, and with a first line down at either end or both. */
  readonly states: readonly TunnelState[];
}

export interface Joined {
  /** What each plan is to hold of the others, in the order asked for; made in one step, so all ends match. */
  readonly plans: readonly {
    readonly site: Site;
    /** Ids of the rows that stay as they are. */
    readonly kept: readonly string[];
    readonly sites: readonly FarSitePlan[];
    readonly hub: boolean;
  }[];
  readonly tunnels: readonly JoinedTunnel[];
  readonly seen: readonly Seen[];
  /** Every tunnel comes up on most days, and every clash of blocks is solved. */
  readonly works: boolean;
  /** What it comes to, a sentence each. */
  readonly says: readonly string[];
  readonly worked: Worked;
}

const nameOf = (site: Site): string => site.about.name || 'unnamed site';
const idOf = (site: Site): string =>
  nameOf(site)
    .replace(/[^A-Za-z0-9]+/g, '-')
    .slice(0, 40) || 'site';

/** A site without what it holds about the others: that is made anew, so it is not in the way. */
function apart(site: Site, sites: readonly Site[]): Site {
  const others = new Set(sites.filter((each) => each !== site).flatMap((each) => [idOf(each), nameOf(each)]));
  return {
    ...site,
    vpn: {
      ...site.vpn,
      sites: site.vpn.sites.filter((far) => !others.has(far.id) && !others.has(far.name)),
    },
  };
}

/** Networks of a site that take part: what was chosen for one of the others before, or the usual ones. */
function joinedOf(site: Site, sites: readonly Site[]): readonly Network[] {
  const others = sites.filter((each) => each !== site).map(idOf);
  const before = site.vpn.sites.find(({ id }) => others.includes(id));
  return before?.networks ?? joinedNetworks(site.networks);
}

/** The site that the most others can call, on the most lines: the first of them where several are equal. */
export const bestHub = (sites: readonly Site[]): Site | undefined =>
  [...sites].sort(
    (a, b) =>
      endOf(b).lines.filter(({ endpoint }) => endpoint !== '').length -
      endOf(a).lines.filter(({ endpoint }) => endpoint !== '').length,
  )[0];

/** Joins two or more sites of one customer: the values of all ends, always matching. */
export function joinSites(
  sites: readonly Site[],
  shape: JoinShape = 'mesh',
  center = bestHub(sites),
): Joined {
  // In an order of their own, so that every site that asks gets the same blocks.
  const ordered = [...sites].sort((a, b) => (nameOf(a) < nameOf(b) ? -1 : 1));
  const alone = new Map(ordered.map((site) => [site, takenBlocks(apart(site, sites))]));
  const taken = [
    ...ordered.flatMap((site) => [
      ...alone.get(site)!.map(({ prefix }) => prefix),
      ...(site.vpn.pool ? [site.vpn.pool] : []),
    ]),
    ...commonBlocks.map(([prefix]) => prefix),
  ];
  const free = (length: number): Prefix | undefined => {
    const found = firstFreeBlock(space, length, taken);
    if (found) taken.push(found);
    return found;
  };
  const inUseElsewhere = (site: Site, prefix: Prefix): boolean =>
    ordered.some(
      (other) =>
        other !== site &&
        [...alone.get(other)!.map((each) => each.prefix), ...(other.vpn.pool ? [other.vpn.pool] : [])].some(
          (each) => overlaps(each, prefix),
        ),
    );
  const joined = new Map(ordered.map((site) => [site, joinedOf(site, sites)]));
  const seen = ordered.flatMap((site) =>
    joined
      .get(site)!
      .flatMap((network): Seen[] =>
        network.prefix && inUseElsewhere(site, network.prefix)
          ? [{ site, network, as: network.prefix.family === 4 ? free(network.prefix.length) : undefined }]
          : [],
      ),
  );
  const hub = shape === 'hub' && ordered.length > 2 ? center : undefined;
  const pairs = ordered.flatMap((one, index) =>
    ordered.slice(index + 1).map((two): readonly [Site, Site] => [one, two]),
  );
  const links = pairs.filter((ends) => !hub || ends.includes(hub)).map((ends) => ({ ends, block: free(30) }));
  /** Blocks by which another site reaches the networks of this one that are joined with it. */
  const reached = (site: Site): string[] =>
    joined.get(site)!.flatMap((network) => {
      const as = seen.find((each) => each.site === site && each.network === network);
      const block = as ? as.as : network.prefix;
      return block ? [formatPrefix(block)] : [];
    });
  const entry = (site: Site, far: Site, block: Prefix | undefined): FarSitePlan => {
    const first = ordered.indexOf(far) < ordered.indexOf(site);
    // Through the hub a site reaches all others as well.
    const behind = hub === far ? ordered.filter((each) => each !== site) : [far];
    const end = endOf(far);
    return farSiteSchema.parse({
      id: idOf(far),
      name: nameOf(far),
      prefixes: behind.flatMap(reached),
      endpoint: end.lines[0]?.endpoint ?? '',
      failsOver: end.lines.length > 1,
      backupEndpoint: end.lines[1]?.endpoint ?? '',
      backSeconds: end.backSeconds ?? null,
      nameSeconds: end.lines.length > 1 ? end.nameSeconds : null,
      port: far.vpn.port,
      publicKey: far.vpn.publicKey,
      address: block ? formatAddress(address(4, block.first + (first ? 1n : 2n))) : '',
      networks: joined.get(site)!.map(({ id }) => id),
      translations: seen.flatMap(({ site: owner, network, as }): TranslationPlan[] =>
        as && (owner === site || behind.includes(owner))
          ? [
              {
                id: `${idOf(owner).slice(0, 20)}-${network.id}`.slice(0, 40),
                of: owner === site ? 'here' : 'there',
                network: owner === far || owner === site ? network.name : `${network.name}, ${nameOf(owner)}`,
                real: formatPrefix(network.prefix!),
                seen: formatPrefix(as),
              },
            ]
          : [],
      ),
    });
  };
  const tunnels = links.map(({ ends }) => ({
    ends,
    states: tunnelStates(endOf(ends[0]), endOf(ends[1]), ends[0].vpn.keepAliveSeconds),
  }));
  const silent = tunnels.filter(({ states }) => states[0]!.up === 'no');
  const unsolved = seen.filter(({ as }) => !as);
  const left = ordered.flatMap((site) =>
    site.networks.flatMap((network) =>
      joined.get(site)!.includes(network) ? [] : [`${network.name} of ${nameOf(site)}`],
    ),
  );
  return {
    plans: sites.map((site) => ({
      site,
      hub: site === hub || (!hub && site.vpn.hub),
      kept: apart(site, sites).vpn.sites.map(({ id }) => id),
      sites: links.flatMap(({ ends, block }) => {
        const far = ends.find((each) => each !== site);
        return far && ends.includes(site) ? [entry(site, far, block)] : [];
      }),
    })),
    tunnels,
    seen,
    works: silent.length === 0 && unsolved.length === 0,
    says: [
      ...(tunnels.length === 1 ? [tunnels[0]!.states[0]!.says] : []),
      ...(tunnels.length > 1
        ? [
            hub
              ? `${tunnels.length} tunnels, all to ${nameOf(hub)}, which passes on between the others.`
              : `${tunnels.length} tunnels, full mesh.`,
          ]
        : []),
      ...(tunnels.length > 1 && silent.length > 0
        ? [
            `${silent.map(({ ends }) => ends.map(nameOf).join(' and ')).join('; ')}: neither can be reached from outside, so no tunnel comes up. A hub with a public address solves it.`,
          ]
        : []),
      ...(left.length > 0 ? [`${left.join(', ')} ${left.length === 1 ? 'stays' : 'stay'} apart.`] : []),
      ...(seen.length > 0
        ? [
            `${seen.map(({ site, network }) => `${network.name} of ${nameOf(site)}`).join(', ')}: in use at another site too. Better renumber; until then each is seen under another subnet.`,
          ]
        : []),
      ...unsolved.map(
        ({ site, network }) =>
          `No free subnet is left for ${network.name} of ${nameOf(site)}: it has to be renumbered.`,
      ),
    ],
    worked: worked(
      'Subnets of all sites',
      seen.length > 0 ? 'overlap' : 'apart',
      '',
      [
        ...ordered.map((site) =>
          step(
            nameOf(site),
            joined
              .get(site)!
              .flatMap(({ prefix }) => (prefix ? [formatPrefix(prefix)] : []))
              .join(', '),
          ),
        ),
        ...seen.map(({ site, network, as }) =>
          step(`${network.name} of ${nameOf(site)} is seen as`, as ? formatPrefix(as) : 'nothing free'),
        ),
      ],
      'RFC 1812 section 5.2.4.3; RFC 3022',
    ),
  };
}

/** The rows of a plan's other sites with what was made for it: others stay, what it held of the same sites gives way. */
export const joinedRows = (
  before: readonly FarSitePlan[],
  { kept, sites }: Joined['plans'][number],
): readonly FarSitePlan[] => [...before.filter(({ id }) => kept.includes(id)), ...sites];

/** Tunnels that a hub and a full mesh of so many sites need. */
export const tunnelsWorked = (sites: number): Worked =>
  worked(
    'Tunnels of a full mesh',
    (sites * (sites - 1)) / 2,
    'tunnels',
    [
      step('hub and spokes', `${sites} - 1 = ${sites - 1}`),
      step('full mesh', `${sites} × ${sites - 1} / 2 = ${(sites * (sites - 1)) / 2}`),
    ],
    arithmetic,
    sites > 4
      ? 'From five sites on a hub is easier to keep; what passes between spokes goes through it twice.'
      : undefined,
  );
