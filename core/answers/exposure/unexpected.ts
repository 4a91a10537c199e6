import { everyAddress, single } from '../../base/net/packet-set.ts';
import { subtractRanges, rangeOf, type AddressRange } from '../../base/net/range.ts';
import { createRouter } from '../../behaviour/router/router.ts';
import type { Network, RouterService, Site } from '../../site/model.ts';
import { servicesText } from './describe.ts';
import { exposureOf, type Passing } from './exposure.ts';
import { expectationOf, type Expectation, type ExpectedLevel } from './expectation.ts';
import { exceeds, levelOf, lower, type Level } from './level.ts';
import { sendersOf, type Sender } from './senders.ts';

/** Somebody who begins or is reached, as exceptions name them. */
export interface Party {
  readonly id: string;
  readonly name: string;
}

/** Packets that pass although what a network is for does not expect them. */
export interface Unexpected {
  readonly from: Party;
  readonly to: Party;
  readonly passing: Passing;
  readonly services: string;
  readonly actual: Level;
  readonly expected: Level;
  /** The network whose purpose does not expect it. */
  readonly of: Network;
  /** By which of its expectations. */
  readonly by: ExpectedLevel | 'manages';
}

/** What passes that no purpose expects, with every line up. */
export function unexpected(site: Site): Unexpected[] {
  const judge = new Judge(site);
  const router = createRouter(site, new Set());
  return sendersOf(site).flatMap((sender) => {
    const within = judge.doubtful(sender);
    return within.length === 0
      ? []
      : exposureOf(
          site,
          sender,
          new Set(),
          router,
          within.map((destination) => ({ destination })),
        ).flatMap((passing) => judge.passing(passing));
  });
}

/** The network of this site that a sender is, if it is one. */
const networkOf = (sender: Sender): Network | undefined =>
  sender.kind === 'network' ? sender.network : undefined;

class Judge {
  readonly #site: Site;
  readonly #expectations: ReadonlyMap<Network, Expectation>;
  readonly #roleAt: ReadonlyMap<string, RouterService['role']>;
  /** Networks that some rule lets a network reach. */
  readonly #allowed = new Map<Network, Set<Network>>();

  constructor(site: Site) {
    this.#site = site;
    this.#expectations = new Map(site.networks.map((network) => [network, expectationOf(site, network)]));
    this.#roleAt = new Map(site.services.map(({ at, role }) => [at, role]));
    for (const { action, from, to } of site.reach)
      if (action === 'allow' && to.kind === 'network')
        this.#allowed.set(from, (this.#allowed.get(from) ?? new Set()).add(to.network));
  }

