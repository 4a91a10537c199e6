import { address, formatAddress, type Address } from '../../base/net/address.ts';
import {
  contains,
  formatPrefix,
  hostsOf,
  overlaps,
  parsePrefix,
  type Prefix,
} from '../../base/net/prefix.ts';
import { firstFreeAddress, firstFreeBlock } from '../../base/net/range.ts';
import { valueOf } from '../../base/result.ts';
import type { Line, Site } from '../../site/model.ts';
import { stackWorked } from '../../base/worked/stack.ts';
import { practice, step, type Worked, worked } from '../../base/worked/worked.ts';
import { usualAt } from '../../plan/places.ts';
import type { Endpoint, Peer } from '../../site/vpn.ts';
import { writeProfile, type Profile } from './profile.ts';
import { routesOf } from './routes.ts';

const block = (text: string): Prefix => valueOf(parsePrefix(text))!;

/** Blocks that homes, hotels and telephones use most: a tunnel that uses one of them fails there (common practice, no source). */
export const commonBlocks: readonly (readonly [Prefix, string])[] = (
  [
    ['192.168.0.0/24', 'home routers'],
    ['192.168.1.0/24', 'home routers'],
    ['192.168.2.0/24', 'home routers'],
    ['192.168.8.0/24', 'cellular routers'],
    ['192.168.43.0/24', 'telephones that share their line'],
    ['192.168.100.0/24', 'modems'],
    ['192.168.178.0/24', 'home routers'],
    ['172.20.10.0/28', 'telephones that share their line'],
    ['10.0.0.0/24', 'home and hotel routers'],
    ['10.0.1.0/24', 'home routers'],
    ['10.1.1.0/24', 'hotel networks'],
  ] as const
).map(([text, who]) => [block(text), who]);

/** Everything on this site that a pool must not touch. */
export const takenBlocks = (site: Site): { readonly prefix: Prefix; readonly name: string }[] => [
  ...site.prefixes.map(({ prefix, name }) => ({ prefix, name })),
  ...site.vpn.sites.flatMap((far) =>
    [...far.prefixes, ...far.translations.map(({ seen }) => seen)].map((prefix) => ({
      prefix,
      name: far.name,
    })),
  ),
];

/** A pool that overlaps nothing here and nothing that remote users meet, as near to the site's own blocks as there is room. */
export function freePool(site: Site, length = 24): Prefix | undefined {
  const taken = [...takenBlocks(site).map(({ prefix }) => prefix), ...commonBlocks.map(([prefix]) => prefix)];
  const own = site.networks[0]?.prefix;
  const near =
    own?.family === 4 ? block(`${formatAddress(address(4, (own.first >> 16n) << 16n))}/16`) : undefined;
  for (const space of [...(near ? [near] : []), block('10.0.0.0/8'), block('172.16.0.0/12')]) {
    const found = firstFreeBlock(space, length, taken);
    if (found) return found;
  }
  return undefined;
}

/** The next address that no peer has; the first of the pool is the router's. */
export function freePeerAddress(site: Site, family: 4 | 6): Address | undefined {
  const { vpn } = site;
  const pool = family === 4 ? vpn.pool : vpn.pool6;
  const router = family === 4 ? vpn.routerAddress : vpn.routerAddress6;
  if (!pool) return undefined;
  const hosts = hostsOf(pool);
  const taken = vpn.peers.flatMap((peer) => (family === 4 ? peer.address : peer.address6) ?? []);
  return firstFreeAddress(
    [{ family, first: hosts.first.value, last: hosts.last.value }],
    router ? [...taken, router] : taken,
  );
}

/** Largest packet inside the tunnel: by the line of the endpoint, and by the worst network that a remote user meets. */
export function tunnelWorked(line: Line | undefined): Worked<number> {
  const lineMtu = line?.mtuBytes ?? 1500;
  const own = stackWorked(['wireguard6'], { linkBytes: lineMtu });
  // Mobile networks and hotels mostly carry 1420 and more.
  const worst = 1420 - 80;
  const here = own.ok ? own.value.value : 1280;
  const value = Math.max(1280, Math.min(here, worst));
  return worked(
    'Largest packet inside the tunnel',
    value,
    'bytes',
    [
      step(`${line?.name ?? 'the line'} carries`, `${lineMtu} bytes`),
      step('16 header + 16 tag + 8 UDP + 40 IPv6', `${lineMtu} - 80 = ${lineMtu - 80}`),
      step('the worst network that is usual', `1420 - 80 = ${worst}`),
      step('never below what IPv6 needs', '1280'),
      step('MTU of the tunnel', value),
    ],
    `the protocol's paper, RFC 8200 section 5; worst network: ${practice}`,
  );
}

export const tunnelMtu = (site: Site): number =>
  site.vpn.mtuBytes ?? tunnelWorked(site.vpn.endpoints[0]?.line ?? site.lines[0]).value;

