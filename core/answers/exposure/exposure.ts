import { once } from '../../base/once.ts';
import type { At } from '../../plan/at.ts';
import { address, type Address } from '../../base/net/address.ts';
import { hasPort, type PortRange } from '../../base/net/ports.ts';
import {
  boxesOf,
  bundlesBetween,
  everyAddress,
  joinBoxes,
  type PacketBox,
  type PacketBundle,
} from '../../base/net/packet-set.ts';
import { follow } from '../path/follow.ts';
import type { Hop, Reached, Trace } from '../path/packet.ts';
import { commonRanges, inRange, type AddressRange } from '../../base/net/range.ts';
import { createRouter, type Router } from '../../behaviour/router/router.ts';
import type { Site } from '../../site/model.ts';
import { entrancesOf, sendersOf, type Entrance, type Sender } from './senders.ts';

/** Packets of one sender that pass by one rule and arrive in one place. */
export interface Passing {
  readonly sender: Sender;
  readonly reached: Reached;
  /** Pointer of the rule that opens it; undefined where it is the router's own habit. */
  readonly at: At | undefined;
  /** The rule in words. */
  readonly rule: () => string;
  /** The packets as they are sent, exactly; boxes do not meet. */
  readonly boxes: readonly PacketBox[];
  /** A question that Ask answers with one of these packets. */
  readonly witness: string;
  /** What is added to the destination on the way: by a forward, or by the translation of a subnet. */
  readonly shift: bigint;
  /** The same for packets that arrive in one place by one rule. */
  readonly key: string;
}

/** A small packet: what opens a connection. */
const openingBytes = 60;
/** First port of the dynamic range (RFC 6335 section 6). */
const clientPort = 49152;

/** Follows the first packet of a bundle: the others fare alike. */
const followOne = (
  site: Site,
  { origin }: Pick<Entrance, 'origin'>,
  { protocol, sources, destination, ports }: PacketBundle,
  down: ReadonlySet<string>,
  router: Router,
): Trace =>
  follow(
    site,
    {
      origin,
      header: {
        protocol,
        source: address(sources[0]!.family, sources[0]!.first),
        sourcePort: protocol === 'icmp' ? 0 : clientPort,
        destination: address(destination.family, destination.first),
        destinationPort: ports.first,
        sizeBytes: openingBytes,
      },
      down,
    },
    router,
  );

/** The hop that names the rule: the forward or the allowance, else what let the packet pass last. */
function ruleHop({ hops }: Trace): Hop | undefined {
  for (const stage of naming) for (const hop of hops) if (hop.stage === stage) return hop;
  return hops.at(-1);
}
const naming = ['policy', 'router itself', 'own network', 'neighbour'];

const reachedKey = (reached: Reached): string =>
  reached.kind === 'network'
    ? `network ${reached.network.at}`
    : reached.kind === 'site'
      ? `site ${reached.far.at}`
      : reached.kind === 'router'
        ? 'router'
        : `${reached.kind} ${reached.line.at}`;

/**
 * Who can reach what, exactly: every packet of every sender, cut where a rule begins or ends, and each piece followed
 * through the site by the stages that Ask uses.
 * @param down ids of the lines that are down
 */
export function exposure(site: Site, down: ReadonlySet<string> = new Set()): Passing[] {
  const router = createRouter(site, down);
  return sendersOf(site).flatMap((sender) => exposureOf(site, sender, down, router));
}

/** Packets to a range of addresses as they are sent, and of those only some ports of TCP and UDP. */
export interface Region {
  readonly destination: AddressRange;
  /** Undefined: all packets, those without ports too. */
  readonly ports?: PortRange | undefined;
}

const everywhere: readonly Region[] = [{ destination: everyAddress(4) }, { destination: everyAddress(6) }];

/**
 * The same of one sender.
 * @param within where its packets go, where the others do not matter; regions must not meet
 */
