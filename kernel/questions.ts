import { addressKey, formatAddress, type Address } from '../core/base/net/address.ts';
import { contains, hostsOf, type Prefix } from '../core/base/net/prefix.ts';
import { follow } from '../core/answers/path/follow.ts';
import type { Origin, Trace } from '../core/answers/path/packet.ts';
import type { Header } from '../core/base/net/packet.ts';
import { createRouter, type Router } from '../core/behaviour/router/router.ts';
import type { Site } from '../core/site/model.ts';
import { endpointLine } from '../core/behaviour/remote-access/reachable.ts';
import { lostAddresses } from '../core/behaviour/wiring/where.ts';
import { chainedRouters, networkPlace, places } from './lab.ts';

/** A question to both: to the stages of the router, and to the kernel. */
export interface Question {
  readonly place: string;
  readonly origin: Origin;
  readonly header: Header;
  readonly says: string;
}

/** Whole numbers below a bound, the same for the same seed (Lehmer, Park and Miller 1988). */
export function dice(seed: number): (below: number) => number {
  let state = (seed % 2_147_483_646) + 1;
  return (below) => {
    state = (state * 48_271) % 2_147_483_647;
    return state % below;
  };
}

const anyHost = (prefix: Prefix, roll: (below: number) => number): Address => {
  const { first, last } = hostsOf(prefix);
  const size = Number(last.value - first.value) + 1;
  return { family: prefix.family, value: first.value + BigInt(roll(Math.min(size, 65_536))) };
};

const wellKnown = [22, 25, 53, 80, 443, 5060, 8443];

/** Ports that mean something on this site, and some that do not. */
export function portsOf(site: Site): number[] {
  const ranges = [
    ...site.services.map(({ ports }) => ports),
    ...site.devices.flatMap(({ services }) => services.flatMap(({ ports }) => ports ?? [])),
    ...site.forwards.flatMap(({ inside, outside }) => [inside, outside].flatMap((each) => each ?? [])),
    ...site.reach.flatMap(({ ports }) => ports ?? []),
    ...site.failover.rules.flatMap(({ ports }) => ports ?? []),
    ...site.lines.flatMap(({ box }) => box?.forwards.map(({ ports }) => ports) ?? []),
    ...site.second.flatMap(({ forwards }) => forwards.flatMap((each) => [each.outside, each.inside])),
  ];
  const edges = ranges.flatMap(({ first, last }) => [first, Math.min(first + 1, last), last]);
  return [...new Set([...wellKnown, ...edges])].filter((port) => port > 0).sort((a, b) => a - b);
}

/** Ports to which something may be translated: those of forwards, one by one. */
export function listeningPorts(site: Site): number[] {
  const translated = [...site.forwards, ...site.second.flatMap(({ forwards }) => forwards)].flatMap(
    ({ inside }) =>
      inside
        ? Array.from(
            { length: Math.min(50, inside.last - inside.first + 1) },
            (_, index) => inside.first + index,
          )
        : [],
  );
  return [...new Set([...portsOf(site), ...translated])];
}

