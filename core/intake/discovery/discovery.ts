import { formatAddress, sameAddress, type Address } from '../../base/net/address.ts';
import { classify, reachableFromOutside } from '../../base/net/classify.ts';
import {
  contains,
  formatPrefix,
  overlaps,
  prefixAround,
  samePrefix,
  type Prefix,
} from '../../base/net/prefix.ts';
import type { Heard } from '../../behaviour/wifi/channels.ts';
import type { Paste, SeenForward, SeenHost, SeenPage } from './paste.ts';

/** Another router, as far as it was seen; the nearest to the laptop first. */
export interface FoundBox {
  /** Its address on the side of the laptop. */
  readonly address: Address;
  readonly inside: Prefix | undefined;
  readonly page: SeenPage | undefined;
  /** Address of its outer side, where its page tells it. */
  readonly outside: Address | undefined;
  /** It translates: what is behind it is seen by its own address. */
  readonly translates: boolean;
  readonly mac: string;
}

export interface FoundNetwork {
  readonly prefix: Prefix;
  readonly router: Address | undefined;
  readonly hosts: readonly SeenHost[];
  /** Who hands out addresses there. */
  readonly servers: readonly Address[];
}

/** A site as its own devices tell it. */
export interface Found {
  readonly boxes: readonly FoundBox[];
  /** The box whose outer address is the one that the outside sees; undefined where none is known to be. */
  readonly main: FoundBox | undefined;
  readonly networks: readonly FoundNetwork[];
  readonly forwards: readonly SeenForward[];
  /** Wi-Fi networks that were heard, the loudest of each name and channel. */
  readonly heard: readonly Heard[];
  readonly outside: Address | undefined;
  /** The provider translates as well. */
  readonly carrier: boolean;
  /** Translations between the laptop and the outside. */
  readonly translations: number;
  /** What contradicts what, in sentences. */
  readonly contradictions: readonly string[];
}

/** Where nobody said how long a prefix is, a network of a small site has 24 bits (common practice, no source). */
const usualLength = 24;

const isPrivate = (host: Address): boolean => classify(host).class === 'private';
const isCarrier = (host: Address): boolean => classify(host).class === 'carrier-shared';

function uniqueBy<T>(all: readonly T[], key: (each: T) => string): T[] {
  const seen = new Set<string>();
  return all.filter((each) => !seen.has(key(each)) && seen.add(key(each)));
}

/** Puts together what several pastes say of one site. */
export function findSite(pastes: readonly Paste[]): Found {
  const laptop = pastes
    .flatMap((paste) => paste.laptop)
    .filter(({ address }) => classify(address).class !== 'link-local');
  const gateways = uniqueBy(
    pastes.flatMap((paste) => paste.gateways),
    formatAddress,
  );
  const servers = uniqueBy(
    pastes.flatMap((paste) => paste.dhcpServers),
    formatAddress,
  );
  const hops = pastes.find((paste) => paste.hops.length > 0)?.hops ?? [];
  const hosts = uniqueBy(
    pastes.flatMap((paste) => paste.hosts).sort((a, b) => Number(b.name !== '') - Number(a.name !== '')),
    ({ address, mac }) => `${formatAddress(address)} ${mac}`,
  );
  const pages = pastes
    .map(({ page }) => page)
    .filter(({ lanAddress, wanAddress, wanType }) => lanAddress || wanAddress || wanType);
  const outside =
    pastes.flatMap((paste) => paste.outside ?? [])[0] ??
    // A page of a box that shows a public address on its outer side shows what the outside sees.
    pages.flatMap(({ wanAddress }) =>
      wanAddress && reachableFromOutside(classify(wanAddress).class) ? [wanAddress] : [],
    )[0];
  const prefixes = prefixesOf(laptop, gateways, pages);
  const prefixOf = (host: Address): Prefix | undefined => prefixes.find((prefix) => contains(prefix, host));
  const chain = chainOf(gateways, hops, pages);
  const boxes = chain.map((address): FoundBox => {
    const page = pageOf(pages, address);
    const wan = page?.wanAddress;
    return {
      address,
      inside: prefixOf(address) ?? prefixAround(address, page?.lanLength ?? usualLength),
      page,
      outside: wan,
      // Private addresses never leave a house without being translated (RFC 1918).
      translates: isPrivate(address),
      mac: hosts.find((host) => sameAddress(host.address, address))?.mac ?? '',
    };
  });
  const carrier = [...hops, ...pages.map(({ wanAddress }) => wanAddress)].some(
    (host) => host && isCarrier(host),
  );
  const inner = boxes[0];
  const networks = prefixes
    .filter((prefix) => !boxes.slice(1).some((box) => box.inside && samePrefix(box.inside, prefix)) || !inner)
    .map((prefix): FoundNetwork => ({
      prefix,
      router: boxes.find((box) => contains(prefix, box.address))?.address,
      hosts: hosts.filter(
        ({ address }) => contains(prefix, address) && !boxes.some((box) => sameAddress(box.address, address)),
      ),
      servers: servers.filter((server) => contains(prefix, server)),
    }));
  return {
    boxes,
    main: boxes.find((box) => box.outside && outside && sameAddress(box.outside, outside)) ?? boxes.at(-1),
    networks,
    forwards: uniqueBy(
      pastes.flatMap((paste) => paste.forwards),
      ({ protocol, outside: port, host, inside }) => `${protocol} ${port} ${formatAddress(host)} ${inside}`,
    ),
    heard: uniqueBy(
      pastes.flatMap((paste) => paste.heard).sort((a, b) => b.signalDbm - a.signalDbm),
      ({ ssid, band, channel }) => `${ssid} ${band} ${channel}`,
    ),
    outside,
    carrier,
    translations: boxes.filter(({ translates }) => translates).length + (carrier ? 1 : 0),
    contradictions: contradictionsOf(pastes, { gateways, servers, hosts, boxes, outside, carrier }),
  };
}