  #level(network: Network, by: ExpectedLevel): Level {
    return this.#expectations.get(network)![by];
  }

  /**
   * The destinations of a sender at which something may pass that is not expected; exactly what does is for the stages
   * to say. The router answers alike at all its addresses, and what comes back from a line's own address by a forward
   * reaches no network that it does not reach without.
   */
  doubtful(sender: Sender): AddressRange[] {
    const { vpn, equipment } = this.#site;
    const closed = (by: ExpectedLevel) => (network: Network) => this.#level(network, by) !== 'everything';
    switch (sender.kind) {
      case 'internet':
        // A forward leads to a single device, and nothing else comes in.
        return this.#site.forwards.some(
          ({ device }) => device?.network && this.#level(device.network, 'fromInternet') === 'nothing',
        )
          ? [everyAddress(4), everyAddress(6)]
          : [];
      case 'group':
        return rangesOf(sender.group.grants.map(({ network }) => network).filter(closed('fromRemoteUsers')));
      case 'site':
        return sender.far.networks.filter(closed('fromSites')).flatMap(({ prefix }) => {
          if (!prefix) return [];
          const seen = sender.far.translations.find(
            ({ of, real }) => of === 'here' && real.first === prefix.first && real.family === prefix.family,
          );
          return [rangeOf(seen?.seen ?? prefix)];
        });
      case 'network': {
        const { network } = sender;
        const { manages, toInternet, toSites } = this.#expectations.get(network)!;
        const allowed = [...(this.#allowed.get(network) ?? [])];
        const shut = closed('toNetworks')(network) ? allowed : allowed.filter(closed('fromNetworks'));
        return [
          ...rangesOf(shut),
          ...(manages ? [] : [...this.#ownPages(network), ...equipment.map(rangeOf)]),
          ...(toSites === 'everything'
            ? []
            : vpn.sites
                .filter(({ networks: joined }) => joined.includes(network))
                .flatMap(({ prefixes }) => prefixes.map(rangeOf))),
          ...(toInternet === 'everything' ? [] : [...this.#outside()]),
        ];
      }
    }
  }

  /** Where the router answers a network, if any of what manages it may answer there. */
  #ownPages(network: Network): AddressRange[] {
    const { services, router } = this.#site;
    const may = services.some(
      ({ role, inside }) => role === 'management' && (inside === 'all' || network === router.adminNetwork),
    );
    return may && network.routerAddress ? [single(network.routerAddress)] : [];
  }

  /** All that is not inside. */
  #outside(): AddressRange[] {
    const { networks, vpn, equipment } = this.#site;
    const inside = [
      ...rangesOf(networks),
      ...equipment.map(rangeOf),
      ...vpn.sites.flatMap(({ prefixes }) => prefixes.map(rangeOf)),
    ];
    return subtractRanges([everyAddress(4), everyAddress(6)], inside);
  }

  passing(passing: Passing): Unexpected[] {
    const { sender, reached } = passing;
    const own = networkOf(sender);
    switch (reached.kind) {
      case 'network': {
        const { network } = reached;
        if (network === own) return [];
        const to = { id: network.id, name: network.name };
        if (own) return this.#exceeding(passing, to, [[own, 'toNetworks'], [network, 'fromNetworks']]); // prettier-ignore
        const by = { internet: 'fromInternet', group: 'fromRemoteUsers', site: 'fromSites' } as const;
        return sender.kind === 'network' ? [] : this.#exceeding(passing, to, [[network, by[sender.kind]]]);
      }
      case 'internet':
        return this.#exceeding(passing, { id: 'internet', name: 'the internet' }, [[own, 'toInternet']]);
      case 'site':
        return this.#exceeding(passing, { id: reached.far.id, name: reached.far.name }, [[own, 'toSites']]);
      case 'in-front':
        return this.#managing(passing, {
          id: 'equipment',
          name: `equipment in front of ${reached.line.name}`,
        });
      case 'router':
        return this.#roleAt.get(passing.at ?? '') === 'management'
          ? this.#managing(passing, { id: 'router', name: 'the router' })
          : [];
    }
  }

  #exceeding(
    passing: Passing,
    to: Party,
    expectedBy: readonly (readonly [Network | undefined, ExpectedLevel])[],
  ): Unexpected[] {
    const limits = expectedBy.flatMap(([of, by]) => (of ? [{ of, by, level: this.#level(of, by) }] : []));
    const expected = limits.reduce<Level>((least, { level }) => lower(least, level), 'everything');
    const limit = limits.find(({ level }) => level === expected);
    const actual = levelOf(passing);
    return limit && exceeds(actual, expected)
      ? [{ ...this.#parties(passing, to), actual, expected, of: limit.of, by: limit.by }]
      : [];
  }

  /** Pages of the router and of equipment are for those who manage it. */
  #managing(passing: Passing, to: Party): Unexpected[] {
    const own = networkOf(passing.sender);
    return own && !this.#expectations.get(own)!.manages
      ? [{ ...this.#parties(passing, to), actual: 'everything', expected: 'nothing', of: own, by: 'manages' }]
      : [];
  }

  #parties(passing: Passing, to: Party): Pick<Unexpected, 'from' | 'to' | 'passing' | 'services'> {
    const { id, name } = passing.sender;
    return { from: { id, name }, to, passing, services: servicesText(passing.boxes) };
  }
}

const rangesOf = (networks: readonly Network[]): AddressRange[] =>
  networks.flatMap(({ prefix }) => (prefix ? [rangeOf(prefix)] : []));