/** Random questions about a site with some lines down, from everybody to everything. */
export function questionsAbout(
  site: Site,
  down: ReadonlySet<string>,
  count: number,
  roll: (below: number) => number,
  pings = false,
): Question[] {
  const pick = <T>(list: readonly T[]): T | undefined => list[roll(list.length)];
  const ports = portsOf(site);
  const networks = site.networks.filter(({ prefix }) => prefix);
  const peers =
    site.vpn.way === 'none' || !endpointLine(site, down)
      ? []
      : site.vpn.peers.filter((each) => !each.revoked && each.address && each.group);
  const lines = site.lines.filter(
    ({ id, inbound, publicAddressKnown, translators }) =>
      !down.has(id) && publicAddressKnown && inbound !== 'unknown' && !translators.includes('carrier'),
  );
  const hosts = (prefix: Prefix): Address => {
    const devices = site.devices.flatMap(({ address }) =>
      address && contains(prefix, address) ? [address] : [],
    );
    return (roll(2) === 0 ? pick(devices) : undefined) ?? anyHost(prefix, roll);
  };
  const allowed = site.forwards.flatMap(({ allowed: each }) => (each.kind === 'some' ? each.prefixes : []));
  const outsider = (): Address => {
    const prefix = roll(2) === 0 ? pick(allowed) : undefined;
    return prefix && prefix.family === 4 && prefix.length > 8
      ? { family: 4, value: prefix.first }
      : site.outsider;
  };
  /** What nobody on the internet may have: an address of ours, or one that no provider carries (RFC 2827). */
  const falseSource = (): Address =>
    pick([
      ...networks.flatMap(({ prefix }) => (prefix!.family === 4 ? [hosts(prefix!)] : [])),
      { family: 4, value: 0x0a_63_00_07n } as const,
    ])!;
  const fronts = site.lines.flatMap((line) => {
    const prefix = line.box?.prefix;
    return line.box?.routes && prefix?.family === 4 && line.addressKnown && !down.has(line.id)
      ? [{ line, prefix }]
      : [];
  });
  const destination = (): Address | undefined => {
    const choices: (() => Address | undefined)[] = [
      () => pick(networks.map(({ prefix }) => hosts(prefix!))),
      () => pick(networks.flatMap(({ routerAddress }) => routerAddress ?? [])),
      () =>
        pick(
          site.lines
            .filter(({ addressKnown, id }) => addressKnown && !down.has(id))
            .map(({ address }) => address),
        ),
      () => site.outsider,
      () =>
        pick(
          site.lines
            .filter(({ publicAddressKnown, id }) => publicAddressKnown && !down.has(id))
            .map(({ publicAddress }) => publicAddress),
        ),
      () => pick(site.lines.flatMap(({ box, id }) => (down.has(id) ? [] : (box?.address ?? [])))),
      () => pick(site.vpn.sites.flatMap(({ prefixes }) => prefixes.map((each) => hosts(each)))),
      () => pick(site.vpn.sites.flatMap(({ translations }) => translations.map(({ seen }) => hosts(seen)))),
      () => pick(site.second.flatMap(({ address }) => address ?? [])),
      () => pick(site.vpn.peers.flatMap(({ address }) => address ?? [])),
      () => site.vpn.routerAddress,
      () => pick(site.equipment.map((each) => hosts(each))),
      () =>
        pick(site.staticRoutes.flatMap(({ prefix }) => (prefix && prefix.length > 0 ? [hosts(prefix)] : []))),
    ];
    return pick(choices)!();
  };
  const servedAt = (host: Address): number[] => {
    const key = addressKey(host);
    const line = site.lines.filter((each) =>
      [each.address, each.publicAddress].some((at) => addressKey(at) === key),
    );
    const device = site.deviceAt.get(key);
    return [
      ...(device?.services ?? []).flatMap((each) => (each.ports ? [each.ports.first, each.ports.last] : [])),
      ...site.forwards.flatMap((each) =>
        each.line && line.includes(each.line) && each.outside ? [each.outside.first, each.outside.last] : [],
      ),
      ...(line.length > 0 || routers.has(key) ? site.services.map((each) => each.ports.first) : []),
    ];
  };
  const routers = new Set(
    site.networks.flatMap(({ routerAddress }) => (routerAddress ? [addressKey(routerAddress)] : [])),
  );
  // In the lab these addresses are not on their network.
  const elsewhere = new Set([
    ...chainedRouters(site).map(({ address }) => addressKey(address)),
    ...lostAddresses(site),
  ]);
  const own = new Set([
    ...routers,
    ...site.lines.map(({ address }) => addressKey(address)),
    ...site.networks.flatMap(({ prefix }) =>
      prefix ? [addressKey({ family: prefix.family, value: prefix.last })] : [],
    ),
  ]);
  const pools = [site.vpn.pool, site.vpn.pool6].flatMap((each) => each ?? []);
  const found: Question[] = [];
  for (let tries = 0; found.length < count && tries < count * 30; tries += 1) {
    const dealt = roll(pings ? 8 : 6);
    const protocol = dealt < 2 ? 'udp' : dealt < 6 ? 'tcp' : 'icmp';
    const anyPort = pick(ports)!;
    const sender = roll(13);
    const made = ((): Omit<Question, 'says'> | undefined => {
      const header = (source: Address, to: Address): Question['header'] => ({
        protocol,
        source,
        sourcePort: protocol === 'icmp' ? 0 : 50_000,
        destination: to,
        // Half of them ask for something that is there.
        destinationPort: protocol === 'icmp' ? 0 : roll(2) === 0 ? (pick(servedAt(to)) ?? anyPort) : anyPort,
        sizeBytes: 60,
      });
      if (sender < 5) {
        const from = pick(networks);
        const to = destination();
        if (!from || !to || to.family !== from.prefix!.family) return undefined;
        // One in six says that it is somebody else.
        const source = hosts((roll(6) === 0 ? (pick(networks)?.prefix ?? from.prefix) : from.prefix)!);
        if (source.family !== to.family) return undefined;
        // The place of a network stands for what is behind its routers too: to those it needs no router of ours.
        const behind = site.routes.some(
          ({ prefix, target }) => target.kind === 'via' && target.network === from && contains(prefix, to),
        );
        if (behind && !contains(from.prefix!, source)) return undefined;
        // A neighbour is asked without the router, and the router does not send.
        const { routerAddress, prefix } = from;
        const near =
          contains(prefix!, to) && !(routerAddress && addressKey(routerAddress) === addressKey(to));
        if (near || elsewhere.has(addressKey(source))) return undefined;
        if (routerAddress && addressKey(routerAddress) === addressKey(source)) return undefined;
        return {
          place: networkPlace(site, from),
          origin: { kind: 'inside', network: from, name: from.name },
          header: header(source, to),
        };
      }
      if (sender < 7) {
        const line = pick(lines);
        if (!line) return undefined;
        return {
          place: places.internet,
          origin: { kind: 'outside', name: 'internet', line },
          header: header(roll(5) === 0 ? falseSource() : outsider(), line.publicAddress),
        };
      }
      if (sender < 9) {
        const peer = pick(peers);
        const to = destination();
        // All clients stand in one place of the lab: what one sends another never leaves it.
        const client = site.vpn.peers.some(
          ({ address }) => address && to && addressKey(address) === addressKey(to),
        );
        if (!peer || !to || to.family !== 4 || client) return undefined;
        return {
          place: places.clients,
          origin: { kind: 'client', peer, name: peer.name },
          header: header(peer.address!, to),
        };
      }
      if (sender === 11) {
        const chained = chainedRouters(site);
        const index = roll(Math.max(1, chained.length));
        const second = chained[index];
        const to = destination();
        // What it sends to itself, or to a neighbour behind it, no other place sees.
        if (
          !second ||
          !to ||
          to.family !== 4 ||
          contains(second.inside.prefix, to) ||
          addressKey(to) === addressKey(second.address)
        )
          return undefined;
        return {
          place: places.second(index),
          origin: { kind: 'behind', second, name: second.name },
          header: header(anyHost(second.inside.prefix, roll), to),
        };
      }
      if (sender === 12) {
        // Somebody between the router and the box in front of it.
        const front = pick(fronts);
        const to = front && (roll(3) === 0 ? destination() : front.line.address);
        if (!front || !to || to.family !== 4) return undefined;
        const source = anyHost(front.prefix, roll);
        const taken = [front.line.address, front.line.box!.address].some(
          (each) => each && addressKey(each) === addressKey(source),
        );
        const near = contains(front.prefix, to) && addressKey(to) !== addressKey(front.line.address);
        if (taken || near) return undefined;
        return {
          place: places.box(site.lines.indexOf(front.line)),
          origin: { kind: 'in-front', line: front.line, name: 'a neighbour' },
          header: header(source, to),
        };
      }
      if (sender === 10) {
        const to = destination();
        // What the router sends itself, and a tunnel of remote users that it would begin, is not for the lab.
        if (!to || to.family !== 4 || own.has(addressKey(to)) || pools.some((each) => contains(each, to)))
          return undefined;
        return { place: places.router, origin: { kind: 'router' }, header: header(site.outsider, to) };
      }
      const index = roll(Math.max(1, site.vpn.sites.length));
      const far = site.vpn.sites[index];
      const prefix = pick(far?.prefixes ?? []);
      const to = destination();
      if (
        !far ||
        !prefix ||
        !to ||
        to.family !== prefix.family ||
        far.prefixes.some((each) => contains(each, to))
      )
        return undefined;
      return {
        place: places.site(index),
        origin: { kind: 'site', far, name: far.name },
        header: header(hosts(prefix), to),
      };
    })();
    if (!made || addressKey(made.header.source) === addressKey(made.header.destination)) continue;
    const { header, place, origin } = made;
    const at = origin.kind === 'outside' && origin.line ? ` over ${origin.line.name}` : '';
    found.push({
      ...made,
      says: `from ${origin.kind === 'router' ? 'the router' : formatAddress(header.source)} (${place}${at}) to ${formatAddress(header.destination)} ${header.protocol === 'icmp' ? 'ping' : `${header.protocol} ${header.destinationPort}`}`,
    });
  }
  return found;
}

/** What the stages of the router say. */
export const asked = (
  site: Site,
  { origin, header }: Question,
  down: ReadonlySet<string>,
  router: Router,
): Trace => follow(site, { origin, header, down }, router);

export const routerOf = (site: Site, down: ReadonlySet<string>): Router => createRouter(site, down);