const endpointText = (endpoint: Endpoint, port: number): string =>
  endpoint.address?.family === 6 ? `[${endpoint.host}]:${port}` : `${endpoint.host}:${port}`;

/** What stands for a secret where the vault stays shut. */
export const secretPlace = (name: string): string => `(in the vault: ${name || 'not named yet'})`;

/** Secrets by their name in the vault. */
export type Secrets = ReadonlyMap<string, string>;

/** The profile of one peer's device. Without secrets their places hold the names under which the vault keeps them. */
export function profileOf(site: Site, peer: Peer, secrets: Secrets = new Map()): Profile {
  const { vpn } = site;
  const [endpoint] = vpn.endpoints;
  const own = (host: Address | undefined) => (host ? [{ host, length: host.family === 4 ? 32 : 128 }] : []);
  const secret = (name: string): string => secrets.get(name) ?? secretPlace(name);
  return {
    name: `${site.about.name}, ${peer.name}`,
    privateKey: peer.ownKey ? '(the one you made yourself)' : secret(peer.secret),
    addresses: [...own(peer.address), ...own(peer.address6)],
    resolvers: vpn.resolver ? [formatAddress(vpn.resolver)] : [],
    mtuBytes: tunnelMtu(site),
    listenPort: undefined,
    peers: [
      {
        publicKey: vpn.publicKey.trim(),
        presharedKey: peer.preshared === '' ? '' : secret(peer.preshared),
        endpoint: endpoint && endpoint.host !== '' ? endpointText(endpoint, vpn.port) : '',
        allowed: routesOf(site, peer).routes,
        keepAliveSeconds: vpn.keepAliveSeconds,
      },
    ],
    unknown: [],
    commands: [],
  };
}

export const profileText = (site: Site, peer: Peer, secrets?: Secrets): string =>
  writeProfile(profileOf(site, peer, secrets));

/** What the port of the tunnel does and does not do. */
export const portWorked = (port: number): Worked =>
  worked(
    'The tunnel listens on',
    `udp ${port}`,
    '',
    [
      step('usual', usualAt('/vpn/port')),
      step('hidden by another one', 'noise in the log, nothing else'),
      step('an answer to strangers', 'none, on any port'),
    ],
    practice,
    'Some hotels let 53, 123 and 443 out only; another port helps there, and nowhere else.',
  );

/** How long NATs on the way remember a UDP session, and what keeps it (RFC 4787 REQ-5; less is common practice). */
export const keepAliveWorked = (seconds: number): Worked =>
  worked(
    'A sign of life every',
    seconds,
    's',
    [
      step('a NAT has to remember', `${natSeconds.promised} s`),
      step('many remember', `${natSeconds.usual} s`),
      step('sign of life', seconds === 0 ? 'none' : `${seconds} s`),
    ],
    'RFC 4787 REQ-5; the shorter time: common practice, no source',
    seconds === 0
      ? 'Nobody inside can reach a remote user who sends nothing.'
      : seconds < natSeconds.usual
        ? 'Short enough for all of them.'
        : seconds <= natSeconds.promised
          ? 'Short enough for those that keep to the standard; many do not.'
          : 'Too long: the way back closes in between.',
  );

/** What a NAT keeps at least, and what many keep in truth (RFC 4787 REQ-5; common practice, no source). */
export const natSeconds = { promised: 120, usual: 30 } as const;

/**
 * A block of one's own for IPv6 in the tunnel: fd, 40 random bits, and one subnet of 64 bits (RFC 4193 section 3.1).
 * @param random five random bytes
 */
export function uniqueLocalPool(random: Uint8Array): Prefix {
  const bits = random.subarray(0, 5).reduce((value, each) => (value << 8n) | BigInt(each), 0xfdn);
  return block(`${formatAddress(address(6, (bits << 80n) | (0x60n << 64n)))}/64`);
}

/** Which line a name or address of the endpoint leads to is the provider's and the name server's word; this is the plan's. */
export const poolProblem = (site: Site, pool: Prefix): { says: string; with: Prefix } | undefined => {
  const taken = takenBlocks(site).find(({ prefix }) => overlaps(prefix, pool));
  if (taken)
    return {
      says: `overlaps ${taken.name} (${formatPrefix(taken.prefix)}): the router cannot tell remote users from it`,
      with: taken.prefix,
    };
  const common = commonBlocks.find(([prefix]) => overlaps(prefix, pool));
  return (
    common && {
      says: `is what ${common[1]} use (${formatPrefix(common[0])}): behind one of them the tunnel does not work`,
      with: common[0],
    }
  );
};

/** Whether an address belongs to the pool of remote users. */
export const isClient = (site: Site, host: Address): boolean =>
  [site.vpn.pool, site.vpn.pool6].some((pool) => pool !== undefined && contains(pool, host));