export const exposureOf = (
  site: Site,
  sender: Sender,
  down: ReadonlySet<string>,
  router: Router = createRouter(site, down),
  within: readonly Region[] = everywhere,
): Passing[] =>
  entrancesOf(site, sender, router, down).flatMap((entrance) => {
    const bundles = within.flatMap(({ destination, ports }) =>
      bundlesBetween(
        entrance.sources,
        entrance.destinations.flatMap((whole) => commonRanges(whole, [destination])),
        entrance.rows,
        ports,
      ),
    );
    return passingOf(sender, entrance, bundles, site, down, router);
  });

function passingOf(
  sender: Sender,
  entrance: Entrance,
  bundles: readonly PacketBundle[],
  site: Site,
  down: ReadonlySet<string>,
  router: Router,
): Passing[] {
  const groups = new Map<string, { trace: Trace; reached: Reached; shift: bigint; boxes: PacketBox[] }>();
  for (const bundle of bundles) {
    const trace = followOne(site, entrance, bundle, down, router);
    if (!trace.reached) continue;
    const rule = ruleHop(trace);
    const arrived = trace.arrived?.destination.value ?? bundle.destination.first;
    // Where it is translated on its way to a network, and not on the internet or at the router.
    const shift = trace.reached.kind === 'network' ? arrived - bundle.destination.first : 0n;
    const key = `${reachedKey(trace.reached)} ${rule?.at ?? rule?.stage ?? ''} ${shift}`;
    const group = groups.get(key);
    if (group) group.boxes.push(...boxesOf(bundle));
    else groups.set(key, { trace, reached: trace.reached, shift, boxes: boxesOf(bundle) });
  }
  const when =
    down.size === 0
      ? ''
      : ` when ${site.lines
          .filter(({ id }) => down.has(id))
          .map(({ name }) => name)
          .join(' and ')} ${down.size === 1 ? 'is' : 'are'} down`;
  return [...groups].map(([key, { trace, reached, shift, boxes }]) => {
    const joined = joinBoxes(boxes);
    const rule = ruleHop(trace);
    const example = exampleOf(site, [...joined].sort(inOrder));
    const { from, to } = entrance.asks(example);
    const service = example.protocol === 'icmp' ? 'ping' : `${example.protocol} ${example.ports.first}`;
    return {
      sender,
      reached,
      at: rule?.at,
      rule: () => rule?.decided() ?? '',
      boxes: joined,
      witness: `from ${from} to ${to} ${service}${when}`,
      shift,
      key,
    };
  });
}

const ascending = <T extends bigint | number>(a: T, b: T): number => (a < b ? -1 : a > b ? 1 : 0);
const protocolOrder = ['tcp', 'udp', 'icmp'];

/** The same example whatever the order in which the pieces were found. */
const inOrder = (a: PacketBox, b: PacketBox): number =>
  ascending(a.destination.first, b.destination.first) ||
  protocolOrder.indexOf(a.protocol) - protocolOrder.indexOf(b.protocol) ||
  ascending(a.ports.first, b.ports.first) ||
  ascending(a.source.first, b.source.first);

/** Addresses that people know: somebody on the internet, the registered devices, the pages of boxes in front. */
const knownHosts = once((site: Site): readonly Address[] => [
  site.outsider,
  ...site.devices.flatMap((device) => device.address ?? []),
  ...site.lines.flatMap(({ box }) => box?.address ?? []),
]);

/** Addresses and ports that people know, where the set holds them: a registered device, the web. */
function exampleOf(site: Site, boxes: readonly PacketBox[]): PacketBox {
  const hostIn = (range: AddressRange): Address | undefined =>
    knownHosts(site).find((host) => inRange(range, host));
  const box =
    boxes.find(({ destination }) => hostIn(destination)) ??
    boxes.find(({ destination: { first, last } }) => first === last) ??
    boxes[0]!;
  const one = (range: AddressRange): AddressRange => {
    // The first address of a prefix that somebody typed is mostly no host.
    const value = hostIn(range)?.value ?? (range.last - range.first > 1n ? range.first + 1n : range.first);
    return { ...range, first: value, last: value };
  };
  const port = box.protocol === 'icmp' ? 0 : hasPort(box.ports, 443) ? 443 : box.ports.first;
  return {
    ...box,
    source: one(box.source),
    destination: one(box.destination),
    ports: { first: port, last: port },
  };
}