const pageOf = (pages: readonly SeenPage[], address: Address): SeenPage | undefined =>
  pages.find(({ lanAddress }) => lanAddress && sameAddress(lanAddress, address)) ??
  // One page without its own address can only be that of the one box.
  (pages.length === 1 && !pages[0]!.lanAddress ? pages[0] : undefined);

function prefixesOf(
  laptop: Paste['laptop'],
  gateways: readonly Address[],
  pages: readonly SeenPage[],
): Prefix[] {
  const all = [
    ...laptop.map(({ address, length }) => prefixAround(address, length ?? usualLength)),
    ...pages.flatMap(({ lanAddress, lanLength }) =>
      lanAddress ? [prefixAround(lanAddress, lanLength ?? usualLength)] : [],
    ),
  ];
  for (const gateway of gateways)
    if (isPrivate(gateway) && !all.some((prefix) => contains(prefix, gateway)))
      all.push(prefixAround(gateway, usualLength));
  return uniqueBy(all, formatPrefix);
}

/** Routers from the laptop outwards: its gateway, then each private hop, then boxes whose pages say that they are there. */
function chainOf(
  gateways: readonly Address[],
  hops: readonly (Address | undefined)[],
  pages: readonly SeenPage[],
): Address[] {
  const chain: Address[] = [];
  const add = (host: Address | undefined): void => {
    if (host && !chain.some((each) => sameAddress(each, host))) chain.push(host);
  };
  add(gateways[0]);
  for (const hop of hops) {
    if (!hop || !isPrivate(hop)) break;
    add(hop);
  }
  if (chain.length === 0) add(pages[0]?.lanAddress);
  // The gateway of a box's outer side is the next box, where it is private.
  for (let index = 0; index < chain.length && index < 5; index += 1) {
    const next = pageOf(pages, chain[index]!)?.wanGateway;
    if (next && isPrivate(next)) add(next);
  }
  return chain;
}

function contradictionsOf(
  pastes: readonly Paste[],
  {
    gateways,
    servers,
    hosts,
    boxes,
    outside,
    carrier,
  }: Pick<Found, 'boxes' | 'outside' | 'carrier'> & {
    readonly gateways: readonly Address[];
    readonly servers: readonly Address[];
    readonly hosts: readonly SeenHost[];
  },
): string[] {
  const found: string[] = [];
  const [inner] = boxes;
  // A page of the box also names the provider's server, on its outer side.
  const near = servers.filter((each) => !inner?.inside || contains(inner.inside, each));
  if (near.length > 1)
    found.push(
      `More than one DHCP server hands out addresses: ${near.map(formatAddress).join(' and ')}. Devices use either at random.`,
    );
  const [server] = near;
  if (near.length === 1 && server && inner && !sameAddress(server, inner.address))
    found.push(
      `${formatAddress(server)} hands out the addresses, and ${formatAddress(inner.address)} is the gateway: a second DHCP server, or a server that does it on purpose.`,
    );
  const sameSide = gateways.filter((gateway) => inner?.inside && contains(inner.inside, gateway));
  if (sameSide.length > 1)
    found.push(
      `Laptops on one subnet have different gateways: ${sameSide.map(formatAddress).join(' and ')}. Two routers answer on one wire.`,
    );
  for (const host of hosts) {
    const twin = hosts.find((each) => sameAddress(each.address, host.address) && each.mac > host.mac);
    if (twin)
      found.push(
        `${formatAddress(host.address)} is at ${host.mac} and at ${twin.mac}: two devices have one address.`,
      );
  }
  for (const [index, box] of boxes.entries()) {
    const next = boxes[index + 1];
    if (box.outside && isPrivate(box.outside) && !next)
      found.push(
        `The outer side of ${formatAddress(box.address)} has ${formatAddress(box.outside)}, which is private: another box is in front, and nothing of that box was pasted.`,
      );
    if (box.outside && next?.inside && isPrivate(box.outside) && !contains(next.inside, box.outside))
      found.push(
        `The outer side of ${formatAddress(box.address)} has ${formatAddress(box.outside)}, and the next hop is ${formatAddress(next.address)}: a box in between is missing, or the pastes are of different moments.`,
      );
    if (box.inside && next?.inside && overlaps(box.inside, next.inside))
      found.push(
        `${formatPrefix(box.inside)} is in use on both sides of ${formatAddress(box.address)}: it cannot tell them apart.`,
      );
  }
  const last = boxes.at(-1);
  if (outside && last?.outside && !isPrivate(last.outside) && !sameAddress(last.outside, outside) && !carrier)
    found.push(
      `The outermost box has ${formatAddress(last.outside)} outside, and the outside saw ${formatAddress(outside)}: another line answered, or a proxy is in between.`,
    );
  const pools = pastes.flatMap(({ page }) => (page.poolFrom && page.poolTo ? [page] : []));
  for (const { poolFrom, poolTo } of pools)
    for (const host of hosts)
      if (
        host.reserved &&
        host.address.family === poolFrom!.family &&
        host.address.value >= poolFrom!.value &&
        host.address.value <= poolTo!.value
      )
        found.push(
          `${formatAddress(host.address)} is kept for ${host.name || host.mac} inside the DHCP pool: a box that does not exclude it gives it to another device.`,
        );
  return found;
}
